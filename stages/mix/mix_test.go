package mix

import (
	"bytes"
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/mix"
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
	testroom.Refused(t, s, id, AddPart{Material: ids["Loch"]}, "Add a target colour first")
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
	}), "The mix has 24 parts")

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
	assert.Equal(t, "nothing chosen", v.Wanted[0].Reach)
	s, id, _ = paintbox(t, "Loch=#1f4fa3")
	testroom.Do(t, s, id, plan.Want{Hex: "#f0c020"})
	v = viewOf(t, s, id)
	require.Len(t, v.Recipes, 1)
	assert.Equal(t, "1 Loch", v.Recipes[0].Words)
	require.NotNil(t, v.Missing)
	assert.Contains(t, v.Missing.Words, "The best mix is darker")
	p := testroom.Do(t, s, id, WishPaint{})
	require.Len(t, p.Wishes, 1)
	assert.Greater(t, p.Wishes[0].L, v.Now.L, "beyond the wanted colour, for the best stays darker")
	for _, hex := range []string{"#000000", "#ffffff"} {
		testroom.Do(t, s, id, plan.Want{Hex: hex})
		assert.NotEmpty(t, viewOf(t, s, id).Recipes)
	}
	s, id, _ = paintbox(t, "Loch=#1f4fa3", "Loch again=#1f4fa3")
	testroom.Do(t, s, id, plan.Want{Hex: "#1f4fa3"})
	assert.Equal(t, "unmixed: Loch", viewOf(t, s, id).Wanted[0].Reach)
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
	testroom.Refused(t, s, id, SetBatch{Total: -3}, "Write how much in figures")
}

// What came out makes later predictions truer; what is very different from the prediction, or
// wet, or by another measure, is kept apart.
func TestRecordsAreLearnedFrom(t *testing.T) {
	s, id, ids := paintbox(t, box...)
	testroom.Do(t, s, id, plan.Want{Hex: "#7d9ac8", Name: "Sky"})
	_, err := act(t, s, id, KeepRecord{Result: "#7d9ac8"})
	assert.ErrorContains(t, err, "Build what you mixed first")
	for name, n := range map[string]int{"Chalk": 10, "Loch": 1} {
		for range n {
			testroom.Do(t, s, id, AddPart{Material: ids[name]})
		}
	}
	before := viewOf(t, s, id)
	_, err = act(t, s, id, KeepRecord{Result: "#a02a22"})
	assert.ErrorContains(t, err, "very different from the prediction")
	_, err = act(t, s, id, KeepRecord{Result: "pale"})
	assert.ErrorContains(t, err, "L*, a* and b*")
	_, err = act(t, s, id, KeepRecord{Result: "130 0 0"})
	assert.ErrorContains(t, err, "L* is from 0 to 100")
	_, err = act(t, s, id, KeepRecord{Result: "50 0 0", Reading: Reading{Day: "yesterday"}})
	assert.ErrorContains(t, err, "Write the day as 2026-03-14")
	assert.Empty(t, viewOf(t, s, id).Records, "what is refused is not kept")

	darker := before.Mixed.Colour
	darker.L -= 8
	result := func(c colour.Lab) string { r, _ := c.RGB(); return r.Hex() }
	said, err := act(t, s, id, KeepRecord{Result: result(darker), Reading: Reading{Light: "window", ReadAs: "wet"}})
	require.NoError(t, err)
	assert.Contains(t, said, "so it is not used")
	assert.InDelta(t, before.Mixed.Colour.L, viewOf(t, s, id).Mixed.Colour.L, 1e-9)
	said, err = act(t, s, id, KeepRecord{Result: result(darker)})
	require.NoError(t, err)
	assert.Contains(t, said, "Recorded: ΔE ")
	after := viewOf(t, s, id)
	require.Len(t, after.Records, 2)
	assert.Equal(t, 1, after.Learned)
	assert.Less(t, colour.DeltaE2000(after.Mixed.Colour, darker), colour.DeltaE2000(before.Mixed.Colour, darker)*0.6,
		"the prediction has learned")
	assert.Less(t, after.After, after.Before)
	for _, p := range after.Paints {
		assert.Equal(t, p.Name == "Loch", p.Tried, p.Name)
	}
	// A slab with parts of paints that are no longer chosen is not what was mixed.
	testroom.Do(t, s, id, SetPaints{Paints: []uint{ids["Chalk"], ids["Reed"]}})
	left := viewOf(t, s, id)
	assert.Equal(t, 1, left.LeftOff)
	_, err = act(t, s, id, KeepRecord{Result: result(darker)})
	assert.ErrorContains(t, err, "One part is of paints no longer chosen")
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
	assert.Contains(t, said, "Sky is on the shelf")
	made := testroom.MustOpen(t, s, id).Shelf.Named("Sky")
	require.NotNil(t, made)
	assert.Equal(t, "mixed", made.Source)
	assert.Contains(t, made.Remark, "10 Chalk, 1 Loch")
	_, err = act(t, s, id, AsMaterial{ID: 999})
	assert.ErrorContains(t, err, "was deleted")
	// Taken away, and brought back.
	gone := viewOf(t, s, id).Records[0].ID
	_, err = act(t, s, id, DropRecord{ID: gone})
	require.NoError(t, err)
	assert.Len(t, viewOf(t, s, id).Records, 2)
	_, err = act(t, s, id, DropRecord{ID: gone})
	assert.ErrorContains(t, err, "was deleted")
	said, err = act(t, s, id, UndoRecords{})
	require.NoError(t, err)
	assert.Contains(t, said, "delete a record of Sky")
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
	for kind, want := range map[string]string{"ladders": "need a white", "between": "Choose a second paint", "pairs": "Choose more paints",
		"tints": "Tints need a white"} {
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

// kitchen is a soap plan with colourants tried in batter, by name=hex.
func kitchen(t *testing.T) (*plan.Desk, uint, map[string]uint) {
	t.Helper()
	s := testroom.Studio(t, Stage())
	ids := map[string]uint{}
	for _, p := range []string{"Rose=#c0607a", "Tide=#5a80a8", "Coal=#55534f"} {
		name, hex, _ := strings.Cut(p, "=")
		c, err := colour.ParseHex(hex)
		require.NoError(t, err)
		id, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: name, Kind: "soap colourant", Colour: c.Lab()})
		require.NoError(t, err)
		ids[name] = id
	}
	id, err := s.NewPlan(testroom.Ctx, "Bars", "soap")
	require.NoError(t, err)
	return s, id, ids
}

