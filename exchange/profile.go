package exchange

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"errors"
	"fmt"
	"image"
	"image/draw"
	"io"
	"slices"

	"github.com/kovidgoyal/imaging"
	"github.com/kovidgoyal/imaging/prism/meta/icc"
)

// maxProfile bounds a colour profile (ICC.1:2022), unpacked, in bytes.
const maxProfile = 4 << 20

// toSRGB brings a picture to sRGB by the colour profile that its file carries. It returns the
// profile's name where the picture was changed by it; without a profile, or with sRGB, the
// picture stays as it is. The error is a sentence, and then the picture stays so too.
func toSRGB(img *image.RGBA, kind string, data []byte) (out *image.RGBA, name string, err error) {
	raw := profileOf(kind, data)
	if len(raw) == 0 {
		return img, "", nil
	}
	defer func() { // profiles come from strangers, and what reads them may stumble
		if recover() != nil {
			out, name, err = img, "", errProfile
		}
	}()
	raw, sound := soundProfile(raw)
	if !sound {
		return img, "", errProfile
	}
	p, err := icc.DecodeProfile(bytes.NewReader(raw))
	if err != nil {
		return img, "", errProfile
	}
	if p.IsSRGB() {
		return img, "", nil
	}
	if s := p.Header.DataColorSpace; s != icc.ColorSpaceRGB && s != icc.ColorSpaceGray {
		return img, "",
			errors.New("the photo's colour profile is for inks, not for light, so its colours may be far off: save it as sRGB")
	}
	turned, err := imaging.ConvertToSRGB(p, icc.RelativeColorimetricRenderingIntent, false, img)
	if err != nil {
		return img, "", errProfile
	}
	if name, err = p.Description(); err != nil || name == "" || len(name) > 60 {
		name = "of its own"
	}
	if same, is := turned.(*image.RGBA); is {
		return same, name, nil
	}
	out = image.NewRGBA(turned.Bounds())
	draw.Draw(out, out.Bounds(), turned, turned.Bounds().Min, draw.Src)
	return out, name, nil
}

var errProfile = errors.New("the photo's colour profile cannot be read, so its colours may be slightly off: save it as sRGB")

// soundProfile keeps of a profile what is needed of it and holds what it says it holds, for
// what reads profiles believes the counts in them; sound is false where too little is left.
func soundProfile(raw []byte) (out []byte, sound bool) {
	const head, entry, mostTags = 128, 12, 100
	if len(raw) < head+4 || string(raw[36:40]) != "acsp" {
		return nil, false
	}
	n := binary.BigEndian.Uint32(raw[head:])
	if n > mostTags || len(raw) < head+4+entry*int(n) {
		return nil, false
	}
	type tag struct {
		name string
		data []byte
	}
	var kept []tag
	for i := range int(n) {
		e := raw[head+4+entry*i:]
		name, from, size := string(e[:4]), uint64(binary.BigEndian.Uint32(e[4:])), uint64(binary.BigEndian.Uint32(e[8:]))
		if from+size > uint64(len(raw)) || size < 12 {
			continue
		}
		if data := raw[from : from+size]; soundTag(name, data) && !slices.ContainsFunc(kept, func(t tag) bool { return t.name == name }) {
			kept = append(kept, tag{name, data})
		}
	}
	has := func(names ...string) bool {
		return !slices.ContainsFunc(names, func(name string) bool {
			return !slices.ContainsFunc(kept, func(t tag) bool { return t.name == name })
		})
	}
	if !has("rXYZ", "gXYZ", "bXYZ", "rTRC", "gTRC", "bTRC") && !has("kTRC") && !has("A2B0") {
		return nil, false
	}
	out = binary.BigEndian.AppendUint32(slices.Clone(raw[:head]), uint32(len(kept)))
	at := len(out) + entry*len(kept)
	var body []byte
	for _, t := range kept {
		out = append(out, t.name...)
		out = binary.BigEndian.AppendUint32(out, uint32(at+len(body)))
		out = binary.BigEndian.AppendUint32(out, uint32(len(t.data)))
		body = append(body, t.data...)
		for len(body)%4 != 0 {
			body = append(body, 0)
		}
	}
	out = append(out, body...)
	binary.BigEndian.PutUint32(out, uint32(len(out)))
	return out, true
}

