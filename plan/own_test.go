package plan_test

import (
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/craft/other"
	"lampfern/core/craft/yarn"
	"lampfern/core/note"
	"lampfern/core/piece"
	"lampfern/exchange"
	"lampfern/plan"
	"lampfern/stages"
	"lampfern/stages/brief"
	"lampfern/stages/draft"
	"lampfern/stages/drawing"
	"lampfern/stages/proportion"
	"lampfern/stages/stitches"
	"lampfern/testroom"
)

func TestPinnedAndGroupedPartsStayTogether(t *testing.T) {
	testroom.Slow(t)
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	id, _ := testroom.Quilt(t, s)
	p := testroom.MustOpen(t, s, id)
	ground, peak := testroom.FillOf(p, "ground"), testroom.FillOf(p, "peak")
	testroom.Do(t, s, id, plan.Pin{Part: "ground", On: true})
	testroom.Refused(t, s, id, plan.FillPart{Part: "ground", Key: p.Tray[2].Key}, "The ground is pinned")
	p = testroom.Do(t, s, id, plan.Swap{Key: p.Tray[0].Key, With: p.Tray[1].Key})
	assert.Equal(t, ground, testroom.FillOf(p, "ground"), "a swap leaves it")
	assert.Equal(t, ground, testroom.FillOf(p, "peak"))
	p = testroom.Do(t, s, id, plan.ReverseFills{})
	assert.Equal(t, ground, testroom.FillOf(p, "ground"))
	p = testroom.Do(t, s, id, plan.Pin{Part: "ground", On: false})
	assert.Empty(t, p.Pinned)
	assert.NotEqual(t, peak, ground)

	testroom.Refused(t, s, id, plan.Group{Parts: []string{"spark"}}, "Tick at least two parts")
	p = testroom.Do(t, s, id, plan.Group{Parts: []string{"sashing", "spark", "nowhere"}})
	assert.Equal(t, [][]string{{"spark", "sashing"}}, p.Groups)
	assert.Equal(t, testroom.FillOf(p, "spark"), testroom.FillOf(p, "sashing"))
	p = testroom.Do(t, s, id, plan.FillPart{Part: "sashing", Key: p.Tray[0].Key})
	assert.Equal(t, p.Tray[0].Name, testroom.FillOf(p, "spark"), "one card for both")
	ways, err := proportion.Ways(testroom.Ctx, s, p, proportion.WaysAsked{Focus: "spark"})
	require.NoError(t, err)
	for _, w := range ways.Ways {
		assert.Equal(t, w.Fills["spark"], w.Fills["sashing"])
	}
	p = testroom.Do(t, s, id, plan.Ungroup{Part: "spark"})
	assert.Empty(t, p.Groups)
	testroom.Do(t, s, id, plan.FillPart{Part: "spark", Key: 0})
	testroom.Refused(t, s, id, plan.Pin{Part: "spark", On: true}, "has no colour to pin")
	testroom.Refused(t, s, id, plan.Pin{Part: "nowhere", On: true}, "no such part")
	testroom.Refused(t, s, id, plan.FillAt{Across: .5, Down: .5, Key: p.Tray[0].Key}, "no part at that place")
}