func viewLeanOf(t *testing.T, s *plan.Desk, id uint) *MixView {
	t.Helper()
	v, err := View(testroom.Ctx, s, testroom.MustOpen(t, s, id), false)
	require.NoError(t, err)
	return v
}

// Soap: doses, grams by hand, a supplier's limit in its own basis, and what is left over.
func TestSoapTakesDoses(t *testing.T) {
	s, id, ids := kitchen(t)
	_, err := act(t, s, id, SetDose{Material: ids["Rose"], Tried: 1, TriedBasis: "% of batter", Limit: 10, LimitBasis: "g per kg of oils"})
	require.NoError(t, err)
	testroom.Do(t, s, id, plan.Want{Hex: "#c0607a", Name: "Rose soap"})
	v := viewLeanOf(t, s, id)
	assert.Equal(t, "soap", v.As.Key)
	assert.Equal(t, 0.25, v.Step)
	assert.Nil(t, v.AsIs, "nothing is ready as it is")
	for _, r := range v.Recipes { // 10 g per kg of oils of which 70 % is oils: 0.7 %, two steps of 0.25 %
		assert.NotContains(t, r.Words, "0.75% Rose")
		assert.NotContains(t, r.Words, "1% Rose")
	}
	testroom.Do(t, s, id, LayOut{Recipe: fmt.Sprintf("%d.4", ids["Rose"])})
	v = viewLeanOf(t, s, id)
	require.Len(t, v.Over, 1)
	assert.Equal(t, "Rose is at 14.29 g per kg of oils, over the supplier’s limit of 10 g per kg of oils. Use less.", v.Over[0])
	assert.Less(t, v.Mixed.Apart, 0.5, "as much as was tried is as it was tried")
	assert.Equal(t, "1% Rose of the batter", v.Recipe())

	testroom.Do(t, s, id, SetBatch{Total: 1400, Least: 0.5})
	v = viewLeanOf(t, s, id)
	assert.Equal(t, []Amount{{Name: "Rose", Of: 14, Exact: 14, Dose: "1%"}}, v.Batch.Amounts)
	p := testroom.Do(t, s, id, ToTray{Part: testroom.MustOpen(t, s, id).Piece.Parts[0].Key})
	require.Len(t, p.Entries, 1)
	assert.Equal(t, "1% Rose of the batter", p.Entries[0].Recipe)
	assert.Equal(t, p.Piece.Parts[0].Name, p.Tray[0].Parts[0])

	// Doses of another basis are the same mix.
	testroom.Do(t, s, id, &SetPaints{Basis: "g per kg of oils", Step: 2.5})
	testroom.Do(t, s, id, LayOut{Recipe: fmt.Sprintf("%d.4", ids["Tide"])})
	w := viewLeanOf(t, s, id)
	assert.Equal(t, "10 g/kg Tide (per kg of oils)", w.Recipe())
	assert.InDelta(t, 1400*0.7*10/1000, w.Batch.Amounts[0].Exact, 1e-9, "70% of the batter is oils")
	testroom.Refused(t, s, id, &SetPaints{Oils: 140}, "Oils are 1 to 100%")
	_, err = act(t, s, id, SetDose{Material: ids["Rose"], Tried: -1})
	assert.ErrorContains(t, err, "A rate is more than 0")
}

