package balance

import (
	"math"

	"lampfern/core/colour"
	"lampfern/core/wheel"
)

// place is where a colour lies on the painters' wheel.
func place(c colour.Lab) float64 { return wheel.Pigment.Place(c.OKLCh()) }

// Bridge is how two colours are brought together: a version of each, equally
// light, nearer to one another than the two are.
type Bridge struct {
	Dark  bool // the two meet in their darks, else in their lights
	A, B  colour.Lab
	Apart float64 // ΔE00 between them
}

// Where darks and lights are looked for, in L*: beyond, everything is black or
// white.
const (
	darkFrom, darkTo   = 16.0, 34.0
	lightFrom, lightTo = 74.0, 90.0
	bridgeStep         = 2.0
)

// Bridges finds where two colours come nearest: in their darks and in their
// lights, the nearer first. A version keeps hue and clearness, and is never
// stronger than the colour it comes from.
func Bridges(a, b colour.Lab) []Bridge {
	best := func(dark bool, from, to float64) Bridge {
		out := Bridge{Dark: dark, Apart: math.Inf(1)}
		for l := from; l <= to; l += bridgeStep {
			x, y := AtLightness(a, l), AtLightness(b, l)
			if d := colour.DeltaE2000(x, y); d < out.Apart {
				out.A, out.B, out.Apart = x, y, d
			}
		}
		return out
	}
	out := []Bridge{best(true, darkFrom, darkTo), best(false, lightFrom, lightTo)}
	if out[1].Apart < out[0].Apart {
		out[0], out[1] = out[1], out[0]
	}
	return out
}

// AtLightness is a darker or lighter version of a colour: its hue, its
// clearness at L*, and at most its chroma.
func AtLightness(c colour.Lab, l float64) colour.Lab {
	from, level := c.OKLCh(), colour.Lab{L: l}.OKLCh().L
	most := colour.MaxChroma(level, from.H)
	out := colour.OKLCh{L: level, C: math.Min(from.C, c.Clearness()*most), H: from.H}.Lab()
	out.L = l
	return out
}
