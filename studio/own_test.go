package studio

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/balance"
	"lampfern/core/piece"
	"lampfern/exchange"
)

// fillOf is the name of the card a part takes.
func fillOf(p *Plan, part string) string {
	for i, at := range p.fill() {
		if p.Piece.Parts[i].Key == part && at >= 0 {
			return p.Tray[at].Name
		}
	}
	return ""
}

func TestPinnedAndGroupedPartsStayTogether(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	p := mustOpen(t, s, id)
	ground, peak := fillOf(p, "ground"), fillOf(p, "peak")
	do(t, s, id, Pin("ground", true))
	refused(t, s, id, Fill("ground", p.Tray[2].Key), "The ground is pinned and keeps its card")
	p = do(t, s, id, Swap(p.Tray[0].Key, p.Tray[1].Key))
	assert.Equal(t, ground, fillOf(p, "ground"), "a swap leaves it")
	assert.Equal(t, ground, fillOf(p, "peak"))
	p = do(t, s, id, ReverseFills())
	assert.Equal(t, ground, fillOf(p, "ground"))
	p = do(t, s, id, Pin("ground", false))
	assert.Empty(t, p.Pinned)
	assert.NotEqual(t, peak, ground)

	refused(t, s, id, Group([]string{"spark"}), "Tick two parts or more")
	p = do(t, s, id, Group([]string{"sashing", "spark", "nowhere"}))
	assert.Equal(t, [][]string{{"spark", "sashing"}}, p.Groups)
	assert.Equal(t, fillOf(p, "spark"), fillOf(p, "sashing"))
	p = do(t, s, id, Fill("sashing", p.Tray[0].Key))
	assert.Equal(t, p.Tray[0].Name, fillOf(p, "spark"), "one card for both")
	ways, err := p.Ways(ctx, WaysAsked{Focus: "spark"})
	require.NoError(t, err)
	for _, w := range ways.Ways {
		assert.Equal(t, w.Fills["spark"], w.Fills["sashing"])
	}
	p = do(t, s, id, Ungroup("spark"))
	assert.Empty(t, p.Groups)
	do(t, s, id, Fill("spark", 0))
	refused(t, s, id, Pin("spark", true), "has no card to keep")
	refused(t, s, id, Pin("nowhere", true), "no such part")
	refused(t, s, id, FillAt(.5, .5, p.Tray[0].Key), "no part at that place")
}

func TestAClothIsOrderedAndDrafted(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	refused(t, s, id, SetOrders("8A", "8A"), "changed in the meantime")
	p := do(t, s, id, ChoosePiece("cloth", map[string]float64{"width": 100, "length": 200, "ends": 4, "picks": 4}))
	assert.Len(t, p.Piece.Parts, 4)
	p = do(t, s, id, SetOrders("12A 10mm B", "8A 2C"))
	v, err := p.Cloth()
	require.NoError(t, err)
	assert.Equal(t, []string{"12A 4B", "8A 2C", "plain"}, []string{v.Warp, v.Weft, v.Structure})
	assert.Equal(t, []int{40, 80}, []int{v.Ends, v.Picks})
	assert.Equal(t, "A", v.Yarns[0].Letter)
	// 40 ends hold 12A 4B twice and 8A more; 80 picks 8A 2C eight times.
	assert.Equal(t, []int{32 + 64, 8, 16}, []int{v.Yarns[0].Count, v.Yarns[1].Count, v.Yarns[2].Count})
	assert.InDelta(t, .5, v.WarpShare, 1e-12)
	refused(t, s, id, SetOrders("1mm A", "8A"), "The order of the warp cannot be read: a stripe of 1 mm is thinner than one thread")
	refused(t, s, id, SetOrders("8A", "8"), "The order of the weft")
	p = do(t, s, id, TurnOrder(false))
	v, err = p.Cloth()
	require.NoError(t, err)
	assert.Equal(t, "4B 12A", v.Warp)
	p = do(t, s, id, WeaveAsWarped())
	v, err = p.Cloth()
	require.NoError(t, err)
	assert.Equal(t, v.Warp, v.Weft)
	assert.Len(t, p.Piece.Parts, 2, "yarn C is no longer used")
	assert.Len(t, p.Fills, 2)

	p = do(t, s, id, SetDraft("1-4", "1+2, 2+3, 3+4, 4+1", "1-4"))
	v, err = p.Cloth()
	require.NoError(t, err)
	assert.Equal(t, []string{"your own draft", "1 2 3 4", "1+2, 2+3, 3+4, 4+1"}, []string{v.Structure, v.Threading, v.TieUp})
	p = do(t, s, id, MarkDraft(TieUpGrid, 1, 2)) // clears
	v, err = p.Cloth()
	require.NoError(t, err)
	assert.Equal(t, "1, 2+3, 3+4, 4+1", v.TieUp)
	do(t, s, id, MarkDraft(ThreadingGrid, 2, 4))
	p = do(t, s, id, MarkDraft(TreadlingGrid, 3, 1))
	v, err = p.Cloth()
	require.NoError(t, err)
	assert.Equal(t, []string{"1 4 3 4", "3 2 3 4"}, []string{v.Threading, v.Treadling})
	refused(t, s, id, SetDraft("1-4", "1, 2", "1-3"), "pick 3 is on treadle 3 and the tie-up has 2")
	refused(t, s, id, SetDraft("1-4", "1, 0, 3", "1 2"), "pick 2 lifts no shaft")
	refused(t, s, id, SetDraft("1-4", "1, 7", "1 2"), "pick 2 lifts no end")
	refused(t, s, id, SetDraft("x", "1", "1"), "The threading cannot be read")
	refused(t, s, id, MarkDraft(ThreadingGrid, 99, 1), "not in the draft")

	p = do(t, s, id, SetDraft("1 1 2", "1", "1"))
	floats := 0
	for _, n := range p.Proportion().Notes {
		if n.ID == "warpfloat" || n.ID == "weftfloat" {
			floats++
		}
	}
	assert.Equal(t, 1, floats, "the warp is never tied down; the weft floats over two ends")
	key := p.Tray[3].Key
	p = do(t, s, id, FillAt(.01, .01, key))
	assert.Equal(t, p.Tray[3].Name, fillOf(p, p.Piece.Parts[p.Piece.Cells.At(1, 1)].Key))
}

