package balance

import (
	"math"
	"slices"
)

// changeCosts is how much nearer, in share, a change of one more part must
// bring a colour to be worth it.
const changeCosts = 0.01

// Exchange gives parts other colours so that one colour comes nearest to the
// share wanted, 0 to 1: one part takes another colour, two parts trade theirs,
// or two colours trade all their parts. fill is the colour of each part, −1
// for none; parts for which held is true keep theirs. No colour loses its last part. It returns the new fill, or nil
// when nothing brings the colour nearer.
func Exchange(share []float64, fill []int, held []bool, card int, want float64) []int {
	miss := func(f []int) float64 {
		sum := 0.0
		for i, c := range f {
			if c == card {
				sum += share[i]
			}
		}
		return math.Abs(sum - want)
	}
	var best []int
	least := miss(fill)
	try := func(f []int) {
		changed := 0
		for i := range f {
			if f[i] != fill[i] {
				changed++
				if held != nil && held[i] {
					return
				}
			}
			if fill[i] >= 0 && !slices.Contains(f, fill[i]) {
				return
			}
		}
		if m := miss(f) + changeCosts*float64(changed); m < least-1e-12 {
			best, least = f, m
		}
	}
	for i := range fill {
		for _, c := range fill { // the part takes a colour in use
			if c >= 0 && (c == card) != (fill[i] == card) {
				f := slices.Clone(fill)
				f[i] = c
				try(f)
			}
		}
		for j := range fill { // the two parts trade, or their colours do everywhere
			if fill[i] != card || fill[j] == card || fill[j] < 0 {
				continue
			}
			f := slices.Clone(fill)
			f[i], f[j] = f[j], f[i]
			try(f)
			g := slices.Clone(fill)
			for k, c := range fill {
				switch c {
				case card:
					g[k] = fill[j]
				case fill[j]:
					g[k] = card
				}
			}
			try(g)
		}
	}
	return best
}
