package value

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
)

func TestShippedRecipes(t *testing.T) {
	plum := labs(t, "#8a5a86")[0]
	seen := map[string]bool{}
	for _, r := range Recipes() {
		require.NoError(t, r.Check(), r.Name)
		assert.False(t, seen[r.Name])
		seen[r.Name] = true
		steps, at := r.Ramp(plum)
		assert.Len(t, steps, len(r.Dark)+len(r.Light)+1)
		assert.Equal(t, len(r.Dark), at)
		assert.Equal(t, plum, steps[at].Colour)
		for i := 1; i < len(steps); i++ {
			assert.Greater(t, steps[i].Colour.L, steps[i-1].Colour.L, "%s runs from dark to light", r.Name)
			assert.Empty(t, steps[i].Trouble, "%s stays in bounds from a middle colour", r.Name)
		}
	}
}

func TestRampByHand(t *testing.T) {
	// #804000 is hue 30, saturation 100, brightness 128/255 = 50.2.
	c := labs(t, "#804000")[0]
	r := Recipe{Columns: HSB, Dark: []Row{{-20, -10, -10}, {-20, 0, -10}}, Light: []Row{{10, -50, 20}, {0, 0, 40}}}
	steps, at := r.Ramp(c)
	require.Equal(t, 2, at)
	for i, want := range []Row{{350, 90, 30.2}, {10, 90, 40.2}, {30, 100, 50.2}, {40, 50, 70.2}, {40, 50, 100}} {
		assert.InDelta(t, want.Hue, steps[i].Sum.Hue, 0.2, i)
		assert.InDelta(t, want.Purity, steps[i].Sum.Purity, 0.1, i)
		assert.InDelta(t, want.Light, steps[i].Sum.Light, 0.1, i)
	}
	assert.Equal(t, "brightness would be 110, limited to 100", steps[4].Trouble)
	assert.Equal(t, "#ffd480", steps[4].Colour.Hex(), "hue 40, half saturated, full bright, by hand")
	// Every column comes back as it went in.
	for _, hex := range []string{"#1549a0", "#2faf5a", "#c07a94", "#808080", "#ffffff", "#000000"} {
		k := labs(t, hex)[0]
		for _, cols := range []Columns{HSB, LCh} {
			r := Recipe{Columns: cols}
			assert.InDelta(t, 0, colour.DeltaE2000(k, r.Colour(r.Measure(k))), 0.01, "%s %s", cols, hex)
		}
	}
}

func TestRampThatLeavesItsBounds(t *testing.T) {
	c := labs(t, "#2f62d8")[0]
	r := Recipe{Columns: LCh, Light: []Row{{0, 40, 5}, {0, -200 + 100, 0}, {0, 60, 60}}}
	steps, _ := r.Ramp(c)
	assert.Contains(t, steps[1].Trouble, "outside what a screen can show")
	assert.Contains(t, steps[3].Trouble, "lightness would be 110, limited to 100")
	for want, bad := range map[string]Recipe{
		"not known":        {Columns: "xyz"},
		"200 steps toward": {Columns: HSB, Light: slices.Repeat([]Row{{0, 0, 1}}, 200)},
		"changes too much": {Columns: HSB, Dark: []Row{{400, 0, 0}}},
	} {
		assert.ErrorContains(t, bad.Check(), want)
	}
}

func TestShiftsBandsAndBalance(t *testing.T) {
	c := labs(t, "#8a5a86")[0]
	assert.Equal(t, c, Apply(c, Shift{}, Balance{}))
	turned := Apply(c, Shift{Turn: 40}, Balance{})
	assert.InDelta(t, 40, colour.HueBetween(c.OKLCh().H, turned.OKLCh().H), 2)
	assert.InDelta(t, c.L, turned.L, 1e-9)
	assert.Greater(t, Apply(c, Shift{Clear: 30}, Balance{}).Chroma(), c.Chroma())
	assert.InDelta(t, 100, Apply(c, Shift{Lighten: 90}, Balance{}).L, 1e-9)
	for l := 0.0; l <= 100; l++ {
		s, m, h := weights(l)
		assert.InDelta(t, 1, s+m+h, 1e-12)
		assert.GreaterOrEqual(t, min(s, m, h), -1e-12)
	}
	b := Balance{Shadows: Tint{Yellow: -10}, Lights: Tint{Red: 6, Yellow: 12}}
	assert.InDelta(t, -10, Apply(colour.Lab{L: 10}, Shift{}, b).B, 1e-9)
	assert.InDelta(t, 0, Apply(colour.Lab{L: 50}, Shift{}, b).B, 1e-9)
	assert.InDelta(t, 12, Apply(colour.Lab{L: 90}, Shift{}, b).B, 1e-9)
	lighter, held := Shifted(c, Shift{Lighten: 10}, Balance{})
	assert.InDelta(t, c.L+10, lighter.L, 1e-9)
	assert.Empty(t, held)
	lighter, held = Shifted(colour.Lab{L: 97}, Shift{Lighten: 10}, Balance{})
	assert.InDelta(t, 100, lighter.L, 1e-9)
	assert.Equal(t, "lightness would be 107, limited to 100", held)
	_, held = Shifted(colour.Lab{L: 50, A: 60, B: 60}, Shift{Clear: 100}, Balance{})
	assert.Contains(t, held, "outside what a screen can show")
}

// A recipe's bounds are allowed themselves, and nothing beyond.
func TestBoundsOfARecipe(t *testing.T) {
	at := func(change func(*Row)) error {
		r := Recipe{Name: "dusk", Columns: HSB, Dark: []Row{{}}}
		change(&r.Dark[0])
		return r.Check()
	}
	for _, v := range []float64{1, -1} {
		assert.NoError(t, at(func(r *Row) { r.Hue = v * mostTurn }))
		assert.NoError(t, at(func(r *Row) { r.Purity = v * mostStep }))
		assert.NoError(t, at(func(r *Row) { r.Light = v * mostStep }))
		assert.Error(t, at(func(r *Row) { r.Hue = v * (mostTurn + .1) }))
		assert.Error(t, at(func(r *Row) { r.Purity = v * (mostStep + .1) }))
		assert.Error(t, at(func(r *Row) { r.Light = v * (mostStep + .1) }))
	}
	assert.NoError(t, Recipe{Columns: LCh, Light: make([]Row, MaxRows)}.Check())
	assert.Error(t, Recipe{Columns: LCh, Light: make([]Row, MaxRows+1)}.Check())
}
