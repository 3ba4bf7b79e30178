package values

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/value"
	"lampfern/plan"
	"lampfern/stages/mix"
	"lampfern/testroom"
)

// plums is the heap of cloths tried when the rule was written, with a filler
// for one of its steps.
var plums = []string{"Sloe=#1f1b2c", "Plum=#4b2346", "Bramble=#6d3b68", "Dusty fig=#7d6a7a", "Heather=#9a6a98", "Rosehip=#c07a94",
	"Thistle=#c9a3c9", "Moth=#ead9ea"}

func saidOf(v RunView) string {
	out := ""
	for _, n := range v.Notes {
		out += n.About + n.Words + "\n"
	}
	return out
}

func TestARunNamesItsStrays(t *testing.T) {
	s := testroom.Studio(t, Stage(), mix.Stage())
	id, ids := testroom.Heap(t, s, plums...)
	v := Values(testroom.MustOpen(t, s, id), "")
	require.True(t, v.Fitted)
	words := map[string]string{}
	for i, c := range v.Cards {
		words[c.Name] = c.Words
		if i > 0 {
			assert.GreaterOrEqual(t, c.Reads.L, v.Cards[i-1].Reads.L, "dark to light")
		}
	}
	assert.Equal(t, "too grey", words["Dusty fig"])
	assert.Equal(t, "too red", words["Rosehip"])
	assert.Contains(t, saidOf(v), "Dusty fig is noticeably greyer than its neighbours.")
	assert.Contains(t, saidOf(v), "Rosehip leans red.")
	assert.Contains(t, saidOf(v), "Moth is barely violet, but beside Thistle it reads ")

	// Set aside, with the reason kept; the card stays in the tray.
	fig := v.Cards[3].Token
	p := testroom.Do(t, s, id, LeaveOut{Token: fig, Reason: ""})
	require.Len(t, Of(p).Run.Aside, 1)
	assert.Equal(t, "too grey", Of(p).Run.Aside[0].Reason)
	assert.Len(t, p.Tray, 8)
	assert.Len(t, Values(p, "").Cards, 7)
	assert.Len(t, Values(p, v.Cards[0].Token).Cards, 6, "one is left out for a look")
	p = testroom.Do(t, s, id, PutBack{Token: fig})
	assert.Empty(t, Of(p).Run.Aside)
	testroom.Refused(t, s, id, PutBack{Token: fig}, "not set aside")
	testroom.Refused(t, s, id, LeaveOut{Token: "m999", Reason: ""}, "no longer in the gradient")

	// Steps are chosen from the shelf, each card once.
	p = testroom.Do(t, s, id, RunSteps{Steps: 5, Start: value.FromLight, Seen: true})
	v = Values(p, "")
	require.Len(t, v.Steps, 5)
	assert.Equal(t, 4, v.Build[0])
	used := map[uint]bool{}
	for _, st := range v.Steps {
		require.NotNil(t, st.Pick)
		assert.False(t, used[st.Pick.ID])
		used[st.Pick.ID] = true
	}
	p = testroom.Do(t, s, id, RunSteps{Steps: 12, Start: "", Seen: false})
	v = Values(p, "")
	assert.Contains(t, saidOf(v), "12 steps from 8 cards")
	assert.Nil(t, v.Steps[11].Pick, "the shelf has eight cards for twelve steps")
	testroom.Refused(t, s, id, RunSteps{Steps: 99, Start: "", Seen: false}, "1 to 24 steps")
	testroom.Refused(t, s, id, RunSteps{Steps: 5, Start: "sideways", Seen: false}, "is built from the dark end")
	testroom.Refused(t, s, id, RunFrom{Source: "attic", Family: "", Kind: "", Text: ""}, "the scrap page or the shelf")

	p = testroom.Do(t, s, id, RunFrom{Source: FromShelf, Family: "violet", Kind: "", Text: ""})
	for _, c := range Values(p, "").Cards {
		assert.Equal(t, colour.Violet, c.Family)
	}
	p = testroom.Do(t, s, id, RunFrom{Source: FromScraps, Family: "", Kind: "", Text: ""})
	assert.Empty(t, Values(p, "").Cards)
	assert.Empty(t, Values(p, "").Notes)
	_ = ids
}

