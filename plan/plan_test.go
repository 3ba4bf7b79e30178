package plan_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/exchange"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/stages"
	"lampfern/stages/brief"
	"lampfern/stages/proportion"
	"lampfern/stages/values"
	wheelstage "lampfern/stages/wheel"
	"lampfern/testroom"
)

func TestPulledCardsFillThePieceAndGetRoles(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	id, ids := testroom.Quilt(t, s)
	p, err := s.Open(testroom.Ctx, id)
	require.NoError(t, err)
	assert.Equal(t, "Plum curtain:ground Moth wing:peaks Heather rail:hourglasses Marrow flesh:sparks Lamp soot:sashing", testroom.Tray(p))
	var roles []balance.Role
	sum := 0.0
	for _, c := range p.Tray {
		roles = append(roles, c.Role)
		sum += c.Share
	}
	assert.InDelta(t, 1, sum, 1e-9)
	assert.Equal(t, []balance.Role{"ground", "support", "support", "accent", "definition"}, roles)
	again := testroom.Do(t, s, id, plan.Pull{Material: ids["Moth wing"]})
	assert.Equal(t, p.Revision, again.Revision, "pulling a card twice changes nothing")
	assert.Equal(t, "pull Lamp soot", again.Undo)
}

func TestEveryEditIsUndoneAndRedone(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	id, ids := testroom.Quilt(t, s)
	more := testroom.Add(t, s, "Sixth=#00804a")
	edits := []plan.Edit{
		plan.LeadWith{Material: ids["Heather rail"]}, wheelstage.TurnTo{Places: 3},
		wheelstage.Light{Scheme: "analogous", Variant: wheel.Variant{Neighbours: 5}}, plan.Swap{Key: 1, With: 4}, plan.Move{Key: 5, To: 0},
		plan.SetAside{Key: 2},
		plan.FillPart{Part: "peak", Key: 3}, plan.FillPart{Part: "peak", Key: 0}, plan.Pull{Material: more["Sixth"]},
		plan.ChoosePiece{Pattern: "strips", Settings: map[string]float64{"strips": 4}}, plan.FillRest{},
		plan.Dismiss{Note: "nofocus", Remark: ""}, plan.ShowNotes{},
		brief.Describe{Name: "Fore curtain", Craft: "garment", Purpose: "for the spring tour"}, plan.PutAway{Away: true},
	}
	state := func() string {
		p, err := s.Open(testroom.Ctx, id)
		require.NoError(t, err)
		return strings.Join([]string{testroom.Tray(p), p.Name, p.Craft, p.Purpose(), p.Lit(), p.Pattern, strings.Join(p.Dismissed, ",")}, "|") +
			string(rune('0'+wheelstage.Of(p).Turn)) + string(rune('0'+wheelstage.Of(p).Neighbours)) + map[bool]string{true: "away"}[p.PutAway]
	}
	states := []string{state()}
	for _, e := range edits {
		testroom.Do(t, s, id, e)
		if now := state(); now != states[len(states)-1] {
			states = append(states, now)
		}
	}
	require.Greater(t, len(states), 12)
	step := func(undo bool) {
		p, err := s.Open(testroom.Ctx, id)
		require.NoError(t, err)
		_, err = s.StepPlan(testroom.Ctx, id, p.Revision, undo)
		require.NoError(t, err)
	}
	for i := len(states) - 2; i >= 0; i-- {
		step(true)
		for state() == states[i+1] { // a step that shows nowhere in the summary
			step(true)
		}
		assert.Equal(t, states[i], state())
	}
	for i := 1; i < len(states); i++ {
		step(false)
		for state() == states[i-1] {
			step(false)
		}
		assert.Equal(t, states[i], state())
	}
	p, _ := s.Open(testroom.Ctx, id)
	_, err := s.StepPlan(testroom.Ctx, id, p.Revision, false)
	assert.EqualError(t, err, "There is nothing to redo.")
}

func TestLaterSaveOfAnOldPageIsTold(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	id, _ := testroom.Quilt(t, s)
	p, err := s.Open(testroom.Ctx, id)
	require.NoError(t, err)
	err = testroom.Change(s, id, p.Revision, plan.SetAside{Key: 1})
	require.NoError(t, err)
	assert.ErrorIs(t, testroom.Change(s, id, p.Revision, plan.SetAside{Key: 2}), shelf.ErrConflict)
	_, err = s.StepPlan(testroom.Ctx, id, p.Revision, true)
	assert.ErrorIs(t, err, shelf.ErrConflict)
	now, err := s.Open(testroom.Ctx, id)
	require.NoError(t, err)
	assert.Len(t, now.Tray, 4)
}

