package shelf

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/jpeg"
	"math"
	"slices"
	"sync"

	"golang.org/x/image/draw"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/surface"
	"lampfern/core/words"
	"lampfern/exchange"
	"lampfern/store"
)

// PhotoRecord is what is kept of a photo beside its picture.
type PhotoRecord = store.Photo

// Photo is a photo at working size, upright. It is shared and must not be
// changed.
type Photo struct {
	store.Photo
	image *image.RGBA
	view  func() ([]byte, error)

	Profile string // name of the colour profile that was honoured; empty for sRGB, or none
	Trouble string // why the profile could not be, as a sentence; empty for nothing

	reads sync.Map // Correction → []surface.Swatch
}

// viewQuality is the JPEG quality of the picture a page shows.
const viewQuality = 88

// AddPhoto keeps a photo, the same one once only.
func (s *Keeper) AddPhoto(ctx context.Context, name string, data []byte) (hash string, err error) {
	read, err := s.read(ctx, data)
	if err != nil {
		return "", words.Refuse("Not added: %s.", err)
	}
	row := store.Photo{Hash: PhotoHash(data), Name: name, Kind: read.Kind, Width: read.Width, Height: read.Height}
	if err := s.Store.PutPhotoFile(row.Hash, data); err != nil {
		return "", err
	}
	if err := s.Store.Write(ctx, func(tx store.Tx) error { return tx.PutPhoto(row) }); err != nil {
		return "", err
	}
	s.photos.Add(row.Hash, photoOf(row, read))
	return row.Hash, nil
}

// read reads a photo when no other file is being read.
func (s *Keeper) read(ctx context.Context, data []byte) (read exchange.Photo, err error) {
	err = Heavy(ctx, func(ctx context.Context) error {
		read, err = exchange.ReadPhoto(ctx, data)
		return err
	})
	return read, err
}

// PhotoHash names a photo by its content.
func PhotoHash(data []byte) string { return store.HashOf(data) }

func photoOf(row store.Photo, read exchange.Photo) *Photo {
	img := read.Image
	p := &Photo{Photo: row, image: img, Profile: read.Profile, Trouble: read.Trouble}
	p.view = sync.OnceValues(func() ([]byte, error) {
		var b bytes.Buffer
		err := jpeg.Encode(&b, img, &jpeg.Options{Quality: viewQuality})
		return b.Bytes(), err
	})
	return p
}

// Photos lists the photos kept, newest first.
func (s *Keeper) Photos(ctx context.Context) ([]PhotoRecord, error) {
	return s.Store.Read(ctx).Photos()
}

// SoundPhotos are those whose files are there and are what they were when they were kept: what is
// saved elsewhere holds no others, or it could not be brought in again.
func (s *Keeper) SoundPhotos(ctx context.Context) ([]PhotoRecord, error) {
	all, err := s.Photos(ctx)
	if err != nil {
		return nil, err
	}
	return slices.DeleteFunc(all, func(p PhotoRecord) bool {
		data, err := s.Store.PhotoFile(p.Hash)
		return err != nil || PhotoHash(data) != p.Hash
	}), nil
}

// HasPhotoFile reports whether the file of a photo is there.
func (s *Keeper) HasPhotoFile(hash string) bool { return s.Store.HasPhotoFile(hash) }

// Photo returns a kept photo ready to be read.
func (s *Keeper) Photo(ctx context.Context, hash string) (*Photo, error) {
	if p, known := s.photos.Get(hash); known {
		return p, nil
	}
	row, err := s.Store.Read(ctx).Photo(hash)
	if err != nil {
		return nil, err
	}
	data, err := s.Store.PhotoFile(hash)
	if errors.Is(err, ErrNotFound) {
		return nil,
			words.Refuse("The photo %s is missing from the data folder. Add it again, or restore a backup under Backup and health.", row.Name)
	}
	if err != nil {
		return nil, err
	}
	read, err := s.read(ctx, data)
	if err != nil {
		return nil,
			words.Refuse("The photo %s can no longer be read: %s. Add it again, or restore a backup under Backup and health.",
				row.Name, err)
	}
	p := photoOf(row, read)
	s.photos.Add(hash, p)
	return p, nil
}

