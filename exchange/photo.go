package exchange

import (
	"bytes"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"sync"

	"github.com/bep/imagemeta"
	"golang.org/x/image/draw"
	"golang.org/x/image/webp"
)

// Limits of a photo.
const (
	MaxPhotoBytes  = 40 << 20
	MaxPhotoPixels = 40_000_000
	maxPhotoMemory = 170 << 20 // what decoding may take
	WorkingSide    = 1400      // longest side, in pixels, that photos are worked on at
)

// Photo is a photo brought upright and to working size.
type Photo struct {
	Kind          string      // "jpeg", "png" or "webp"
	Width, Height int         // of the original, upright
	Image         *image.RGBA // opaque, in sRGB
	Profile       string      // name of the colour profile that was honoured; empty for sRGB, or none
	Trouble       string      // why the profile could not be, as a sentence; empty for nothing
}

// ReadPhoto reads a JPEG, PNG or WebP photo, brings it to sRGB by its colour profile, turns
// it upright as its EXIF says, and shrinks it to working size. The error is a sentence.
func ReadPhoto(ctx context.Context, data []byte) (Photo, error) {
	p, err := CheckPhoto(data)
	if err != nil {
		return Photo{}, err
	}
	var img image.Image
	switch r := within(ctx, bytes.NewReader(data)); p.Kind {
	case "jpeg":
		img, err = jpeg.Decode(r)
	case "png":
		img, err = png.Decode(r)
	case "webp":
		if img, err = webp.Decode(r); err == nil {
			err = fullRange(img)
		}
	}
	if err != nil {
		return Photo{}, errors.New("the photo is cut short or damaged: copy it again from the camera")
	}
	small, profile, err := toSRGB(shrink(img, WorkingSide), p.Kind, data)
	if p.Profile = profile; err != nil {
		p.Trouble = err.Error()
	}
	p.Image = upright(small, orientation(p.Kind, data))
	return p, nil
}

// lying is the first EXIF orientation that swaps width and height.
const lying = 5

// CheckPhoto reads the head of a photo, so without its Image, and refuses what
// ReadPhoto could not read in the memory it may take.
func CheckPhoto(data []byte) (Photo, error) {
	kind, known := photoKind(data)
	if !known {
		return Photo{}, errors.New("the file is not a photo this program reads: save it as JPEG, PNG or WebP")
	}
	if len(data) > MaxPhotoBytes {
		return Photo{}, fmt.Errorf("the photo is larger than %d MB: save it smaller", MaxPhotoBytes>>20)
	}
	config, err := photoConfig(kind, data)
	if err != nil {
		return Photo{}, errors.New("the photo is damaged at its start: save it again from the camera or the photo editor")
	}
	pixels := config.Width * config.Height
	memory := pixels * 4
	switch {
	case config.Width < 8 || config.Height < 8:
		return Photo{}, errors.New("the photo is only a few pixels wide: choose a larger one")
	case kind == "jpeg" && progressive(data):
		memory = pixels * 12
	case kind == "jpeg":
		memory = pixels * 3
	case kind == "png":
		if bits := pngDepth(data); bits > 8 {
			memory = pixels * 8
		}
	}
	if pixels > MaxPhotoPixels || memory > maxPhotoMemory || config.Width > 1<<16 || config.Height > 1<<16 {
		return Photo{},
			fmt.Errorf("the photo has %d × %d pixels, more than can be read here: save it smaller, up to %d megapixels as an ordinary JPEG",
				config.Width, config.Height, MaxPhotoPixels/1_000_000)
	}
	p := Photo{Kind: kind, Width: config.Width, Height: config.Height}
	if orientation(kind, data) >= lying {
		p.Width, p.Height = p.Height, p.Width
	}
	return p, nil
}

func photoKind(data []byte) (string, bool) {
	switch {
	case bytes.HasPrefix(data, []byte("\xff\xd8\xff")):
		return "jpeg", true
	case bytes.HasPrefix(data, []byte("\x89PNG\r\n\x1a\n")):
		return "png", true
	case len(data) > 12 && string(data[:4]) == "RIFF" && string(data[8:12]) == "WEBP":
		return "webp", true
	}
	return "", false
}

func photoConfig(kind string, data []byte) (image.Config, error) {
	r := bytes.NewReader(data)
	switch kind {
	case "jpeg":
		return jpeg.DecodeConfig(r)
	case "png":
		return png.DecodeConfig(r)
	}
	return webp.DecodeConfig(r)
}

// progressive reports whether a JPEG is stored in passes, which takes far more
// memory to read.
func progressive(data []byte) bool {
	for at := 2; at+4 <= len(data) && data[at] == 0xff; {
		marker := data[at+1]
		switch {
		case marker == 0xc2:
			return true
		case marker == 0xda:
			return false
		}
		at += 2 + int(binary.BigEndian.Uint16(data[at+2:]))
	}
	return false
}

