package mix

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/plan"
	"lampfern/testroom"
)

// paintbox is a plan with paints on the shelf, by name=hex.
func paintbox(t *testing.T, paints ...string) (*plan.Desk, uint, map[string]uint) {
	t.Helper()
	s := testroom.Studio(t, Stage())
	ids := map[string]uint{}
	for _, p := range paints {
		name, hex, _ := strings.Cut(p, "=")
		c, err := colour.ParseHex(hex)
		require.NoError(t, err)
		id, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: name, Kind: "paint", Colour: c.Lab()})
		require.NoError(t, err)
		ids[name] = id
	}
	id, err := s.NewPlan(testroom.Ctx, "Boat", "painted models")
	require.NoError(t, err)
	return s, id, ids
}

func viewOf(t *testing.T, s *plan.Desk, id uint) *MixView {
	t.Helper()
	v, err := View(testroom.Ctx, s, testroom.MustOpen(t, s, id), true)
	require.NoError(t, err)
	return v
}

func act(t *testing.T, s *plan.Desk, id uint, a plan.Act) (string, error) {
	t.Helper()
	return a.Act(testroom.Ctx, s, testroom.MustOpen(t, s, id))
}

var box = []string{"Chalk=#fafaf8", "Soot=#1e1c1c", "Loch=#1f4fa3", "Reed=#f2c811", "Rust=#a02a22"}

func TestAWantedColourGetsRecipes(t *testing.T) {
	s, id, ids := paintbox(t, box...)
	v := viewOf(t, s, id)
	assert.Nil(t, v.Now)
	assert.Equal(t, 5, v.Chosen, "all paints at hand")
	testroom.Refused(t, s, id, plan.Want{Hex: "teal"}, "is not a colour")
	testroom.Refused(t, s, id, plan.Want{}, "Choose a colour of the plan")
	testroom.Refused(t, s, id, AddPart{Material: ids["Loch"]}, "Nothing is wanted yet")
	testroom.Do(t, s, id, plan.Want{Hex: "#4f7d3a", Name: "Weed"})
	v = viewOf(t, s, id)
	require.NotNil(t, v.Now)
	require.NotEmpty(t, v.Recipes)
	assert.Less(t, v.Recipes[0].Apart, 6.0)
	assert.Contains(t, v.Recipes[0].Words, "Reed")
	assert.Equal(t, 6.0, v.Trust, "nothing was tried")
	require.NotNil(t, v.AsIs)
	assert.Nil(t, v.Mixed)

	// By hand, part by part, and back.
	testroom.Do(t, s, id, AddPart{Material: ids["Reed"]})
	testroom.Do(t, s, id, AddPart{Material: ids["Reed"]})
	testroom.Do(t, s, id, AddPart{Material: ids["Loch"]})
	v = viewOf(t, s, id)
	require.NotNil(t, v.Mixed)
	assert.Len(t, v.Path, 3)
	order := func() (names []string) {
		for _, r := range viewOf(t, s, id).Rows {
			names = append(names, r.Name)
		}
		return names
	}
	rows := order()
	assert.Contains(t, v.Recipes[0].Words, rows[0], "the paints of recipes come first")
	testroom.Do(t, s, id, AddPart{Material: ids["Soot"]})
	assert.Equal(t, rows, order(), "and stay where they are")
	testroom.Do(t, s, id, TakePart{Material: ids["Soot"]})
	assert.Equal(t, colour.Green, colour.Family(v.Mixed.Colour))
	for _, r := range v.Rows {
		if r.Name == "Chalk" {
			assert.Contains(t, r.OneMore, "lighter")
		}
	}
	testroom.Do(t, s, id, TakePart{Material: ids["Reed"]})
	assert.Len(t, viewOf(t, s, id).Path, 2)
	testroom.Refused(t, s, id, TakePart{Material: ids["Chalk"]}, "There is no part of Chalk")
	testroom.Do(t, s, id, LayOut{Recipe: v.Recipes[0].Lay})
	laid := viewOf(t, s, id)
	assert.InDelta(t, v.Recipes[0].Apart, laid.Mixed.Apart, 1e-6, "the recipe is what was shown")
	testroom.Refused(t, s, id, LayOut{Recipe: "x"}, "cannot be read")
	testroom.Refused(t, s, id, plan.Doing(func(d *plan.Draft) (string, error) {
		for range mostSteps + 1 {
			if _, err := (AddPart{Material: ids["Loch"]}).Do(d); err != nil {
				return "", err
			}
		}
		return "heap", nil
	}), "The slab holds 24 parts")

	// Limits: leave one out, hold one, fewer paints.
	testroom.Do(t, s, id, Rule{Material: ids["Reed"], As: "without"})
	for _, r := range viewOf(t, s, id).Recipes {
		assert.NotContains(t, r.Words, "Reed")
	}
	testroom.Do(t, s, id, Rule{Material: ids["Reed"], As: "must"})
	testroom.Do(t, s, id, SetPaints{Paints: []uint{ids["Reed"], ids["Loch"], ids["Soot"]}, Colourants: 2, Parts: 6, Basis: "drops"})
	v = viewOf(t, s, id)
	assert.Equal(t, 3, v.Chosen)
	assert.Equal(t, "drops", v.Basis)
	for _, r := range v.Recipes {
		assert.Contains(t, r.Words, "Reed")
		assert.LessOrEqual(t, strings.Count(r.Words, ","), 1)
	}
	testroom.Refused(t, s, id, SetPaints{Colourants: 9}, "1 to 4 paints")
	testroom.Refused(t, s, id, SetPaints{Parts: 1000}, "1 to 24 parts")
	testroom.Do(t, s, id, DropTarget{Key: 1})
	assert.Empty(t, Of(testroom.MustOpen(t, s, id)).Slabs, "the slab goes with the colour")
}

