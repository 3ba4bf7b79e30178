package card

import (
	"math"
	"slices"

	"lampfern/core/colour"
)

// Thresholds of a set of cards. Starting values.
const (
	AlikeApart   = 5.0 // ΔE00 under which two cards are too alike
	overpowers   = 3.0 // times the next in share × chroma
	oddFrom      = 1.6 // times the mean distance of the others
	oddLeast     = 12.0
	heldWithin   = 10.0 // ΔE00 within which a material holds a card's colour
	overpowerMin = 20.0 // C*ab a card needs to overpower
)

// Set is how cards laid edge to edge read together. Indices are −1 where there
// is none.
type Set struct {
	Overpowering int     // the card that is too much for the others
	Times        float64 // so many times the next
	Odd          int     // the one that does not belong
	OddApart     float64 // its mean ΔE00 to the others
	Alike        [][2]int
	Closest      float64 // least ΔE00 of any two
}

// ReadSet reads two cards or more. share holds what each takes of the whole, or
// is nil when each has the same.
func ReadSet(c []colour.Lab, share []float64) Set {
	s := Set{Overpowering: -1, Odd: -1, Closest: math.Inf(1)}
	n := len(c)
	if n < 2 {
		s.Closest = 0
		return s
	}
	force := make([]float64, n)
	mean := make([]float64, n)
	for i := range c {
		force[i] = c[i].Chroma()
		if share != nil {
			force[i] *= share[i]
		}
		for j := range c {
			if i == j {
				continue
			}
			d := colour.DeltaE2000(c[i], c[j])
			mean[i] += d / float64(n-1)
			if i < j {
				s.Closest = math.Min(s.Closest, d)
				if d < AlikeApart {
					s.Alike = append(s.Alike, [2]int{i, j})
				}
			}
		}
	}
	first, second := top(force)
	// One clear colour among neutrals is an accent, and overpowers nothing.
	if c[first].Chroma() >= overpowerMin && !c[second].Neutral() && force[first] >= overpowers*math.Max(force[second], 1e-9) {
		s.Overpowering, s.Times = first, math.Min(99, force[first]/math.Max(force[second], 1e-9))
	}
	if n >= 3 {
		odd, _ := top(mean)
		rest := 0.0
		for i, m := range mean {
			if i != odd {
				rest += m / float64(n-1)
			}
		}
		// The others are measured without the odd one, or it would hide itself.
		inner := (rest*float64(n-1) - mean[odd]) / float64(n-2)
		if mean[odd] >= oddLeast && mean[odd] >= oddFrom*inner {
			s.Odd, s.OddApart = odd, mean[odd]
		}
	}
	return s
}

// top is the index of the largest value and of the next.
func top(v []float64) (first, second int) {
	order := make([]int, len(v))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		switch {
		case v[a] > v[b]:
			return -1
		case v[a] < v[b]:
			return 1
		}
		return 0
	})
	return order[0], order[1]
}

// Held lists which of the cards a material with these colours holds, and the
// mean ΔE00 to them.
func Held(material, cards []colour.Lab) (held []int, apart float64) {
	for i, c := range cards {
		least := math.Inf(1)
		for _, m := range material {
			least = math.Min(least, colour.DeltaE2000(m, c))
		}
		if least <= heldWithin {
			held, apart = append(held, i), apart+least
		}
	}
	if len(held) > 0 {
		apart /= float64(len(held))
	}
	return held, apart
}
