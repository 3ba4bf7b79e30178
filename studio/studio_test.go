package studio

import (
	"context"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/wheel"
	"lampfern/store"
)

var ctx = context.Background()

func studio(t *testing.T) *Studio {
	t.Helper()
	st, err := store.Open(t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { st.Close() })
	return New(st)
}

// add puts name=hex pairs on the shelf and returns their ids.
func add(t *testing.T, s *Studio, pairs ...string) map[string]uint {
	t.Helper()
	ids := map[string]uint{}
	for _, p := range pairs {
		name, hex, _ := strings.Cut(p, "=")
		rgb, err := colour.ParseHex(hex)
		require.NoError(t, err)
		id, err := s.SaveMaterial(ctx, 0, 0, material.Material{Name: name, Colour: rgb.Lab()})
		require.NoError(t, err)
		ids[name] = id
	}
	return ids
}

var five = []string{"Plum curtain=#4b2346", "Moth wing=#d9cbb0", "Heather rail=#8a5a86", "Marrow flesh=#e0a52e", "Lamp soot=#232226"}

// quilt starts a plan with the five cards in its tray.
func quilt(t *testing.T, s *Studio) (uint, map[string]uint) {
	t.Helper()
	ids := add(t, s, five...)
	id, err := s.NewPlan(ctx, "Stage curtain", "quilt")
	require.NoError(t, err)
	for _, f := range five {
		name, _, _ := strings.Cut(f, "=")
		do(t, s, id, Pull(ids[name]))
	}
	return id, ids
}

func do(t *testing.T, s *Studio, id uint, e Edit) *Plan {
	t.Helper()
	p, err := s.Open(ctx, id)
	require.NoError(t, err)
	require.NoError(t, s.Change(ctx, id, p.Revision, e))
	p, err = s.Open(ctx, id)
	require.NoError(t, err)
	return p
}

func tray(p *Plan) string {
	var names []string
	for _, c := range p.Tray {
		names = append(names, c.Name+":"+joinWords(c.Parts))
	}
	return strings.Join(names, " ")
}

func TestPulledCardsFillThePieceAndGetRoles(t *testing.T) {
	s := studio(t)
	id, ids := quilt(t, s)
	p, err := s.Open(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, "Plum curtain:ground Moth wing:peaks Heather rail:hourglasses Marrow flesh:sparks Lamp soot:sashing", tray(p))
	var roles []balance.Role
	sum := 0.0
	for _, c := range p.Tray {
		roles = append(roles, c.Role)
		sum += c.Share
	}
	assert.InDelta(t, 1, sum, 1e-9)
	assert.Equal(t, []balance.Role{"ground", "support", "support", "accent", "definition"}, roles)
	again := do(t, s, id, Pull(ids["Moth wing"]))
	assert.Equal(t, p.Revision, again.Revision, "pulling a card twice changes nothing")
	assert.Equal(t, "pull Lamp soot", again.Undo)
}

