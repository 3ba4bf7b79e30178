package quantity

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func must(t *testing.T, formula string, in Inputs) Result {
	t.Helper()
	r, err := Of(formula, in)
	require.NoError(t, err)
	return r
}

// What is poured and swirled weighs what it weighed, and rounded parts add up.
func TestBatterIsConserved(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 2))
	for range 60 {
		shares, left := Inputs{}, 100.0
		for _, name := range []string{"a", "b", "c"} {
			v := math.Round(1000*left*r.Float64()) / 1000
			shares, left = append(shares, Input{name, v}), left-v
		}
		shares = append(shares, Input{"d", left})
		split := must(t, "soap.split", Inputs{{"shape", "volume"}, {"volume_ml", 200 + 3000*r.Float64()}, {"recipe_oils_g", 700.0}, {"recipe_total_g", 1000.0}, {"shares", shares}})
		exact, whole := 0.0, 0.0
		for name, g := range split.Unrounded["batter_by_colour_g"].(map[string]float64) {
			exact += g
			whole += split.Rounded["batter_by_colour_g"].(map[string]float64)[name]
		}
		assert.InDelta(t, split.Unrounded["batter_g"], exact, 1e-6)
		assert.InDelta(t, split.Rounded["batter_g"], whole, 1e-9)

		parts := Inputs{{"a", 500 * r.Float64()}, {"b", 500 * r.Float64()}, {"c", 1 + 500*r.Float64()}}
		swirl := must(t, "soap.swirl", Inputs{{"parts_g", parts}, {"neighbours", []any{Inputs{{"a", "a"}, {"b", "b"}}, Inputs{{"a", "c"}, {"b", "b"}}, Inputs{{"a", "b"}, {"b", "a"}}}}, {"swirl_pct", 40 * r.Float64()}})
		sum := 0.0
		for _, g := range swirl.Unrounded["pure_g"].(map[string]float64) {
			sum += g
		}
		for _, m := range swirl.Unrounded["mixed"].(map[string]any) {
			sum += m.(map[string]float64)["mass_g"]
		}
		assert.InDelta(t, parts[0].Value.(float64)+parts[1].Value.(float64)+parts[2].Value.(float64), sum, 1e-6)
	}
}

// Rungs on the ruler add up to the quilt, whatever their widths.
func TestRungsAddUp(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	for range 60 {
		mode := []string{"equal", "arithmetic", "geometric"}[r.IntN(3)]
		high := float64(10+r.IntN(80)) + .125*float64(r.IntN(8))
		in := Inputs{{"quilt_w", 40.0}, {"quilt_h", high}, {"rungs", float64(1 + r.IntN(9))}, {"mode", mode}, {"first_w", 1 + 3*r.Float64()}, {"last_w", 1 + 3*r.Float64()}}
		res := must(t, "quilt.gradient", in)
		sum := 0.0
		for _, w := range res.Rounded["finished_widths"].([]float64) {
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
		res := must(t, "quilt.strips", Inputs{{"waste_pct", 0.0}, {"lines", []any{Inputs{{"shape", "goose"}, {"finished_w", 4.0}, {"count", float64(n)}}}}})
		length := res.Unrounded["length"].(float64)
		assert.GreaterOrEqual(t, length, last, n)
		last = length
		more := must(t, "quilt.strips", Inputs{{"waste_pct", 25.0}, {"lines", []any{Inputs{{"shape", "goose"}, {"finished_w", 4.0}, {"count", float64(n)}}}}})
		assert.InDelta(t, 1.25*length, more.Unrounded["length_with_waste"], 1e-9)
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
				there := must(t, "stock.convert", Inputs{{"value", 7.25}, {"from", from.name}, {"to", to.name}}).Unrounded["value"].(float64)
				back := must(t, "stock.convert", Inputs{{"value", there}, {"from", to.name}, {"to", from.name}}).Unrounded["value"].(float64)
				assert.InDelta(t, 7.25, back, 1e-9, "%s %s", from.name, to.name)
			}
		}
	}
	// 20 tex is 50,000 m in a kilogram, and a cotton count of 29.53.
	assert.InDelta(t, 50000, must(t, "stock.convert", Inputs{{"value", 20.0}, {"from", "tex"}, {"to", "m_per_kg"}}).Unrounded["value"], 1e-6)
	assert.InDelta(t, 29.527, must(t, "stock.convert", Inputs{{"value", 20.0}, {"from", "tex"}, {"to", "ne_cotton"}}).Rounded["value"], 1e-9)
}

// Every warning that a formula can give is a sentence.
func TestWarningsAreSentences(t *testing.T) {
	for code, said := range warnings {
		assert.Regexp(t, `^[A-Z].*\.$`, said, code)
	}
	assert.Empty(t, Warned("unusual:waste_pct"))
	res := must(t, "knit.area", Inputs{{"parts", []any{Inputs{{"width_cm", 10.0}, {"length_cm", 10.0}}}}, {"swatch_w_cm", 5.0}, {"swatch_h_cm", 5.0}, {"swatch_g", 1.0}, {"m_per_100g", 200.0}, {"skein_g", 50.0}})
	for _, w := range res.Warnings {
		assert.NotEmpty(t, Warned(w), w)
	}
	assert.Equal(t, []string{"light_swatch", "small_swatch"}, res.Warnings)
}
