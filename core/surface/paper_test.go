package surface

import (
	"image"
	"image/color"
	"image/draw"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
)

// onPaper is white paper, a little uneven, with boxes of colours on it.
func onPaper(w, h int, boxes map[image.Rectangle]color.RGBA) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			v := uint8(238 + (x*7+y*3)%5 + x*8/w)
			img.SetRGBA(x, y, color.RGBA{v, v, v - 3, 255})
		}
	}
	for box, c := range boxes {
		draw.Draw(img, box, image.NewUniform(c), image.Point{}, draw.Src)
	}
	return img
}

func TestPaperBesideAPrintIsNotCounted(t *testing.T) {
	red, white := color.RGBA{176, 32, 40, 255}, color.RGBA{248, 248, 246, 255}
	// A print of red with white dots of its own, on paper.
	boxes := map[image.Rectangle]color.RGBA{image.Rect(60, 50, 260, 190): red}
	img := onPaper(320, 240, boxes)
	for x := 80; x < 250; x += 40 {
		draw.Draw(img, image.Rect(x, 100, x+16, 116), image.NewUniform(white), image.Point{}, draw.Src)
	}
	got, paper := WithoutPaper(img, Correction{})
	assert.InDelta(t, 1-200*140/(320*240.), paper, .02)
	print := ReadPrint(got, Correction{})
	require.Len(t, print.Near, 2)
	assert.Equal(t, colour.Red, colour.Family(print.Near[0].Colour))
	assert.InDelta(t, 5*16*16/(200*140.), print.Near[1].Share, .01, "its own white counts, the paper's does not")
	assert.Greater(t, ReadPrint(img, Correction{}).Near[0].Colour.L, 90.0, "with the paper it would be white")
	cut, err := Cut(got, Correction{}, 320, 20)
	require.NoError(t, err)
	for _, p := range cut.Pieces {
		assert.True(t, p.Box.In(image.Rect(56, 46, 264, 194)), "%v lies on the print", p.Box)
	}
	_, err = Cut(got, Correction{}, 320, 180)
	assert.ErrorContains(t, err, "use smaller pieces")

	// Flowers on white that reaches the border: the white is the print's.
	flowers := map[image.Rectangle]color.RGBA{}
	for i := range 12 {
		flowers[image.Rect(20+70*(i%4), 20+70*(i/4), 50+70*(i%4), 50+70*(i/4))] = red
	}
	img = onPaper(320, 240, flowers)
	same, none := WithoutPaper(img, Correction{})
	assert.Same(t, img, same)
	assert.Zero(t, none)
	// And with nothing white at the border nothing is left out.
	_, none = WithoutPaper(onPaper(100, 100, map[image.Rectangle]color.RGBA{image.Rect(0, 0, 100, 100): red}), Correction{})
	assert.Zero(t, none)
	_, none = WithoutPaper(image.NewRGBA(image.Rect(0, 0, 2, 2)), Correction{})
	assert.Zero(t, none)
}

// A cluster of two colours that lie on either side of grey must not show the grey between.
func TestAClusterHasAColourThatIsThere(t *testing.T) {
	img := image.NewRGBA(image.Rect(0, 0, 64, 64))
	there := map[color.RGBA]bool{}
	for i := range 64 * 64 {
		c := color.RGBA{uint8(40 + i%64*3), uint8(90 + i/64), uint8(200 - i%64*2), 255}
		there[c] = true
		img.SetRGBA(i%64, i/64, c)
	}
	var pixels []colour.Lab
	for c := range there {
		pixels = append(pixels, colour.RGB{R: float64(c.R) / 255, G: float64(c.G) / 255, B: float64(c.B) / 255}.Lab())
	}
	index := colour.NewIndex(pixels)
	for _, s := range Palette(img, Correction{}, 5) {
		assert.Less(t, index.Nearest(s.Colour, 1, nil)[0].Apart, 1e-6)
	}
}
