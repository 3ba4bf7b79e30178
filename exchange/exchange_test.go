package exchange

import (
	"bytes"
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/brief"
	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/value"
)

func read(t *testing.T, text string) List {
	t.Helper()
	l, err := ReadMaterials(t.Context(), strings.NewReader(text))
	require.NoError(t, err)
	return l
}

func TestReadMaterials(t *testing.T) {
	for about, text := range map[string]string{
		"commas":     "name,colour,kind,lot\nPlum curtain,#4b2346,fabric,7\n",
		"semicolons": "Name;Hex;Kind;Lot\r\nPlum curtain;4b2346;Fabric;7\r\n",
		"tabs":       "lot\tname\tkind\tcolor\n7\tPlum curtain\tfabric\t#4B2346",
		"a BOM":      "\xef\xbb\xbfname,colour,kind,dye lot\n\"Plum curtain\",#4b2346,,7\n\n",
	} {
		l := read(t, text)
		require.Empty(t, l.Bad, about)
		require.Len(t, l.Good, 1, about)
		m := l.Good[0].Material
		assert.Equal(t, "Plum curtain fabric 7 typed 3", fmt.Sprint(m.Name, " ", m.Kind, " ", m.Lot, " ", m.Source, " ", m.Uncertainty), about)
		rgb, _ := m.Colour.RGB()
		assert.Equal(t, "#4b2346", rgb.Hex(), about)
		assert.Equal(t, 2, l.Good[0].Line)
	}
	l := read(t, "name;L;a;b;source;uncertainty;discontinued;shelf\nReed;52,5;-10,25;−7;measured;1,5;yes;top\n")
	m := l.Good[0].Material
	assert.Equal(t, colour.Lab{L: 52.5, A: -10.25, B: -7}, m.Colour, "decimal commas where commas do not divide")
	assert.Equal(t, 1.5, m.Uncertainty)
	assert.True(t, m.Discontinued)
	assert.Equal(t, []string{"shelf"}, l.Unused)
}

func TestBadLinesAreNamed(t *testing.T) {
	l := read(t, strings.Join([]string{
		"name,colour,L,a,b,kind,discontinued",
		"Good,#4b2346,,,,,",
		"Short hex,#12,,,,,",
		"Far,,140,0,0,,",
		"Words,,light,0,0,,",
		"good,#ffffff,,,,,",
		"Semi;#4b2346;;;;;",
		"Few,#4b2346",
		",#4b2346,,,,,",
		"None,,,,,,",
		"Odd,#4b2346,,,,cheese,",
		"Quote,#4b2346,,,,\"fab\"ric,",
		"Perhaps,#4b2346,,,,,perhaps",
		"Last,#000,,,,,no",
	}, "\n"))
	assert.Len(t, l.Good, 2)
	want := map[int]string{3: "six digits", 4: "between 0 and 100", 5: "not a number", 6: "already on line 2",
		7: "semicolons between the fields where the heading line has commas",
		8: "2 fields", 9: "Give the material a name", 10: "no colour", 11: "Choose one of fabric", 12: "quotation mark", 13: "write yes or no"}
	got := map[int]string{}
	for _, b := range l.Bad {
		got[b.Line] = b.Reason
	}
	assert.Len(t, got, len(want))
	for line, reason := range want {
		assert.Contains(t, got[line], reason, "line %d", line)
	}
}

func TestListsRefusedWhole(t *testing.T) {
	for text, want := range map[string]string{
		"":                              "is empty",
		"title,shade\nPlum,#4b2346\n":   "at least name and colour",
		"name,L,a\nPlum,1,2\n":          "at least name and colour",
		"name,colour\n":                 "no materials",
		"name,colour\nPl\x00m,#4b234\n": "is not text",
		"name,colour\n" + strings.Repeat("x,#fff\n", 100000):                "100001 lines",
		"name,colour\n" + strings.Repeat(strings.Repeat("x", 1000), 11<<10): "larger than 10 MB",
	} {
		_, err := ReadMaterials(t.Context(), strings.NewReader(text))
		assert.ErrorContains(t, err, want)
	}
}

func sample() []material.Material {
	return []material.Material{
		{Name: "Plum, \"curtain\"", Kind: "fabric", Reference: "R-1", Supplier: "Kiln & Fox", Lot: "7", Finish: "satin",
			Colour: colour.Lab{L: 20.123456789, A: 11.1, B: -7}, Source: "measured", Uncertainty: 1, Discontinued: true, Remark: "two\u00a0lines"},
		{Name: "Łąka", Kind: "yarn", Finish: "fuzzy", Colour: colour.Lab{L: 100. / 3, A: -70, B: 60}, Source: "photo", Uncertainty: 4},
	}
}

