package proportion

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/craft/other"
	"lampfern/core/note"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/stages/brief"
	"lampfern/stages/buy"
	"lampfern/stages/drawing"
	"lampfern/testroom"
)

func TestWaysAndColourways(t *testing.T) {
	s := testroom.Studio(t, Stage(), brief.Stage())
	id, _ := testroom.Quilt(t, s)
	p := testroom.MustOpen(t, s, id)
	found, err := Ways(testroom.Ctx, s, p, WaysAsked{Focus: "spark", Quiet: []string{"ground"}})
	require.NoError(t, err)
	assert.Equal(t, "Tried all 120 arrangements.", found.Words)
	ways := found.Ways
	require.Greater(t, len(ways), 4)
	assert.Contains(t, ways[0].Words, "on the sparks stands out most")
	p = testroom.Do(t, s, id, TakeWay{Fills: ways[1].Fills})
	assert.Equal(t, "1st", Proportion(p).Pulls[0].Words)
	assert.Contains(t, ways[1].Words, Proportion(p).Pulls[0].Name+" on the ", "the stage reads it as the search did")
	again, err := Ways(testroom.Ctx, s, p, WaysAsked{Focus: "spark", Quiet: []string{"ground"}})
	require.NoError(t, err)
	assert.True(t, again.Ways[1].Now)
	// By the amounts of the scrap page the lightest card takes the largest part.
	wanted := testroom.Do(t, s, id, plan.Doing(func(d *plan.Draft) (string, error) {
		for key, amount := range map[string]float64{"Moth wing": .5, "Lamp soot": .2} {
			c := d.Shelf.Named(key).Colour
			d.Plan.Scraps = append(d.Plan.Scraps, plan.Scrap{Key: len(d.Plan.Scraps) + 1, Name: key, L: c.L, A: c.A, B: c.B, Amount: amount})
		}
		return "ask", nil
	}))
	much, err := Ways(testroom.Ctx, s, wanted, WaysAsked{Much: true})
	require.NoError(t, err)
	assert.Equal(t, wanted.Tray[1].Key, much.Ways[0].Fills["ground"])
	assert.Contains(t, much.Ways[0].Words, "% differs from the amounts you asked for.")
	any, err := Ways(testroom.Ctx, s, wanted, WaysAsked{})
	require.NoError(t, err)
	assert.NotContains(t, any.Ways[0].Words, "amounts")
	testroom.Do(t, s, id, plan.Doing(func(d *plan.Draft) (string, error) { d.Plan.Scraps = nil; return "forget", nil }))
	p = testroom.Do(t, s, id, plan.Pin{Part: "ground", On: true})
	pinned, err := Ways(testroom.Ctx, s, p, WaysAsked{})
	require.NoError(t, err)
	for _, w := range pinned.Ways {
		assert.Equal(t, ways[1].Fills["ground"], w.Fills["ground"])
	}

	// What leads is said of any colouring as the stage reads it, also where a card has gone.
	pulls := Proportion(p).Pulls
	said := Reads(p, p.Tray, p.Fill())
	assert.Contains(t, said, fmt.Sprintf("%s draws the eye first, %s %s", pulls[0].Name, words.Times(1/pulls[1].Strong, "strongly"), pulls[1].Name))
	assert.Contains(t, said, "-key overall, in ")
	holed := append([]int{-1}, p.Fill()[1:]...)
	assert.True(t, strings.HasPrefix(Reads(p, p.Tray, holed), "One part has no colour. "))
	assert.Equal(t, "Two parts have no colour. ", Reads(p, p.Tray, []int{-1, -1}))
	all := slices.Repeat([]int{0}, len(p.Fill()))
	assert.True(t, strings.HasPrefix(Reads(p, p.Tray, all), "There is only "+p.Tray[0].Name+"."))

	p = testroom.Do(t, s, id, KeepColourway{Name: "  Spring   house ", Fills: nil})
	assert.Equal(t, "Spring house", p.Colourways[0].Name)
	testroom.Refused(t, s, id, KeepColourway{Name: "", Fills: nil}, "saved already, as Spring house")
	testroom.Do(t, s, id, KeepColourway{Name: "", Fills: ways[0].Fills})
	p = testroom.Do(t, s, id, FavourColourway{Key: 2, On: true})
	views := p.ColourwayViews()
	assert.Equal(t, "Colourway 2", views[0].Name, "the favourite comes first")
	assert.True(t, views[1].Now)
	p = testroom.Do(t, s, id, TakeColourway{Key: 2})
	assert.True(t, p.ColourwayViews()[0].Now)
	p = testroom.Do(t, s, id, NameColourway{Key: 2, Name: "Evening", Remark: "for the long room"})
	assert.Equal(t, "for the long room", p.ColourwayViews()[0].Remark)
	testroom.Refused(t, s, id, NameColourway{Key: 2, Name: " ", Remark: ""}, "a name of at most")
	testroom.Refused(t, s, id, TakeColourway{Key: 9}, "was deleted")

	_, out, err := s.Export(testroom.Ctx, id)
	require.NoError(t, err)
	other := testroom.Studio(t, Stage(), brief.Stage())
	there, err := testroom.Import(other, out)
	require.NoError(t, err)
	assert.Equal(t, p.Colourways, testroom.MustOpen(t, other, there).Colourways)

	// A card set aside stays in the colourways that had it.
	p = testroom.Do(t, s, id, plan.SetAside{Key: p.Tray[0].Key})
	empty := 0
	for _, v := range p.ColourwayViews() {
		for _, l := range v.Labs {
			if l == nil {
				empty++
			}
		}
	}
	assert.Zero(t, empty)
	p = testroom.Do(t, s, id, DropColourway{Key: 1})
	assert.Len(t, p.Colourways, 1)

	_, err = Ways(testroom.Ctx, s, p, WaysAsked{Focus: "roof"})
	assert.ErrorContains(t, err, "no part called")
	scarf, err := testroom.Import(s, []byte(`{"format":"lampfern-plan","version":1,"plan":{"name":"Scarf","craft":"weaving"}}`))
	require.NoError(t, err)
	_, err = Ways(testroom.Ctx, s, testroom.MustOpen(t, s, scarf), WaysAsked{})
	assert.ErrorContains(t, err, "Choose a piece")
	testroom.Refused(t, s, scarf, KeepColourway{Name: "x", Fills: nil}, "Colour the piece first")
}

