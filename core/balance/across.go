package balance

import (
	"math"

	"lampfern/core/colour"
)

// Blend is what becomes, far away, of colours too fine to be told apart.
type Blend struct {
	Colours []int // by index, the one with the most room first
	Into    int   // what a single fine colour sinks into; −1 when several blend
	Lab     colour.Lab
}

// fineBelow is the width, in standard deviations of the eye's blur, under which
// a colour among others as fine is no longer seen by itself: stripes so wide keep under a
// third of their contrast.
const fineBelow = 2.0

// sinksBelow is the difference, in ΔE00, under which what is left of a single fine line is
// lost in what it lies on.
const sinksBelow = 3.0

// LineKeeps is the share of its contrast that a single line keeps when it is blurred: the
// integral of a Gaussian over its width, erf(w/(2√2·σ)), both in mm.
func LineKeeps(width, sigma float64) float64 {
	if sigma == 0 {
		return 1
	}
	return math.Erf(width / (2 * math.Sqrt2 * sigma))
}

// Blur is the standard deviation, in millimetres on the piece, of what an eye
// that resolves one minute of arc makes of it from so many metres away.
func Blur(metres float64) float64 { return 1000 * metres * math.Tan(math.Pi/180/60) / 2 }

// Blends finds which colours blend at a distance in metres, and to what: the
// mean of their light by share. Colours as fine as that which touch blend; one alone sinks
// into what it lies on once hardly anything is left of its contrast. Borders are in mm;
// area is that of the whole piece, in mm².
func Blends(l Layout, area float64, c []colour.Lab, metres float64) []Blend {
	limit := fineBelow * Blur(metres)
	fine, longest, width := make([]bool, len(c)), make([]int, len(c)), make([]float64, len(c))
	for i := range c {
		length := 0.0
		longest[i] = -1
		for j, b := range l.Border[i] {
			length += b
			if b > 0 && (longest[i] < 0 || b > l.Border[i][longest[i]]) {
				longest[i] = j
			}
		}
		if length > 0 {
			width[i] = 2 * l.Share[i] * area / length
			fine[i] = width[i] < limit
		}
	}
	var out []Blend
	seen := make([]bool, len(c))
	for i := range c {
		if !fine[i] || seen[i] {
			continue
		}
		group := []int{i}
		seen[i] = true
		for at := 0; at < len(group); at++ {
			for j, b := range l.Border[group[at]] {
				if b > 0 && fine[j] && !seen[j] {
					seen[j] = true
					group = append(group, j)
				}
			}
		}
		into := -1
		mixed := group
		if len(group) == 1 {
			into = longest[i]
			mixed = []int{i, into}
			if LineKeeps(width[i], Blur(metres))*colour.DeltaE2000(c[i], c[into]) >= sinksBelow {
				continue
			}
		}
		most := 0
		for at, j := range group {
			if l.Share[j] > l.Share[group[most]] {
				most = at
			}
		}
		group[0], group[most] = group[most], group[0]
		out = append(out, Blend{group, into, mixture(l, c, mixed)})
	}
	return out
}

func mixture(l Layout, c []colour.Lab, of []int) colour.Lab {
	var labs []colour.Lab
	var shares []float64
	for _, i := range of {
		labs, shares = append(labs, c[i]), append(shares, l.Share[i])
	}
	return Mix(labs, shares)
}

// Mix is what an eye makes of colours too fine to be told apart: the mean of
// their light, weighted by share.
func Mix(c []colour.Lab, share []float64) colour.Lab {
	var sum colour.XYZ
	total := 0.0
	for i := range c {
		x := c[i].XYZ()
		sum.X, sum.Y, sum.Z = sum.X+share[i]*x.X, sum.Y+share[i]*x.Y, sum.Z+share[i]*x.Z
		total += share[i]
	}
	return colour.XYZ{X: sum.X / total, Y: sum.Y / total, Z: sum.Z / total}.Lab(colour.WhiteD65)
}