func TestABattenResizesTheStripesOfACloth(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	p := do(t, s, id, ChoosePiece("cloth", map[string]float64{"width": 200, "length": 400}))
	words, err := s.TakeShare(ctx, id, p.Revision, p.Tray[2].Key, .2)
	require.NoError(t, err)
	assert.Contains(t, words, "warp 16A 6B")
	p = mustOpen(t, s, id)
	assert.InDelta(t, .2, p.Tray[2].Share, .02)
}

func TestRowsAreOrdered(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	p := do(t, s, id, ChoosePiece("rows", map[string]float64{"colours": 3, "rows": 6, "order": 1, "row": 4}))
	assert.Equal(t, "6A 2B 6C", p.RowOrder())
	p = do(t, s, id, SetRows("10A 8mm B"))
	assert.Equal(t, "10A 2B", p.RowOrder())
	assert.InDelta(t, 10./12, p.Piece.Shares[0], 1e-12)
	words, err := s.TakeShare(ctx, id, p.Revision, p.Tray[1].Key, .5)
	require.NoError(t, err)
	assert.Contains(t, words, "rows 10A 10B")
	refused(t, s, id, SetRows("0A"), "The order of the rows cannot be read: a stripe of 0 threads")
	refused(t, s, id, SetRows("1mm A"), "thinner than one thread, which takes 4 mm")
	p = do(t, s, id, SetRows(" "))
	assert.Len(t, p.Piece.Parts, 3)
}

func TestAChartIsPaintedAndSized(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	do(t, s, id, ChoosePiece("stranded", nil))
	p := do(t, s, id, WriteChart("aab\nabb"))
	v, err := p.Stranded()
	require.NoError(t, err)
	assert.Equal(t, piece.Chart{"AAB", "ABB"}, v.Chart)
	assert.Equal(t, []int{3, 3}, []int{v.Yarns[0].Count, v.Yarns[1].Count})
	p = do(t, s, id, PaintChart([][2]int{{0, 0}, {1, 0}}, 2))
	v, err = p.Stranded()
	require.NoError(t, err)
	assert.Equal(t, piece.Chart{"CCB", "ABB"}, v.Chart)
	assert.Equal(t, "DEFGHIJKLMNOPQRST", v.Unused)
	p = do(t, s, id, SizeChart(4, 3))
	v, err = p.Stranded()
	require.NoError(t, err)
	assert.Equal(t, piece.Chart{"CCBA", "ABBA", "AAAA"}, v.Chart)
	do(t, s, id, MirrorChart(true))
	p = do(t, s, id, MirrorChart(false))
	v, err = p.Stranded()
	require.NoError(t, err)
	assert.Equal(t, piece.Chart{"AAAA", "ABBA", "ABCC"}, v.Chart)
	for _, size := range []int{0, 401} {
		refused(t, s, id, SizeChart(size, 4), "from 1 to 400 stitches each way")
	}
	p = do(t, s, id, SizeChart(1, 1))
	assert.Len(t, p.Piece.Parts, 1)
	_, err = p.Ways(ctx, WaysAsked{})
	assert.ErrorContains(t, err, "one part that takes a card")
	assert.True(t, hasNote(p, "onepart"))
	refused(t, s, id, SizeChart(400, 400), "choose fewer repeats")
	do(t, s, id, ChoosePiece("stranded", map[string]float64{"across": 1, "up": 1}))
	do(t, s, id, SizeChart(400, 400))
	refused(t, s, id, WriteChart(""), "The chart is empty")
	refused(t, s, id, WriteChart("AB A"), "row 2 of the chart has 1 stitches")
	refused(t, s, id, PaintChart(nil, 20), "at most 20 yarns")
	refused(t, s, id, ChoosePiece("stranded", map[string]float64{"stitch": 0}), "stitch width: choose a number from 1 to 12")
}

