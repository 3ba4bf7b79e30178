package quantity

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func must[I, O any](t *testing.T, formula func(I) (O, error), in I) O {
	t.Helper()
	out, err := formula(in)
	require.NoError(t, err)
	return out
}

// What is poured and swirled weighs what it weighed, and rounded parts add up.
func TestBatterIsConserved(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 2))
	for range 60 {
		var shares Amounts
		left := 100.0
		for _, name := range []string{"a", "b", "c"} {
			v := math.Round(1000*left*r.Float64()) / 1000
			shares, left = append(shares, Amount{name, v}), left-v
		}
		shares = append(shares, Amount{"d", left})
		split := must(t, Batter, BatterIn{Shape: "volume", Volume: new(200 + 3000*r.Float64()), RecipeOils: 700, RecipeTotal: 1000,
			Shares: shares})
		exact, whole := 0.0, 0.0
		for name, g := range split.Exact.ByColour {
			exact += g
			whole += split.Rounded.ByColour[name]
		}
		assert.InDelta(t, split.Exact.Batter, exact, 1e-6)
		assert.InDelta(t, split.Rounded.Batter, whole, 1e-9)

		parts := Amounts{{"a", 500 * r.Float64()}, {"b", 500 * r.Float64()}, {"c", 1 + 500*r.Float64()}}
		swirl := must(t, Swirl, SwirlIn{PartsG: parts, Neighbours: []Neighbours{{"a", "b"}, {"c", "b"}, {"b", "a"}},
			SwirlPct: new(40 * r.Float64())})
		sum := 0.0
		for _, g := range swirl.Exact.Pure {
			sum += g
		}
		for _, m := range swirl.Exact.Mixed {
			sum += m.Mass
		}
		assert.InDelta(t, parts.sum(), sum, 1e-6)
	}
}

// Rungs on the ruler add up to the quilt, whatever their widths.
func TestRungsAddUp(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	for range 60 {
		mode := []string{"equal", "arithmetic", "geometric"}[r.IntN(3)]
		high := float64(10+r.IntN(80)) + .125*float64(r.IntN(8))
		res := must(t, Gradient, GradientIn{QuiltW: 40, QuiltH: high, Rungs: float64(1 + r.IntN(9)), Mode: mode, FirstW: new(1 + 3*r.Float64()),
			LastW: new(1 + 3*r.Float64())})
		sum := 0.0
		for _, w := range res.Rounded.FinishedWidths {
			sum += w
			assert.InDelta(t, 0, math.Mod(w+1e-9, .125), 1e-6, "on the ruler")
		}
		assert.InDelta(t, high, sum, 1e-9)
	}
}

// More never takes less, and a quarter more waste is a quarter more cloth.
func TestMoreNeverTakesLess(t *testing.T) {
	last := 0.0
	for n := range 60 {
		geese := []QuiltShape{{Shape: "goose", FinishedW: 4, Count: float64(n)}}
		length := must(t, Strips, StripsIn{WastePct: new(0.0), Lines: geese}).Exact.Length
		assert.GreaterOrEqual(t, length, last, n)
		last = length
		assert.InDelta(t, 1.25*length, must(t, Strips, StripsIn{WastePct: new(25.0), Lines: geese}).Exact.WithWaste, 1e-9)
	}
	assert.Positive(t, last)
}

// Threads are placed to the last one, and every run is counted.
func TestExpandPlacesEveryThread(t *testing.T) {
	order := []thread{{"a", 3}, {"b", 0}, {"a", 2}, {"c", 4}}
	for total := range 40 {
		colours, threads, runs := expand(order, float64(total))
		assert.Equal(t, []string{"a", "b", "c"}, colours)
		assert.Equal(t, float64(total), threads["a"]+threads["b"]+threads["c"])
		assert.Zero(t, threads["b"])
		blocks := math.Ceil(float64(total) / 9)
		assert.Equal(t, blocks, runs["a"], "two blocks of a side by side are one run")
	}
	_, threads, _ := expand([]thread{{"a", 0}}, 5)
	assert.Zero(t, threads["a"], "an order of nothing places nothing")
}

// Units there and back are the same, within every group.
func TestUnitsThereAndBack(t *testing.T) {
	for _, group := range unitGroups {
		for _, from := range group {
			for _, to := range group {
				there := must(t, Convert, ConvertIn{7.25, from.name, to.name}).Exact.Value
				back := must(t, Convert, ConvertIn{there, to.name, from.name}).Exact.Value
				assert.InDelta(t, 7.25, back, 1e-9, "%s %s", from.name, to.name)
			}
		}
	}
	// 20 tex is 50,000 m in a kilogram, and a cotton count of 29.53.
	assert.InDelta(t, 50000, must(t, Convert, ConvertIn{20, "tex", "m_per_kg"}).Exact.Value, 1e-6)
	assert.InDelta(t, 29.527, must(t, Convert, ConvertIn{20, "tex", "ne_cotton"}).Rounded.Value, 1e-9)
}

// Every warning that a formula can give is a sentence.
func TestWarningsAreSentences(t *testing.T) {
	for code, said := range warnings {
		assert.Regexp(t, `^[A-Z].*\.$`, said, code)
	}
	assert.Empty(t, Warning("unusual:waste_pct").Words())
	res := must(t, KnitArea, KnitAreaIn{Parts: []KnitPart{{Width: 10, Length: 10}}, SwatchW: 5, SwatchH: 5, SwatchG: 1, MPer100g: 200,
		SkeinG: 50})
	for _, w := range res.Warnings {
		assert.NotEmpty(t, w.Words(), w)
	}
	assert.Equal(t, []Warning{"light_swatch", "small_swatch"}, res.Warnings)
}