func TestRefusals(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	id, _ := testroom.Quilt(t, s)
	p, err := s.Open(testroom.Ctx, id)
	require.NoError(t, err)
	for want, e := range map[string]plan.Edit{
		"no longer on the shelf":     plan.Pull{Material: 99},
		"no longer in the tray":      plan.SetAside{Key: 99},
		"no such part":               plan.FillPart{Part: "sleeve", Key: 1},
		"scheme is not possible":     wheelstage.Light{Scheme: "rainbow", Variant: wheel.Variant{}},
		"is not possible":            plan.ChoosePiece{Pattern: "curtain", Settings: map[string]float64{"columns": 99}},
		"Give the plan a name":       brief.Describe{Name: " ", Craft: "quilt", Purpose: ""},
		"is not a craft":             brief.Describe{Name: "x", Craft: "plumbing", Purpose: ""},
		"purpose is longer":          brief.Describe{Name: "x", Craft: "quilt", Purpose: strings.Repeat("x", 501)},
		"material is no longer":      plan.LeadWith{Material: 99},
		"card is no longer":          plan.Swap{Key: 1, With: 99},
		"choose a whole number from": plan.ChoosePiece{Pattern: "strips", Settings: map[string]float64{"strips": 2.5}},
	} {
		err := testroom.Change(s, id, p.Revision, e)
		var r words.Refusal
		require.ErrorAs(t, err, &r, want)
		assert.ErrorContains(t, err, want)
	}
	after, err := s.Open(testroom.Ctx, id)
	require.NoError(t, err)
	assert.Equal(t, p.Revision, after.Revision, "a refused edit changes nothing")
	_, err = s.NewPlan(testroom.Ctx, strings.Repeat("x", 61), "quilt")
	assert.ErrorContains(t, err, "60 characters")
	_, err = s.Open(testroom.Ctx, 4711)
	assert.ErrorIs(t, err, shelf.ErrNotFound)
}

func TestWheelStage(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	id, ids := testroom.Quilt(t, s)
	testroom.Add(t, s, "Gorse=#f1de4a", "Grass=#2faf5a", "Fir=#1f3b2d")
	testroom.Do(t, s, id, plan.LeadWith{Material: ids["Heather rail"]})
	p := testroom.Do(t, s, id, wheelstage.Light{Scheme: "split complementary", Variant: wheel.Variant{}})
	v, err := wheelstage.Wheel(p)
	require.NoError(t, err)
	require.Len(t, v.Lit, 3)
	assert.True(t, v.Lit[0].IsLead)
	assert.InDelta(t, p.Lead.Place(wheel.Pigment), v.LeadPlace, 1e-12)
	assert.Contains(t, v.Lit[0].Matches, p.Lead)
	for _, l := range v.Lit {
		for _, c := range l.Matches {
			assert.LessOrEqual(t, wheel.Apart(c.Place(wheel.Pigment), l.Place), shelf.MatchWithin)
		}
	}
	owned := 0
	for _, f := range v.Fronds {
		for _, l := range f.Leaflets {
			owned += len(l.Cards)
		}
	}
	assert.Equal(t, 7, owned, "every card with a hue hangs on the wheel once, the neutral one nowhere")

	p = testroom.Do(t, s, id, wheelstage.TurnTo{Places: -1})
	v, err = wheelstage.Wheel(p)
	require.NoError(t, err)
	assert.Equal(t, 11, wheelstage.Of(p).Turn)
	assert.True(t, v.Turned)
	assert.InDelta(t, 1, wheel.Apart(v.LeadPlace, p.Lead.Place(wheel.Pigment)), 1e-9)

	p = testroom.Do(t, s, id, wheelstage.Light{Scheme: "achromatic", Variant: wheel.Variant{}})
	v, err = wheelstage.Wheel(p)
	require.NoError(t, err)
	assert.Empty(t, v.Lit)
	assert.NotEmpty(t, v.Neutrals)
	p = testroom.Do(t, s, id, plan.LeadWith{Material: ids["Lamp soot"]})
	v, _ = wheelstage.Wheel(p)
	assert.Contains(t, v.Notes[0].Words, "neutral")
}