// View is the photo at working size as a JPEG.
func (p *Photo) View() ([]byte, error) { return p.view() }

// pieceSide is the longest side, in pixels, of a picture on a card.
const pieceSide = 320

// Piece is a part of the photo as a small JPEG, for a card.
func (p *Photo) Piece(b Box) ([]byte, error) { return p.Small(b, pieceSide) }

// Small is a part of the photo as a JPEG whose longest side has at most so many pixels.
func (p *Photo) Small(b Box, side int) ([]byte, error) {
	from := b.on(p).Intersect(p.image.Bounds())
	if from.Empty() {
		return nil, ErrNotFound
	}
	w, h := from.Dx(), from.Dy()
	if longest := max(w, h); longest > side {
		w, h = max(1, w*side/longest), max(1, h*side/longest)
	}
	small := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.ApproxBiLinear.Scale(small, small.Bounds(), p.image, from, draw.Src, nil)
	var out bytes.Buffer
	err := jpeg.Encode(&out, small, &jpeg.Options{Quality: viewQuality})
	return out.Bytes(), err
}

// PictureHigh is how high a picture of a material is in mm, by what it measures
// across; as high as wide when the photo is not kept.
func (s *Keeper) PictureHigh(ctx context.Context, p material.Picture) float64 {
	row, err := s.Store.Read(ctx).Photo(p.Photo)
	if err != nil || p.W <= 0 || row.Width <= 0 {
		return p.Wide
	}
	return p.Wide * p.H * float64(row.Height) / (p.W * float64(row.Width))
}

// Aspect is height over width.
func (p *Photo) Aspect() float64 {
	b := p.image.Bounds()
	return float64(b.Dy()) / float64(b.Dx())
}

// Box is a part of a photo, in shares of its width and height.
type Box struct{ X, Y, W, H float64 }

// on is the box in pixels of the photo.
func (b Box) on(p *Photo) image.Rectangle {
	w, h := float64(p.image.Bounds().Dx()), float64(p.image.Bounds().Dy())
	round := func(v, size float64) int { return int(math.Round(math.Max(-0.5, math.Min(1.5, v)) * size)) }
	return image.Rect(round(b.X, w), round(b.Y, h), round(b.X+b.W, w), round(b.Y+b.H, h))
}

// Look is how a photo is to be read: where something of a known colour lies, white or
// grey or a card that is owned, and the boxes to take colours from.
type Look struct {
	White *Box
	Known colour.Lab // of what lies there
	Boxes []Box
	Crop  *Box // the print, where it is not all of the photo
	Own   bool // white is the print's own, and not paper beside it

	Camera Camera // how the camera errs, where that was learned
}

// Taken is a colour taken from a photo.
type Taken struct {
	Box         Box
	Colour      colour.Lab
	Uncorrected colour.Lab
	Seen        colour.Lab // corrected by the white, and not by what was learned of the camera
	Spread      float64    // ΔE00
	Uncertainty float64    // ΔE00
	Burnt       float64    // share of its pixels that have a channel at its end
	Pixels      int        // that were read
	Near        []Near     // the nearest on the shelf
}

// PhotoReading is what a photo says under a look. WhiteTrouble is why the
// white cannot serve, empty when it does or none was given.
type PhotoReading struct {
	Corrected    bool
	WhiteTrouble string
	Taken        []Taken
	correction   surface.Correction
}

// Most boxes and colours of one photo.
const (
	maxBoxes     = 24
	PhotoPalette = 7
	NearestShown = 3
)