// What a scent does is known once it was written down, and told apart from strengths.
func TestScentsShiftThePrediction(t *testing.T) {
	s, id, ids := kitchen(t)
	testroom.Do(t, s, id, plan.Want{Hex: "#c0607a", Name: "Rose soap"})
	testroom.Do(t, s, id, LayOut{Recipe: fmt.Sprintf("%d.4", ids["Rose"])})
	plain := viewLeanOf(t, s, id).Mixed.Colour
	testroom.Do(t, s, id, SetBatch{Additive: "Vanilla"})
	assert.Contains(t, viewLeanOf(t, s, id).Shift, "No results with Vanilla yet")
	brown := colour.Lab{L: plain.L - 12, A: plain.A, B: plain.B + 10}
	_, err := act(t, s, id, KeepRecord{Result: fmt.Sprintf("%.2f %.2f %.2f", brown.L, brown.A, brown.B)})
	require.NoError(t, err)
	v := viewLeanOf(t, s, id)
	assert.InDelta(t, plain.L-6, v.Mixed.Colour.L, 0.1, "one record is half believed")
	assert.Contains(t, v.Shift, "from 1 mix: darker by 0.6")
	assert.Zero(t, v.Learned, "it is no matter of strength")
	testroom.Do(t, s, id, SetBatch{})
	assert.InDelta(t, 0, colour.DeltaE2000(plain, viewLeanOf(t, s, id).Mixed.Colour), 1e-9)
}

// Washes thin, markers lie over one another; what no layer makes lighter is told.
func TestWashesAndLayers(t *testing.T) {
	s, id, ids := paintbox(t, box...)
	testroom.Do(t, s, id, plan.Want{Hex: "#9fb4d8", Name: "Thin loch"})
	testroom.Do(t, s, id, &SetPaints{Together: "wash"})
	v := viewLeanOf(t, s, id)
	require.NotEmpty(t, v.Recipes)
	assert.Contains(t, v.Recipes[0].Words, "water")
	testroom.Do(t, s, id, AddPart{Material: ids["Loch"]})
	testroom.Do(t, s, id, AddPart{})
	v = viewLeanOf(t, s, id)
	half := mix.Layered(v.Ground.Colour(), testroom.Hex(t, "#1f4fa3").Lab(), .5)
	assert.Less(t, colour.DeltaE2000(half, v.Mixed.Colour), 0.3, "one part and one of water is half a layer")
	_, err := act(t, s, id, KeepRecord{Result: v.Mixed.Colour.Hex()})
	require.NoError(t, err)
	assert.Contains(t, viewLeanOf(t, s, id).Records[0].Words, "1 water")

	testroom.Do(t, s, id, &SetPaints{Together: "glaze"})
	testroom.Do(t, s, id, plan.Want{Hex: "#ffffff", Name: "Snow"})
	testroom.Do(t, s, id, &SetPaints{Together: "glaze", Ground: "#d8d0c0"})
	v = viewLeanOf(t, s, id)
	assert.Contains(t, v.Lighter, "no paint can lighten it")
	assert.Nil(t, v.Missing)
	assert.Equal(t, 4, v.Parts)
	testroom.Refused(t, s, id, &SetPaints{Together: "glaze", Ground: "driftwood"}, "name of a material on the shelf")
	_, err = s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: "Driftwood", Kind: "paper", Colour: colour.Lab{L: 80}})
	require.NoError(t, err)
	testroom.Do(t, s, id, &SetPaints{Together: "glaze", Ground: "driftwood"})
	assert.InDelta(t, 80, viewLeanOf(t, s, id).Ground.L, 1e-9)
}

