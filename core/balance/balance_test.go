package balance

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/note"
	"lampfern/core/wheel"
)

func labs(t *testing.T, hexes ...string) []colour.Lab {
	var out []colour.Lab
	for _, h := range hexes {
		c, err := colour.ParseHex(h)
		require.NoError(t, err)
		out = append(out, c.Lab())
	}
	return out
}

// plain is a layout in which every part touches every other equally.
func plain(shares ...float64) Layout {
	l := Layout{Share: shares}
	for i := range shares {
		row := make([]float64, len(shares))
		for j := range row {
			if i != j {
				row[j] = 10
			}
		}
		l.Border = append(l.Border, row)
	}
	return l
}

func TestFirstLookByHand(t *testing.T) {
	c := []colour.Lab{{L: 50}, {L: 70}}
	l := plain(0.75, 0.25)
	de := colour.DeltaE2000(c[0], c[1])
	got := FirstLook(l, c)
	assert.Equal(t, 1, got[0].Part)
	// The contrast across the edge and that to the rest are both de; a grey keeps 0.3 of
	// it; a colour is as rare as −ln of what is like it, of 1.5.
	like := math.Exp(-(de / 25) * (de / 25))
	rare := func(own, other float64) float64 { return -math.Log(own+other*like) / 1.5 }
	assert.InDelta(t, de*0.3*rare(.25, .75), got[0].Pull, 1e-9)
	assert.InDelta(t, de*0.3*rare(.75, .25), got[1].Pull, 1e-9)
	tiny := FirstLook(plain(0.99925, 0.00075), c)
	assert.InDelta(t, de*0.3*math.Min(1, rare(.00075, .99925))*0.5, tiny[0].Pull, 1e-9, "a quarter of the small share keeps half its pull")
	// A line of 2 mm through a square metre: 2·s·A / border = 2 mm, of 30 mm.
	l = Layout{Share: []float64{.998, .002}, Border: [][]float64{{0, 2000}, {2000, 0}}, Area: 1e6}
	thick := l
	thick.Area = 0
	assert.InDelta(t, 1/15.*FirstLook(thick, c)[0].Pull, FirstLook(l, c)[pullOf(FirstLook(l, c), 1)].Pull, 1e-9, "what is thin pulls less")
	// The same as a rim of 2 mm has only one of its sides within, and is as thin.
	rim := Layout{Share: l.Share, Border: [][]float64{{0, 1000}, {1000, 0}}, Outside: []float64{0, 1000}, Area: 1e6}
	assert.InDelta(t, FirstLook(l, c)[pullOf(FirstLook(l, c), 1)].Pull, FirstLook(rim, c)[pullOf(FirstLook(rim, c), 1)].Pull, 1e-9)
}

// pullOf is the place of a part among pulls.
func pullOf(all []Pull, part int) int {
	for i, p := range all {
		if p.Part == part {
			return i
		}
	}
	return -1
}