func TestEveryEditIsUndoneAndRedone(t *testing.T) {
	s := studio(t)
	id, ids := quilt(t, s)
	more := add(t, s, "Sixth=#00804a")
	edits := []Edit{
		LeadWith(ids["Heather rail"]), TurnTo(3), Light("analogous", wheel.Variant{Neighbours: 5}), Swap(1, 4), Move(5, 0), SetAside(2),
		Fill("peak", 3), Fill("peak", 0), Pull(more["Sixth"]), ChoosePiece("strips", map[string]float64{"strips": 4}), FillRest(), Dismiss("nofocus", ""), ShowNotes(),
		Describe("Fore curtain", "garment", "for the spring tour"), PutAway(true),
	}
	state := func() string {
		p, err := s.Open(ctx, id)
		require.NoError(t, err)
		return strings.Join([]string{tray(p), p.Name, p.Craft, p.Purpose, p.Scheme, p.Template, strings.Join(p.Dismissed, ",")}, "|") +
			string(rune('0'+p.Turn)) + string(rune('0'+p.Neighbours)) + map[bool]string{true: "away"}[p.PutAway]
	}
	states := []string{state()}
	for _, e := range edits {
		do(t, s, id, e)
		if now := state(); now != states[len(states)-1] {
			states = append(states, now)
		}
	}
	require.Greater(t, len(states), 12)
	step := func(undo bool) {
		p, err := s.Open(ctx, id)
		require.NoError(t, err)
		_, err = s.StepPlan(ctx, id, p.Revision, undo)
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
	p, _ := s.Open(ctx, id)
	_, err := s.StepPlan(ctx, id, p.Revision, false)
	assert.EqualError(t, err, "There is nothing to redo.")
}

func TestLaterSaveOfAnOldPageIsTold(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	p, err := s.Open(ctx, id)
	require.NoError(t, err)
	require.NoError(t, s.Change(ctx, id, p.Revision, SetAside(1)))
	assert.ErrorIs(t, s.Change(ctx, id, p.Revision, SetAside(2)), ErrConflict)
	_, err = s.StepPlan(ctx, id, p.Revision, true)
	assert.ErrorIs(t, err, ErrConflict)
	now, err := s.Open(ctx, id)
	require.NoError(t, err)
	assert.Len(t, now.Tray, 4)
}

func TestRefusals(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	p, err := s.Open(ctx, id)
	require.NoError(t, err)
	for want, e := range map[string]Edit{
		"no longer on the shelf":     Pull(99),
		"no longer in the tray":      SetAside(99),
		"no such part":               Fill("sleeve", 1),
		"cannot be lit":              Light("rainbow", wheel.Variant{}),
		"cannot be made":             ChoosePiece("curtain", map[string]float64{"columns": 99}),
		"Give the plan a name":       Describe(" ", "quilt", ""),
		"is not known":               Describe("x", "plumbing", ""),
		"purpose is longer":          Describe("x", "quilt", strings.Repeat("x", 501)),
		"material is no longer":      LeadWith(99),
		"card is no longer":          Swap(1, 99),
		"choose a whole number from": ChoosePiece("strips", map[string]float64{"strips": 2.5}),
	} {
		err := s.Change(ctx, id, p.Revision, e)
		var r Refusal
		require.ErrorAs(t, err, &r, want)
		assert.ErrorContains(t, err, want)
	}
	after, err := s.Open(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, p.Revision, after.Revision, "a refused edit changes nothing")
	_, err = s.NewPlan(ctx, strings.Repeat("x", 61), "quilt")
	assert.ErrorContains(t, err, "60 characters")
	_, err = s.Open(ctx, 4711)
	assert.ErrorIs(t, err, ErrNotFound)
}

func TestWheelStage(t *testing.T) {
	s := studio(t)
	id, ids := quilt(t, s)
	add(t, s, "Gorse=#f1de4a", "Grass=#2faf5a", "Fir=#1f3b2d")
	do(t, s, id, LeadWith(ids["Heather rail"]))
	p := do(t, s, id, Light("split complementary", wheel.Variant{}))
	v, err := p.Wheel([2]int{})
	require.NoError(t, err)
	require.Len(t, v.Lit, 3)
	assert.True(t, v.Lit[0].IsLead)
	assert.InDelta(t, p.Lead.Place(wheel.Pigment), v.LeadPlace, 1e-12)
	assert.Contains(t, v.Lit[0].Matches, p.Lead)
	for _, l := range v.Lit {
		for _, c := range l.Matches {
			assert.LessOrEqual(t, wheel.Apart(c.Place(wheel.Pigment), l.Place), matchWithin)
		}
	}
	owned := 0
	for _, f := range v.Fronds {
		for _, l := range f.Leaflets {
			owned += len(l.Cards)
		}
	}
	assert.Equal(t, 7, owned, "every card with a hue hangs on the wheel once, the neutral one nowhere")

	p = do(t, s, id, TurnTo(-1))
	v, err = p.Wheel([2]int{})
	require.NoError(t, err)
	assert.Equal(t, 11, p.Turn)
	assert.True(t, v.Turned)
	assert.InDelta(t, 1, wheel.Apart(v.LeadPlace, p.Lead.Place(wheel.Pigment)), 1e-9)

	p = do(t, s, id, Light("achromatic", wheel.Variant{}))
	v, err = p.Wheel([2]int{})
	require.NoError(t, err)
	assert.Empty(t, v.Lit)
	assert.NotEmpty(t, v.Neutrals)
	p = do(t, s, id, LeadWith(ids["Lamp soot"]))
	v, _ = p.Wheel([2]int{})
	assert.Contains(t, v.Notes[0].Words, "neutral")
}

func TestGapNote(t *testing.T) {
	s := studio(t)
	ids := add(t, s, "Willow lining=#5c7a5a")
	id, err := s.NewPlan(ctx, "x", "garment")
	require.NoError(t, err)
	p := do(t, s, id, LeadWith(ids["Willow lining"]))
	v, err := p.Wheel([2]int{})
	require.NoError(t, err)
	text := ""
	for _, n := range v.Notes {
		text += n.About + n.Words + "\n"
	}
	// #5c7a5a has L* 48.0; a light one starts at 66: 1.8 steps.
	assert.Contains(t, text, "Closest is Willow lining, 1.8 value steps darker.")
	assert.Contains(t, text, "The nearest hue is Willow lining")
}

func TestValuesAndProportionStages(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	p, err := s.Open(ctx, id)
	require.NoError(t, err)
	v := p.Values("")
	assert.Equal(t, "Lamp soot", v.Cards[0].Name)
	assert.True(t, v.Mixed, "a palette of several hues is read by value alone")
	assert.Empty(t, v.Run.Strays)

	pr := p.Proportion()
	assert.Zero(t, pr.Empty)
	assert.InDelta(t, 1, pr.Warm+pr.Cool+pr.Grey, 1e-9)
	assert.Equal(t, "first look", pr.Pulls[0].Words)
	assert.InDelta(t, 1, pr.Pulls[0].Strong, 1e-12)
	soft := ""
	for _, n := range pr.Notes {
		if strings.HasPrefix(n.ID, "soft:5:1") {
			soft = n.ID
		}
	}
	require.NotEmpty(t, soft, "soot sashing is soft on the plum ground")
	p = do(t, s, id, Dismiss(soft, " meant  so "))
	after := p.Proportion()
	require.Len(t, after.Hidden, 1)
	assert.Equal(t, "meant so", after.Hidden[0].Remark)
	assert.Len(t, after.Notes, len(pr.Notes)-1)
	p = do(t, s, id, ShowNote(soft))
	assert.Len(t, p.Proportion().Notes, len(pr.Notes))
	assert.Empty(t, p.Remarks)
	refused(t, s, id, Dismiss(soft, strings.Repeat("x", 161)), "at most 160 characters")
}

func TestShelfEditsUndoAndTwoTabs(t *testing.T) {
	s := studio(t)
	ids := add(t, s, "Gorse=#f1de4a", "Fox=#b5651d")
	sh, err := s.Shelf(ctx)
	require.NoError(t, err)
	c, err := sh.Card(ids["Gorse"])
	require.NoError(t, err)
	m := c.Material
	m.Name, m.Lot = "Gorse flower", "12"
	_, err = s.SaveMaterial(ctx, c.ID, c.Revision, m)
	require.NoError(t, err)
	_, err = s.SaveMaterial(ctx, c.ID, c.Revision, m)
	assert.ErrorIs(t, err, ErrConflict)
	_, err = s.SaveMaterial(ctx, 0, 0, material.Material{Name: "FOX"})
	assert.ErrorContains(t, err, "on the shelf already")
	_, err = s.SaveMaterial(ctx, 999, 1, material.Material{Name: "x"})
	assert.ErrorIs(t, err, ErrNotFound)
	require.NoError(t, s.TakeOff(ctx, ids["Fox"]))

	names := func() string {
		sh, err := s.Shelf(ctx)
		require.NoError(t, err)
		var n []string
		for _, c := range sh.Cards {
			n = append(n, c.Name)
		}
		return strings.Join(n, " ")
	}
	assert.Equal(t, "Gorse flower", names())
	for _, want := range []string{"Gorse flower Fox", "Gorse Fox", "Gorse", ""} {
		_, err = s.StepShelf(ctx, true)
		require.NoError(t, err)
		assert.Equal(t, want, names())
	}
	_, err = s.StepShelf(ctx, true)
	assert.EqualError(t, err, "There is nothing to undo.")
	for _, want := range []string{"Gorse", "Gorse Fox", "Gorse flower Fox", "Gorse flower"} {
		_, err = s.StepShelf(ctx, false)
		require.NoError(t, err)
		assert.Equal(t, want, names())
	}
	undo, redo, err := s.ShelfSteps(ctx)
	require.NoError(t, err)
	assert.Equal(t, []string{"take Fox off the shelf", ""}, []string{undo, redo})
}

func TestFindAndNearest(t *testing.T) {
	s := studio(t)
	ids := add(t, s, five...)
	sh, err := s.Shelf(ctx)
	require.NoError(t, err)
	found, families := sh.Find(Query{Text: "moth WING"})
	require.Len(t, found, 1)
	assert.Equal(t, 1, families[colour.Tan])
	found, families = sh.Find(Query{Family: "violet"})
	assert.Len(t, found, 2)
	assert.Len(t, sh.Cards, 5)
	assert.Greater(t, len(families), 2, "the other families are still counted")
	found, _ = sh.Find(Query{Kind: "yarn"})
	assert.Empty(t, found)
	near := sh.Nearest(found0(sh).Colour, 2, 0)
	assert.Equal(t, found0(sh).ID, near[0].ID)
	assert.Zero(t, near[0].Apart)
	assert.GreaterOrEqual(t, near[1].Apart, near[0].Apart)
	assert.Len(t, sh.Nearest(colour.Lab{L: 50}, 99, found0(sh).ID), 4)

	find := func(q Query) string {
		found, _ := sh.Find(q)
		var names []string
		for _, c := range found {
			names = append(names, strings.Fields(c.Name)[0])
		}
		return strings.Join(names, " ")
	}
	assert.Equal(t, "Lamp Plum Heather Marrow Moth", find(Query{Sort: "value"}))
	assert.Equal(t, "Moth Marrow Plum Heather Lamp", find(Query{Sort: "hue"}), "neutrals come last")
	assert.Equal(t, "Heather", strings.Fields(find(Query{Sort: "near", Near: ids["Heather rail"]}))[0])
	assert.Equal(t, "Marrow", strings.Fields(find(Query{Sort: "clearness"}))[0])
	assert.Equal(t, "Plum Lamp", find(Query{Value: "very dark"}))
	assert.Equal(t, "Marrow", find(Query{Clearness: "clear"}))
	assert.Equal(t, "Moth", find(Query{Clearness: "greyed"}))
	assert.Equal(t, "Plum Heather", find(Query{Lean: "red"}))
	assert.Empty(t, find(Query{Finish: "metallic"}))
}

func found0(sh *Shelf) *Card { return sh.Cards[0] }

func TestBringInAListIsOneStep(t *testing.T) {
	s := studio(t)
	add(t, s, "Gorse=#f1de4a")
	_, err := s.Upload(ctx, "x.csv", []byte("a,b\n1,2\n"))
	assert.ErrorContains(t, err, "Nothing was brought in")
	id, err := s.Upload(ctx, "mine.csv", []byte("name,colour\nGorse,#ffffff\nFox,#b5651d\nBad,#12\nReed,#808040\n"))
	require.NoError(t, err)
	p, err := s.Preview(ctx, id)
	require.NoError(t, err)
	assert.Len(t, p.Good, 2)
	assert.Len(t, p.Bad, 2)
	sh, _ := s.Shelf(ctx)
	assert.Len(t, sh.Cards, 1, "a preview brings nothing in")
	n, err := s.Confirm(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, 2, n)
	_, err = s.Confirm(ctx, id)
	assert.ErrorContains(t, err, "brought in already")
	label, err := s.StepShelf(ctx, true)
	require.NoError(t, err)
	assert.Equal(t, "bring in 2 materials from mine.csv", label)
	sh, _ = s.Shelf(ctx)
	assert.Len(t, sh.Cards, 1)
	id, err = s.Upload(ctx, "bad.csv", []byte("name,colour\nGorse,#ffffff\n"))
	require.NoError(t, err)
	_, err = s.Confirm(ctx, id)
	assert.ErrorContains(t, err, "No line of bad.csv")
	_, err = s.Preview(ctx, 999)
	assert.ErrorIs(t, err, ErrNotFound)
}

func TestPlanGoesToAnEmptyShelfAndIsTheSame(t *testing.T) {
	a, b := studio(t), studio(t)
	id, ids := quilt(t, a)
	do(t, a, id, LeadWith(ids["Heather rail"]))
	do(t, a, id, TurnTo(2))
	do(t, a, id, ChoosePiece("curtain", map[string]float64{"columns": 3}))
	do(t, a, id, Swap(1, 3))
	out, err := a.ExportPlan(ctx, id)
	require.NoError(t, err)
	there, err := b.ImportPlan(ctx, out)
	require.NoError(t, err)
	back, err := b.ExportPlan(ctx, there)
	require.NoError(t, err)
	assert.Equal(t, out, back)

	again, err := b.ImportPlan(ctx, out)
	require.NoError(t, err)
	sh, _ := b.Shelf(ctx)
	assert.Len(t, sh.Cards, 5, "known materials are used, not added again")
	out.Materials[0].Colour.L += 5
	_, err = b.ImportPlan(ctx, out)
	require.NoError(t, err)
	sh, _ = b.Shelf(ctx)
	assert.Len(t, sh.Cards, 6)
	found, _ := sh.Find(Query{Text: "(Stage curtain)"})
	assert.Len(t, found, 1, "another colour under the same name tells where it comes from")
	plans, err := b.Plans(ctx)
	require.NoError(t, err)
	assert.Len(t, plans, 3)
	assert.NotEqual(t, again, there)
	out.Scheme = "rainbow"
	_, err = b.ImportPlan(ctx, out)
	assert.ErrorContains(t, err, "cannot be lit")
}