// The plan's cloth is dyed, not painted: a bath is by the dry fibre.
func TestDyesForCloth(t *testing.T) {
	s := testroom.Studio(t, Stage())
	for name, hex := range map[string]string{"Madder": "#a03a34", "Woad": "#4a6fa8"} {
		_, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: name, Kind: "pigment or dye", Colour: testroom.Hex(t, hex).Lab()})
		require.NoError(t, err)
	}
	id, err := s.NewPlan(testroom.Ctx, "Shawl", "weaving")
	require.NoError(t, err)
	testroom.Do(t, s, id, plan.Want{Hex: "#a03a34", Name: "Brick"})
	v := viewLeanOf(t, s, id)
	assert.Equal(t, []string{"bath", "dyes", "% of fibre"}, []string{v.As.Key, v.Noun, v.Basis})
	testroom.Do(t, s, id, LayOut{Recipe: v.Recipes[0].Lay})
	testroom.Do(t, s, id, SetBatch{Total: 250})
	v = viewLeanOf(t, s, id)
	assert.Equal(t, "1% Madder of the fibre", v.Recipe())
	assert.InDelta(t, 2.5, v.Batch.Amounts[0].Exact, 1e-9)
	assert.Nil(t, v.Pour)
}

// Charts: what came out of many fields is written down at once, and told before and after.
func TestChartsAreReadBack(t *testing.T) {
	s, id, ids := paintbox(t, box...)
	p := testroom.MustOpen(t, s, id)
	c, err := Charted(testroom.Ctx, s, p, "tints", 0, 0)
	require.NoError(t, err)
	e := KeepChart{Name: c.Kind.Name}
	for _, f := range c.Rows[0].Fields {
		e.Recipes = append(e.Recipes, f.Lay)
		came := f.Colour
		came.L -= 6 // every paint is stronger than was thought
		e.Results = append(e.Results, fmt.Sprintf("%.3f %.3f %.3f", came.L, came.A, came.B))
	}
	e.Results[0] = ""
	said, err := act(t, s, id, e)
	require.NoError(t, err)
	assert.Contains(t, said, "3 results recorded")
	assert.Contains(t, said, "Predictions are now accurate to about ΔE ")
	again, err := act(t, s, id, e)
	require.NoError(t, err)
	assert.Equal(t, "These results are recorded already.", again)
	rest, err := Charted(testroom.Ctx, s, testroom.MustOpen(t, s, id), "tints", 0, 0)
	require.NoError(t, err)
	assert.Len(t, rest.Rows[0].Fields, 1, "one is still to be painted")
	_, err = act(t, s, id, &UndoRecords{})
	require.NoError(t, err)
	all, err := Records(testroom.Ctx, s, testroom.MustOpen(t, s, id), "")
	require.NoError(t, err)
	assert.Empty(t, all.Records, "all fields at once")

	e.Results[1] = "#ff00ff"
	_, err = act(t, s, id, e)
	assert.ErrorContains(t, err, "Square 2 is")
	_, err = act(t, s, id, KeepChart{Recipes: []string{"1.1"}, Results: []string{""}})
	assert.ErrorContains(t, err, "No results yet")
	_, err = act(t, s, id, KeepChart{Recipes: []string{fmt.Sprintf("%d.1", ids["Loch"])}, Results: []string{"blue"}})
	assert.ErrorContains(t, err, "Square 1: Write the result")
}