func TestGapNote(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	ids := testroom.Add(t, s, "Willow lining=#5c7a5a")
	id, err := s.NewPlan(testroom.Ctx, "x", "garment")
	require.NoError(t, err)
	p := testroom.Do(t, s, id, plan.LeadWith{Material: ids["Willow lining"]})
	v, err := wheelstage.Wheel(p)
	require.NoError(t, err)
	text := ""
	for _, n := range v.Notes {
		text += n.About + n.Words + "\n"
	}
	// #5c7a5a has L* 48.0; a light one starts at 66: 1.8 steps.
	assert.Contains(t, text, "The closest is Willow lining, 1.8 steps darker.")
	assert.Contains(t, text, "The nearest hue is Willow lining")
}

func TestValuesAndProportionStages(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	id, _ := testroom.Quilt(t, s)
	p, err := s.Open(testroom.Ctx, id)
	require.NoError(t, err)
	v := values.Values(p, "")
	assert.Equal(t, "Lamp soot", v.Cards[0].Name)
	assert.True(t, v.Mixed, "a palette of several hues is read by value alone")
	assert.Empty(t, v.Run.Strays)

	pr := proportion.Proportion(p)
	assert.Zero(t, pr.Empty)
	assert.InDelta(t, 1, pr.Warm+pr.Cool+pr.Grey, 1e-9)
	assert.Equal(t, "1st", pr.Pulls[0].Words)
	assert.InDelta(t, 1, pr.Pulls[0].Strong, 1e-12)
	soft := ""
	for _, n := range pr.Notes {
		if strings.HasPrefix(n.ID, "soft:") && strings.Contains(n.ID, "1:5") {
			soft = n.ID
		}
	}
	require.NotEmpty(t, soft, "soot sashing is soft on the plum ground")
	p = testroom.Do(t, s, id, plan.Dismiss{Note: soft, Remark: " meant  so "})
	after := proportion.Proportion(p)
	require.Len(t, after.Hidden, 1)
	assert.Equal(t, "meant so", after.Hidden[0].Remark)
	assert.Len(t, after.Notes, len(pr.Notes)-1)
	p = testroom.Do(t, s, id, plan.ShowNote{Note: soft})
	assert.Len(t, proportion.Proportion(p).Notes, len(pr.Notes))
	assert.Empty(t, p.Remarks)
	testroom.Refused(t, s, id, plan.Dismiss{Note: soft, Remark: strings.Repeat("x", 161)}, "at most 160 characters")
}

func TestShelfEditsUndoAndTwoTabs(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	ids := testroom.Add(t, s, "Gorse=#f1de4a", "Fox=#b5651d")
	sh, err := s.Shelf(testroom.Ctx)
	require.NoError(t, err)
	c, err := sh.Card(ids["Gorse"])
	require.NoError(t, err)
	m := c.Material
	m.Name, m.Lot = "Gorse flower", "12"
	_, err = s.SaveMaterial(testroom.Ctx, c.ID, c.Revision, m)
	require.NoError(t, err)
	_, err = s.SaveMaterial(testroom.Ctx, c.ID, c.Revision, m)
	assert.ErrorIs(t, err, shelf.ErrConflict)
	_, err = s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: "FOX"})
	assert.ErrorContains(t, err, "already on the shelf")
	_, err = s.SaveMaterial(testroom.Ctx, 999, 1, material.Material{Name: "x"})
	assert.ErrorIs(t, err, shelf.ErrNotFound)
	require.NoError(t, s.TakeOff(testroom.Ctx, ids["Fox"], 1))

	names := func() string {
		sh, err := s.Shelf(testroom.Ctx)
		require.NoError(t, err)
		var n []string
		for _, c := range sh.Cards {
			n = append(n, c.Name)
		}
		return strings.Join(n, " ")
	}
	assert.Equal(t, "Gorse flower", names())
	for _, want := range []string{"Gorse flower Fox", "Gorse Fox", "Gorse", ""} {
		_, err = s.StepShelf(testroom.Ctx, testroom.ShelfVersion(t, s), true)
		require.NoError(t, err)
		assert.Equal(t, want, names())
	}
	_, err = s.StepShelf(testroom.Ctx, testroom.ShelfVersion(t, s), true)
	assert.EqualError(t, err, "There is nothing to undo.")
	for _, want := range []string{"Gorse", "Gorse Fox", "Gorse flower Fox", "Gorse flower"} {
		_, err = s.StepShelf(testroom.Ctx, testroom.ShelfVersion(t, s), false)
		require.NoError(t, err)
		assert.Equal(t, want, names())
	}
	undo, redo, _, err := s.ShelfSteps(testroom.Ctx)
	require.NoError(t, err)
	assert.Equal(t, []string{"take Fox off the shelf", ""}, []string{undo, redo})
}

