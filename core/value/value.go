// Package value reads lightness: how a set of colours spreads from dark to
// light, where it jumps and where it crowds.
//
// Drawing the run and choosing materials for it are done elsewhere.
package value

import (
	"math"
	"sort"

	"lampfern/core/colour"
)

// Thresholds, in L*.
const (
	CrowdBelow = 3.0  // neighbours nearer than this are equally light
	FlatBelow  = 30.0 // a set spanning less than this looks flat
	GapRatio   = 1.6  // a jump this many times the mean stands out
)

// Spread is how a set of colours lies on the value scale.
type Spread struct {
	Order   []int    // the colours by index, dark to light
	Low     float64  // L* of the darkest
	High    float64  // L* of the lightest
	Crowds  [][2]int // neighbours that are equally light, by index, darker first
	Jump    [2]int   // the neighbours with the largest jump between, darker first
	JumpBy  float64  // that jump in L*
	Uneven  bool     // the jump is more than 1.6 times the mean one
	Outside bool     // fewer than two colours: nothing to compare
}

// Read orders the colours and measures their spread.
func Read(c []colour.Lab) Spread {
	s := Spread{Outside: len(c) < 2}
	for i := range c {
		s.Order = append(s.Order, i)
	}
	sort.SliceStable(s.Order, func(i, j int) bool { return c[s.Order[i]].L < c[s.Order[j]].L })
	if s.Outside {
		return s
	}
	s.Low, s.High = c[s.Order[0]].L, c[s.Order[len(c)-1]].L
	for k := 1; k < len(c); k++ {
		pair := [2]int{s.Order[k-1], s.Order[k]}
		d := c[pair[1]].L - c[pair[0]].L
		if d < CrowdBelow {
			s.Crowds = append(s.Crowds, pair)
		}
		if d > s.JumpBy {
			s.Jump, s.JumpBy = pair, d
		}
	}
	mean := (s.High - s.Low) / float64(len(c)-1)
	s.Uneven = len(c) > 2 && s.JumpBy > GapRatio*mean
	s.JumpBy = math.Round(s.JumpBy*1e6) / 1e6
	return s
}

// Flat reports whether the values lie so close together that the set looks
// flat.
func (s Spread) Flat() bool { return !s.Outside && s.High-s.Low < FlatBelow }