func TestFewPaintsAndNone(t *testing.T) {
	s, id, _ := paintbox(t)
	testroom.Do(t, s, id, plan.Want{Hex: "#4f7d3a"})
	v := viewOf(t, s, id)
	assert.Empty(t, v.Recipes)
	assert.Equal(t, "no paint chosen", v.Wanted[0].Reach)
	s, id, _ = paintbox(t, "Loch=#1f4fa3")
	testroom.Do(t, s, id, plan.Want{Hex: "#f0c020"})
	v = viewOf(t, s, id)
	require.Len(t, v.Recipes, 1)
	assert.Equal(t, "1 Loch", v.Recipes[0].Words)
	require.NotNil(t, v.Missing)
	assert.Contains(t, v.Missing.Words, "The best recipe stays darker")
	p := testroom.Do(t, s, id, WishPaint{})
	require.Len(t, p.Wishes, 1)
	assert.Greater(t, p.Wishes[0].L, v.Now.L, "beyond the wanted colour, for the best stays darker")
	for _, hex := range []string{"#000000", "#ffffff"} {
		testroom.Do(t, s, id, plan.Want{Hex: hex})
		assert.NotEmpty(t, viewOf(t, s, id).Recipes)
	}
	s, id, _ = paintbox(t, "Loch=#1f4fa3", "Loch again=#1f4fa3")
	testroom.Do(t, s, id, plan.Want{Hex: "#1f4fa3"})
	assert.Equal(t, "as it is: Loch", viewOf(t, s, id).Wanted[0].Reach)
}

// Grams of a batch, by hand: 3 and 1 of 20 g are 15 and 5.
func TestABatchIsWeighed(t *testing.T) {
	s, id, ids := paintbox(t, box...)
	testroom.Do(t, s, id, plan.Want{Hex: "#4f7d3a", Name: "Weed"})
	testroom.Do(t, s, id, SetBatch{Total: 20, Least: 1})
	assert.Nil(t, viewOf(t, s, id).Batch, "nothing lies on the slab")
	testroom.Do(t, s, id, LayOut{Recipe: fmt.Sprintf("%d.3 %d.1", ids["Reed"], ids["Loch"])})
	b := viewOf(t, s, id).Batch
	require.NotNil(t, b)
	assert.Equal(t, "g", b.Unit)
	assert.Equal(t, []Amount{{Name: "Reed", Of: 15, Exact: 15}, {Name: "Loch", Of: 5, Exact: 5}}, b.Amounts)
	assert.Zero(t, b.Enough)
	assert.InDelta(t, 0, b.Shifted, 1e-6)
	testroom.Do(t, s, id, SetBatch{Total: 1, Least: 1})
	b = viewOf(t, s, id).Batch
	assert.InDelta(t, 4, b.Enough, 1e-9)
	assert.Greater(t, b.Shifted, 5.0, "without its blue it is yellow")
	testroom.Refused(t, s, id, SetBatch{Total: -3}, "write how much in figures")
}