func TestAClothIsOrderedAndDrafted(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	id, _ := testroom.Quilt(t, s)
	testroom.Refused(t, s, id, draft.SetOrders{Warp: "8A", Weft: "8A"}, "changed in the meantime")
	p := testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "cloth", Settings: map[string]float64{"width": 100, "length": 200, "ends": 4,
		"picks": 4}})
	assert.Len(t, p.Piece.Parts, 4)
	p = testroom.Do(t, s, id, draft.SetOrders{Warp: "12A 10mm B", Weft: "8A 2C"})
	v, err := draft.Cloth(p)
	require.NoError(t, err)
	assert.Equal(t, []string{"12A 4B", "8A 2C", "plain"}, []string{v.Warp, v.Weft, v.Structure})
	assert.Equal(t, []int{48, 80}, []int{v.Ends, v.Picks})
	assert.Equal(t, "A", v.Yarns[0].Letter)
	// Three whole orders of 12A 4B come nearest to 40 ends (2.5 of them); 80 picks are 8A 2C eight times.
	assert.Equal(t, []int{36 + 64, 12, 16}, []int{v.Yarns[0].Count, v.Yarns[1].Count, v.Yarns[2].Count})
	assert.InDelta(t, .5, v.WarpShare, 1e-12)
	testroom.Refused(t, s, id, draft.SetOrders{Warp: "1mm A", Weft: "8A"},
		"The order of the warp cannot be read: a stripe of 1 mm is thinner than one thread")
	testroom.Refused(t, s, id, draft.SetOrders{Warp: "8A", Weft: "8"}, "The order of the weft")
	p = testroom.Do(t, s, id, draft.TurnOrder{Weft: false})
	v, err = draft.Cloth(p)
	require.NoError(t, err)
	assert.Equal(t, "4B 12A", v.Warp)
	p = testroom.Do(t, s, id, draft.WeaveAsWarped{})
	v, err = draft.Cloth(p)
	require.NoError(t, err)
	assert.Equal(t, v.Warp, v.Weft)
	assert.Len(t, p.Piece.Parts, 2, "yarn C is no longer used")
	assert.Len(t, p.Fills, 2)

	p = testroom.Do(t, s, id, draft.SetDraft{Threading: "1-4", TieUp: "1+2, 2+3, 3+4, 4+1", Treadling: "1-4"})
	v, err = draft.Cloth(p)
	require.NoError(t, err)
	assert.Equal(t, []string{"your own draft", "1 2 3 4", "1+2, 2+3, 3+4, 4+1"}, []string{v.Structure, v.Threading, v.TieUp})
	p = testroom.Do(t, s, id, draft.MarkDraft{Grid: draft.TieUpGrid, Across: 1, Down: 2}) // clears
	v, err = draft.Cloth(p)
	require.NoError(t, err)
	assert.Equal(t, "1, 2+3, 3+4, 4+1", v.TieUp)
	testroom.Do(t, s, id, draft.MarkDraft{Grid: draft.ThreadingGrid, Across: 2, Down: 4})
	p = testroom.Do(t, s, id, draft.MarkDraft{Grid: draft.TreadlingGrid, Across: 3, Down: 1})
	v, err = draft.Cloth(p)
	require.NoError(t, err)
	assert.Equal(t, []string{"1 4 3 4", "3 2 3 4"}, []string{v.Threading, v.Treadling})
	testroom.Refused(t, s, id, draft.SetDraft{Threading: "1-4", TieUp: "1, 2", Treadling: "1-3"},
		"pick 3 is on treadle 3 and the tie-up has 2")
	testroom.Refused(t, s, id, draft.SetDraft{Threading: "1-4", TieUp: "1, 0, 3", Treadling: "1 2"}, "pick 2 lifts no shaft")
	testroom.Refused(t, s, id, draft.SetDraft{Threading: "1-4", TieUp: "1, 7", Treadling: "1 2"}, "pick 2 lifts no end")
	testroom.Refused(t, s, id, draft.SetDraft{Threading: "x", TieUp: "1", Treadling: "1"}, "The threading cannot be read")
	testroom.Refused(t, s, id, draft.MarkDraft{Grid: draft.ThreadingGrid, Across: 99, Down: 1}, "not in the draft")

	p = testroom.Do(t, s, id, draft.SetDraft{Threading: "1 1 2", TieUp: "1", Treadling: "1"})
	floats := 0
	for _, n := range proportion.Proportion(p).Notes {
		if n.ID == "warpfloat" || n.ID == "weftfloat" {
			floats++
		}
	}
	assert.Equal(t, 1, floats, "the warp is never tied down; the weft floats over two ends")
	key := p.Tray[3].Key
	p = testroom.Do(t, s, id, plan.FillAt{Across: .01, Down: .01, Key: key})
	assert.Equal(t, p.Tray[3].Name, testroom.FillOf(p, p.Piece.Parts[p.Piece.Cells.At(1, 1)].Key))
}

// inOrder chooses a piece whose parts take the cards in their order, and not in the best arrangement.
func inOrder(t *testing.T, s *plan.Desk, id uint, e plan.ChoosePiece) *plan.Plan {
	t.Helper()
	p := testroom.Do(t, s, id, e)
	for _, part := range p.Piece.Parts {
		testroom.Do(t, s, id, plan.FillPart{Part: part.Key})
	}
	return testroom.Do(t, s, id, plan.FillRest{})
}

func TestABattenResizesTheStripesOfACloth(t *testing.T) {
	testroom.Slow(t)
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	id, _ := testroom.Quilt(t, s)
	p := inOrder(t, s, id, plan.ChoosePiece{Pattern: "cloth", Settings: map[string]float64{"width": 200, "length": 400}})
	words, err := takeShare(s, id, p.Revision, p.Tray[2].Key, .2)
	require.NoError(t, err)
	assert.Contains(t, words, "warp 16A 6B")
	p = testroom.MustOpen(t, s, id)
	assert.InDelta(t, .2, p.Tray[2].Share, .02)
}