func TestAFocusThatCannotLeadIsToldWhy(t *testing.T) {
	s := testroom.Studio(t, Stage(), brief.Stage())
	ids := testroom.Add(t, s, "Grey=#8f8f8c", "Ash=#94948f", "Red=#d02028", "Gold=#f0c020", "Blue=#1040c0")
	id, err := s.NewPlan(testroom.Ctx, "Quilt", "quilt")
	require.NoError(t, err)
	for _, n := range []string{"Red", "Gold", "Blue", "Ash", "Grey"} {
		testroom.Do(t, s, id, plan.Pull{Material: ids[n]})
	}
	p := testroom.MustOpen(t, s, id)
	key := 0
	for _, c := range p.Tray {
		if c.Name == "Grey" {
			key = c.Key
		}
	}
	testroom.Do(t, s, id, plan.FillPart{Part: "sashing", Key: key})
	p = testroom.Do(t, s, id, plan.Pin{Part: "sashing", On: true})
	_, err = Ways(testroom.Ctx, s, p, WaysAsked{Focus: "sashing"})
	assert.ErrorContains(t, err, "Grey, pinned to the sashing, cannot be the focal point")
	stopped, cancel := context.WithCancel(testroom.Ctx)
	cancel()
	_, err = Ways(stopped, s, p, WaysAsked{})
	assert.NoError(t, err, "stopped early, it shows the best found")
}

func TestAcrossTheRoom(t *testing.T) {
	s := testroom.Studio(t, Stage(), brief.Stage())
	id, _ := testroom.Quilt(t, s)
	p := testroom.MustOpen(t, s, id)
	assert.Empty(t, Across(p, 2).Blends)
	p = testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "rows", Settings: map[string]float64{"colours": 2, "repeats": 10, "rows": 1,
		"row": 3}})
	got := Across(p, 20).Blends
	require.Len(t, got, 1)
	assert.Contains(t, got[0].Words, p.Tray[0].Name)
	assert.Contains(t, got[0].Words, "too fine to tell apart: together they read as a")
	b := p.Asked()
	b.Distance = 20
	p = testroom.Do(t, s, id, brief.SetBrief{Name: p.Name, Craft: p.Craft, Purpose: p.Purpose(), Brief: b, Limits: b.Limit()})
	far := slices.IndexFunc(Proportion(p).Notes, func(n note.Note) bool { return strings.HasPrefix(n.ID, "brief-far:") })
	require.GreaterOrEqual(t, far, 0, "the notes answer to the brief's distance")
	assert.Equal(t, "From 20 m", Proportion(p).Notes[far].About)
	p = testroom.Do(t, s, id, plan.Dismiss{Note: Proportion(p).Notes[far].ID, Remark: "seen from the stalls only"})
	assert.False(t, slices.ContainsFunc(Proportion(p).Notes, func(n note.Note) bool { return strings.HasPrefix(n.ID, "brief-far:") }))
	on := p.Fill()
	assert.InDelta(t, (p.Tray[on[0]].Colour.XYZ().Y+p.Tray[on[1]].Colour.XYZ().Y)/2, got[0].Colour.XYZ().Y, 1e-9, "half the light of each")
}