// What came out makes later predictions truer; what is another colour altogether, or
// wet, or by another measure, is kept apart.
func TestRecordsAreLearnedFrom(t *testing.T) {
	s, id, ids := paintbox(t, box...)
	testroom.Do(t, s, id, plan.Want{Hex: "#7d9ac8", Name: "Sky"})
	_, err := act(t, s, id, KeepRecord{Result: "#7d9ac8"})
	assert.ErrorContains(t, err, "Lay what was mixed on the slab first")
	for name, n := range map[string]int{"Chalk": 10, "Loch": 1} {
		for range n {
			testroom.Do(t, s, id, AddPart{Material: ids[name]})
		}
	}
	before := viewOf(t, s, id)
	_, err = act(t, s, id, KeepRecord{Result: "#a02a22"})
	assert.ErrorContains(t, err, "another colour altogether")
	_, err = act(t, s, id, KeepRecord{Result: "pale"})
	assert.ErrorContains(t, err, "L*, a* and b*")
	_, err = act(t, s, id, KeepRecord{Result: "130 0 0"})
	assert.ErrorContains(t, err, "L* runs from 0 to 100")
	_, err = act(t, s, id, KeepRecord{Result: "50 0 0", Reading: Reading{Day: "yesterday"}})
	assert.ErrorContains(t, err, "such as 2026-03-14")
	assert.Empty(t, viewOf(t, s, id).Records, "what is refused is not kept")

	darker := before.Mixed.Colour
	darker.L -= 8
	result := func(c colour.Lab) string { r, _ := c.RGB(); return r.Hex() }
	said, err := act(t, s, id, KeepRecord{Result: result(darker), Reading: Reading{Light: "window", ReadAs: "wet"}})
	require.NoError(t, err)
	assert.Contains(t, said, "nothing is learned from it")
	assert.InDelta(t, before.Mixed.Colour.L, viewOf(t, s, id).Mixed.Colour.L, 1e-9)
	said, err = act(t, s, id, KeepRecord{Result: result(darker)})
	require.NoError(t, err)
	assert.Contains(t, said, "Written down: it came out ")
	after := viewOf(t, s, id)
	require.Len(t, after.Records, 2)
	assert.Equal(t, 1, after.Learned)
	assert.Less(t, colour.DeltaE2000(after.Mixed.Colour, darker), colour.DeltaE2000(before.Mixed.Colour, darker)*0.6, "the prediction has learned")
	assert.Less(t, after.After, after.Before)
	for _, p := range after.Paints {
		assert.Equal(t, p.Name == "Loch", p.Tried, p.Name)
	}
	// A slab with parts of paints that are no longer chosen is not what was mixed.
	testroom.Do(t, s, id, SetPaints{Paints: []uint{ids["Chalk"], ids["Reed"]}})
	left := viewOf(t, s, id)
	assert.Equal(t, 1, left.LeftOff)
	_, err = act(t, s, id, KeepRecord{Result: result(darker)})
	assert.ErrorContains(t, err, "One part lies on the slab of paints that are no longer chosen")
	testroom.Do(t, s, id, SetPaints{})
	// Another basis is never mixed with it.
	testroom.Do(t, s, id, SetPaints{Basis: "drops"})
	assert.Zero(t, viewOf(t, s, id).Learned)
	testroom.Do(t, s, id, SetPaints{})
	// Really so, but kept apart.
	_, err = act(t, s, id, KeepRecord{Result: "#a02a22", Reading: Reading{Sure: true}})
	require.NoError(t, err)
	assert.Equal(t, 1, viewOf(t, s, id).Learned)
	// On the shelf, with its recipe.
	said, err = act(t, s, id, AsMaterial{ID: after.Records[0].ID})
	require.NoError(t, err)
	assert.Contains(t, said, "Sky lies on the shelf")
	made := testroom.MustOpen(t, s, id).Shelf.Named("Sky")
	require.NotNil(t, made)
	assert.Equal(t, "mixed", made.Source)
	assert.Contains(t, made.Remark, "10 Chalk, 1 Loch")
	_, err = act(t, s, id, AsMaterial{ID: 999})
	assert.ErrorContains(t, err, "no longer kept")
	// Taken away, and brought back.
	gone := viewOf(t, s, id).Records[0].ID
	_, err = act(t, s, id, DropRecord{ID: gone})
	require.NoError(t, err)
	assert.Len(t, viewOf(t, s, id).Records, 2)
	_, err = act(t, s, id, DropRecord{ID: gone})
	assert.ErrorContains(t, err, "no longer kept")
	said, err = act(t, s, id, UndoRecords{})
	require.NoError(t, err)
	assert.Contains(t, said, "take a record of Sky away")
	assert.Len(t, viewOf(t, s, id).Records, 3)
}