func TestFindAndNearest(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	ids := testroom.Add(t, s, testroom.Five...)
	sh, err := s.Shelf(testroom.Ctx)
	require.NoError(t, err)
	found, families := sh.Find(shelf.Query{Text: "moth WING"})
	require.Len(t, found, 1)
	assert.Equal(t, 1, families[colour.Tan])
	found, families = sh.Find(shelf.Query{Family: "violet"})
	assert.Len(t, found, 2)
	assert.Len(t, sh.Cards, 5)
	assert.Greater(t, len(families), 2, "the other families are still counted")
	found, _ = sh.Find(shelf.Query{Kind: "yarn"})
	assert.Empty(t, found)
	near := sh.Nearest(testroom.Found0(sh).Colour, 2, 0)
	assert.Equal(t, testroom.Found0(sh).ID, near[0].ID)
	assert.Zero(t, near[0].Apart)
	assert.GreaterOrEqual(t, near[1].Apart, near[0].Apart)
	assert.Len(t, sh.Nearest(colour.Lab{L: 50}, 99, testroom.Found0(sh).ID), 4)

	find := func(q shelf.Query) string {
		found, _ := sh.Find(q)
		var names []string
		for _, c := range found {
			names = append(names, strings.Fields(c.Name)[0])
		}
		return strings.Join(names, " ")
	}
	assert.Equal(t, "Lamp Plum Heather Marrow Moth", find(shelf.Query{Sort: "value"}))
	assert.Equal(t, "Moth Marrow Plum Heather Lamp", find(shelf.Query{Sort: "hue"}), "neutrals come last")
	assert.Equal(t, "Heather", strings.Fields(find(shelf.Query{Sort: "near", Near: ids["Heather rail"]}))[0])
	assert.Equal(t, "Marrow", strings.Fields(find(shelf.Query{Sort: "clearness"}))[0])
	assert.Equal(t, "Plum Lamp", find(shelf.Query{Value: "very dark"}))
	assert.Equal(t, "Marrow", find(shelf.Query{Clearness: "clear"}))
	assert.Equal(t, "Moth", find(shelf.Query{Clearness: "muted"}))
	assert.Equal(t, "Plum Heather", find(shelf.Query{Lean: "red"}))
	assert.Empty(t, find(shelf.Query{Finish: "metallic"}))

	// A colour is looked for by its digits, the nearest first; words in names before words elsewhere.
	assert.Equal(t, "Heather Plum", find(shelf.Query{Text: "#8a5a86"})[:12])
	assert.Equal(t, "Marrow", strings.Fields(find(shelf.Query{Text: "rgb(224, 165, 46)"}))[0])
	assert.Empty(t, find(shelf.Query{Text: "#8a5" + "zz"}))
	for name, supplier := range map[string]string{"Reed": "Mill", "Mill reed": "", "Reed grass": "", "Dark reed": "", "Unreedy": ""} {
		_, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: name, Supplier: supplier, Colour: colour.Lab{L: 60}})
		require.NoError(t, err)
	}
	_, err = s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: "Sedge", Supplier: "Reed & Co", Colour: colour.Lab{L: 60}})
	require.NoError(t, err)
	sh, err = s.Shelf(testroom.Ctx)
	require.NoError(t, err)
	got := strings.Fields(find(shelf.Query{Text: "reed"}))
	assert.Equal(t, []string{"Reed", "Reed"}, got[:2], "the whole name, then what starts with it")
	assert.ElementsMatch(t, []string{"Dark", "Mill"}, got[2:4])
	assert.Equal(t, []string{"Unreedy", "Sedge"}, got[4:])
}