// soundTag reports whether a tag of a profile is one that is needed and as long as it says
// (ICC.1:2022, 10).
func soundTag(name string, data []byte) bool {
	number := func(at int) int { return int(binary.BigEndian.Uint16(data[at:])) }
	count := func(at int) uint64 { return uint64(binary.BigEndian.Uint32(data[at:])) }
	size := uint64(len(data))
	switch name {
	case "rXYZ", "gXYZ", "bXYZ", "wtpt":
		return string(data[:4]) == "XYZ " && size >= 20
	case "chad":
		return string(data[:4]) == "sf32" && size >= 8+9*4
	case "desc":
		switch string(data[:4]) {
		case "desc":
			return 12+count(8) <= size
		case "mluc":
			return size >= 16 && 16+12*count(8) <= size
		}
	case "rTRC", "gTRC", "bTRC", "kTRC":
		switch string(data[:4]) {
		case "curv":
			return 12+2*count(8) <= size
		case "para":
			kinds := []uint64{1, 3, 4, 5, 7}
			return number(8) < len(kinds) && 12+4*kinds[number(8)] <= size
		}
	case "A2B0", "A2B1": // tables of three channels in and out
		const fixed8, fixed16 = 48, 52
		if size < fixed16 || data[8] != 3 || data[9] != 3 || data[10] < 2 {
			return false
		}
		grid := uint64(data[10]) * uint64(data[10]) * uint64(data[10]) * 3
		switch string(data[:4]) {
		case "mft1":
			return fixed8+3*256+grid+3*256 <= size
		case "mft2":
			in, out := uint64(number(48)), uint64(number(50))
			return in >= 2 && out >= 2 && fixed16+2*(3*in+grid+3*out) <= size
		}
	}
	return false
}

// profileOf is the colour profile in a photo's file, empty for none that can be had.
func profileOf(kind string, data []byte) []byte {
	switch kind {
	case "jpeg":
		return jpegProfile(data)
	case "png":
		return pngProfile(data)
	}
	return webpProfile(data)
}

// jpegProfile joins the parts of a profile in APP2 segments (ICC.1:2022, annex B.4).
func jpegProfile(data []byte) []byte {
	const head = "ICC_PROFILE\x00"
	parts := map[byte][]byte{}
	size := 0
	for at := 2; at+4 <= len(data) && data[at] == 0xff && data[at+1] != 0xda; {
		n := int(binary.BigEndian.Uint16(data[at+2:]))
		if n < 2 || at+2+n > len(data) {
			break
		}
		body := data[at+4 : at+2+n]
		if data[at+1] == 0xe2 && len(body) > len(head)+2 && string(body[:len(head)]) == head {
			parts[body[len(head)]] = body[len(head)+2:]
			size += len(body)
		}
		at += 2 + n
	}
	if size > maxProfile {
		return nil
	}
	var out []byte
	for i := range len(parts) {
		out = append(out, parts[byte(i+1)]...)
	}
	return out
}

// pngProfile unpacks the iCCP chunk (PNG, third edition, 11.3.2.3).
func pngProfile(data []byte) []byte {
	for at := 8; at+12 <= len(data); {
		n := int(binary.BigEndian.Uint32(data[at:]))
		name := string(data[at+4 : at+8])
		if n < 0 || at+12+n > len(data) || name == "IDAT" {
			return nil
		}
		if name == "iCCP" {
			body := data[at+8 : at+8+n]
			end := bytes.IndexByte(body, 0)
			if end < 0 || end+2 > len(body) {
				return nil
			}
			z, err := zlib.NewReader(bytes.NewReader(body[end+2:]))
			if err != nil {
				return nil
			}
			out, err := io.ReadAll(io.LimitReader(z, maxProfile+1))
			if err != nil || len(out) > maxProfile {
				return body // which is no profile, and said to be none
			}
			return out
		}
		at += 12 + n
	}
	return nil
}

// webpProfile is the ICCP chunk of a RIFF file.
func webpProfile(data []byte) []byte {
	for at := 12; at+8 <= len(data); {
		n := int(binary.LittleEndian.Uint32(data[at+4:]))
		if n < 0 || n > maxProfile || at+8+n > len(data) {
			return nil
		}
		if string(data[at:at+4]) == "ICCP" {
			return data[at+8 : at+8+n]
		}
		at += 8 + n + n&1
	}
	return nil
}

// fullRange stretches the brightness and hue of a lossy WebP, which are of video's narrow
// range (RFC 6386, 9.2; ITU-R BT.601), to the range that Go's pictures have.
func fullRange(img image.Image) error {
	var y *image.YCbCr
	switch m := img.(type) {
	case *image.YCbCr:
		y = m
	case *image.NYCbCrA:
		y = &m.YCbCr
	case *image.NRGBA, *image.RGBA: // a lossless one
		return nil
	default:
		return fmt.Errorf("a WebP picture of type %T", img)
	}
	var luma, hue [256]uint8
	for i := range 256 {
		luma[i] = uint8(max(0, min(255, (float64(i)-16)*255/219+.5)))
		hue[i] = uint8(max(0, min(255, (float64(i)-128)*255/224+128.5)))
	}
	for i, v := range y.Y {
		y.Y[i] = luma[v]
	}
	for i, v := range y.Cb {
		y.Cb[i] = hue[v]
	}
	for i, v := range y.Cr {
		y.Cr[i] = hue[v]
	}
	return nil
}