// Read reads a photo.
func (p *Photo) Read(sh *Shelf, look Look) (PhotoReading, error) {
	var out PhotoReading
	if look.White != nil {
		patch, err := surface.Sample(p.image, look.White.on(p))
		if err == nil {
			out.correction, err = surface.Known(patch, look.Known)
		}
		if err != nil {
			out.WhiteTrouble = err.Error()
		}
		out.Corrected = err == nil
	}
	if len(look.Boxes) > maxBoxes {
		return out, words.Refuse("A photo gives at most %d colours. Save some first, then pick others.", maxBoxes)
	}
	for _, b := range look.Boxes {
		patch, err := surface.Sample(p.image, b.on(p))
		if err != nil {
			return out, words.Refuse("%s.", err)
		}
		t := Taken{Box: b, Colour: out.correction.Apply(patch.XYZ), Uncorrected: surface.Correction{}.Apply(patch.XYZ), Spread: patch.Spread,
			Uncertainty: patch.Uncertainty(out.Corrected), Burnt: patch.Burnt, Pixels: patch.Pixels}
		t.Seen = t.Colour
		if out.Corrected {
			t.Uncertainty = patch.UncertaintyBy(look.Known)
			if look.Camera.Pairs > 0 {
				t.Colour, t.Uncertainty = look.Camera.Right(t.Colour), max(1, look.Camera.Doubt)
			}
		}
		if p.Trouble != "" {
			t.Uncertainty = math.Round(10*math.Hypot(t.Uncertainty, doubtOfProfile)) / 10
		}
		t.Near = sh.Nearest(t.Colour, NearestShown, 0)
		out.Taken = append(out.Taken, t)
	}
	return out, nil
}

// SheetField is one field of a printed sheet, in shares of the block of fields: what is
// painted, and the grey patch it is read by.
type SheetField struct{ Painted, Grey Box }

// ReadField is what a field came out as. Trouble is why its grey cannot serve, and then
// the colour is as the photo shows it.
type ReadField struct {
	Colour  colour.Lab
	Spread  float64 // ΔE00
	Trouble string
}

// ReadSheet reads the fields of a printed sheet that the photo shows, each by its own
// grey patch of a lightness, so that light need not fall evenly. corners are those of
// the block of fields in shares of the photo, top left first and to the right round.
func (p *Photo) ReadSheet(corners [4]surface.Spot, fields []SheetField, grey float64) ([]ReadField, error) {
	var c surface.Corners
	for i, at := range corners {
		c[i] = surface.Spot{X: at.X * float64(p.image.Bounds().Dx()), Y: at.Y * float64(p.image.Bounds().Dy())}
	}
	if err := c.Check(); err != nil {
		return nil, words.Refuse("%s.", words.Capital(err.Error()))
	}
	var out []ReadField
	for i, f := range fields {
		painted, err := surface.SampleSheet(p.image, c, f.Painted.X, f.Painted.Y, f.Painted.W, f.Painted.H)
		if err != nil {
			return nil, words.Refuse("Square %d: %s.", i+1, err)
		}
		known, err := surface.SampleSheet(p.image, c, f.Grey.X, f.Grey.Y, f.Grey.W, f.Grey.H)
		var correct surface.Correction
		if err == nil {
			correct, err = surface.White(known, grey)
		}
		one := ReadField{Colour: correct.Apply(painted.XYZ), Spread: painted.Spread}
		if err != nil {
			one.Trouble = err.Error()
		}
		out = append(out, one)
	}
	return out, nil
}

// Palette is the colours of the whole photo with their shares, corrected as it
// was read. It is worked out once for a correction.
func (p *Photo) Palette(r PhotoReading) []surface.Swatch {
	kept, known := p.reads.Load(r.correction)
	if !known {
		kept = surface.Palette(p.image, r.correction, PhotoPalette)
		p.reads.Store(r.correction, kept)
	}
	return kept.([]surface.Swatch)
}

// Shares are how much of a box each of some colours takes, as the photo is corrected: what
// is near none of them counts for none.
func (p *Photo) Shares(look Look, box Box, colours []colour.Lab) ([]float64, error) {
	c, err := p.correction(look)
	if err != nil {
		return nil, err
	}
	out, err := surface.Shares(p.image, box.on(p), c, colours)
	if err != nil {
		return nil, words.Refuse("%s.", words.Capital(err.Error()))
	}
	return out, nil
}