func TestAHeapOfOneHueIsNeverTakenForAPalette(t *testing.T) {
	s := testroom.Studio(t, Stage(), mix.Stage())
	id, _ := testroom.Heap(t, s, "B1=#14213f", "B2=#1d3a6e", "B3=#2f5f6b", "B4=#2f5c9e", "B5=#6a7d92", "B6=#5f8fd0", "B7=#7fc0bd",
		"B8=#a9c7ec", "B9=#e3edf8")
	v := Values(testroom.MustOpen(t, s, id), "")
	assert.False(t, v.Mixed)
	assert.Len(t, v.Run.Strays, 3)
	assert.NotContains(t, saidOf(v), "flows", "one with strays does not")
	s = testroom.Studio(t, Stage(), mix.Stage())
	id, _ = testroom.Quilt(t, s)
	v = Values(testroom.MustOpen(t, s, id), "")
	assert.True(t, v.Mixed)
	assert.NotContains(t, saidOf(v), "flows", "nor do several hues")
}

func TestGapsAreMendedFromTheShelfOrByAChit(t *testing.T) {
	s := testroom.Studio(t, Stage(), mix.Stage())
	id, _ := testroom.Heap(t, s, "Sloe=#1f1b2c", "Plum=#4b2346", "Bramble=#6d3b68", "Thistle=#c9a3c9", "Moth=#ead9ea", "Thorn=#4c2447")
	v := Values(testroom.MustOpen(t, s, id), "")
	require.Len(t, v.Gaps, 1)
	g := v.Gaps[0]
	assert.Equal(t, "Bramble", g.From.Name)
	assert.Empty(t, g.Near)
	assert.Contains(t, saidOf(v), "you own nothing for it. Look for a violet at about 5.2")
	assert.Contains(t, saidOf(v), "bunch together")
	assert.InDelta(t, g.Colour.L, (g.From.Reads.L+g.To.Reads.L)/2, 1e-9)
	c := g.Chit
	assert.Less(t, c.Low, c.Value)
	assert.Greater(t, c.High, c.Value)
	assert.NotEmpty(t, c.Not[0])
	assert.True(t, c.Within >= chitLeast && c.Within <= chitMost)
	testroom.Add(t, s, "Heather=#99699a")
	v = Values(testroom.MustOpen(t, s, id), "")
	require.Len(t, v.Gaps[0].Near, 1)
	assert.Contains(t, saidOf(v), "Heather would fill it.")
}

func TestFewAndStrangeRuns(t *testing.T) {
	for want, cards := range map[string][]string{
		"is one card. A gradient needs at least three": {"Sloe=#1f1b2c"},
		"Sloe compared with Plum: ":                    {"Sloe=#1f1b2c", "Plum=#4b2346"},
		"are the same colour":                          {"One=#4b2346", "Two=#4b2346", "Six=#4b2346"},
		"neutral, with a":                              {"Soot=#232220", "Ash=#8a8883", "Bone=#dedad2", "Slate=#54585f"},
		"two gradients here": {"A1=#2a1030", "A2=#4b2346", "A3=#6d3b68", "A4=#9a6a98", "A5=#c9a3c9", "B1=#10301a", "B2=#1f5a30",
			"B3=#4f9a60", "B4=#a5d8b0"},
	} {
		s := testroom.Studio(t, Stage(), mix.Stage())
		id, _ := testroom.Heap(t, s, cards...)
		v := Values(testroom.MustOpen(t, s, id), "")
		assert.Contains(t, saidOf(v), want)
	}
	// A print takes part with what it reads as.
	s := testroom.Studio(t, Stage(), mix.Stage())
	id, ids := testroom.Heap(t, s, plums[:4]...)
	sh, err := s.Shelf(testroom.Ctx)
	require.NoError(t, err)
	c, err := sh.Card(ids["Plum"])
	require.NoError(t, err)
	m := c.Material
	m.Further = []material.Further{{Role: material.Print, Colour: colour.Lab{L: 90}, Coverage: 0.5}}
	_, err = s.SaveMaterial(testroom.Ctx, c.ID, c.Revision, m)
	require.NoError(t, err)
	for _, k := range Values(testroom.MustOpen(t, s, id), "").Cards {
		if k.Name == "Plum" {
			assert.Greater(t, k.Reads.L, c.Colour.L+30)
		}
	}
}