func TestRowsAreOrdered(t *testing.T) {
	testroom.Slow(t)
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	id, _ := testroom.Quilt(t, s)
	p := inOrder(t, s, id, plan.ChoosePiece{Pattern: "rows", Settings: map[string]float64{"colours": 3, "rows": 6, "order": 1, "row": 4}})
	assert.Equal(t, "6A 2B 6C", testroom.Line(p))
	p = testroom.Do(t, s, id, proportion.WriteInput{Text: "10A 8mm B"})
	assert.Equal(t, "10A 2B", testroom.Line(p))
	assert.InDelta(t, 10./12, p.Piece.Shares[0], 1e-12)
	words, err := takeShare(s, id, p.Revision, p.Tray[1].Key, .5)
	require.NoError(t, err)
	assert.Contains(t, words, "rows 10A 10B")
	testroom.Refused(t, s, id, proportion.WriteInput{Text: "0A"}, "The order of the rows cannot be read: a stripe of 0 threads")
	testroom.Refused(t, s, id, proportion.WriteInput{Text: "1mm A"}, "thinner than one thread: make it at least 4 mm")
	p = testroom.Do(t, s, id, proportion.WriteInput{Text: " "})
	assert.Len(t, p.Piece.Parts, 3)
}

func TestAChartIsPaintedAndSized(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	id, _ := testroom.Quilt(t, s)
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "stranded", Settings: nil})
	p := testroom.Do(t, s, id, stitches.WriteChart{Text: "aab\nabb"})
	v, err := stitches.Stranded(p)
	require.NoError(t, err)
	assert.Equal(t, yarn.Chart{"AAB", "ABB"}, v.Chart)
	assert.Equal(t, []int{3, 3}, []int{v.Yarns[0].Count, v.Yarns[1].Count})
	p = testroom.Do(t, s, id, stitches.PaintChart{Stitches: [][2]int{{0, 0}, {1, 0}}, Yarn: 2})
	v, err = stitches.Stranded(p)
	require.NoError(t, err)
	assert.Equal(t, yarn.Chart{"CCB", "ABB"}, v.Chart)
	assert.Equal(t, "DEFGHIJKLMNOPQRST", v.Unused)
	p = testroom.Do(t, s, id, stitches.SizeChart{Across: 4, Down: 3})
	v, err = stitches.Stranded(p)
	require.NoError(t, err)
	assert.Equal(t, yarn.Chart{"CCBA", "ABBA", "AAAA"}, v.Chart)
	testroom.Do(t, s, id, stitches.MirrorChart{Upright: true})
	p = testroom.Do(t, s, id, stitches.MirrorChart{Upright: false})
	v, err = stitches.Stranded(p)
	require.NoError(t, err)
	assert.Equal(t, yarn.Chart{"AAAA", "ABBA", "ABCC"}, v.Chart)
	for _, size := range []int{0, 401} {
		testroom.Refused(t, s, id, stitches.SizeChart{Across: size, Down: 4}, "1 to 400 stitches each way")
	}
	p = testroom.Do(t, s, id, stitches.SizeChart{Across: 1, Down: 1})
	assert.Len(t, p.Piece.Parts, 1)
	_, err = proportion.Ways(testroom.Ctx, s, p, proportion.WaysAsked{})
	assert.ErrorContains(t, err, "only one part to colour")
	assert.True(t, hasNote(p, "onepart"))
	testroom.Refused(t, s, id, stitches.SizeChart{Across: 400, Down: 400}, "choose fewer repeats")
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "stranded", Settings: map[string]float64{"across": 1, "up": 1}})
	testroom.Do(t, s, id, stitches.SizeChart{Across: 400, Down: 400})
	testroom.Refused(t, s, id, stitches.WriteChart{Text: ""}, "The chart is empty")
	testroom.Refused(t, s, id, stitches.WriteChart{Text: "AB A"}, "row 2 of the chart has 1 stitches")
	testroom.Refused(t, s, id, stitches.PaintChart{Stitches: nil, Yarn: 20}, "at most 20 yarns")
	testroom.Refused(t, s, id, plan.ChoosePiece{Pattern: "stranded", Settings: map[string]float64{"stitch": 0}},
		"stitch width: choose a number from 1 to 12")
}