func hasNote(p *Plan, kind string) bool {
	for _, n := range p.Proportion().Notes {
		if strings.HasPrefix(n.ID, kind) {
			return true
		}
	}
	return false
}

func TestADrawingIsDrawn(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	do(t, s, id, ChoosePiece("drawn", nil))
	do(t, s, id, SizeDrawing(100, 50, 2, 1))
	do(t, s, id, AddOutline("leaf", []piece.Point{{X: 10, Y: 10}, {X: 60, Y: 10}, {X: 60, Y: 40}, {X: 10, Y: 40}}))
	p := do(t, s, id, AddOutline(" Sun ", piece.Disc(piece.Point{X: 95, Y: 5}, 10)))
	v, err := p.Drawn()
	require.NoError(t, err)
	require.Len(t, v.Outlines, 3)
	assert.InDelta(t, 2*1500, p.Piece.Areas()[1], 1e-6, "set twice")
	assert.InDelta(t, 200, p.Piece.Width, 1e-9)
	for _, c := range v.Outlines[2].Corners {
		assert.LessOrEqual(t, c.X, 100.0, "held to the drawing")
	}
	p = do(t, s, id, MoveOutline(1, 500, 0))
	assert.InDelta(t, 100, p.Own.Drawing.Outlines[1].Corners[1].X, 1e-9, "as far as it reaches")
	do(t, s, id, CopyOutline(1))
	p = do(t, s, id, NameOutline(3, "leaf again"))
	assert.Equal(t, "leaf again", p.Piece.Parts[3].Name)
	do(t, s, id, RaiseOutline(3, true))
	refused(t, s, id, RaiseOutline(3, false), "at the top already")
	p = do(t, s, id, SizeDrawing(200, 100, 1, 1))
	assert.InDelta(t, 200, p.Own.Drawing.Outlines[0].Corners[1].X, 1e-9, "outlines grow along")
	// A part under another cannot be seen, and the stage says so.
	p = do(t, s, id, AddOutline("lid", []piece.Point{{}, {X: 200}, {X: 200, Y: 100}, {Y: 100}}))
	assert.True(t, hasNote(p, "unseen:"))
	p = do(t, s, id, DropOutline(4))
	assert.False(t, hasNote(p, "unseen:"))
	assert.Len(t, p.Piece.Parts, 4)
	for _, c := range []struct {
		e     Edit
		words string
	}{
		{AddOutline("x", []piece.Point{{X: 1}, {X: 2}}), "three corners or more"},
		{AddOutline("x", []piece.Point{{X: 1}, {X: 2}, {X: 3}}), "holds no area"},
		{AddOutline("  ", piece.Disc(piece.Point{X: 9, Y: 9}, 4)), "Name the part"},
		{SizeDrawing(0, 50, 1, 1), "from 1 mm to 20 m"}, {SizeDrawing(1e6, 50, 1, 1), "from 1 mm to 20 m"}, {SizeDrawing(50, 50, 0, 1), "repeated from 1 to 24"},
		{DropOutline(99), "no longer in the drawing"},
	} {
		refused(t, s, id, c.e, c.words)
	}
}