func TestMaterialsRoundTrip(t *testing.T) {
	all := sample()
	all[0].Remark = "one line"
	flash, _ := colour.ParseHex("#d0c4b0")
	all[1].Pack, all[1].Size, all[1].Repeat, all[1].Lot = 50, "4-ply", 12.5, "7a"
	all[1].Lots = []material.Lot{{Name: "7a", OnHand: 3.25, Unit: "ball", Price: 4.2, Place: "chest", State: material.InUse}}
	all[1].Further = []material.Further{{Role: material.Flash, Colour: flash.Lab()}}
	var b bytes.Buffer
	require.NoError(t, WriteMaterials(&b, all))
	l := read(t, b.String())
	require.Empty(t, l.Bad)
	var got []material.Material
	for _, g := range l.Good {
		got = append(got, g.Material)
	}
	assert.Equal(t, all, got)
}

func plan() Plan {
	ms := sample()
	ms[0].Remark = ""
	return Plan{Name: "Stage curtain", Craft: "quilt", Scheme: "analogous", Neighbours: 4, OneSided: true, Lead: ms[1].Name, Turn: -2,
		Palette: []PlanCard{{2, ms[1].Name, nil}, {1, ms[0].Name, nil}, {3, "", &PlanColour{"Tint of red", 70, 30, 12}}}, Piece: "curtain",
		Settings: map[string]float64{"columns": 3},
		Fills:    map[string]int{"ground": 1, "spark": 2}, Dismissed: []string{"nofocus"}, Scraps: []PlanScrap{{"Sky", 60, -2, -20, 4}},
		Materials: ms,
		Wheel:     "process", School: "relative", FromBoldest: true, Nearest: true, LeadCard: 3, Adjusted: []PlanAdjusted{{1, true, 5}},
		Wishes:       []PlanColour{{"dark red", 20, 40, 20}},
		Combinations: []PlanCombination{{"triadic", "Loud.", []PlanColour{{ms[0].Name, 20, 1, 2}, {"Gone", 50, 0, 0}}}},
		Brief: &brief.Brief{For: "the tour", Lamp: "warm", Distance: 12, Mood: "Hushed",
			Limits: &brief.Limits{ValueTo: 8, ClearTo: 45, ContrastTo: 10, Out: []colour.FamilyName{colour.Orange}}, Count: 4},
		Run: &PlanRun{Source: "shelf", Family: "violet", Steps: 6, Start: "middle", Seen: true,
			Aside: []PlanAside{{PlanColour{"Dusty fig", 47, 8, -3}, "", "too grey"}, {PlanColour{"Sky", 60, -2, -20}, "s1", "wrong"}}},
		Ramps: []PlanRamp{{Name: "Plum", Middle: PlanColour{"Plum", 30, 20, -10},
			Recipe: value.Recipe{Name: "Own", Columns: value.HSB, Dark: []value.Row{{Hue: 4, Purity: 2, Light: -9}}, Light: []value.Row{{Light: 9}}},
			Band:   8, Shift: value.Shift{Turn: 20}, Balance: value.Balance{Lights: value.Tint{Yellow: 6}}}},
		Targets: []PlanColour{{"Plum 1", 21, 18, -9}}, Colourways: []PlanColourway{{"Spring", "for Ann", true, map[string]int{"ground": 2}}}}
}

func TestPlanRoundTrip(t *testing.T) {
	var b bytes.Buffer
	require.NoError(t, WritePlan(&b, plan()))
	got, err := ReadPlan(t.Context(), &b)
	require.NoError(t, err)
	assert.Equal(t, plan(), got)
}