func TestADrawingIsDrawn(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	id, _ := testroom.Quilt(t, s)
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "drawn", Settings: nil})
	testroom.Do(t, s, id, drawing.SizeDrawing{Width: 100, Height: 50, Across: 2, Down: 1})
	testroom.Do(t, s, id, drawing.AddOutline{Part: "leaf", Corners: []piece.Point{{X: 10, Y: 10}, {X: 60, Y: 10}, {X: 60, Y: 40},
		{X: 10, Y: 40}}})
	p := testroom.Do(t, s, id, drawing.AddOutline{Part: " Sun ", Corners: piece.Disc(piece.Point{X: 95, Y: 5}, 10)})
	v, err := drawing.Drawn(p)
	require.NoError(t, err)
	require.Len(t, v.Outlines, 3)
	assert.InDelta(t, 2*1500, p.Piece.Areas()[1], 1e-6, "set twice")
	assert.InDelta(t, 200, p.Piece.Width, 1e-9)
	for _, c := range v.Outlines[2].Corners {
		assert.LessOrEqual(t, c.X, 100.0, "held to the drawing")
	}
	p = testroom.Do(t, s, id, drawing.MoveOutline{At: 1, DX: 500, DY: 0})
	assert.InDelta(t, 100, plan.Input[other.Drawn](p).Drawing.Outlines[1].Corners[1].X, 1e-9, "as far as it reaches")
	testroom.Do(t, s, id, drawing.CopyOutline{At: 1})
	p = testroom.Do(t, s, id, drawing.NameOutline{At: 3, Part: "leaf again"})
	assert.Equal(t, "leaf again", p.Piece.Parts[3].Name)
	testroom.Do(t, s, id, drawing.RaiseOutline{At: 3, Lower: true})
	testroom.Refused(t, s, id, drawing.RaiseOutline{At: 3, Lower: false}, "at the top already")
	p = testroom.Do(t, s, id, drawing.SizeDrawing{Width: 200, Height: 100, Across: 1, Down: 1})
	assert.InDelta(t, 200, plan.Input[other.Drawn](p).Drawing.Outlines[0].Corners[1].X, 1e-9, "outlines grow along")
	// A part under another cannot be seen, and the stage says so.
	p = testroom.Do(t, s, id, drawing.AddOutline{Part: "lid", Corners: []piece.Point{{}, {X: 200}, {X: 200, Y: 100}, {Y: 100}}})
	assert.True(t, hasNote(p, "unseen:"))
	p = testroom.Do(t, s, id, drawing.DropOutline{At: 4})
	assert.False(t, hasNote(p, "unseen:"))
	assert.Len(t, p.Piece.Parts, 4)
	for _, c := range []struct {
		e     plan.Edit
		words string
	}{
		{drawing.AddOutline{Part: "x", Corners: []piece.Point{{X: 1}, {X: 2}}}, "at least three corners"},
		{drawing.AddOutline{Part: "x", Corners: []piece.Point{{X: 1}, {X: 2}, {X: 3}}}, "has no area"},
		{drawing.AddOutline{Part: "  ", Corners: piece.Disc(piece.Point{X: 9, Y: 9}, 4)}, "Name the part"},
		{drawing.SizeDrawing{Width: 0, Height: 50, Across: 1, Down: 1}, "1 mm to 20 m"},
		{drawing.SizeDrawing{Width: 1e6, Height: 50, Across: 1, Down: 1}, "1 mm to 20 m"},
		{drawing.SizeDrawing{Width: 50, Height: 50, Across: 0, Down: 1}, "repeated 1 to 24"},
		{drawing.DropOutline{At: 99}, "shape was removed"},
	} {
		testroom.Refused(t, s, id, c.e, c.words)
	}
}

func TestOwnPiecesTravelInPlanFiles(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	id, _ := testroom.Quilt(t, s)
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "cloth", Settings: map[string]float64{"width": 100}})
	testroom.Do(t, s, id, draft.SetDraft{Threading: "1 2", TieUp: "1, 2", Treadling: "1 2"})
	testroom.Do(t, s, id, draft.SetOrders{Warp: "3A 4B", Weft: "2A"})
	testroom.Do(t, s, id, plan.Pin{Part: "yarn1", On: true})
	p := testroom.Do(t, s, id, plan.Dismiss{Note: "flat", Remark: "by candle"})
	_, out, err := s.Export(testroom.Ctx, id)
	require.NoError(t, err)
	other := testroom.Studio(t, stages.All()...)
	again, err := testroom.Import(other, out)
	require.NoError(t, err)
	q := testroom.MustOpen(t, other, again)
	assert.Equal(t, p.Put(), q.Put())
	assert.Equal(t, []any{p.Pinned, p.Remarks}, []any{q.Pinned, q.Remarks})
	assert.Equal(t, p.Piece.Shares, q.Piece.Shares)
	_, err = testroom.Import(other, changed(t, out, func(f *exchange.PlanFile) {
		in := f.Sections["input"]
		in.Doc = []byte(regexp.MustCompile(`"threads": ?3`).ReplaceAllString(string(in.Doc), `"threads":0`))
		f.Sections["input"] = in
	}))
	assert.ErrorContains(t, err, "The piece in the file is not possible")
}

