package surface

import (
	"image"
	"image/color"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
)

func rgb(t *testing.T, hex string) colour.RGB {
	c, err := colour.ParseHex(hex)
	require.NoError(t, err)
	return c
}

// fill paints boxes of a picture with colours as a lamp and exposure show them.
func fill(img *image.NRGBA, box image.Rectangle, c colour.Lab, lamp colour.XYZ, exposure, noise float64) {
	rnd := rand.New(rand.NewPCG(1, 2))
	x := colour.Adapt(c.XYZ(), colour.WhiteD65, lamp)
	seen, _ := colour.XYZ{X: x.X * exposure, Y: x.Y * exposure, Z: x.Z * exposure}.Lab(colour.WhiteD65).RGB()
	code := func(v float64) uint8 {
		return uint8(math.Round(255 * math.Max(0, math.Min(1, v+noise*(rnd.Float64()-0.5)))))
	}
	for y := box.Min.Y; y < box.Max.Y; y++ {
		for x := box.Min.X; x < box.Max.X; x++ {
			img.SetNRGBA(x, y, color.NRGBA{code(seen.R), code(seen.G), code(seen.B), 255})
		}
	}
}

func TestWhitePatchFindsTheColourUnderAKitchenLamp(t *testing.T) {
	for _, hex := range []string{"#8a5a86", "#4b2346", "#7fa37a", "#c9a878", "#3a6ea0"} {
		truth := rgb(t, hex).Lab()
		img := image.NewNRGBA(image.Rect(0, 0, 200, 100))
		lamp := colour.XYZ{X: 1.02, Y: 1, Z: 0.72} // a warm kitchen lamp, partly balanced by the camera
		fill(img, image.Rect(0, 0, 100, 100), colour.Lab{L: WhitePaper}, lamp, 0.6, 0.02)
		fill(img, image.Rect(100, 0, 200, 100), truth, lamp, 0.6, 0.02)
		paper, err := Sample(img, image.Rect(10, 10, 90, 90))
		require.NoError(t, err)
		fix, err := White(paper, WhitePaper)
		require.NoError(t, err)
		cloth, err := Sample(img, image.Rect(110, 10, 190, 90))
		require.NoError(t, err)
		assert.Less(t, colour.DeltaE2000(truth, fix.Apply(cloth.XYZ)), 1.5, hex)
		assert.Greater(t, colour.DeltaE2000(truth, Correction{}.Apply(cloth.XYZ)), 6.0, "without the white it is far off")
		assert.InDelta(t, WhitePaper, fix.Apply(paper.XYZ).L, 0.01)
		assert.Less(t, cloth.Uncertainty(true), 4.0)
		assert.GreaterOrEqual(t, cloth.Uncertainty(false), 9.0)
	}
}

func TestSampleTrimsAndTellsItsSpread(t *testing.T) {
	img := image.NewNRGBA(image.Rect(0, 0, 100, 100))
	grey := colour.Lab{L: 50}
	fill(img, img.Bounds(), grey, colour.WhiteD65, 1, 0)
	fill(img, image.Rect(0, 0, 100, 8), colour.Lab{L: 99}, colour.WhiteD65, 1, 0) // a glint
	p, err := Sample(img, img.Bounds())
	require.NoError(t, err)
	assert.InDelta(t, 50, p.XYZ.Lab(colour.WhiteD65).L, 0.3, "a glint under a tenth is trimmed away")
	assert.Less(t, p.Spread, 0.5)
	fill(img, image.Rect(0, 0, 100, 50), colour.Lab{L: 80}, colour.WhiteD65, 1, 0)
	p, err = Sample(img, img.Bounds())
	require.NoError(t, err)
	assert.Greater(t, p.Spread, 8.0)
	assert.Greater(t, p.Uncertainty(true), 4.0, "the spread raises the doubt")
	one, err := Sample(img, image.Rect(50, 90, 50, 90))
	require.NoError(t, err)
	assert.GreaterOrEqual(t, one.Pixels, 9, "a click takes a small box")
	_, err = Sample(img, image.Rect(500, 500, 510, 510))
	assert.ErrorContains(t, err, "outside the photo")
}

func TestWhatCannotBeWhite(t *testing.T) {
	patch := func(c colour.Lab, exposure float64) Patch {
		img := image.NewNRGBA(image.Rect(0, 0, 20, 20))
		fill(img, img.Bounds(), c, colour.WhiteD65, exposure, 0)
		p, err := Sample(img, img.Bounds())
		require.NoError(t, err)
		return p
	}
	for want, p := range map[string]Patch{
		"overexposed":          patch(colour.Lab{L: 100}, 1.2),
		"too dark":             patch(colour.Lab{L: 6}, 1),
		"it is red":            patch(rgb(t, "#c8202b").Lab(), 1),
		"more than one colour": {XYZ: colour.WhiteD65, Spread: 20},
	} {
		_, err := White(p, WhitePaper)
		assert.ErrorIs(t, err, ErrNotWhite, want)
		assert.ErrorContains(t, err, want)
	}
	_, err := White(patch(colour.Lab{L: 90}, 1), 300)
	assert.ErrorContains(t, err, "between 20 and 100")
	_, err = White(patch(colour.Lab{L: 20}, 1), WhitePaper)
	assert.ErrorContains(t, err, "far too dark")
}