func TestOpposesAndTwelvePlaces(t *testing.T) {
	s, id, ids := paintbox(t, append(box, "Violet=#5a3a8a", "Leaf=#3a7a3a", "Signal=#e0701a")...)
	p := testroom.MustOpen(t, s, id)
	c, err := Charted(testroom.Ctx, s, p, "opposites", ids["Reed"], 0)
	require.NoError(t, err)
	require.NotEmpty(t, c.Rows)
	assert.Contains(t, c.Rows[0].Name, "going warm")
	assert.Equal(t, "11 : 1", c.Rows[0].Fields[1].Short)
	assert.Equal(t, "tints of these", c.Rows[1].Name)
	for _, r := range c.Rows {
		assert.Len(t, r.Fields, 6)
	}
	c, err = Charted(testroom.Ctx, s, p, "twelve", 0, 0)
	require.NoError(t, err)
	require.Len(t, c.Rows, 3)
	assert.Equal(t, "alone", c.Rows[0].Fields[0].Short)
	assert.Contains(t, c.Rows[1].Fields[2].Below, "Violet: ")
	assert.Contains(t, c.Rows[1].Fields[2].Below, "softer than its paints")
	c, err = Charted(testroom.Ctx, s, p, "opposites", ids["Soot"], 0)
	require.NoError(t, err)
	assert.Contains(t, c.Problem, "is too neutral to have a complement")
	few, fewID, _ := paintbox(t, "Reed=#f2c811", "Loch=#1f4fa3")
	c, err = Charted(testroom.Ctx, few, testroom.MustOpen(t, few, fewID), "twelve", 0, 0)
	require.NoError(t, err)
	assert.Contains(t, c.Problem, "This needs three primaries, and you have no paint near red")
}

// Records are searched and corrected, and travel with the shelf.
func TestRecordsAreCorrectedAndTravel(t *testing.T) {
	s, id, ids := paintbox(t, box...)
	testroom.Do(t, s, id, plan.Want{Hex: "#7d9ac8", Name: "Sky"})
	testroom.Do(t, s, id, LayOut{Recipe: fmt.Sprintf("%d.1 %d.3", ids["Loch"], ids["Chalk"])})
	is := viewLeanOf(t, s, id).Mixed.Colour
	_, err := act(t, s, id, KeepRecord{Result: is.Hex(), Reading: Reading{Day: "2026-03-14", Remark: "first try"}})
	require.NoError(t, err)
	find := func(text string) []RecordView {
		v, err := Records(testroom.Ctx, s, testroom.MustOpen(t, s, id), text)
		require.NoError(t, err)
		return v.Records
	}
	assert.Len(t, find("loch first"), 1)
	assert.Empty(t, find("loch second"))
	r := find("")[0]
	assert.Equal(t, []Went{{"Chalk", 3}, {"Loch", 1}}, byName(r.Went))
	edit := EditRecord{ID: r.ID, Name: "Sky, again", Result: r.Colour.Hex(), Parts: []float64{1, 1},
		Reading: Reading{Day: "2026-03-15", Remark: "second try"}}
	for i, w := range r.Went {
		edit.Parts[i] = w.Parts
	}
	_, err = act(t, s, id, edit)
	require.NoError(t, err)
	now := find("second")[0]
	assert.Equal(t, "15 Mar 2026", now.Day)
	assert.Equal(t, [3]float64{r.L, r.A, r.B}, [3]float64{now.L, now.A, now.B}, "a result that was not changed stays as fine as it was")
	edit.Parts = []float64{0, 0}
	_, err = act(t, s, id, edit)
	assert.ErrorContains(t, err, "A mix has at least one part")
	edit.Parts, edit.Result = []float64{1, 1}, "#ff0000"
	_, err = act(t, s, id, edit)
	assert.ErrorContains(t, err, "very different from the prediction")
	_, err = act(t, s, id, UndoRecords{})
	require.NoError(t, err)
	assert.Len(t, find("first"), 1)

	var zip bytes.Buffer
	require.NoError(t, s.ExportShelf(testroom.Ctx, &zip))
	other := testroom.Studio(t, Stage())
	for range 2 { // brought in again nothing is doubled
		up, err := other.UploadShelf(testroom.Ctx, "shelf.zip", bytes.NewReader(zip.Bytes()), int64(zip.Len()))
		require.NoError(t, err)
		came, err := other.Confirm(testroom.Ctx, up, nil)
		if came.Mixes == 0 {
			assert.ErrorContains(t, err, "is here already")
			continue
		}
		require.NoError(t, err)
		assert.Equal(t, 1, came.Mixes)
	}
	there, err := other.NewPlan(testroom.Ctx, "There", "painted models")
	require.NoError(t, err)
	v, err := Records(testroom.Ctx, other, testroom.MustOpen(t, other, there), "")
	require.NoError(t, err)
	require.Len(t, v.Records, 1)
	assert.InDelta(t, 0, v.Records[0].Off, 0.5)
	assert.Equal(t, "first try", v.Records[0].Remark)
}