func TestPlanFilesRefused(t *testing.T) {
	change := func(f func(m map[string]any)) string {
		var b bytes.Buffer
		require.NoError(t, WritePlan(&b, plan()))
		var m map[string]any
		require.NoError(t, json.Unmarshal(b.Bytes(), &m))
		f(m)
		out, err := json.Marshal(m)
		require.NoError(t, err)
		return string(out)
	}
	in := func(m map[string]any) map[string]any { return m["plan"].(map[string]any) }
	for text, want := range map[string]string{
		"":                          "is incomplete: save it again",
		`{"format":"lampfern-plan"`: "is incomplete: save it again",
		`{"format":"other"}`:        "not a Lamp Fern plan",
		strings.Repeat(" ", 6<<20):  "larger than 5 MB",
		change(func(m map[string]any) { m["version"] = 9 }):                                                           "version 9",
		change(func(m map[string]any) { in(m)["name"] = "" }):                                                         "no name",
		change(func(m map[string]any) { in(m)["lead"] = "Fox" }):                                                      "lead colour \"Fox\"",
		change(func(m map[string]any) { in(m)["fills"] = map[string]int{"ground": 9} }):                               "takes card 9",
		change(func(m map[string]any) { in(m)["palette"] = []PlanCard{{1, "Fox", nil}} }):                             "points to nothing",
		change(func(m map[string]any) { in(m)["palette"] = make([]PlanCard, 201) }):                                   "more than 200",
		change(func(m map[string]any) { m["materials"].([]any)[0].(map[string]any)["L"] = 400 }):                      "is incomplete",
		change(func(m map[string]any) { m["materials"] = append(m["materials"].([]any), m["materials"].([]any)[0]) }): "twice",
		change(func(m map[string]any) { in(m)["scraps"].([]any)[0].(map[string]any)["L"] = -3 }):                      "scrap \"Sky\"",
		change(func(m map[string]any) {
			in(m)["palette"].([]any)[2].(map[string]any)["free"].(map[string]any)["L"] = 400
		}): "\"Tint of red\" in the file is incomplete",
		change(func(m map[string]any) { in(m)["palette"].([]any)[2].(map[string]any)["free"] = nil }):           "points to nothing",
		change(func(m map[string]any) { in(m)["combinations"].([]any)[0].(map[string]any)["cards"] = []any{} }): "has 0 cards",
		change(func(m map[string]any) {
			in(m)["ramps"].([]any)[0].(map[string]any)["recipe"].(map[string]any)["dark"] = make([]value.Row, 200)
		}): "200 steps toward the dark",
		change(func(m map[string]any) { in(m)["run"].(map[string]any)["aside"] = make([]PlanAside, 201) }): "200 colours set aside",
		change(func(m map[string]any) { in(m)["colourways"].([]any)[0].(map[string]any)["name"] = "" }):    "a colourway in the file is incomplete",
		change(func(m map[string]any) {
			in(m)["colourways"] = make([]PlanColourway,
				201)
		}): "more than 200 colourways",
		change(func(m map[string]any) { in(m)["to_mix"].([]any)[0].(map[string]any)["L"] = -1 }):                        "\"Plum 1\" in the file is incomplete",
		change(func(m map[string]any) { in(m)["wishes"] = make([]PlanColour, 201) }):                                    "more than 200 wishes",
		change(func(m map[string]any) { in(m)["brief"].(map[string]any)["lamp"] = "candle" }):                           "the lamp \"candle\"",
		change(func(m map[string]any) { in(m)["brief"].(map[string]any)["limits"].(map[string]any)["value_from"] = 9 }): "put the smaller number first",
	} {
		_, err := ReadPlan(t.Context(), strings.NewReader(text))
		assert.ErrorContains(t, err, want)
	}
}

func FuzzReadMaterials(f *testing.F) {
	f.Add("name,colour\nPlum,#4b2346\n")
	f.Add("name;L;a;b\n\"x\ny\";1,5;2;3\n;;;\n")
	f.Add("\xef\xbb\xbfname\tcolour\n\"\t\n")
	f.Fuzz(func(t *testing.T, text string) {
		l, err := ReadMaterials(t.Context(), strings.NewReader(text))
		if err != nil {
			return
		}
		for _, g := range l.Good {
			m := g.Material
			assert.Nil(t, m.Tidy())
		}
		for _, b := range l.Bad {
			assert.NotEmpty(t, b.Reason)
		}
	})
}

func FuzzReadPlan(f *testing.F) {
	var b bytes.Buffer
	_ = WritePlan(&b, plan())
	f.Add(b.String())
	f.Add(`{"format":"lampfern-plan","version":1,"plan":{"name":"x","palette":[]}}`)
	f.Fuzz(func(t *testing.T, text string) {
		p, err := ReadPlan(t.Context(), strings.NewReader(text))
		if err != nil {
			return
		}
		var out bytes.Buffer
		require.NoError(t, WritePlan(&out, p))
		again, err := ReadPlan(t.Context(), &out)
		require.NoError(t, err)
		assert.Equal(t, p.Palette, again.Palette)
		assert.Equal(t, len(p.Materials), len(again.Materials))
	})
}