// Scenes that anybody can imagine, with what one looks at first.
func TestTheFirstLookOfScenes(t *testing.T) {
	for name, c := range map[string]struct {
		colours []string
		shares  []float64
		want    int
	}{
		"a red berry among branches":      {[]string{"#dfe6ea", "#5a4a3a", "#c1121f"}, []float64{.85, .147, .003}, 2},
		"a yellow window at night":        {[]string{"#1b2238", "#2d3550", "#f2c230"}, []float64{.6, .38, .02}, 2},
		"a dark boat on pale water":       {[]string{"#cfdde2", "#b9ccd4", "#2b2b2b"}, []float64{.5, .45, .05}, 2},
		"one purple tulip among yellow":   {[]string{"#4b6b3a", "#f2d230", "#7a3b9e"}, []float64{.5, .48, .02}, 2},
		"a white gull on a grey sea":      {[]string{"#5f6b72", "#727d84", "#ffffff"}, []float64{.6, .38, .02}, 2},
		"an orange buoy on blue":          {[]string{"#2f5f8f", "#3d6f9f", "#f58220"}, []float64{.55, .43, .02}, 2},
		"a black cat on snow":             {[]string{"#f4f6f8", "#e3e8ec", "#141414"}, []float64{.7, .27, .03}, 2},
		"a pink door in a stone wall":     {[]string{"#a9a491", "#8f8a7a", "#e75480"}, []float64{.7, .25, .05}, 2},
		"green apples, one of them red":   {[]string{"#e8dcc4", "#6b8e23", "#b22222"}, []float64{.5, .45, .05}, 2},
		"a blue thread on cream":          {[]string{"#f0ead6", "#e3cba8", "#1f4fa3"}, []float64{.8, .18, .02}, 2},
		"gold trim on a plum gown":        {[]string{"#4b2346", "#3a1a38", "#e0a52e"}, []float64{.7, .27, .03}, 2},
		"a turquoise stone on brown":      {[]string{"#5c4033", "#80461b", "#00ced1"}, []float64{.6, .38, .02}, 2},
		"a lit lantern at dusk":           {[]string{"#2a3350", "#4a4f6a", "#8a6a3a", "#ffcf5a"}, []float64{.5, .38, .1, .02}, 3},
		"one green shoot in grey gravel":  {[]string{"#8d8a86", "#767370", "#4f9a3a"}, []float64{.6, .37, .03}, 2},
		"a robin in hoar frost":           {[]string{"#dfe7ee", "#b8c4cf", "#6a5a4a", "#d2562b"}, []float64{.6, .3, .08, .02}, 3},
		"a lemon among limes":             {[]string{"#3d6b2a", "#5a8a35", "#f4e04a"}, []float64{.55, .4, .05}, 2},
		"a black button on a red coat":    {[]string{"#b0202a", "#8f1a22", "#151515"}, []float64{.65, .33, .02}, 2},
		"white daisies on grass, few":     {[]string{"#4a7a35", "#5d8c42", "#fbfbf5"}, []float64{.6, .37, .03}, 2},
		"an orange fish in green water":   {[]string{"#2f5a4a", "#3d6b58", "#f07a1a"}, []float64{.6, .38, .02}, 2},
		"a blue door in a pink house":     {[]string{"#e8b8b8", "#d9a2a2", "#1f4f9a"}, []float64{.7, .26, .04}, 2},
		"a copper kettle on slate":        {[]string{"#3e454c", "#4d555d", "#b8692f"}, []float64{.6, .36, .04}, 2},
		"a violet flower in dry grass":    {[]string{"#c9b27a", "#b39a62", "#6a3fa0"}, []float64{.55, .42, .03}, 2},
		"one dark tile in a pale floor":   {[]string{"#e6e0d4", "#d8d0c0", "#3a3230"}, []float64{.6, .36, .04}, 2},
		"a cherry on cream":               {[]string{"#f7eedd", "#efe0c8", "#9a1024"}, []float64{.6, .385, .015}, 2},
		"a yellow cab in rain":            {[]string{"#5a626a", "#6b747c", "#3f464d", "#f5c400"}, []float64{.4, .35, .2, .05}, 3},
		"a red bow on a white parcel":     {[]string{"#fafafa", "#e9e9e9", "#c8102e"}, []float64{.7, .24, .06}, 2},
		"a green bottle among brown ones": {[]string{"#5a3a22", "#6b4729", "#1f7a3f"}, []float64{.5, .44, .06}, 2},
		"a pale moon in a dark sky":       {[]string{"#141a2e", "#1d2540", "#f3efdc"}, []float64{.6, .385, .015}, 2},
		"a pink shell on dark sand":       {[]string{"#57493c", "#655647", "#f2a7b5"}, []float64{.6, .385, .015}, 2},
		"a scarlet sail on a green hill":  {[]string{"#87ceeb", "#556b2f", "#c1121f"}, []float64{.5, .46, .04}, 2},
	} {
		got := FirstLook(plain(c.shares...), labs(t, c.colours...))
		assert.Equal(t, c.want, got[0].Part, name)
		assert.Greater(t, got[0].Pull, FocusClear*got[1].Pull, "%s stands clear", name)
	}
}

func TestEdgesThatShimmer(t *testing.T) {
	note := func(a, b string) *note.Note {
		c := labs(t, a, b, "#808080")
		cs := []Colour{{"a", "One", "one", c[0], nil}, {"b", "Two", "two", c[1], nil}, {"c", "Grey", "three", c[2], nil}}
		return find(PairNotes(plain(.4, .3, .3), cs, usual()), "vibrates:a:b")
	}
	n := note("#d06a00", "#3c7be0")
	require.NotNil(t, n, "a strong orange on a strong blue of its value")
	assert.Contains(t, n.About+n.Words, "Two and One are strong opposites of the same value: their edge shimmers.")
	assert.Nil(t, note("#d06a00", "#1a3fae"), "parted in value")
	assert.Nil(t, note("#9a7a5a", "#6a7a90"), "greyed")
	assert.Nil(t, note("#e0302a", "#d06a00"), "no opposites")
}

func TestFirstLookFollowsTheGround(t *testing.T) {
	// A yellow figure on tan barely leads; on dark red it leads clearly.
	lead := func(ground string) float64 {
		p := FirstLook(plain(0.8, 0.1, 0.1), labs(t, ground, "#f2c230", "#8a7f78"))
		require.Equal(t, 1, p[0].Part)
		return p[0].Pull / p[1].Pull
	}
	assert.Greater(t, lead("#5a1216"), 1.25)
	assert.Greater(t, lead("#5a1216"), lead("#c9a878"))
}