// What a corrected record is judged by was learned from the others, not from the record itself.
func TestACorrectedRecordIsJudgedByTheOthers(t *testing.T) {
	s, id, ids := paintbox(t, box...)
	testroom.Do(t, s, id, plan.Want{Hex: "#7d9ac8", Name: "Sky"})
	testroom.Do(t, s, id, LayOut{Recipe: fmt.Sprintf("%d.1 %d.3", ids["Loch"], ids["Chalk"])})
	first := viewLeanOf(t, s, id).Mixed.Colour
	off := func(by float64) string {
		return fmt.Sprintf("%g %g %g", first.L-by, first.A, first.B)
	}
	_, err := act(t, s, id, KeepRecord{Result: off(20)})
	require.NoError(t, err)
	learned := viewLeanOf(t, s, id).Mixed.Colour
	by := 21.0 // far from what the paints come to by themselves, near to what the record itself taught
	for colour.DeltaE2000(first, colour.Lab{L: first.L - by, A: first.A, B: first.B}) <= anotherOne {
		by++
	}
	require.Less(t, colour.DeltaE2000(learned, colour.Lab{L: first.L - by, A: first.A, B: first.B}), anotherOne)
	v, err := Records(testroom.Ctx, s, testroom.MustOpen(t, s, id), "")
	require.NoError(t, err)
	edit := EditRecord{ID: v.Records[0].ID, Name: "Sky", Result: off(by)}
	for _, w := range v.Records[0].Went {
		edit.Parts = append(edit.Parts, w.Parts)
	}
	_, err = act(t, s, id, edit)
	assert.ErrorContains(t, err, "very different from the prediction")
	edit.Sure = true
	_, err = act(t, s, id, edit)
	require.NoError(t, err)
	assert.Zero(t, viewLeanOf(t, s, id).Learned, "it is kept apart")
}

func byName(all []Went) []Went {
	slices.SortFunc(all, func(a, b Went) int { return strings.Compare(a.Name, b.Name) })
	return all
}