func TestMixingTravelsWithThePlan(t *testing.T) {
	s, id, ids := paintbox(t, box...)
	testroom.Do(t, s, id, plan.Want{Hex: "#4f7d3a", Name: "Weed"})
	testroom.Do(t, s, id, AddPart{Material: ids["Reed"]})
	testroom.Do(t, s, id, Rule{Material: ids["Soot"], As: "without"})
	_, file, err := s.Export(testroom.Ctx, id)
	require.NoError(t, err)
	other := testroom.Studio(t, Stage())
	again, err := testroom.Import(other, file)
	require.NoError(t, err)
	v := viewOf(t, other, again)
	require.NotNil(t, v.Mixed)
	assert.True(t, slices.ContainsFunc(v.Rows, func(r Row) bool { return r.Name == "Reed" && r.Parts == 1 }))
	require.Len(t, v.Paints, 2, "the paints it speaks of came along")
	for _, p := range v.Paints {
		assert.Equal(t, p.Name == "Soot", p.Without)
	}
}

func TestColoursOfThePlanCanBeWanted(t *testing.T) {
	s, id, _ := paintbox(t, box...)
	testroom.Do(t, s, id, plan.Doing(func(d *plan.Draft) (string, error) {
		d.Plan.Wishes = []plan.Wish{{Key: 1, Name: "Wished", L: 50}}
		d.Plan.Scraps = []plan.Scrap{{Key: 4, Name: "Torn", L: 60, Uncertainty: 4}}
		return "add", d.Add(plan.FreeEntry("Free", colour.Lab{L: 40}))
	}))
	others := testroom.MustOpen(t, s, id).Wantables()
	require.Len(t, others, 3)
	for _, o := range others {
		testroom.Do(t, s, id, plan.Want{From: o.Key})
	}
	p := testroom.MustOpen(t, s, id)
	assert.Len(t, p.Targets, 3)
	assert.Empty(t, p.Wantables(), "each is wanted once")
	testroom.Do(t, s, id, WorkOn{Key: 2})
	assert.Equal(t, "Torn", viewOf(t, s, id).Now.Name)
}

func TestCharts(t *testing.T) {
	s, id, ids := paintbox(t, box...)
	chart := func(kind string, a, b uint) *ChartView {
		v, err := Charted(testroom.Ctx, s, testroom.MustOpen(t, s, id), kind, a, b)
		require.NoError(t, err)
		return v
	}
	v := chart("ladders", ids["Loch"], 0)
	require.Len(t, v.Rows, 3)
	assert.Equal(t, "Loch alone", v.Rows[0].Fields[0].Words)
	last := v.Rows[0].Fields[6]
	assert.Equal(t, "1 : 16", last.Short)
	assert.Greater(t, last.Colour.L, 70.0, "a tint is light")
	assert.Less(t, v.Rows[2].Fields[6].Colour.L, 25.0, "a shade is dark")
	testroom.Do(t, s, id, plan.Want{Hex: "#4f7d3a"})
	for _, kind := range []string{"ladders", "between", "pairs", "tints"} {
		number := 0
		for _, r := range chart(kind, ids["Loch"], ids["Reed"]).Rows {
			for _, f := range r.Fields {
				number++
				assert.Equal(t, number, f.Number)
				testroom.Do(t, s, id, LayOut{Recipe: f.Lay}) // every field fits on the slab
				assert.Less(t, colour.DeltaE2000(f.Colour, viewOf(t, s, id).Mixed.Colour), 1e-6)
			}
		}
	}
	steps := chart("between", ids["Loch"], ids["Reed"])
	require.Len(t, steps.Rows, 2)
	assert.Equal(t, colour.Green, colour.Family(steps.Rows[0].Fields[6].Colour))
	assert.Equal(t, []string{"Soot", "Loch", "Rust", "Reed"}, func() (out []string) {
		for _, f := range chart("tints", 0, 0).Rows[0].Fields {
			out = append(out, strings.TrimSuffix(strings.TrimPrefix(f.Words, "1 "), ", 10 Chalk"))
		}
		return out
	}(), "dark ones first")
	empty, none, _ := paintbox(t)
	e, err := Charted(testroom.Ctx, empty, testroom.MustOpen(t, empty, none), "pairs", 0, 0)
	require.NoError(t, err)
	assert.Contains(t, e.Problem, "Choose paints on Mix first")
	empty, none, _ = paintbox(t, "Loch=#1f4fa3")
	for kind, want := range map[string]string{"ladders": "need a white", "between": "between two paints", "pairs": "nothing to mix", "tints": "Tints need a white"} {
		e, err = Charted(testroom.Ctx, empty, testroom.MustOpen(t, empty, none), kind, 0, 0)
		require.NoError(t, err)
		assert.Contains(t, e.Problem, want, kind)
	}
}