// PartRead is a part of a thing as a photo shows it.
type PartRead struct {
	Part   int
	Colour colour.Lab
	Spread float64 // ΔE00
}

// ReadParts reads every part of a thing whose drawing fills a box, as surface.SampleLabels
// takes it. A part that is too small to be read is left out.
func (p *Photo) ReadParts(look Look, box Box, labels []int16, w, h, parts int) (out []PartRead, err error) {
	c, err := p.correction(look)
	if err != nil {
		return nil, err
	}
	patches, err := surface.SampleLabels(p.image, box.on(p), labels, w, h, parts)
	if err != nil {
		return nil, words.Refuse("%s.", words.Capital(err.Error()))
	}
	for part, one := range patches {
		if one.Pixels >= leastPixels {
			out = append(out, PartRead{part, c.Apply(one.XYZ), one.Spread})
		}
	}
	return out, nil
}

// leastPixels is from how many on a part of a photo tells its colour.
const leastPixels = 8

// leastCrop is the shortest side of a crop, in pixels.
const leastCrop = 16

// printed is the part of the photo that is a print, and the share of the photo that is white
// paper beside it and not counted. What was cropped is counted whole.
func (p *Photo) printed(look Look, c surface.Correction) (*image.RGBA, float64, error) {
	if look.Crop == nil && look.Own {
		return p.image, 0, nil
	}
	if look.Crop == nil {
		img, paper := surface.WithoutPaper(p.image, c)
		return img, paper, nil
	}
	box := look.Crop.on(p).Intersect(p.image.Bounds())
	if box.Dx() < leastCrop || box.Dy() < leastCrop {
		return nil, 0,
			words.Refuse("The crop is too small or outside the photo. Draw it round the print, at least %d pixels on a side.", leastCrop)
	}
	return p.image.SubImage(box).(*image.RGBA), 0, nil
}

// Print reads the photo as a print; paper is the share of white paper beside it, which is not
// counted.
func (p *Photo) Print(look Look) (print surface.Print, paper float64, err error) {
	r, err := p.correction(look)
	if err != nil {
		return print, 0, err
	}
	img, paper, err := p.printed(look, r)
	if err != nil {
		return print, 0, err
	}
	return surface.ReadPrint(img, r), paper, nil
}

// Cut reads how the print fares when it is cut; width is what the photo, or the crop, shows
// across and size the side of a piece, in millimetres.
func (p *Photo) Cut(look Look, width, size float64) (surface.Cutting, error) {
	r, err := p.correction(look)
	if err != nil {
		return surface.Cutting{}, err
	}
	img, _, err := p.printed(look, r)
	if err != nil {
		return surface.Cutting{}, err
	}
	c, err := surface.Cut(img, r, width, size)
	if err != nil {
		return c, words.Refuse("%s.", err)
	}
	return c, nil
}

func (p *Photo) correction(look Look) (surface.Correction, error) {
	if look.White == nil {
		return surface.Correction{}, nil
	}
	patch, err := surface.Sample(p.image, look.White.on(p))
	if err != nil {
		return surface.Correction{}, words.Refuse("%s.", err)
	}
	c, err := surface.Known(patch, look.Known)
	if errors.Is(err, surface.ErrNotWhite) {
		return c, nil // said beside the photo; the reading goes on without
	}
	return c, err
}

// Propose are boxes within what lies on the photo, as many as one photo gives at most.
func (p *Photo) Propose(look Look) ([]Box, error) {
	c, err := p.correction(look)
	if err != nil {
		return nil, err
	}
	white := image.Rectangle{}
	if look.White != nil {
		white = look.White.on(p)
	}
	var out []Box
	for _, r := range surface.Objects(p.image, c, maxBoxes) {
		if !r.Overlaps(white) {
			out = append(out, p.Share(r))
		}
	}
	return out, nil
}