// A mix becomes a material with a lot of its own; a free card is as it is mixed.
func TestAMixOnTheShelfAndInTheTray(t *testing.T) {
	s, id, ids := paintbox(t, box...)
	testroom.Do(t, s, id, plan.Want{Hex: "#7d9ac8", Name: "Sky"})
	testroom.Refused(t, s, id, ToTray{}, "Mix something first")
	testroom.Do(t, s, id, LayOut{Recipe: fmt.Sprintf("%d.1 %d.3", ids["Loch"], ids["Chalk"])})
	testroom.Do(t, s, id, &SetPaints{Basis: "volume"})
	testroom.Do(t, s, id, SetBatch{Total: 40})
	testroom.Do(t, s, id, ToTray{})
	p := testroom.Do(t, s, id, ToTray{})
	require.Len(t, p.Entries, 1, "twice is once")
	assert.Equal(t, p.Tray[0].Recipe, p.Entries[0].Recipe)
	assert.Contains(t, p.Tray[0].Recipe, "3 Chalk")
	assert.Contains(t, p.Tray[0].Recipe, "by volume")
	is := viewLeanOf(t, s, id).Mixed.Colour
	_, err := act(t, s, id, KeepRecord{Result: is.Hex(), Reading: Reading{Day: "2026-03-14"}})
	require.NoError(t, err)
	_, err = act(t, s, id, AsMaterial{ID: viewLeanOf(t, s, id).Records[0].ID})
	require.NoError(t, err)
	c := testroom.MustOpen(t, s, id).Shelf.Named("Sky")
	require.NotNil(t, c)
	assert.Equal(t, []material.Lot{{Name: "mixed 14 Mar 2026", OnHand: 40, Unit: "ml", State: material.InUse}}, c.Lots)
	assert.Contains(t, c.Remark, "Mixed on 14 March 2026 by volume")
}

// The tube that would save most mixing, and the mix that would teach most.
func TestWhatToLookForAndWhatToTry(t *testing.T) {
	s, id, _ := paintbox(t, "Chalk=#fafaf8", "Soot=#1e1c1c", "Reed=#f2c811", "Rust=#a02a22")
	testroom.Do(t, s, id, plan.Want{Hex: "#2f5fb0", Name: "Weir"})
	testroom.Do(t, s, id, plan.Want{Hex: "#c88a30", Name: "Sand"})
	v := viewOf(t, s, id)
	require.NotNil(t, v.Few.Tube)
	assert.Contains(t, v.Few.Tube.Words, "it would make 1 colour that you cannot make now")
	assert.Equal(t, "Weir", v.Few.Tube.Name)
	p := testroom.Do(t, s, id, WishTube{})
	assert.Equal(t, "Weir", p.Wishes[0].Name)
	require.NotNil(t, v.Teach)
	assert.Greater(t, v.Teach.Gains, 0.1)
	testroom.Do(t, s, id, LayOut{Recipe: v.Teach.Lay})
	_, err := act(t, s, id, KeepRecord{Result: viewLeanOf(t, s, id).Mixed.Colour.Hex()})
	require.NoError(t, err)
	if next := viewLeanOf(t, s, id).Teach; next != nil {
		assert.NotEqual(t, v.Teach.Words, next.Words, "what was made teaches no more")
	}
}

// A material that was measured with its spectrum mixes by that: two that look alike by
// their Lab part ways when they are mixed.
func TestAMaterialsOwnSpectrumCounts(t *testing.T) {
	s, id, ids := paintbox(t, box...)
	testroom.Do(t, s, id, plan.Want{Hex: "#4f7d3a", Name: "Weed"})
	lay := LayOut{Recipe: fmt.Sprintf("%d.1 %d.1", ids["Loch"], ids["Reed"])}
	testroom.Do(t, s, id, lay)
	smooth := viewLeanOf(t, s, id).Mixed.Colour
	c, err := testroom.MustOpen(t, s, id).Shelf.Card(ids["Loch"])
	require.NoError(t, err)
	m := c.Material
	m.Spectrum = colour.SpectrumOf(m.Colour)
	for i := range m.Spectrum { // bands that pass a little more in the green and less beside it
		m.Spectrum[i] *= 1 + .35*float64(i%2) - .175
	}
	m.Colour = m.Spectrum.Lab()
	_, err = s.SaveMaterial(testroom.Ctx, c.ID, c.Revision, m)
	require.NoError(t, err)
	own := viewLeanOf(t, s, id).Mixed.Colour
	assert.Positive(t, colour.DeltaE2000(smooth, own))
	kept, err := testroom.MustOpen(t, s, id).Shelf.Card(ids["Loch"])
	require.NoError(t, err)
	assert.Equal(t, m.Spectrum, kept.Spectrum, "it is kept")
	m = kept.Material
	m.Colour = colour.Lab{L: 60, A: 40}
	_, err = s.SaveMaterial(testroom.Ctx, kept.ID, kept.Revision, m)
	require.NoError(t, err)
	kept, err = testroom.MustOpen(t, s, id).Shelf.Card(ids["Loch"])
	require.NoError(t, err)
	assert.Equal(t, colour.Spectrum{}, kept.Spectrum, "but not for another colour")
}

