// Package surface reads colour off pictures of real things: a patch of a photo
// corrected by something known to be white or grey, the palette of a photo,
// and what a print reads as at a distance and when it is cut.
//
// Pictures come in upright and in sRGB; reading files, and keeping them,
// belongs to exchange and store.
package surface

import (
	"cmp"
	"errors"
	"fmt"
	"image"
	"math"
	"slices"

	"lampfern/core/colour"
)

// Patch is what a box of a photo holds.
type Patch struct {
	XYZ    colour.XYZ // trimmed mean in linear light, uncorrected
	Spread float64    // mean ΔE00 of the kept pixels from their mean
	Pixels int
	Burnt  float64 // share of pixels with a channel at its end, 0–1
}

// Constants of sampling.
const (
	trim         = 0.10 // share of pixels left out at either end of lightness
	mostPixels   = 40000
	spreadPixels = 2000 // enough to tell a spread
	smallest     = 3    // pixels on a side that a box is widened to
)

// linear light of the 256 sRGB codes.
var linear = func() (t [256]float64) {
	for i := range t {
		t[i], _, _ = colour.RGB{R: float64(i) / 255}.Linear()
	}
	return t
}()

// pixel is one pixel in linear light.
type pixel struct{ r, g, b float64 }

func (p pixel) xyz() colour.XYZ { return colour.LinearXYZ(p.r, p.g, p.b) }

// at reads a pixel; the standard picture types are read without conversion.
func at(img image.Image, x, y int) (r, g, b uint8) {
	switch m := img.(type) {
	case *image.NRGBA:
		i := m.PixOffset(x, y)
		return m.Pix[i], m.Pix[i+1], m.Pix[i+2]
	case *image.RGBA:
		i := m.PixOffset(x, y)
		return m.Pix[i], m.Pix[i+1], m.Pix[i+2]
	}
	r16, g16, b16, _ := img.At(x, y).RGBA()
	return uint8(r16 >> 8), uint8(g16 >> 8), uint8(b16 >> 8)
}

// pixels reads at most mostPixels of a box, evenly spaced, but for those that are not counted.
func pixels(img image.Image, box image.Rectangle) (all []pixel, burnt int) {
	step := max(1, int(math.Ceil(math.Sqrt(float64(box.Dx())*float64(box.Dy())/mostPixels))))
	for y := box.Min.Y; y < box.Max.Y; y += step {
		for x := box.Min.X; x < box.Max.X; x += step {
			if counted(img, x, y) {
				one, end := pixelAt(img, x, y)
				all, burnt = append(all, one), burnt+end
			}
		}
	}
	return all, burnt
}

// pixelAt reads a pixel, and tells by 1 that it is burnt out.
func pixelAt(img image.Image, x, y int) (p pixel, burnt int) {
	r, g, b := at(img, x, y)
	if r == 255 || g == 255 || b == 255 || r == 0 && g == 0 && b == 0 {
		burnt = 1
	}
	return pixel{linear[r], linear[g], linear[b]}, burnt
}

func mean(all []pixel) pixel {
	var m pixel
	for _, p := range all {
		m.r, m.g, m.b = m.r+p.r, m.g+p.g, m.b+p.b
	}
	n := float64(len(all))
	return pixel{m.r / n, m.g / n, m.b / n}
}

// Sample takes the trimmed mean (10 % at either end of lightness) of a box and
// its spread. A box smaller than three pixels a side is widened; one that lies
// outside the picture is an error.
func Sample(img image.Image, box image.Rectangle) (Patch, error) {
	if grow := smallest - box.Dx(); grow > 0 {
		box.Min.X -= grow / 2
		box.Max.X = box.Min.X + smallest
	}
	if grow := smallest - box.Dy(); grow > 0 {
		box.Min.Y -= grow / 2
		box.Max.Y = box.Min.Y + smallest
	}
	box = box.Intersect(img.Bounds())
	if box.Empty() {
		return Patch{}, errors.New("the box is outside the photo: draw it on the photo")
	}
	return patchOf(pixels(img, box)), nil
}

// patchOf is the trimmed mean of pixels and their spread.
func patchOf(all []pixel, burnt int) Patch {
	luminance := func(p pixel) float64 { return 0.2126*p.r + 0.7152*p.g + 0.0722*p.b }
	slices.SortFunc(all, func(a, b pixel) int { return cmp.Compare(luminance(a), luminance(b)) })
	cut := int(trim * float64(len(all)))
	kept := all[cut : len(all)-cut]
	m := mean(kept)
	out := Patch{XYZ: m.xyz(), Pixels: len(kept), Burnt: float64(burnt) / float64(len(all))}
	centre := out.XYZ.Lab(colour.WhiteD65)
	every, n := max(1, len(kept)/spreadPixels), 0
	for i := 0; i < len(kept); i += every {
		out.Spread += colour.DeltaE2000(centre, kept[i].xyz().Lab(colour.WhiteD65))
		n++
	}
	out.Spread /= float64(n)
	return out
}

// Correction carries colours of a photo to daylight. The zero value leaves
// them as they are.
type Correction struct {
	on       bool
	white    colour.XYZ // of the light, Y = 1
	exposure float64
}