// Share turns a box in pixels of the photo back into shares.
func (p *Photo) Share(r image.Rectangle) Box {
	w, h := float64(p.image.Bounds().Dx()), float64(p.image.Bounds().Dy())
	return Box{float64(r.Min.X) / w, float64(r.Min.Y) / h, float64(r.Dx()) / w, float64(r.Dy()) / h}
}

// Material is a colour taken from the photo as a material that is not on the shelf yet.
func (p *Photo) Material(t Taken, name, kind string) material.Material {
	return material.Material{Name: name, Kind: kind, Colour: t.Colour, Source: "photo", Uncertainty: t.Uncertainty,
		Remark: fmt.Sprintf("Picked from the photo %s, spread %.1f.", p.Name, t.Spread)}
}

// KeepPrint keeps the photo as a print: its colours with their coverage, what
// it reads as, and its picture. A material of that name on the shelf takes them
// on; otherwise one is added. width is what the photo shows across in mm, 0
// when not known. updated tells that it was there.
func (s *Keeper) KeepPrint(ctx context.Context, photo *Photo, look Look, name, kind string, width float64) (id uint, updated bool,
	err error) {
	correction, err := photo.correction(look)
	if err != nil {
		return 0, false, err
	}
	print, _, err := photo.Print(look)
	if err != nil {
		return 0, false, err
	}
	sh, err := s.Shelf(ctx)
	if err != nil {
		return 0, false, err
	}
	m, revision := material.Material{Name: name, Kind: kind}, int64(0)
	if c := sh.Named(name); c != nil {
		m, id, revision, updated = c.Material, c.ID, c.Revision, true
	}
	m.Colour, m.Source = print.Across, "photo"
	m.Uncertainty = surface.Patch{}.Uncertainty(correction != surface.Correction{})
	m.Further = nil
	for _, n := range print.Near {
		m.Further = append(m.Further, material.Further{Role: material.Print, Colour: n.Colour, Coverage: n.Share})
	}
	m.Picture = &material.Picture{Photo: photo.Hash, W: 1, H: 1, Wide: width}
	if b := look.Crop; b != nil {
		m.Picture = &material.Picture{Photo: photo.Hash, X: max(0, b.X), Y: max(0, b.Y), W: min(b.X+b.W, 1) - max(0, b.X),
			H: min(b.Y+b.H, 1) - max(0, b.Y), Wide: width}
	}
	id, err = s.SaveMaterial(ctx, id, revision, m)
	return id, updated, err
}

// Spreads from which on a patch is no even one, ΔE00.
const (
	unevenFrom = 3.0
	mixedFrom  = 8.0
)

// doubtOfProfile is how far a colour may be off in a photo whose profile could not be read,
// in ΔE00.
const doubtOfProfile = 8.0

// burntFrom is the share of burnt pixels from which they are told.
const burntFrom = 0.02

// Doubt says how far a colour taken from a photo may be off and all that is known of why.
func (p *Photo) Doubt(t Taken, r PhotoReading, look Look) string {
	why := "from a photo with no white to correct by, so the lamp still tints it"
	if r.Corrected {
		why = fmt.Sprintf("white-balanced by a grey of value %.1f", look.Known.L/10)
		if look.Known.Chroma() >= 1 {
			why = "white-balanced by a card that shows the light"
		}
		if look.Camera.Pairs > 0 {
			why += fmt.Sprintf(" and corrected for your camera (%d readings)", look.Camera.Pairs)
		}
	}
	even := "an even patch"
	switch {
	case t.Spread > mixedFrom:
		even = "more than one colour in the box"
	case t.Spread > unevenFrom:
		even = "an uneven patch"
	}
	said := fmt.Sprintf("%s; %s (spread %.1f over %s pixels).", words.Capital(why), even, t.Spread, words.Grouped(float64(t.Pixels)))
	if t.Burnt >= burntFrom {
		said += fmt.Sprintf(" %.0f%% of it is overexposed or black, so it is less certain.", 100*t.Burnt)
	}
	if p.Trouble != "" {
		said += " The photo's colour profile could not be used."
	}
	return said
}
