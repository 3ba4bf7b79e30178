package balance

import (
	"cmp"
	"math"
	"slices"

	"lampfern/core/colour"
)

// Candidate is a colour tried on the one that is left open.
type Candidate struct {
	Index  int     // among the candidates
	Times  float64 // the focus's pull over the strongest other's
	Strong float64 // the candidate's own pull as a share of the strongest, 0 to 1
	Lost   int     // of its edges
}

// BringOut ranks candidates for one colour of a layout that is left open: those that lose fewer edges
// first, of these those that let the focus lead by most. c holds a colour each, that of open does not
// count; same is the colour of c that a candidate is, −1 for a new one, and one that would
// hide what is open beside its own is left out. focus may be open itself.
func BringOut(l Layout, c []colour.Lab, open, focus int, candidates []colour.Lab, same []int) []Candidate {
	n := len(c)
	c = slices.Clone(c)
	apart := make([]float64, n*n)
	for i := range c {
		for j := range i {
			de := colour.DeltaE2000(c[i], c[j])
			apart[i*n+j], apart[j*n+i] = de, de
		}
	}
	length := make([]float64, n)
	for i := range c {
		for _, b := range l.Border[i] {
			length[i] += b
		}
	}
	matters := func(j int) bool { return l.Border[open][j] > EdgeMatters*math.Min(length[open], length[j]) }
	var out []Candidate
	for k, cand := range candidates {
		one := Candidate{Index: k}
		lay, lead, at := l, focus, open
		if s := same[k]; s >= 0 && s != open {
			if matters(s) {
				continue
			}
			fill := make([]int, n)
			for i := range fill {
				fill[i] = i
			}
			fill[open] = s
			lay, at = l.Merge(fill, n), s
			if focus == open {
				lead = s
			}
		}
		c[open] = cand
		for j := range c {
			if j == open {
				continue
			}
			de := colour.DeltaE2000(cand, c[j])
			apart[open*n+j], apart[j*n+open] = de, de
			if matters(j) && de < lostApart && math.Abs(cand.L-c[j].L) < lostLightness {
				one.Lost++
			}
		}
		top, of, own := 0.0, 0.0, 0.0
		for _, p := range firstLook(lay, c, apart) {
			if p.Part == lead {
				of = p.Pull
			} else {
				top = max(top, p.Pull)
			}
			if p.Part == at {
				own = p.Pull
			}
		}
		one.Times = max(of, 1e-9) / max(top, 1e-9)
		one.Strong = own / max(of, top, 1e-9)
		out = append(out, one)
	}
	slices.SortStableFunc(out, func(a, b Candidate) int {
		return cmp.Or(cmp.Compare(a.Lost, b.Lost), cmp.Compare(b.Times, a.Times), cmp.Compare(a.Strong, b.Strong))
	})
	return out
}
