package colour

import "math"

// Constants of the CSS Color 4 gamut-mapping algorithm.
const (
	justNoticeable = 0.02   // ΔEOK that counts as no visible clipping
	chromaEpsilon  = 0.0001 // chroma at which the search stops
	gamutSlack     = 1e-6   // rounding allowed before a colour counts as outside
)

func (c RGB) inside() bool {
	return c.R >= -gamutSlack && c.R <= 1+gamutSlack &&
		c.G >= -gamutSlack && c.G <= 1+gamutSlack &&
		c.B >= -gamutSlack && c.B <= 1+gamutSlack
}

func (c RGB) clip() RGB { return RGB{clamp01(c.R), clamp01(c.G), clamp01(c.B)} }

// RGB converts to sRGB. A colour outside sRGB is brought in by reducing OKLCh
// chroma (CSS Color 4, binary search with local MINDE) and inGamut is false.
func (c OKLCh) RGB() (rgb RGB, inGamut bool) {
	if c.L >= 1 {
		return RGB{1, 1, 1}, c.L < 1+gamutSlack && c.C < gamutSlack
	}
	if c.L <= 0 {
		return RGB{}, c.L > -gamutSlack && c.C < gamutSlack
	}
	if raw := c.ok().xyz().raw(); raw.inside() {
		return raw.clip(), true
	}
	return c.reduce(), false
}

func (c OKLCh) reduce() RGB {
	missing := func(c OKLCh, clipped RGB) float64 {
		a, b := c.ok(), clipped.OKLab()
		return math.Sqrt((a.L-b.L)*(a.L-b.L) + (a.A-b.A)*(a.A-b.A) + (a.B-b.B)*(a.B-b.B))
	}
	clipped := c.ok().xyz().raw().clip()
	if missing(c, clipped) < justNoticeable {
		return clipped
	}
	low, high, lowInside := 0.0, c.C, true
	for high-low > chromaEpsilon {
		c.C = (low + high) / 2
		raw := c.ok().xyz().raw()
		if lowInside && raw.inside() {
			low = c.C
			continue
		}
		clipped = raw.clip()
		e := missing(c, clipped)
		switch {
		case e >= justNoticeable:
			high = c.C
		case justNoticeable-e < chromaEpsilon:
			return clipped
		default:
			lowInside = false
			low = c.C
		}
	}
	return clipped
}

// RGB converts to sRGB, mapping into gamut as OKLCh.RGB does; inGamut tells
// whether the colour could be shown as it is.
func (c Lab) RGB() (rgb RGB, inGamut bool) {
	if raw := c.XYZ().raw(); raw.inside() {
		return raw.clip(), true
	}
	rgb, _ = c.OKLCh().RGB()
	return rgb, false
}

// MaxChroma is the largest OKLCh chroma sRGB holds at OKLCh lightness l (0–1)
// and hue h in degrees, to 1e-4.
func MaxChroma(l, h float64) float64 {
	if l <= 0 || l >= 1 {
		return 0
	}
	low, high := 0.0, 0.4
	for high-low > 1e-4 {
		mid := (low + high) / 2
		if (OKLCh{l, mid, h}).ok().xyz().raw().inside() {
			low = mid
		} else {
			high = mid
		}
	}
	return low
}
