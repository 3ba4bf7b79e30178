package wheel

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// random are hues anywhere on the wheel.
func random(r *rand.Rand, n int) []Hue {
	out := make([]Hue, n)
	for i := range out {
		out[i] = Hue{r.Float64() * Places, 1}
	}
	return out
}

// bestOff is the mean deviation in the best of all schemes that hues fill, but for a little outside.
func bestOff(hues []Hue) float64 {
	best := math.Inf(1)
	names, variants := forms()
	for i, name := range names {
		steps, err := schemeSteps(name, variants[i])
		if err != nil {
			continue
		}
		for _, h := range hues {
			for _, s := range steps {
				if l, _ := lay(hues, steps, Turn(h.Place, -s)); len(l.Missing) == 0 && l.outside <= mostOutside {
					best = min(best, l.Off)
				}
			}
		}
	}
	return best
}

// The table of what chance does is that of its simulation.
func TestTheTenthOfChance(t *testing.T) {
	sets := 1000
	if testing.Short() {
		sets = 300
	}
	for n := 5; n < len(tenth); n++ {
		r := rand.New(rand.NewPCG(uint64(n), 33))
		var off []float64
		for range sets {
			off = append(off, bestOff(random(r, n)))
		}
		slices.Sort(off)
		t.Logf("%d: %.3f", n, min(outsideFrom, off[sets/10]))
		assert.InDelta(t, min(outsideFrom, off[sets/10]), tenth[n], 0.04, "%d hues", n)
	}
}

// Chance makes no scheme; one that was laid is found again, each of its hues moved by up to 10°.
func TestSchemesAreNamedWhereThereIsOne(t *testing.T) {
	r := rand.New(rand.NewPCG(33, 1))
	named := 0
	for range 1000 {
		if l, _ := Recognise(random(r, 5)); l.Named {
			named++
		}
	}
	t.Logf("of 1,000 sets of five random hues %d are named", named)
	assert.LessOrEqual(t, named, 150)

	names, variants := forms()
	found, laid := 0, 0
	for i, name := range names {
		steps, err := schemeSteps(name, variants[i])
		require.NoError(t, err)
		if len(steps) < 3 || len(steps) > 6 {
			continue
		}
		for range 200 {
			lead := r.Float64() * Places
			var hues []Hue
			for n := 0; n < max(len(steps), 3+r.IntN(4)); n++ {
				hues = append(hues, Hue{Turn(lead, steps[n%len(steps)]+(r.Float64()*2-1)/3), 1})
			}
			if len(hues) > 6 {
				continue
			}
			laid++
			if l, _ := Recognise(hues); l.Named {
				found++
			}
		}
	}
	t.Logf("of %d schemes laid and moved by up to 10°, %d are found", laid, found)
	assert.GreaterOrEqual(t, float64(found), 0.95*float64(laid))
}

// What covers little of the piece does not unmake a scheme, and what covers much does.
func TestASchemeIsWeighed(t *testing.T) {
	hues := []Hue{{0, 4}, {4, 3}, {8, 3}, {2, 1}}
	l, _ := Recognise(hues)
	assert.True(t, l.Named)
	assert.Equal(t, "triadic", l.Scheme)
	assert.Equal(t, []int{3}, l.Outside)
	hues[3].Weight = 5
	l, _ = Recognise(hues)
	assert.False(t, l.Named && l.Scheme == "triadic")
}