func TestARunBecomesAStripPiece(t *testing.T) {
	s := testroom.Studio(t, Stage(), mix.Stage())
	id, _ := testroom.Heap(t, s, plums...)
	p := testroom.Do(t, s, id, MakeStrips{})
	require.NotNil(t, p.Piece)
	last := -math.MaxFloat64
	filled := 0
	for i, at := range p.Fill() {
		if at >= 0 && p.Piece.Parts[i].Key != "binding" {
			filled++
			assert.Greater(t, p.Tray[at].Colour.L, last, "dark to light")
			last = p.Tray[at].Colour.L
			assert.NotEqual(t, "Dusty fig", p.Tray[at].Name, "strays are left out")
		}
	}
	assert.Equal(t, 6, filled)
	assert.True(t, Values(p, "").MakesStrips())
	small := testroom.Studio(t, Stage(), mix.Stage())
	id, _ = testroom.Heap(t, small, plums[:2]...)
	assert.False(t, Values(testroom.MustOpen(t, small, id), "").MakesStrips(), "what would be refused is not offered")
	testroom.Refused(t, small, id, MakeStrips{}, "3 to 12 cards")
}

func TestRampsAndTheirVariations(t *testing.T) {
	s := testroom.Studio(t, Stage(), mix.Stage())
	id, _ := testroom.Heap(t, s, plums...)
	recipe, err := Recipe(testroom.Ctx, s, "even ladder")
	require.NoError(t, err)
	p := testroom.Do(t, s, id, StartRamp{Key: 5, Recipe: recipe})
	r, err := RampOf(p, 1)
	require.NoError(t, err)
	assert.Len(t, r.Steps, 7)
	assert.Equal(t, "Heather", r.Steps[3].Near.Name, "the middle is the card itself")
	assert.InDelta(t, 0, r.Steps[3].Near.Apart, 1e-9)
	for i := 1; i < 7; i++ {
		assert.InDelta(t, 14, r.Steps[i].Shown.L-r.Steps[i-1].Shown.L, 1e-6)
	}
	p = testroom.Do(t, s, id, CopyRamp{Key: 1})
	require.Len(t, Of(p).Ramps, 2)
	assert.Equal(t, "Heather (variation)", Of(p).Ramps[1].Name)
	change := RampChange{Name: "Turned", Recipe: recipe, Band: 8, Shift: value.Shift{Turn: 40},
		Balance: value.Balance{Lights: value.Tint{Yellow: 8}}}
	p = testroom.Do(t, s, id, SetRamp{Key: 2, Change: change})
	a, _ := RampOf(p, 1)
	b, _ := RampOf(p, 2)
	assert.InDelta(t, 40, colour.HueBetween(a.Steps[3].Shown.OKLCh().H, b.Steps[3].Shown.OKLCh().H), 3)
	assert.Equal(t, a.Steps[3].Shown.L, b.Steps[3].Shown.L)
	assert.InDelta(t, 8, b.Steps[3].Lighter.L-b.Steps[3].Shown.L, 1e-9)
	p = testroom.Do(t, s, id, AddStep{Key: 2, Dark: true, Add: true})
	b, _ = RampOf(p, 2)
	assert.Len(t, b.Steps, 8)
	assert.Contains(t, b.Troubles[0], "Step 1: lightness would be")
	testroom.Do(t, s, id, AddStep{Key: 2, Dark: true, Add: false})
	change.Middle = "#8a5a86"
	p = testroom.Do(t, s, id, SetRamp{Key: 2, Change: change})
	assert.Equal(t, "#8a5a86", Of(p).Ramps[1].Middle.Name)

	p = testroom.Do(t, s, id, MixStep{Key: 2, Step: 1})
	require.Len(t, p.Targets, 1)
	b, _ = RampOf(p, 2)
	assert.True(t, b.Steps[1].Target)
	assert.Equal(t, b.Steps[1].Shown, colour.Lab{L: p.Targets[0].L, A: p.Targets[0].A, B: p.Targets[0].B})
	assert.Empty(t, testroom.Do(t, s, id, MixStep{Key: 2, Step: 1}).Targets)
	testroom.Do(t, s, id, MixStep{Key: 2, Step: 0})
	assert.Empty(t, testroom.Do(t, s, id, mix.DropTarget{Key: 1}).Targets)

	change.Middle = "plum"
	testroom.Refused(t, s, id, SetRamp{Key: 2, Change: change}, "is not a colour")
	change.Middle, change.Name = "", " "
	testroom.Refused(t, s, id, SetRamp{Key: 2, Change: change}, "Give the ramp a name")
	change.Name, change.Band = "x", 90
	testroom.Refused(t, s, id, SetRamp{Key: 2, Change: change}, "0 to 40 apart")
	change.Band, change.Recipe = 0, value.Recipe{Columns: value.HSB, Light: make([]value.Row, 200)}
	testroom.Refused(t, s, id, SetRamp{Key: 2, Change: change}, "200 steps toward the light")
	change.Recipe, change.Shift.Lighten = recipe, 500
	testroom.Refused(t, s, id, SetRamp{Key: 2, Change: change}, "from −100 to 100")
	testroom.Refused(t, s, id, SetRamp{Key: 9, Change: change}, "was deleted")
	testroom.Refused(t, s, id, MixStep{Key: 2, Step: 40}, "no longer in the ramp")
	assert.Len(t, Of(testroom.Do(t, s, id, DropRamp{Key: 1})).Ramps, 1)

	own := value.Recipe{Columns: value.LCh, Light: []value.Row{{Light: 9}}}
	require.NoError(t, SaveRecipe(testroom.Ctx, s, "Own ladder", own))
	got, err := Recipe(testroom.Ctx, s, "OWN LADDER")
	require.NoError(t, err)
	assert.Equal(t, own.Light, got.Light)
	require.NoError(t, DropRecipe(testroom.Ctx, s, "Own ladder"))
	_, err = Recipe(testroom.Ctx, s, "Own ladder")
	assert.ErrorContains(t, err, "no recipe called")
	label, err := StepRecipes(testroom.Ctx, s, true)
	require.NoError(t, err)
	assert.Equal(t, "delete the recipe Own ladder", label)
	all, err := Recipes(testroom.Ctx, s)
	require.NoError(t, err)
	assert.True(t, all[0].Own)
	assert.ErrorContains(t, SaveRecipe(testroom.Ctx, s, "", own), "name of at most")
	assert.ErrorContains(t, DropRecipe(testroom.Ctx, s, "Even ladder"), "You have no recipe called")

	// All of it goes along in a plan file.
	testroom.Do(t, s, id, LeaveOut{Token: Values(testroom.MustOpen(t, s, id), "").Cards[3].Token, Reason: "dull"})
	_, out, err := s.Export(testroom.Ctx, id)
	require.NoError(t, err)
	other := testroom.Studio(t, Stage(), mix.Stage())
	there, err := testroom.Import(other, out)
	require.NoError(t, err)
	_, back, err := other.Export(testroom.Ctx, there)
	require.NoError(t, err)
	assert.Equal(t, out, back)
	assert.Len(t, Values(testroom.MustOpen(t, other, there), "").Cards, 7)
}