// Limits of what can pass as white or grey in a photo.
const (
	greyDarkest   = 0.02 // Y under which a patch is too dark to tell its hue
	greyBurnt     = 0.25 // share of burnt pixels that spoils a patch
	greyChroma    = 0.13 // OKLCh chroma beyond any usual lamp's cast
	greySpread    = 8.0  // ΔE00: more than one colour in the box
	WhitePaper    = 95.0 // L* of plain white paper
	GreyCard      = 49.5 // L* of an 18 % grey card
	exposureLimit = 12.0
)

// ErrNotWhite is wrapped by the reasons a patch cannot serve as white.
var ErrNotWhite = errors.New("this patch cannot be used as white or grey")

// White makes the correction that turns a patch known to be neutral, with the
// given L*, into just that: Bradford to D65 and exposure to its lightness. A
// patch that cannot be white or grey is refused with the reason.
func White(p Patch, lightness float64) (Correction, error) {
	if !(lightness >= 20 && lightness <= 100) {
		return Correction{}, fmt.Errorf("%w: its lightness must be between 20 and 100", ErrNotWhite)
	}
	ok := p.XYZ.OKLab().LCh()
	switch {
	case p.Burnt > greyBurnt:
		return Correction{}, fmt.Errorf("%w: it is overexposed. Choose one that is not in full light, or a darker photo", ErrNotWhite)
	case p.XYZ.Y < greyDarkest:
		return Correction{}, fmt.Errorf("%w: it is too dark to show its hue. Choose a lighter one", ErrNotWhite)
	case ok.C > greyChroma:
		return Correction{}, fmt.Errorf("%w: it is %s, more than any lamp would make it. Choose something known to be white or grey", ErrNotWhite,
			colour.Family(p.XYZ.Lab(colour.WhiteD65)))
	case p.Spread > greySpread:
		return Correction{}, fmt.Errorf("%w: it holds more than one colour. Draw a smaller box", ErrNotWhite)
	}
	want := colour.Lab{L: lightness}.XYZ().Y
	c := Correction{on: true, white: colour.XYZ{X: p.XYZ.X / p.XYZ.Y, Y: 1, Z: p.XYZ.Z / p.XYZ.Y}, exposure: want / p.XYZ.Y}
	if c.exposure > exposureLimit || c.exposure < 1/exposureLimit {
		return Correction{}, fmt.Errorf("%w: the photo is far too dark or too light", ErrNotWhite)
	}
	return c, nil
}

// Known makes the correction that turns a patch of a known colour into just that. With a
// neutral it is White; else the light is told from what it makes of the colour: a von
// Kries scaling of cone responses, Bradford's, as in Adapt.
func Known(p Patch, known colour.Lab) (Correction, error) {
	if known.Chroma() < 1 {
		return White(p, known.L)
	}
	switch {
	case p.Burnt > greyBurnt:
		return Correction{}, fmt.Errorf("%w: it is overexposed. Choose one that is not in full light, or a darker photo", ErrNotWhite)
	case p.XYZ.Y < greyDarkest || known.L < 20:
		return Correction{}, fmt.Errorf("%w: it is too dark to show the light. Choose a lighter card", ErrNotWhite)
	case p.Spread > greySpread:
		return Correction{}, fmt.Errorf("%w: it holds more than one colour. Draw a smaller box", ErrNotWhite)
	}
	light := colour.Adapt(colour.WhiteD65, known.XYZ(), p.XYZ)
	c := Correction{on: true, white: colour.XYZ{X: light.X / light.Y, Y: 1, Z: light.Z / light.Y}, exposure: 1 / light.Y}
	if !(light.X > 0 && light.Y > 0 && light.Z > 0) || c.white.OKLab().LCh().C > greyChroma {
		return Correction{}, fmt.Errorf("%w: that card would not look like this under any lamp. Mark the card itself, or choose the right one", ErrNotWhite)
	}
	if c.exposure > exposureLimit || c.exposure < 1/exposureLimit {
		return Correction{}, fmt.Errorf("%w: the photo is far too dark or too light", ErrNotWhite)
	}
	return c, nil
}

// Apply corrects a colour of the photo.
func (c Correction) Apply(x colour.XYZ) colour.Lab {
	if c.on {
		x = colour.Adapt(x, c.white, colour.WhiteD65)
		x = colour.XYZ{X: x.X * c.exposure, Y: x.Y * c.exposure, Z: x.Z * c.exposure}
	}
	lab := x.Lab(colour.WhiteD65)
	lab.L = math.Max(0, math.Min(100, lab.L))
	return lab
}

// Doubts, in ΔE00, that a photo's colour has before the spread is added.
const (
	doubtWithWhite    = 3.0
	doubtWithCard     = 6.0 // a card tells less of the light where it reflects little
	doubtWithoutWhite = 9.0
	spreadShare       = 0.35 // how much of the spread is doubt of the mean
)

// UncertaintyBy says how far, in ΔE00, the colour of a patch may be off in a photo that was
// corrected by something of a known colour.
func (p Patch) UncertaintyBy(known colour.Lab) float64 {
	if known.Chroma() < 1 {
		return p.Uncertainty(true)
	}
	return math.Round(10*math.Hypot(doubtWithCard, spreadShare*p.Spread)) / 10
}

// Uncertainty says how far, in ΔE00, the colour of a patch may be off; knownWhite
// tells whether the photo was corrected.
func (p Patch) Uncertainty(knownWhite bool) float64 {
	base := doubtWithoutWhite
	if knownWhite {
		base = doubtWithWhite
	}
	return math.Round(10*math.Hypot(base, spreadShare*p.Spread)) / 10
}