// After a try that came out off, the next aims as far past.
func TestAimingPast(t *testing.T) {
	s, id, _ := paintbox(t, box...)
	testroom.Do(t, s, id, plan.Want{Hex: "#5d7f9a", Name: "Slate"})
	assert.Nil(t, viewOf(t, s, id).Past)
	v := viewOf(t, s, id)
	testroom.Do(t, s, id, LayOut{Recipe: v.Recipes[0].Lay})
	darker := v.Now.Colour
	darker.L -= 9
	rgb, _ := darker.RGB()
	_, err := act(t, s, id, KeepRecord{Result: rgb.Hex()})
	require.NoError(t, err)
	v = viewOf(t, s, id)
	require.NotNil(t, v.Past)
	assert.Contains(t, v.Past.Came, "darker by 0.9")
	testroom.Do(t, s, id, LayOut{Recipe: v.Past.Lay})
	_, err = act(t, s, id, KeepRecord{Result: "#5d7f9a", Reading: Reading{Day: "2099-01-01"}})
	require.NoError(t, err)
	assert.Nil(t, viewOf(t, s, id).Past, "the newest came out right")
}

func TestFewForAllWanted(t *testing.T) {
	s, id, ids := paintbox(t, box...)
	testroom.Do(t, s, id, plan.Want{Hex: "#c8a0a0"})
	testroom.Do(t, s, id, LayOut{Recipe: fmt.Sprintf("%d.1 %d.3", ids["Rust"], ids["Chalk"])})
	rose, _ := viewOf(t, s, id).Mixed.Colour.RGB()
	testroom.Do(t, s, id, DropTarget{Key: 1})
	testroom.Do(t, s, id, plan.Want{Hex: rose.Hex(), Name: "Rose"})
	assert.Nil(t, viewOf(t, s, id).Few, "one colour has its recipes")
	testroom.Do(t, s, id, plan.Want{Hex: "#a02a22", Name: "Hull"})
	testroom.Do(t, s, id, plan.Want{Hex: "#00ff40", Name: "Glare"})
	few := viewOf(t, s, id).Few
	require.NotNil(t, few)
	assert.Contains(t, few.Names, "Rust")
	assert.LessOrEqual(t, len(few.Names), 3)
	assert.Equal(t, 2, few.Reached)
	assert.Equal(t, []string{"Glare"}, few.Missed)
	testroom.Do(t, s, id, SetPaints{Paints: few.Paints})
	assert.True(t, viewOf(t, s, id).Few.All)
}

// Yarns are carded together by weight, or plied: the eye adds up their light.
func TestFibresAreBlended(t *testing.T) {
	s := testroom.Studio(t, Stage())
	ids := map[string]uint{}
	for name, hex := range map[string]string{"Wool": "#c8202b", "Fleece": "#fafaf8"} {
		c, err := colour.ParseHex(hex)
		require.NoError(t, err)
		ids[name], err = s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: name, Kind: "yarn", Colour: c.Lab()})
		require.NoError(t, err)
	}
	id, err := s.NewPlan(testroom.Ctx, "Scarf", "weaving")
	require.NoError(t, err)
	testroom.Do(t, s, id, plan.Want{Hex: "#e09090"})
	testroom.Do(t, s, id, LayOut{Recipe: fmt.Sprintf("%d.1 %d.1", ids["Wool"], ids["Fleece"])})
	felt := viewOf(t, s, id)
	assert.Equal(t, "fibres", felt.As.Key)
	assert.Len(t, felt.Ways, 2)
	testroom.Do(t, s, id, SetPaints{Together: "strands"})
	plied := viewOf(t, s, id)
	assert.Greater(t, plied.Mixed.Colour.L, felt.Mixed.Colour.L)
	testroom.Refused(t, s, id, SetPaints{Together: "soup"}, "from the list")
	assert.Equal(t, "yarns", plied.Noun)
}