// A ramp's middle is written in its own columns, its bands have turns of their own, its sums tell what
// the steps come to, and its recipe is named only while it has that recipe's numbers.
func TestARampTellsWhatItComesTo(t *testing.T) {
	s := testroom.Studio(t, Stage(), mix.Stage())
	id, _ := testroom.Heap(t, s, "Heather=#8a5a86")
	hsb, err := Recipe(testroom.Ctx, s, "Dusk and dawn")
	require.NoError(t, err)
	p := testroom.Do(t, s, id, StartRamp{Key: 1, Recipe: hsb})
	r := Of(p).Ramps[0]
	assert.Equal(t, [3]string{"305", "35", "54"}, r.MiddleIn(), "#8a5a86: 138 of 255 at most, 90 at least")
	change := RampChange{Name: "Mine", Recipe: hsb, Measure: r.MiddleIn()}
	p = testroom.Do(t, s, id, SetRamp{Key: 1, Change: change})
	assert.Equal(t, r.Middle, Of(p).Ramps[0].Middle, "as it was written, it stays to the last digit")
	assert.Equal(t, "Dusk and dawn", Of(p).Ramps[0].Recipe.Name)
	change.Measure = [3]string{"120", "50", "80"}
	p = testroom.Do(t, s, id, SetRamp{Key: 1, Change: change})
	assert.Equal(t, "#66cc66", Of(p).Ramps[0].Middle.Name)
	change.Measure = [3]string{"green", "50", "80"}
	testroom.Refused(t, s, id, SetRamp{Key: 1, Change: change}, "in three numbers")
	change.Measure = [3]string{"120", "150", "80"}
	testroom.Refused(t, s, id, SetRamp{Key: 1, Change: change}, "from 0 to 100")

	change.Measure, change.Shift = Of(p).Ramps[0].MiddleIn(), value.Shift{Turn: 60}
	change.Band, change.Up, change.Down = 30, value.Shift{Turn: 20, Clear: -40}, value.Shift{Turn: -20}
	p = testroom.Do(t, s, id, SetRamp{Key: 1, Change: change})
	v, err := RampOf(p, 1)
	require.NoError(t, err)
	for _, st := range v.Steps {
		assert.InDelta(t, hsb.Measure(st.Shown).Hue, st.Sum.Hue, 1e-9, "the sums follow the turn")
	}
	mid := v.Steps[3]
	assert.Less(t, mid.Lighter.OKLCh().C, mid.Shown.OKLCh().C)
	assert.InDelta(t, 20, colour.HueBetween(mid.Shown.OKLCh().H, mid.Lighter.OKLCh().H), 2)
	assert.Contains(t, strings.Join(v.Troubles, " "), "of the lighter band: lightness would be")
	change.Recipe.Dark = append([]value.Row{{Hue: 3}}, hsb.Dark[1:]...)
	p = testroom.Do(t, s, id, SetRamp{Key: 1, Change: change})
	assert.Empty(t, Of(p).Ramps[0].Recipe.Name, "it is no longer that recipe")
	p = testroom.Do(t, s, id, AddStep{Key: 1, Add: true})
	assert.Empty(t, Of(p).Ramps[0].Recipe.Name)
}

// BenchmarkReplacements finds the cards for every step among 5,000 materials.
func BenchmarkReplacements(b *testing.B) {
	rnd := rand.New(rand.NewPCG(1, 1))
	all := make([]material.Material, 5000)
	for i := range all {
		all[i] = material.Material{Name: fmt.Sprint(i), Colour: colour.RGB{R: rnd.Float64(), G: rnd.Float64(), B: rnd.Float64()}.Lab()}
	}
	s := testroom.Studio(b, Stage())
	require.NoError(b, s.AddMaterials(testroom.Ctx, "fill", all))
	sh, err := s.Shelf(testroom.Ctx)
	require.NoError(b, err)
	run, err := value.Fit([]colour.Lab{{L: 12, A: 8, B: -8}, {L: 30, A: 24, B: -20}, {L: 50, A: 28, B: -24}, {L: 70, A: 20, B: -16},
		{L: 90, A: 6, B: -6}})
	require.NoError(b, err)
	p := &plan.Plan{Shelf: sh}
	for b.Loop() {
		v := RunView{Run: run}
		v.steps(p, make([]RunCard, 9))
	}
}
