package balance

import (
	"fmt"
	"math"
	"sort"

	"lampfern/core/colour"
	"lampfern/core/wheel"
)

// When two colours compete: both clear, neither neighbours nor opposites,
// equally light and of like area. Starting values.
const (
	competeFrom      = 2.0  // places apart on the painters' wheel, 60°
	competeTo        = 5.0  // from here on they are opposites, 150°
	competeLightness = 15.0 // L*
	competeForce     = 0.4  // of the strongest of its hue: what is pale fights nothing
	competeAreas     = 2.5  // the larger at most so many times the smaller
)

// Compete reports whether two colours fight for the eye. Shares of 0 mean that
// areas are not known yet, and are taken as equal.
func Compete(a, b colour.Lab, shareA, shareB float64) bool {
	if a.Neutral() || b.Neutral() || a.Clearness() < colour.ClearFrom || b.Clearness() < colour.ClearFrom || a.Force() < competeForce ||
		b.Force() < competeForce {
		return false
	}
	if math.Abs(a.L-b.L) >= competeLightness {
		return false
	}
	if less, more := math.Min(shareA, shareB), math.Max(shareA, shareB); less > 0 && more > competeAreas*less {
		return false
	}
	apart := wheel.Apart(place(a), place(b))
	return apart >= competeFrom && apart < competeTo
}

func place(c colour.Lab) float64 { return wheel.Pigment.Place(c.OKLCh()) }

// Remedy is a changed colour that no longer competes.
type Remedy struct {
	Words  string // such as "turn it 32° toward red"
	Colour colour.Lab
	Change float64 // ΔE00 from what it was
}

// Soften gives the changes of a that stop it from competing with b, the least
// first: turned until the two are opposites, or less clear.
func Soften(a, b colour.Lab) []Remedy {
	const past = 0.02 // places beyond the limit, so that rounding does not matter
	from := a.OKLCh()
	side, apart := 1.0, wheel.Turn(place(a), -place(b))
	if apart > wheel.Places/2 {
		side, apart = -1, wheel.Places-apart
	}
	hue := wheel.Pigment.Hue(place(b) + side*(competeTo+past))
	turned := colour.OKLCh{L: from.L, C: math.Min(from.C, colour.MaxChroma(from.L, hue)), H: hue}.Lab()
	out := []Remedy{{fmt.Sprintf("turn it %.0f° of the wheel toward %s", 30*(competeTo-apart), wheel.Pigment.Name(place(turned)+side)),
		turned, 0}}

	const under = 0.02
	k := (colour.ClearFrom - under) / a.Clearness()
	softer := colour.OKLCh{L: from.L, C: from.C * k, H: from.H}.Lab()
	out = append(out, Remedy{fmt.Sprintf("make it %.0f%% less clear", 100*(1-k)), softer, 0})
	kept := out[:0]
	for _, r := range out {
		r.Change = colour.DeltaE2000(a, r.Colour)
		if !Compete(r.Colour, b, 0, 0) {
			kept = append(kept, r)
		}
	}
	sort.SliceStable(kept, func(i, j int) bool { return kept[i].Change < kept[j].Change })
	return kept
}

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
