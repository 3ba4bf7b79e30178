package colour

import (
	"cmp"
	"math"
	"slices"
)

// Index finds the nearest of many colours by CIEDE2000, exactly. It is made
// once and may be used from many goroutines.
type Index struct {
	byL []indexed
}

type indexed struct {
	lab Lab
	at  int
}

// NewIndex returns an index of the colours; hits name them by their position.
func NewIndex(labs []Lab) *Index {
	x := &Index{byL: make([]indexed, len(labs))}
	for i, c := range labs {
		x.byL[i] = indexed{c, i}
	}
	slices.SortStableFunc(x.byL, func(a, b indexed) int { return cmp.Compare(a.lab.L, b.lab.L) })
	return x
}

// Hit is a colour of an index and its ΔE00 to the one asked for.
type Hit struct {
	At    int
	Apart float64
}

// Nearest returns the n nearest colours, nearest first; those for which skip
// (when not nil) is true are left out.
//
// The chroma and hue terms of CIEDE2000 never make a difference smaller than
// its lightness term alone, |ΔL|/S_L, so the search walks outward from the
// wanted lightness, dark and light by turns, and ends on each side where that
// term exceeds the n-th best.
func (x *Index) Nearest(to Lab, n int, skip func(at int) bool) []Hit {
	if n <= 0 {
		return nil
	}
	best := make([]Hit, 0, n)
	worst := math.Inf(1)
	try := func(c indexed) {
		if skip != nil && skip(c.at) {
			return
		}
		d := DeltaE2000(to, c.lab)
		if d >= worst {
			return
		}
		if len(best) == n {
			best = best[:n-1]
		}
		at, _ := slices.BinarySearchFunc(best, d, func(h Hit, d float64) int {
			if h.Apart <= d {
				return -1
			}
			return 1
		})
		best = slices.Insert(best, at, Hit{c.at, d})
		if len(best) == n {
			worst = best[n-1].Apart
		}
	}
	up, _ := slices.BinarySearchFunc(x.byL, to.L, func(c indexed, l float64) int { return cmp.Compare(c.lab.L, l) })
	down := up - 1
	for up < len(x.byL) || down >= 0 {
		if up < len(x.byL) {
			if lightnessTerm(to.L, x.byL[up].lab.L) > worst {
				up = len(x.byL)
			} else {
				try(x.byL[up])
				up++
			}
		}
		if down >= 0 {
			if lightnessTerm(to.L, x.byL[down].lab.L) > worst {
				down = -1
			} else {
				try(x.byL[down])
				down--
			}
		}
	}
	return best
}

// lightnessTerm is |ΔL|/S_L of CIEDE2000. It grows as one lightness moves away
// from the other.
func lightnessTerm(a, b float64) float64 {
	m := (a+b)/2 - 50
	return math.Abs(a-b) / (1 + 0.015*m*m/math.Sqrt(20+m*m))
}