// pngDepth is the bits a channel of a PNG has, from its first chunk.
func pngDepth(data []byte) int {
	const depthAt = 24
	if len(data) <= depthAt {
		return 0
	}
	return int(data[depthAt])
}

// shrink brings a picture's longest side to at most side pixels.
func shrink(img image.Image, side int) *image.RGBA {
	b := img.Bounds()
	w, h := b.Dx(), b.Dy()
	if longest := max(w, h); longest > side {
		w, h = max(1, w*side/longest), max(1, h*side/longest)
	}
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	if camera, ok := img.(*image.YCbCr); ok && w < b.Dx() {
		inStrips(h, func(from, to int) { boxes(out, camera, from, to) })
		return out
	}
	if see, ok := img.(interface{ Opaque() bool }); ok && see.Opaque() {
		inStrips(h, func(from, to int) {
			strip := out.SubImage(image.Rect(0, from, w, to)).(*image.RGBA)
			draw.ApproxBiLinear.Scale(strip, out.Bounds(), img, b, draw.Src, nil)
		})
		return out
	}
	// A transparent place shows the white of paper.
	draw.Draw(out, out.Bounds(), image.White, image.Point{}, draw.Src)
	draw.ApproxBiLinear.Scale(out, out.Bounds(), img, b, draw.Over, nil)
	return out
}

// inStrips does rows 0 to h in a few strips beside each other.
func inStrips(h int, do func(from, to int)) {
	const strips = 4
	var wait sync.WaitGroup
	for i := range strips {
		wait.Go(func() { do(h*i/strips, h*(i+1)/strips) })
	}
	wait.Wait()
}

// boxes fills rows from to to of a smaller picture with the mean brightness of
// the corners of what each of its pixels stands for; their hue, which cameras
// store more coarsely, is taken from the middle. A quarter of the time of the
// general way.
func boxes(out *image.RGBA, img *image.YCbCr, from, to int) {
	b := img.Bounds()
	w, h := out.Bounds().Dx(), out.Bounds().Dy()
	for y := from; y < to; y++ {
		y0, y1 := b.Min.Y+y*b.Dy()/h, b.Min.Y+(y+1)*b.Dy()/h
		row := out.Pix[out.PixOffset(0, y):]
		upper, lower := img.Y[img.YOffset(b.Min.X, y0):], img.Y[img.YOffset(b.Min.X, y1-1):]
		for x := range w {
			x0, x1 := x*b.Dx()/w, (x+1)*b.Dx()/w
			sum := int(upper[x0]) + int(upper[x1-1]) + int(lower[x0]) + int(lower[x1-1])
			c := img.COffset(b.Min.X+(x0+x1)/2, (y0+y1)/2)
			row[4*x], row[4*x+1], row[4*x+2] = color.YCbCrToRGB(uint8((sum+2)/4), img.Cb[c], img.Cr[c])
			row[4*x+3] = 255
		}
	}
}

// orientation is the EXIF orientation, 1 to 8; 1 when none is told.
func orientation(kind string, data []byte) int {
	format := map[string]imagemeta.ImageFormat{"jpeg": imagemeta.JPEG, "png": imagemeta.PNG, "webp": imagemeta.WebP}[kind]
	found := 1
	_, err := imagemeta.Decode(imagemeta.Options{R: bytes.NewReader(data), ImageFormat: format, Sources: imagemeta.EXIF,
		ShouldHandleTag: func(t imagemeta.TagInfo) bool { return t.Tag == "Orientation" && t.Namespace == "IFD0" },
		HandleTag: func(t imagemeta.TagInfo) error {
			switch v := t.Value.(type) {
			case uint16:
				found = int(v)
			case int:
				found = v
			}
			return nil
		}})
	if err != nil || found < 1 || found > 8 {
		return 1 // without readable EXIF the photo stands as it is
	}
	return found
}

// upright turns and mirrors a picture by its EXIF orientation.
func upright(in *image.RGBA, orientation int) *image.RGBA {
	if orientation == 1 {
		return in
	}
	w, h := in.Bounds().Dx(), in.Bounds().Dy()
	size := image.Rect(0, 0, w, h)
	if orientation >= 5 {
		size = image.Rect(0, 0, h, w)
	}
	out := image.NewRGBA(size)
	for y := range h {
		for x := range w {
			tx, ty := x, y
			switch orientation {
			case 2:
				tx = w - 1 - x
			case 3:
				tx, ty = w-1-x, h-1-y
			case 4:
				ty = h - 1 - y
			case 5:
				tx, ty = y, x
			case 6:
				tx, ty = h-1-y, x
			case 7:
				tx, ty = h-1-y, w-1-x
			case 8:
				tx, ty = y, w-1-x
			}
			copy(out.Pix[out.PixOffset(tx, ty):][:4], in.Pix[in.PixOffset(x, y):][:4])
		}
	}
	return out
}
