package colour

import (
	"math/rand/v2"
	"sort"
	"testing"

	"github.com/lucasb-eyer/go-colorful"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func randomShelf(rnd *rand.Rand, n int) []Lab {
	labs := make([]Lab, n)
	for i := range labs {
		labs[i] = RGB{rnd.Float64(), rnd.Float64(), rnd.Float64()}.Lab()
		if i%7 == 0 {
			labs[i].A, labs[i].B = labs[i].A/20, labs[i].B/20 // a shelf has many near-neutrals
		}
	}
	return labs
}

func TestNearestEqualsTheLoop(t *testing.T) {
	rnd := rand.New(rand.NewPCG(7, 8))
	for round := range 60 {
		labs := randomShelf(rnd, 1+rnd.IntN(800))
		if round%5 == 0 {
			labs = append(labs, labs...) // doubles
		}
		x := NewIndex(labs)
		q := Lab{100 * rnd.Float64(), 160*rnd.Float64() - 80, 160*rnd.Float64() - 80}
		n := 1 + rnd.IntN(12)
		skip := func(at int) bool { return at%3 == 1 }
		var all []float64
		for i, c := range labs {
			if !skip(i) {
				all = append(all, DeltaE2000(q, c))
			}
		}
		sort.Float64s(all)
		hits := x.Nearest(q, n, skip)
		require.Len(t, hits, min(n, len(all)))
		for i, h := range hits {
			assert.Equal(t, all[i], h.Apart)
			assert.Equal(t, h.Apart, DeltaE2000(q, labs[h.At]))
			assert.False(t, skip(h.At))
		}
	}
	assert.Empty(t, NewIndex(nil).Nearest(Lab{}, 3, nil))
	assert.Empty(t, NewIndex([]Lab{{}}).Nearest(Lab{}, 0, nil))
}

func TestLightnessTermGrowsOutward(t *testing.T) {
	for a := 0.0; a <= 100; a += 5 {
		for _, step := range []float64{0.5, -0.5} {
			last := 0.0
			for b := a; b >= 0 && b <= 100; b += step {
				now := lightnessTerm(a, b)
				assert.GreaterOrEqual(t, now, last-1e-12)
				assert.LessOrEqual(t, now, DeltaE2000(Lab{a, 30, -60}, Lab{b, 20, -70})+1e-9, "it is a lower bound, in the blues too")
				last = now
			}
		}
	}
}

func TestLean(t *testing.T) {
	lean := func(h string) FamilyName {
		c, err := ParseHex(h)
		require.NoError(t, err)
		return c.Lab().Lean()
	}
	assert.Equal(t, Blue, lean("#1f7a5c"), "a green that leans blue")
	assert.Equal(t, Yellow, lean("#5aa52c"), "a green that leans yellow")
	assert.Equal(t, FamilyName(""), lean("#00803f"))
	assert.Equal(t, Violet, lean("#3a3f9e"), "a blue that leans violet")
	assert.Equal(t, FamilyName(""), lean("#808080"))
}

// BenchmarkNearest finds the nearest of 10,000 and compares it with the plain
// loop over go-colorful.
func BenchmarkNearest(b *testing.B) {
	rnd := rand.New(rand.NewPCG(9, 10))
	labs := randomShelf(rnd, 10000)
	cols := make([]colorful.Color, len(labs))
	for i, c := range labs {
		rgb, _ := c.RGB()
		cols[i] = colorful.Color{R: rgb.R, G: rgb.G, B: rgb.B}
	}
	queries := randomShelf(rnd, 256)
	x := NewIndex(labs)
	b.Run("index", func(b *testing.B) {
		for i := 0; b.Loop(); i++ {
			x.Nearest(queries[i&255], 5, nil)
		}
	})
	b.Run("loop", func(b *testing.B) {
		for i := 0; b.Loop(); i++ {
			q := cols[i&255]
			best := 1e9
			for _, c := range cols {
				if d := q.DistanceCIEDE2000(c); d < best {
					best = d
				}
			}
		}
	})
}
