package surface

import (
	"image"
	"image/color"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
)

// A sheet that was photographed aslant is read where its fields lie.
func TestASheetIsReadAslant(t *testing.T) {
	img := image.NewNRGBA(image.Rect(0, 0, 400, 300))
	c := Corners{{60, 40}, {350, 70}, {330, 270}, {40, 240}}
	require.NoError(t, c.Check())
	red, grey := color.NRGBA{200, 60, 50, 255}, color.NRGBA{118, 118, 118, 255}
	for v := 0.0; v < 1; v += .001 {
		for u := 0.0; u < 1; u += .001 {
			at := c.At(u, v)
			of := grey
			if u > .5 && v > .5 {
				of = red
			}
			img.SetNRGBA(int(at.X), int(at.Y), of)
		}
	}
	for i, at := range [][2]float64{{0, 0}, {1, 0}, {1, 1}, {0, 1}} {
		got := c.At(at[0], at[1])
		assert.InDelta(t, c[i].X, got.X, 1e-9)
		assert.InDelta(t, c[i].Y, got.Y, 1e-9)
	}
	p, err := SampleSheet(img, c, .6, .6, .3, .3)
	require.NoError(t, err)
	assert.Less(t, colour.DeltaE2000(colour.RGB{R: 200. / 255, G: 60. / 255, B: 50. / 255}.Lab(), p.XYZ.Lab(colour.WhiteD65)), 0.5)
	assert.Less(t, p.Spread, 0.5)
	_, err = SampleSheet(img, c, 5, 5, .1, .1)
	assert.ErrorContains(t, err, "outside the photo")
	assert.ErrorContains(t, Corners{{60, 40}, {330, 270}, {350, 70}, {40, 240}}.Check(), "wrong order")
	assert.ErrorContains(t, Corners{{60, 40}, {40, 240}, {330, 270}, {350, 70}}.Check(), "the wrong way")
}