func TestNotesSayWhatCouldBeDone(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	id, _ := testroom.Quilt(t, s)
	testroom.Add(t, s, "Pale plum=#d9b8d4", "Bright sun=#ffd21e")
	p := testroom.MustOpen(t, s, id)
	seen := map[string]bool{}
	for _, n := range proportion.Proportion(p).Notes {
		kind, _, _ := strings.Cut(n.ID, ":")
		if m := proportion.MendOf(p, n); m != nil {
			seen[kind] = true
			assert.NotEmpty(t, m.Label)
			assert.True(t, m.Find != nil || m.Material != 0 || m.Ways || m.Own || m.Open != "" || m.Far > 0)
		}
	}
	assert.True(t, seen["soft"])
	// Lighter cards of the family are offered, where the shelf has them.
	m := proportion.MendOf(p, note.Note{ID: "lost:1:5", Grade: note.Fix, Aside: -1, Cards: []int{0, 4}})
	require.NotNil(t, m)
	assert.Contains(t, m.Label, "lighter")
	require.NotNil(t, m.Find)
	found, _ := p.Shelf.Find(*m.Find)
	assert.NotEmpty(t, found)
	equal := proportion.MendOf(p, note.Note{ID: "nofocus", Grade: note.Consider, Aside: -1, Cards: []int{3, 1}})
	require.NotNil(t, equal)
	assert.True(t, !equal.Ways && equal.Open != "", "the curtain leads clearly, so that no way round mends what is not")
	// Warning stripes are mended by another card, whatever way round they lie.
	swap := proportion.MendOf(p, note.Note{ID: "takenfor:warning", Grade: note.Consider, Aside: -1, Cards: []int{3, 4}})
	require.NotNil(t, swap)
	assert.Equal(t, p.Tray[3].Key, swap.Card)
	assert.False(t, p.Holds(swap.Material) || swap.Material == 0)
	assert.Contains(t, proportion.MendOf(p, note.Note{ID: "muted", Grade: note.Consider, Aside: -1, Cards: []int{0}}).Label, "clear card")
	assert.Contains(t, proportion.MendOf(p, note.Note{ID: "temperature", About: "All is cool", Grade: note.Consider, Aside: -1}).Label, "card")
	assert.NotNil(t, proportion.MendOf(p, note.Note{ID: "flat", Grade: note.Consider, Aside: -1, Cards: []int{0, 1}}))
}

func TestSecondThreads(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	id, _ := testroom.Quilt(t, s)
	p := testroom.MustOpen(t, s, id)
	v, err := proportion.Seconds(p, p.Tray[1].Key, "rows")
	require.NoError(t, err)
	assert.Equal(t, p.Tray[1].Name, v.First.Name)
	assert.Equal(t, .5, v.Structure.Share)
	require.Len(t, v.Schools, 3)
	assert.Len(t, v.Schools[0].Found, len(p.Tray)-1, "every other card of the tray may be repeated")
	for _, f := range v.Schools[0].Found {
		// Half the light of each.
		assert.InDelta(t, (v.First.Colour.XYZ().Y+f.Colour.XYZ().Y)/2, f.Face.XYZ().Y, 1e-9)
		assert.Contains(t, f.Words, "together they read as a")
	}
	testroom.Do(t, s, id, brief.Describe{Name: p.Name, Craft: "weaving", Purpose: ""})
	p = testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "cloth", Settings: map[string]float64{"structure": 3, "picks": 2}})
	v, err = proportion.Seconds(p, 0, "")
	require.NoError(t, err)
	assert.Equal(t, "3/1 twill", v.Structure.Name, "the cloth's own weave comes first")
	assert.InDelta(t, .75, v.Structure.Share, 1e-12)
	assert.InDelta(t, 5.0/2/.14544, v.BlendsFrom, .05)
	empty, err := s.NewPlan(testroom.Ctx, "Empty", "weaving")
	require.NoError(t, err)
	_, err = proportion.Seconds(testroom.MustOpen(t, s, empty), 0, "")
	assert.ErrorContains(t, err, "Add the first yarn")
}

func hasNote(p *plan.Plan, kind string) bool {
	for _, n := range proportion.Proportion(p).Notes {
		if strings.HasPrefix(n.ID, kind) {
			return true
		}
	}
	return false
}

func takeShare(s *plan.Desk, id uint, revision int64, key int, share float64) (string, error) {
	return s.Change(testroom.Ctx, id, revision, proportion.TakeShare{Key: key, Share: 100 * share})
}
