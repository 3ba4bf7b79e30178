package surface

import (
	"image"
	"image/color"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"lampfern/core/colour"
)

func stripes(w, h, wide int, a, b color.NRGBA) *image.NRGBA {
	img := image.NewNRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			c := a
			if x/wide%2 == 1 {
				c = b
			}
			img.SetNRGBA(x, y, c)
		}
	}
	return img
}

func TestFarKeepsAPlainPicture(t *testing.T) {
	c := color.NRGBA{56, 48, 43, 255}
	for _, sigma := range []float64{0, .3, 2, 40} {
		got := Far(stripes(40, 30, 100, c, c), sigma, sigma)
		assert.Equal(t, c, got.NRGBAAt(0, 0), "sigma %g", sigma)
		assert.Equal(t, c, got.NRGBAAt(20, 15))
	}
}

func TestFarBlendsFineStripesInLight(t *testing.T) {
	white, black := color.NRGBA{255, 255, 255, 255}, color.NRGBA{0, 0, 0, 255}
	got := Far(stripes(200, 20, 2, white, black), 12, 12).NRGBAAt(100, 10)
	half := colour.LinearRGB(.5, .5, .5)
	assert.InDelta(t, 255*half.R, got.R, 2, "half the light, not half the code")
	assert.Equal(t, Far(stripes(20, 20, 2, white, black), 0, 0).NRGBAAt(5, 5), stripes(20, 20, 2, white, black).NRGBAAt(5, 5))
}

func TestFarLosesHueBeforeLight(t *testing.T) {
	// A red bar on a green of the same luminance, and a white bar on black, five
	// pixels wide, seen with a blur of two.
	red, green := color.NRGBA{188, 60, 60, 255}, color.NRGBA{60, 116, 60, 255}
	light := func(c color.NRGBA) (y, redness float64) {
		r, g, b := colour.RGB{R: float64(c.R) / 255, G: float64(c.G) / 255, B: float64(c.B) / 255}.Linear()
		y = colour.LinearXYZ(r, g, b).Y
		return y, r - y
	}
	hue := Far(stripes(60, 10, 5, red, green), 2, 2)
	_, a := light(hue.NRGBAAt(32, 5))
	_, b := light(hue.NRGBAAt(27, 5))
	_, full := light(red)
	_, other := light(green)
	keptHue := math.Abs(a-b) / (full - other)
	lit := Far(stripes(60, 10, 5, color.NRGBA{255, 255, 255, 255}, color.NRGBA{0, 0, 0, 255}), 2, 2)
	c, _ := light(lit.NRGBAAt(32, 5))
	d, _ := light(lit.NRGBAAt(27, 5))
	assert.Greater(t, math.Abs(c-d), .4)
	assert.Less(t, keptHue, .1)
}

func TestGaussianHasItsWidth(t *testing.T) {
	// The variance of a blurred point is sigma².
	for _, sigma := range []float64{.8, 3, 7.5} {
		p := make([]float64, 121)
		p[60] = 1
		gaussian(p, 121, 1, sigma, sigma)
		sum, spread := 0.0, 0.0
		for i, v := range p {
			sum, spread = sum+v, spread+v*float64((i-60)*(i-60))
		}
		assert.InDelta(t, 1, sum, 1e-9)
		assert.InEpsilon(t, sigma*sigma, spread, 1e-6, "sigma %g", sigma)
	}
}