// gingham is a print of two colours in squares of the given side.
func gingham(t *testing.T, side int, a, b string) *image.NRGBA {
	img := image.NewNRGBA(image.Rect(0, 0, 400, 300))
	for y := range 300 {
		for x := range 400 {
			c := rgb(t, a)
			if (x/side+y/side)%2 == 0 {
				c = rgb(t, b)
			}
			img.SetNRGBA(x, y, color.NRGBA{uint8(255 * c.R), uint8(255 * c.G), uint8(255 * c.B), 255})
		}
	}
	return img
}

func TestPrintReadsAs(t *testing.T) {
	img := gingham(t, 10, "#ffffff", "#c8202b")
	p := ReadPrint(img, Correction{})
	require.Len(t, p.Near, 2)
	assert.InDelta(t, 0.5, p.Near[0].Share, 0.02)
	// By hand: half of each in linear light.
	r, g, b := rgb(t, "#c8202b").Linear()
	want := colour.LinearRGB((1+r)/2, (1+g)/2, (1+b)/2).Lab()
	assert.Less(t, colour.DeltaE2000(want, p.Across), 0.6)
	assert.Equal(t, p, ReadPrint(img, Correction{}), "the same photo gives the same reading")
	plain := Palette(gingham(t, 10, "#777777", "#777777"), Correction{}, 8)
	require.Len(t, plain, 1)
	assert.InDelta(t, 1, plain[0].Share, 1e-9)
}

func TestHoldsItsColourWhenCut(t *testing.T) {
	// The photo shows 200 mm across 400 pixels: a 20 mm piece is 40 pixels.
	small, err := Cut(gingham(t, 4, "#ffffff", "#c8202b"), Correction{}, 200, 20)
	require.NoError(t, err)
	assert.Len(t, small.Pieces, 200)
	assert.InDelta(t, 1, small.Holds, 1e-9, "a small print holds")
	large, err := Cut(gingham(t, 100, "#ffffff", "#c8202b"), Correction{}, 200, 20)
	require.NoError(t, err)
	assert.Less(t, large.Holds, 0.35, "a large one does not")
	away := 0.0
	for _, s := range large.Away {
		away += s
	}
	assert.InDelta(t, 1, large.Holds+away, 1e-9)
	assert.Greater(t, large.Away[colour.White]+large.Away[colour.Red], 0.3)
	for want, c := range map[string][2]float64{"how many millimetres": {0, 20}, "too small": {200, 0.1}, "larger than the cloth": {200, 190}} {
		_, err := Cut(gingham(t, 4, "#fff", "#000"), Correction{}, c[0], c[1])
		assert.ErrorContains(t, err, want)
	}
}

func BenchmarkPalette(b *testing.B) {
	img := image.NewNRGBA(image.Rect(0, 0, 1600, 1200))
	rnd := rand.New(rand.NewPCG(1, 1))
	for i := range img.Pix {
		img.Pix[i] = uint8(rnd.IntN(256))
	}
	for b.Loop() {
		Palette(img, Correction{}, 8)
	}
}

// A card of a known colour tells the light as white paper does, whatever lamp it lies under.
func TestACardOfAKnownColourTellsTheLight(t *testing.T) {
	lamp := colour.XYZ{X: 1.05, Y: 1, Z: .62} // warm
	under := func(c colour.Lab) Patch {
		x := colour.Adapt(c.XYZ(), colour.WhiteD65, lamp)
		return Patch{XYZ: colour.XYZ{X: .4 * x.X, Y: .4 * x.Y, Z: .4 * x.Z}}
	}
	known, cloth := colour.Lab{L: 62, A: 18, B: -14}, colour.Lab{L: 45, A: -20, B: 30}
	for _, k := range []colour.Lab{known, {L: 95}} {
		c, err := Known(under(k), k)
		require.NoError(t, err)
		assert.Less(t, colour.DeltaE2000(cloth, c.Apply(under(cloth).XYZ)), .01)
		assert.Less(t, colour.DeltaE2000(k, c.Apply(under(k).XYZ)), .01)
	}
	for _, bad := range []struct {
		patch Patch
		known colour.Lab
		why   string
	}{
		{under(colour.Lab{L: 50, A: 60, B: 40}), colour.Lab{L: 50, A: -50, B: 30}, "under any lamp"},
		{Patch{XYZ: under(known).XYZ, Burnt: .5}, known, "overexposed"},
		{Patch{XYZ: under(known).XYZ, Spread: 20}, known, "more than one colour"},
		{under(known), colour.Lab{L: 10, A: 9}, "too dark"},
		{Patch{XYZ: colour.XYZ{X: .021, Y: .021, Z: .021}}, colour.Lab{L: 90, A: 5}, "far too dark"},
	} {
		_, err := Known(bad.patch, bad.known)
		assert.ErrorIs(t, err, ErrNotWhite)
		assert.ErrorContains(t, err, bad.why)
	}
}
