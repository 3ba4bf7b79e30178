package balance

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/wheel"
)

// cards are colours keyed and named by their hex code.
func cards(t *testing.T, hexes ...string) []Colour {
	var out []Colour
	for i, c := range labs(t, hexes...) {
		out = append(out, Colour{Key: hexes[i], Name: hexes[i], Parts: "part", Lab: c})
	}
	return out
}

func TestNotesOnTheWhole(t *testing.T) {
	free := Asked{Focus: -1, School: wheel.Schools()[0]}
	with := func(change func(*Asked)) Asked { a := free; change(&a); return a }
	const orange, green, blue, dark, white, grey, sage = "#e4681c", "#1f9e4c", "#2f62d8", "#22201e", "#f4f2ee", "#8a8f86", "#8a9a80"
	for _, c := range []struct {
		name   string
		hexes  []string
		shares []float64
		asked  Asked
		id     string
		there  bool
		words  string
	}{
		{"flat", []string{grey, sage}, []float64{.5, .5}, free, "flat", true, "Add something darker or lighter"},
		{"carried", []string{dark, white}, []float64{.5, .5}, free, "flat", false, ""},
		{"flat is wanted", []string{grey, sage}, []float64{.5, .5}, with(func(a *Asked) { a.Even = true }), "flat", false, ""},
		{"muted", []string{grey, dark, sage}, []float64{.4, .3, .3}, free, "muted", true, "One clear colour"},
		{"muted is wanted", []string{grey, dark, sage}, []float64{.4, .3, .3}, with(func(a *Asked) { a.Muted = true }), "muted", false, ""},
		{"one clear", []string{grey, dark, orange}, []float64{.4, .3, .3}, free, "muted", false, ""},
		{"all warm", []string{orange, white}, []float64{.6, .4}, free, "temperature", true, "A little of something cool"},
		{"both", []string{orange, blue}, []float64{.9, .1}, free, "temperature", false, ""},
		{"a school that divides nothing", []string{orange, white}, []float64{.6, .4}, with(func(a *Asked) { a.School = wheel.Schools()[2] }),
			"temperature", false, ""},
		{"overpowers", []string{orange, sage, white}, []float64{.3, .1, .6}, with(func(a *Asked) { a.Focus = 1 }), "overpowers:" + orange, true,
			"the focal point"},
		{"a spark that leads", []string{blue, orange}, []float64{.9, .1}, with(func(a *Asked) { a.Focus = 1 }), "overpowers:" + blue, false, ""},
		{"no focus named", []string{blue, orange}, []float64{.9, .1}, free, "overpowers:" + blue, false, ""},
		{"the focus itself", []string{blue, orange}, []float64{.9, .1}, with(func(a *Asked) { a.Focus = 0 }), "overpowers:" + blue, false, ""},
		{"too many", []string{blue, orange, white}, []float64{.5, .4, .1}, with(func(a *Asked) { a.Colours = 2 }), "toomany", true,
			white + " matters least"},
		{"not too many", []string{blue, orange, white}, []float64{.5, .5, 0}, with(func(a *Asked) { a.Colours = 2 }), "toomany", false, ""},
		{"warning", []string{"#f2c81e", "#151515"}, []float64{.5, .5}, free, "takenfor:warning", true, "hazard stripes"},
		{"a spark only", []string{"#f2c81e", "#151515"}, []float64{.05, .95}, free, "takenfor:warning", false, ""},
		{"winter", []string{"#b81f2a", green, white}, []float64{.4, .4, .2}, free, "takenfor:winter", true, "winter"},
		{"flag", []string{"#c8202b", "#1030b0", "#ffffff"}, []float64{.3, .3, .4}, free, "takenfor:flag", true,
			"a national flag. If you don’t want that, change one card."},
		{"a soft blue makes no flag", []string{"#c8202b", "#5c6f94", "#ffffff"}, []float64{.3, .3, .4}, free, "takenfor:flag", false, ""},
		{"an off black makes no warning", []string{"#f2c81e", "#3a3532"}, []float64{.5, .5}, free, "takenfor:warning", false, ""},
		{"emblem", []string{"#c8202b", "#101010", "#ffffff"}, []float64{.3, .3, .4}, free, "takenfor:emblem", true, "in some places"},
		{"hearts", []string{"#d01030", "#ff80b0"}, []float64{.5, .5}, free, "takenfor:hearts", true, "hearts"},
		{"baby clothes", []string{"#f6c7d4", "#bcd8f2"}, []float64{.5, .5}, free, "takenfor:newborn", true, "baby clothes"},
		{"festival", []string{"#c8102e", "#f5c518"}, []float64{.7, .3}, free, "takenfor:festival", true, "festival red and gold"},
		{"rainbow", []string{"#e02020", "#f58220", "#f5d020", "#20a040", "#2050e0", "#8020c0"}, []float64{.2, .2, .2, .2, .1, .1}, free,
			"takenfor:rainbow", true, "a rainbow"},
		{"mourning", []string{"#ffffff", "#8a8f86"}, []float64{.95, .05}, free, "takenfor:mourning", true, "give another card more room"},
		{"one temperature that is wanted", []string{"#b0302c", "#e0a030"}, []float64{.5, .5}, with(func(a *Asked) { a.One = true }), "calm", true,
			"calm on purpose"},
		{"key", []string{dark, white, "#e8e4da"}, []float64{.1, .5, .4}, free, "key", true, "in two value groups"},
	} {
		t.Run(c.name, func(t *testing.T) {
			n := find(Whole(plain(c.shares...), cards(t, c.hexes...), c.asked), c.id)
			assert.Equal(t, c.there, n != nil)
			if n != nil {
				assert.Contains(t, n.About+n.Words, c.words)
			}
		})
	}
	assert.Empty(t, Whole(plain(1, 0), cards(t, orange, blue), free), "one placed colour says nothing of a whole")
	least := find(Whole(plain(.5, .4, .1), cards(t, blue, orange, white), with(func(a *Asked) { a.Colours = 2 })), "toomany")
	assert.Equal(t, 2, least.Aside)
}

func TestExtensionByHand(t *testing.T) {
	at := func(place float64) colour.Lab {
		h := wheel.Pigment.Hue(place)
		return colour.OKLCh{L: .6, C: .8 * colour.MaxChroma(.6, h), H: h}.Lab()
	}
	for place, want := range map[float64]float64{0: 9, 2: 8, 3: 7, 4: 6, 6: 3, 8: 4, 10: 6, 11: 7.5} {
		assert.InDelta(t, want, LightValue(at(place)), .05, "place %g", place)
	}
	yellow, violet, grey := at(0), at(6), colour.Lab{L: 50}
	e := Extension(plain(.3, .3, .4), []colour.Lab{yellow, violet, grey})
	require.Len(t, e, 2, "the grey takes no part")
	assert.InDelta(t, .5, e[0].Actual, 1e-12)
	assert.InDelta(t, 1, e[0].Balanced+e[1].Balanced, 1e-12)
	// Yellow's hue is three times as forceful as violet's.
	forceY, forceV := 9*yellow.Force(), 3*violet.Force()
	assert.InDelta(t, forceV/(forceY+forceV), e[0].Balanced, .005)
	assert.Nil(t, Extension(plain(.5, .5), []colour.Lab{yellow, grey}))
	assert.False(t, math.IsNaN(LightValue(grey)))
}