func TestOwnPiecesTravelInPlanFiles(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	do(t, s, id, ChoosePiece("cloth", map[string]float64{"width": 100}))
	do(t, s, id, SetDraft("1 2", "1, 2", "1 2"))
	do(t, s, id, SetOrders("3A 4B", "2A"))
	do(t, s, id, Pin("yarn1", true))
	p := do(t, s, id, Dismiss("flat", "by candle"))
	out, err := s.ExportPlan(ctx, id)
	require.NoError(t, err)
	var b strings.Builder
	require.NoError(t, exchange.WritePlan(&b, out))
	in, err := exchange.ReadPlan(strings.NewReader(b.String()))
	require.NoError(t, err)
	other := studio(t)
	again, err := other.ImportPlan(ctx, in)
	require.NoError(t, err)
	q := mustOpen(t, other, again)
	assert.Equal(t, p.Own, q.Own)
	assert.Equal(t, []any{p.Pinned, p.Remarks}, []any{q.Pinned, q.Remarks})
	assert.Equal(t, p.Piece.Shares, q.Piece.Shares)
	_, err = exchange.ReadPlan(strings.NewReader(strings.Replace(b.String(), `"threads": 3`, `"threads": 0`, 1)))
	assert.ErrorContains(t, err, "the piece in the file cannot be made")
}

func TestNotesSayWhatCouldBeDone(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	add(t, s, "Pale plum=#d9b8d4", "Bright sun=#ffd21e")
	p := mustOpen(t, s, id)
	seen := map[string]bool{}
	for _, n := range p.Proportion().Notes {
		kind, _, _ := strings.Cut(n.ID, ":")
		if m := p.Mend(n); m != nil {
			seen[kind] = true
			assert.NotEmpty(t, m.Label)
			assert.True(t, m.Find != nil || m.Material != 0 || m.Ways || m.Own || m.Far > 0)
		} else {
			assert.True(t, n.Severity == balance.Fine || n.Aside >= 0 || n.Swap != nil, "%s offers nothing", n.ID)
		}
	}
	assert.True(t, seen["soft"])
	// Lighter cards of the family are offered, where the shelf has them.
	m := p.Mend(balance.Note{ID: "lost:1:5", Severity: balance.Fix, Aside: -1, Colours: []int{0, 4}})
	require.NotNil(t, m)
	assert.Contains(t, m.Label, "lighter")
	require.NotNil(t, m.Find)
	found, _ := p.Shelf.Find(*m.Find)
	assert.NotEmpty(t, found)
	assert.Equal(t, &Mend{Label: "Show the ways round", Ways: true}, p.Mend(balance.Note{ID: "nofocus", Severity: balance.Consider, Aside: -1}))
	assert.Contains(t, p.Mend(balance.Note{ID: "muted", Severity: balance.Consider, Aside: -1, Colours: []int{0}}).Label, "clear card")
	assert.Contains(t, p.Mend(balance.Note{ID: "temperature", About: "All is cool", Severity: balance.Consider, Aside: -1}).Label, "card")
	assert.NotNil(t, p.Mend(balance.Note{ID: "flat", Severity: balance.Consider, Aside: -1, Colours: []int{0, 1}}))
}

func TestSecondThreads(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	p := mustOpen(t, s, id)
	v, err := p.Seconds(p.Tray[1].Key, "rows")
	require.NoError(t, err)
	assert.Equal(t, p.Tray[1].Name, v.First.Name)
	assert.Equal(t, .5, v.Structure.Share)
	require.Len(t, v.Schools, 3)
	assert.Len(t, v.Schools[0].Found, len(p.Tray)-1, "every other card of the tray may be repeated")
	for _, f := range v.Schools[0].Found {
		// Half the light of each.
		assert.InDelta(t, (v.First.Colour.XYZ().Y+f.Colour.XYZ().Y)/2, f.Face.XYZ().Y, 1e-9)
		assert.Contains(t, f.Words, "together a")
	}
	do(t, s, id, Describe(p.Name, "weaving", ""))
	p = do(t, s, id, ChoosePiece("cloth", map[string]float64{"structure": 3, "picks": 2}))
	v, err = p.Seconds(0, "")
	require.NoError(t, err)
	assert.Equal(t, "3/1 twill", v.Structure.Name, "the cloth's own weave comes first")
	assert.InDelta(t, .75, v.Structure.Share, 1e-12)
	assert.InDelta(t, 5.0/2/.14544, v.BlendsFrom, .05)
	empty, err := s.NewPlan(ctx, "Empty", "weaving")
	require.NoError(t, err)
	_, err = mustOpen(t, s, empty).Seconds(0, "")
	assert.ErrorContains(t, err, "Pull the first thread")
}