func TestAPlanStartsWithAPieceOfItsCraft(t *testing.T) {
	s := testroom.Studio(t, Stage(), brief.Stage())
	for name, want := range map[string]string{"quilt": "curtain", "soap": "soap", "garment": "dress", "painted models": "boat",
		"knitting or crochet": "rows", "weaving": "cloth", "other": "drawn"} {
		id, err := s.NewPlan(testroom.Ctx, "New", name)
		require.NoError(t, err)
		assert.Equal(t, want, testroom.MustOpen(t, s, id).Pattern, name)
	}
}

// A ground under everything is seen nowhere: it is in no way round, no list of what may lead, no trade,
// not counted as empty, and not bought.
func TestWhatIsWhollyCovered(t *testing.T) {
	s := testroom.Studio(t, Stage(), buy.Stage(), drawing.Stage())
	id, _ := testroom.Heap(t, s, "Red=#c0392b", "Blue=#2c5faa", "Sand=#d8c08a")
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "drawn"})
	p := testroom.Do(t, s, id, plan.Doing(plan.InputEdit("draw", func(_ *plan.Draft, in *other.Drawn) error {
		in.Drawing = other.NewDrawing(200, 100)
		in.Drawing.Parts = piece.Parts("part1", "ground", "left", "left", "right", "right")
		for i := range 2 {
			x := 100 * float64(i)
			in.Drawing.Outlines = append(in.Drawing.Outlines, piece.Lay(i+1, piece.At(x, 0), piece.At(x+100, 0), piece.At(x+100, 100), piece.At(x, 100)))
		}
		return nil
	})))
	require.True(t, p.Piece.Covered(0))
	assert.Zero(t, Proportion(testroom.Do(t, s, id, plan.FillPart{Part: "part1"})).Empty, "it wants no card")
	testroom.Do(t, s, id, plan.FillPart{Part: "part1", Key: p.Tray[0].Key})
	p = testroom.Do(t, s, id, plan.FillPart{Part: "left", Key: p.Tray[1].Key})
	p = testroom.Do(t, s, id, plan.FillPart{Part: "right", Key: p.Tray[2].Key})
	v, err := Ways(testroom.Ctx, s, p, WaysAsked{})
	require.NoError(t, err)
	for _, w := range v.Ways {
		assert.Equal(t, p.Tray[0].Colour, *w.Labs[0], "it keeps what it has")
		assert.NotContains(t, w.Words, "ground")
	}
	_, err = Ways(testroom.Ctx, s, p, WaysAsked{Focus: "part1"})
	assert.ErrorContains(t, err, "is hidden by another part")
	_, err = BringOut(s, p, "part1")
	assert.ErrorContains(t, err, "is hidden by another part")
	b, err := buy.View(testroom.Ctx, s, p)
	require.NoError(t, err)
	for _, r := range b.Rows {
		assert.NotEqual(t, "Red", r.Name)
	}
}

// A piece made from a run is not told of what is meant in one: soft edges, one temperature, nothing that leads.
func TestAGradientIsMeantToBeSoft(t *testing.T) {
	s := testroom.Studio(t, Stage(), brief.Stage())
	ids := testroom.Add(t, s, "Dark=#4a2a18", "Brown=#6e4426", "Tan=#96683e", "Sand=#c09a6c", "Cream=#e8d6b4")
	id, err := s.NewPlan(testroom.Ctx, "Gradient", "quilt")
	require.NoError(t, err)
	for _, name := range []string{"Dark", "Brown", "Tan", "Sand", "Cream"} {
		testroom.Do(t, s, id, plan.Pull{Material: ids[name]})
	}
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "strips", Settings: map[string]float64{"strips": 5}})
	kinds := func(order ...int) (out []string) {
		for i, key := range order {
			testroom.Do(t, s, id, plan.FillPart{Part: fmt.Sprintf("strip%d", i+1), Key: key})
		}
		for _, n := range Proportion(testroom.MustOpen(t, s, id)).Notes {
			out = append(out, n.Kind())
		}
		return out
	}
	run := kinds(1, 2, 3, 4, 5)
	assert.NotContains(t, run, "soft")
	assert.NotContains(t, run, "temperature")
	assert.NotContains(t, run, "nofocus")
	mixed := kinds(3, 2, 5, 1, 4)
	assert.Contains(t, mixed, "temperature", "out of order it is no run")
	down := kinds(5, 4, 3, 2, 1)
	assert.NotContains(t, down, "temperature", "from light to dark it is one too")
}