func TestBringInAListIsOneStep(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	testroom.Add(t, s, "Gorse=#f1de4a")
	_, err := s.Upload(testroom.Ctx, "x.csv", []byte("a,b\n1,2\n"))
	assert.ErrorContains(t, err, "Not imported")
	id, err := s.Upload(testroom.Ctx, "mine.csv", []byte("name,colour\nGorse,#ffffff\nFox,#b5651d\nBad,#12\nReed,#808040\n"))
	require.NoError(t, err)
	p, err := s.Preview(testroom.Ctx, id)
	require.NoError(t, err)
	assert.Len(t, p.Good, 2)
	assert.Len(t, p.Bad, 1)
	assert.Len(t, p.Updates, 1, "Gorse is there and has another colour")
	sh, _ := s.Shelf(testroom.Ctx)
	assert.Len(t, sh.Cards, 1, "a preview brings nothing in")
	came, err := s.Confirm(testroom.Ctx, id, nil)
	require.NoError(t, err)
	assert.Equal(t, 2, came.Added)
	_, err = s.Confirm(testroom.Ctx, id, nil)
	assert.ErrorContains(t, err, "was imported already")
	label, err := s.StepShelf(testroom.Ctx, testroom.ShelfVersion(t, s), true)
	require.NoError(t, err)
	assert.Equal(t, "import 2 materials from mine.csv", label)
	sh, _ = s.Shelf(testroom.Ctx)
	assert.Len(t, sh.Cards, 1)
	id, err = s.Upload(testroom.Ctx, "bad.csv", []byte("name,colour\nGorse,#ffffff\n"))
	require.NoError(t, err)
	_, err = s.Confirm(testroom.Ctx, id, nil)
	assert.ErrorContains(t, err, "No line of bad.csv")
	_, err = s.Preview(testroom.Ctx, 999)
	assert.ErrorIs(t, err, shelf.ErrNotFound)
}

func TestPlanGoesToAnEmptyShelfAndIsTheSame(t *testing.T) {
	t.Parallel()
	a, b := testroom.Studio(t, stages.All()...), testroom.Studio(t, stages.All()...)
	id, ids := testroom.Quilt(t, a)
	testroom.Do(t, a, id, plan.LeadWith{Material: ids["Heather rail"]})
	testroom.Do(t, a, id, wheelstage.TurnTo{Places: 2})
	testroom.Do(t, a, id, plan.ChoosePiece{Pattern: "curtain", Settings: map[string]float64{"columns": 3}})
	testroom.Do(t, a, id, plan.Swap{Key: 1, With: 3})
	_, out, err := a.Export(testroom.Ctx, id)
	require.NoError(t, err)
	there, err := testroom.Import(b, out)
	require.NoError(t, err)
	_, back, err := b.Export(testroom.Ctx, there)
	require.NoError(t, err)
	first, err := exchange.ReadPlanFile(t.Context(), out)
	require.NoError(t, err)
	second, err := exchange.ReadPlanFile(t.Context(), back)
	require.NoError(t, err)
	assert.Equal(t, len(first.Sections), len(second.Sections))
	assert.Equal(t, len(first.Materials), len(second.Materials))

	again, err := testroom.Import(b, out)
	require.NoError(t, err)
	sh, _ := b.Shelf(testroom.Ctx)
	assert.Len(t, sh.Cards, 5, "known materials are used, not added again")
	_, err = testroom.Import(b, changed(t, out, func(p *exchange.PlanFile) { p.Materials[0].Colour.L += 5 }))
	require.NoError(t, err)
	sh, _ = b.Shelf(testroom.Ctx)
	assert.Len(t, sh.Cards, 6)
	found, _ := sh.Find(shelf.Query{Text: "(Stage curtain)"})
	assert.Len(t, found, 1, "another colour under the same name tells where it comes from")
	plans, err := b.Plans(testroom.Ctx)
	require.NoError(t, err)
	assert.Len(t, plans, 3)
	assert.NotEqual(t, again, there)
	_, err = testroom.Import(b, changed(t, out, func(p *exchange.PlanFile) {
		p.Sections["wheel"] = exchange.PlanSection{Version: 1, Doc: []byte(`{"scheme":"rainbow"}`)}
	}))
	assert.ErrorContains(t, err, "scheme is not possible")
}

// changed is a plan file with something else in it.
func changed(t *testing.T, file []byte, change func(*exchange.PlanFile)) []byte {
	t.Helper()
	p, err := exchange.ReadPlanFile(t.Context(), file)
	require.NoError(t, err)
	change(&p)
	var b bytes.Buffer
	require.NoError(t, exchange.WritePlanFile(&b, p, func(f exchange.ShelfPhoto, _ bool) ([]byte, error) {
		data, _ := p.Content(t.Context(), f, exchange.MaxMeshBytes)
		return data, nil
	}))
	return b.Bytes()
}