// Only what is on hand, when that is asked for.
func TestOnlyWhatIsOnHand(t *testing.T) {
	s, id, ids := paintbox(t, box...)
	testroom.Do(t, s, id, plan.Want{Hex: "#7d9ac8", Name: "Sky"})
	testroom.Do(t, s, id, &SetPaints{OnHand: true})
	v := viewLeanOf(t, s, id)
	assert.True(t, v.NoneHere)
	assert.Empty(t, v.Recipes)
	assert.Equal(t, "no recipe", v.Wanted[0].Reach)
	for _, name := range []string{"Loch", "Chalk"} {
		c, err := testroom.MustOpen(t, s, id).Shelf.Card(ids[name])
		require.NoError(t, err)
		m := c.Material
		m.Lots = []material.Lot{{OnHand: 5, Unit: "ml"}}
		_, err = s.SaveMaterial(testroom.Ctx, c.ID, c.Revision, m)
		require.NoError(t, err)
	}
	v = viewLeanOf(t, s, id)
	assert.False(t, v.NoneHere)
	require.NotEmpty(t, v.Recipes)
	for _, r := range v.Recipes {
		for _, other := range []string{"Soot", "Reed", "Rust"} {
			assert.NotContains(t, r.Words, other)
		}
		assert.Contains(t, r.Notes, "in stock")
	}
}

// Two doses of one colourant alone bend its curve: what was measured is predicted.
func TestTwoDosesBendTheCurve(t *testing.T) {
	s, id, ids := kitchen(t)
	testroom.Do(t, s, id, plan.Want{Hex: "#c0607a", Name: "Rose soap"})
	write := func(parts int, c colour.Lab) {
		testroom.Do(t, s, id, LayOut{Recipe: fmt.Sprintf("%d.%d", ids["Rose"], parts)})
		_, err := act(t, s, id, KeepRecord{Result: fmt.Sprintf("%.3f %.3f %.3f", c.L, c.A, c.B)})
		require.NoError(t, err)
	}
	testroom.Do(t, s, id, LayOut{Recipe: fmt.Sprintf("%d.12", ids["Rose"])})
	straight := viewLeanOf(t, s, id).Mixed.Colour
	rose := testroom.Hex(t, "#c0607a").Lab()
	write(4, rose)
	came := straight
	came.L += 9 // three times the dose darkened it far less
	came.A, came.B = came.A*.95, came.B*.95
	write(12, came)
	v := viewLeanOf(t, s, id)
	assert.Less(t, colour.DeltaE2000(came, v.Mixed.Colour), colour.DeltaE2000(came, straight)/2)
	assert.Equal(t, 2, v.Learned)
}

// What came out of a batch is kept as its colourants together, at the dose of all, in the basis it was
// mixed in.
func TestAMixOfColourantsKeepsItsDose(t *testing.T) {
	s, id, ids := kitchen(t)
	testroom.Do(t, s, id, plan.Want{Hex: "#8a5a80", Name: "Dusk soap"})
	testroom.Do(t, s, id, LayOut{Recipe: fmt.Sprintf("%d.3 %d.1", ids["Rose"], ids["Tide"])})
	testroom.Do(t, s, id, SetBatch{Total: 500})
	v := viewLeanOf(t, s, id)
	_, err := act(t, s, id, KeepRecord{Result: v.Mixed.Colour.Hex()})
	require.NoError(t, err)
	_, err = act(t, s, id, AsMaterial{ID: viewLeanOf(t, s, id).Records[0].ID})
	require.NoError(t, err)
	c := testroom.MustOpen(t, s, id).Shelf.Named("Dusk soap")
	require.NotNil(t, c)
	assert.Equal(t, "soap colourant", c.Kind)
	assert.Equal(t, material.Dose{Tried: 1, TriedBasis: "% of batter"}, c.Dose, "0.75% and 0.25%")
	assert.Empty(t, c.Lots, "what was weighed is the batter")
}