func TestMergeJoinsPartsOfOneColour(t *testing.T) {
	m := plain(0.5, 0.2, 0.2, 0.1).Merge([]int{0, 1, 1, -1}, 3)
	assert.InDeltaSlice(t, []float64{0.5, 0.4, 0}, m.Share, 1e-12)
	assert.Equal(t, 20.0, m.Border[0][1])
	assert.Zero(t, m.Border[1][1], "no border inside one colour")
	assert.Zero(t, m.Border[0][2])
}

func TestRoles(t *testing.T) {
	c := labs(t, "#4b2346", "#d9cbb0", "#8a5a86", "#e0a52e", "#22202c", "#777777", "#ff0000")
	l := plain(0.46, 0.20, 0.13, 0.10, 0.05, 0.06, 0)
	thin := []bool{false, false, false, false, true, false, false}
	assert.Equal(t, []Role{Ground, Support, Support, Accent, Definition, Neutral, Unused}, Roles(l, c, thin))
}

func find(notes []note.Note, id string) *note.Note {
	for i := range notes {
		if notes[i].ID == id {
			return &notes[i]
		}
	}
	return nil
}

func TestNotes(t *testing.T) {
	hexes := labs(t, "#4b2346", "#452347", "#e0a52e", "#7a6a40")
	cs := []Colour{
		{"1", "Plum curtain", "ground", hexes[0], nil},
		{"2", "Damson", "sashing", hexes[1], nil},
		{"3", "Marrow flesh", "sparks", hexes[2], nil},
		{"4", "Moss", "peaks", hexes[3], nil},
	}
	l := plain(0.6, 0.1, 0.1, 0.2)
	notes := Notes(l, cs)
	lost := find(notes, "lost:1:2")
	require.NotNil(t, lost, "the smaller colour is named first")
	assert.Equal(t, note.Fix, lost.Grade)
	assert.Contains(t, lost.About+lost.Words, "Damson on Plum curtain: the edge of the sashing disappears (0.1 value steps).")
	alike := find(notes, "alike:1:2")
	require.NotNil(t, alike)
	assert.Equal(t, 1, alike.Aside, "the one with the smaller share could go")
	assert.NotNil(t, find(notes, "focus:3"))

	l.Border[1][0], l.Border[0][1] = 0, 0
	assert.Nil(t, find(Notes(l, cs), "lost:1:2"), "parts that do not touch have no edge to lose")
}

func TestConfusedEyes(t *testing.T) {
	c := labs(t, "#8a8a3a", "#c06a2a", "#2b2b2b")
	cs := []Colour{{"a", "Moss", "one", c[0], nil}, {"b", "Rust", "two", c[1], nil}, {"c", "Soot", "three", c[2], nil}}
	confused := func(a, b colour.Lab) []string {
		blind, _ := colour.Confused(a, b)
		return blind
	}
	eyes := confused(colour.RGB{R: .75, G: .42, B: .16}.Lab(), colour.RGB{R: .50, G: .52, B: .16}.Lab())
	assert.Contains(t, eyes, "green-blind")
	assert.Empty(t, confused(c[0], c[0]), "what nobody tells apart is another note")
	assert.Empty(t, confused(c[0], c[2]))
	cs[0].Lab, cs[1].Lab = colour.RGB{R: .75, G: .42, B: .16}.Lab(), colour.RGB{R: .50, G: .52, B: .16}.Lab()
	n := find(Notes(plain(0.3, 0.4, 0.3), cs), "confused:a:b")
	require.NotNil(t, n)
	assert.Contains(t, n.Words, "green-blind eye")
}

func TestNoFocus(t *testing.T) {
	c := labs(t, "#b03030", "#3050b0", "#808080")
	cs := []Colour{{"a", "Red", "one", c[0], nil}, {"b", "Blue", "two", c[1], nil}, {"c", "Grey", "three", c[2], nil}}
	n := find(Notes(plain(0.3, 0.3, 0.4), cs), "nofocus")
	require.NotNil(t, n)
	assert.Equal(t, note.Consider, n.Grade)
	assert.Contains(t, n.Words, "nothing stands out")
	assert.Empty(t, Notes(plain(1), cs[:1]), "one colour has nothing to compare with")
	assert.Empty(t, Notes(Layout{}, nil))
}

func TestTemperaturesAndBoldness(t *testing.T) {
	c := cards(t, "#e0a52e", "#1549a0", "#808080", "#ffffff")
	got := Temperatures(plain(0.2, 0.5, 0.1, 0), c, wheel.Schools()[0])
	assert.InDelta(t, 0.25, got[wheel.Warm], 1e-9)
	assert.InDelta(t, 0.625, got[wheel.Cool], 1e-9)
	assert.InDelta(t, 0.125, got[wheel.Neutral], 1e-9)
	assert.InDelta(t, 0.6+0.25, Boldness([]colour.Lab{{L: 75, A: 60}, {L: 50}, {L: 20}})[0], 1e-9)
	assert.Nil(t, Boldness(nil))
}
