package drawing

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/craft/other"
	"lampfern/core/piece"
	"lampfern/core/surface"
	"lampfern/plan"
	"lampfern/stages/draft"
	"lampfern/stages/proportion"
	"lampfern/testroom"
)

func TestAPhotoIsLaidUnderADrawingAndMasked(t *testing.T) {
	s := testroom.Studio(t, Stage(), draft.Stage(), proportion.Stage())
	id, _ := testroom.Quilt(t, s)
	p := testroom.MustOpen(t, s, id)
	require.NoError(t, layPhoto(s, id, p.Revision, "disc.jpg", testroom.BareDisc(t, 50), 200))
	p = testroom.MustOpen(t, s, id)
	require.Equal(t, "drawn", p.Pattern)
	require.Len(t, p.Piece.Unders, 1)
	assert.InDelta(t, 150, p.Piece.Height, 1e-6, "as high as the photo asks")
	assert.Empty(t, p.Piece.Parts, "a bare thing has no ground")
	assert.NotPanics(t, func() { proportion.Proportion(p) })

	// The disc is 100 mm across: its area is π·50² mm².
	require.NoError(t, growOutline(s, id, p.Revision, "disc", piece.Point{X: 100, Y: 75}, 20))
	p = testroom.MustOpen(t, s, id)
	assert.InEpsilon(t, math.Pi*2500, p.Piece.Areas()[0], .05)
	require.NoError(t, followOutline(s, id, p.Revision, "round", []piece.Point{{X: 51, Y: 73}, {X: 64, Y: 38}, {X: 100, Y: 23},
		{X: 137, Y: 40}, {X: 148, Y: 75}, {X: 136, Y: 112}, {X: 101, Y: 123}, {X: 63, Y: 112}}))
	p = testroom.MustOpen(t, s, id)
	on := 0
	corners := plan.Input[other.Drawn](p).Drawing.Outlines[1].Corners
	for _, c := range corners {
		if math.Abs(math.Hypot(c.X-100, c.Y-75)-50) < 2 {
			on++
		}
	}
	assert.Greater(t, on, len(corners)*2/3, "its sides lie on the edge of the disc")
	p = testroom.Do(t, s, id, SplitOutline{At: 1, A: piece.Point{X: 20, Y: 75}, B: piece.Point{X: 180, Y: 75}, Part: "lower half"})
	areas := p.Piece.Areas()
	assert.InEpsilon(t, areas[1], areas[2], .05)
	testroom.Refused(t, s, id, SplitOutline{At: 1, A: piece.Point{X: 1, Y: 1}, B: piece.Point{X: 2, Y: 1}, Part: "x"},
		"does not split the outline")

	// A second view lies beside the first; colourways share the masks.
	require.NoError(t, layPhoto(s, id, p.Revision, "behind.jpg", testroom.BareDisc(t, 60), 200))
	p = testroom.MustOpen(t, s, id)
	require.Len(t, p.Piece.Unders, 2)
	assert.Greater(t, p.Piece.Unders[1].X, 200.0)
	assert.InDelta(t, p.Piece.Unders[1].X+200, p.Piece.Width, 1e-9)
	assert.Len(t, plan.Input[other.Drawn](p).Drawing.Outlines, 3)
	grays, err := s.Unders(testroom.Ctx, p)
	require.NoError(t, err)
	assert.Len(t, grays, 2)
	require.NoError(t, makeBare(s, id, p.Revision, 0, surface.Bare{X: .1, Y: .1, W: .8, H: .8, Turn: 3, Even: 1}))
	p = testroom.MustOpen(t, s, id)
	assert.Equal(t, 3.0, plan.Input[other.Drawn](p).Drawing.Unders[0].Bare.Turn)
	for _, lights := range []bool{false, true} {
		data, err := s.ReliefPicture(testroom.Ctx, p.Piece.Unders[0], lights)
		require.NoError(t, err)
		assert.NotEmpty(t, data)
	}
	p = testroom.Do(t, s, id, TakeUnder{At: 1})
	assert.Len(t, plan.Input[other.Drawn](p).Drawing.Unders, 1)

	// A plan file carries its photos.
	_, out, err := s.Export(testroom.Ctx, id)
	require.NoError(t, err)
	elsewhere := testroom.Studio(t, Stage(), draft.Stage(), proportion.Stage())
	again, err := testroom.Import(elsewhere, out)
	require.NoError(t, err)
	q := testroom.MustOpen(t, elsewhere, again)
	assert.Equal(t, p.Piece.Unders, q.Piece.Unders)
	_, err = elsewhere.Relief(testroom.Ctx, q.Piece.Unders[0])
	require.NoError(t, err)
	assert.Len(t, plan.Input[other.Drawn](q).Drawing.Outlines, 3)
}

func TestPhotosThatCannotBeMasked(t *testing.T) {
	s := testroom.Studio(t, Stage(), draft.Stage(), proportion.Stage())
	id, _ := testroom.Quilt(t, s)
	p := testroom.MustOpen(t, s, id)
	rev := p.Revision
	assert.ErrorContains(t, layPhoto(s, id, rev, "x.jpg", []byte("no photo"), 100), "Not added")
	assert.ErrorContains(t, layPhoto(s, id, rev, "x.jpg", testroom.BareDisc(t, 0), 100), "too dark to show its shapes")
	assert.ErrorContains(t, layPhoto(s, id, rev, "x.jpg", testroom.BareDisc(t, 50), 1e9), "1 mm to 20 m")
	assert.ErrorContains(t, growOutline(s, id, rev, "x", piece.Point{X: 1, Y: 1}, 20), "There is no photo there")
	require.NoError(t, layPhoto(s, id, rev, "x.jpg", testroom.BareDisc(t, 50), 100))
	p = testroom.MustOpen(t, s, id)
	assert.ErrorContains(t, growOutline(s, id, p.Revision, "x", piece.Point{X: 500, Y: 1}, 20), "There is no photo there")
	assert.ErrorContains(t, growOutline(s, id, p.Revision, "x", piece.Point{X: 5, Y: 5}, 0), "1 to 100")
	assert.ErrorContains(t, makeBare(s, id, p.Revision, 0, surface.Bare{X: .9, W: .5, H: 1}), "outside the photo")
	assert.ErrorContains(t, makeBare(s, id, p.Revision, 0, surface.Bare{W: 1, H: 1, Turn: 80}), "at most 45 degrees")
	assert.ErrorContains(t, makeBare(s, id, p.Revision, 9, surface.Bare{W: 1, H: 1}), "That photo was removed")
	testroom.Refused(t, s, id, SizeDrawing{Width: 100, Height: 75, Across: 2, Down: 2}, "is then not repeated")
}

func TestReferencesArePickedFrom(t *testing.T) {
	s := testroom.Studio(t, Stage(), draft.Stage(), proportion.Stage())
	id, _ := testroom.Quilt(t, s)
	p := testroom.MustOpen(t, s, id)
	require.NoError(t, keepReference(s, id, p.Revision, "disc.jpg", testroom.BareDisc(t, 50)))
	p = testroom.MustOpen(t, s, id)
	require.Len(t, proportion.Of(p).References, 1)
	words, err := pickReference(s, id, p.Revision, proportion.Of(p).References[0], .5, .5)
	require.NoError(t, err)
	assert.Contains(t, words, "is on the scrap page")
	p = testroom.MustOpen(t, s, id)
	require.Len(t, p.Scraps, 1)
	// The middle of the disc is grey 156: L* 64.
	assert.InDelta(t, 64, p.Scraps[0].L, 2)
	_, err = pickReference(s, id, p.Revision, proportion.Of(p).References[0], 2, .5)
	assert.ErrorContains(t, err, "not on the picture")
	assert.ErrorContains(t, keepReference(s, id, p.Revision, "disc.jpg", testroom.BareDisc(t, 50)), "already in this plan")
	p = testroom.Do(t, s, id, proportion.DropReference{Photo: proportion.Of(p).References[0]})
	assert.Empty(t, proportion.Of(p).References)
}

func TestALineDrawingIsBroughtIn(t *testing.T) {
	s := testroom.Studio(t, Stage(), draft.Stage(), proportion.Stage())
	id, _ := testroom.Quilt(t, s)
	p := testroom.MustOpen(t, s, id)
	const body = `<g id="wall"><rect width="100" height="80" fill="#4b2346"/></g><g id="door"><rect x="40" y="40" width="20" height="40" fill="#fff"/></g><circle cx="80" cy="20" r="10" fill="#ffffff"/><text>x</text></svg>`
	sizedDrawing := `<svg width="200mm" height="160mm" viewBox="0 0 100 80">` + body
	words, err := bringSVG(s, id, p.Revision, []byte(sizedDrawing), false, 0)
	require.NoError(t, err)
	assert.Equal(t, "Drawing imported: 3 shapes in 2 parts. Skipped or changed: 1 × text.", words)
	p = testroom.MustOpen(t, s, id)
	assert.InDelta(t, 200, p.Piece.Width, 1e-9)
	assert.Equal(t, 1, strings.Count(testroom.Tray(p), "Plum curtain"), "its own card stands for the colour")
	assert.Equal(t, "Plum curtain", testroom.FillOf(p, "part1"))
	disc := 64.0 / 2 * 400 * math.Sin(2*math.Pi/64) // of radius 20 mm, drawn with 64 sides
	assert.InDelta(t, 40*80+disc, p.Piece.Areas()[1], 1e-6)

	_, err = bringSVG(s, id, p.Revision, []byte(`<svg viewBox="0 0 100 80">`+body), true, 0)
	assert.ErrorContains(t, err, "Give its width in mm")
	_, err = bringSVG(s, id, p.Revision, []byte(`<svg viewBox="0 0 100 80">`+body), true, 50)
	require.NoError(t, err)
	p = testroom.MustOpen(t, s, id)
	assert.Equal(t, []string{"wall", "door", "shape"}, []string{p.Piece.Parts[0].Name, p.Piece.Parts[1].Name, p.Piece.Parts[2].Name})
	assert.InDelta(t, 50, p.Piece.Width, 1e-9)
	_, err = bringSVG(s, id, p.Revision, []byte("<svg></svg>"), true, 50)
	assert.ErrorContains(t, err, "holds no filled shape")
}

const hedge = "[WIF]\nVersion=1.1\n[TEXT]\nTitle=Hedge\n[WEAVING]\nShafts=2\nTreadles=2\nRising Shed=false\n[WARP]\nThreads=8\nUnits=Centimeters\nSpacing=0.25\n[WEFT]\nThreads=4\n" +
	"[THREADING]\n1=1\n2=2\n3=1\n4=2\n5=1\n6=2\n7=1\n8=2\n[TIEUP]\n1=1\n2=2\n[TREADLING]\n1=1\n2=2\n3=1\n4=2\n[COLOR TABLE]\n1=75,35,70\n2=255,255,255\n[WARP COLORS]\n1=1\n2=1\n3=2\n4=2\n5=1\n6=1\n7=2\n8=2\n[WEFT]\nColor=2\n"

func TestADraftGoesInAndOut(t *testing.T) {
	s := testroom.Studio(t, Stage(), draft.Stage(), proportion.Stage())
	id, _ := testroom.Quilt(t, s)
	p := testroom.MustOpen(t, s, id)
	words, err := bringWIF(s, id, p.Revision, []byte(hedge))
	require.NoError(t, err)
	assert.Equal(t, "Draft imported: 8 ends, 4 picks, 2 shafts. It is for a sinking shed, so the tie-up was reversed.", words)
	p = testroom.MustOpen(t, s, id)
	v, err := draft.Cloth(p)
	require.NoError(t, err)
	assert.Equal(t, []int{8, 4}, []int{v.Ends, v.Picks})
	assert.Equal(t, []string{"2A 2B", "1B", "1 2", "2, 1"}, []string{v.Warp, v.Weft, v.Threading, v.TieUp})
	assert.Equal(t, "Plum curtain", testroom.FillOf(p, "yarn1"))
	assert.InDelta(t, 20, p.Piece.Width, 1e-9, "8 ends, 4 in 10 mm")
	data, err := draft.WIF(p)
	require.NoError(t, err)
	elsewhere, err := s.NewPlan(testroom.Ctx, "Again", "weaving")
	require.NoError(t, err)
	_, err = bringWIF(s, elsewhere, testroom.MustOpen(t, s, elsewhere).Revision, data)
	require.NoError(t, err)
	q := testroom.MustOpen(t, s, elsewhere)
	assert.Equal(t, p.Piece.Cells.Part, q.Piece.Cells.Part)
	assert.Equal(t, p.Piece.Shares, q.Piece.Shares)
	_, err = bringWIF(s, id, p.Revision, []byte("[WIF]\n"))
	assert.ErrorContains(t, err, "Not imported: the weaving file has no section [WEAVING]")
}

func layPhoto(s *plan.Desk, id uint, revision int64, name string, data []byte, wide float64) error {
	return testroom.Change(s, id, revision, LayPhoto{Wide: wide, File: plan.File{Name: name, Data: data}})
}

func makeBare(s *plan.Desk, id uint, revision int64, at int, b surface.Bare) error {
	return testroom.Change(s, id, revision, MakeBare{At: at, Bare: b})
}

func growOutline(s *plan.Desk, id uint, revision int64, part string, at piece.Point, tolerance float64) error {
	return testroom.Change(s, id, revision, Grow{Part: part, At: at, Tolerance: tolerance})
}

func followOutline(s *plan.Desk, id uint, revision int64, part string, corners []piece.Point) error {
	return testroom.Change(s, id, revision, AddOutline{Part: part, Corners: corners, Follow: true})
}

func bringSVG(s *plan.Desk, id uint, revision int64, data []byte, byGroup bool, wide float64) (string, error) {
	return s.Change(testroom.Ctx, id, revision, BringSVG{By: map[bool]string{true: "group"}[byGroup], Wide: wide, File: plan.File{Data: data}})
}

func keepReference(s *plan.Desk, id uint, revision int64, name string, data []byte) error {
	return testroom.Change(s, id, revision, proportion.KeepReference{File: plan.File{Name: name, Data: data}})
}

func pickReference(s *plan.Desk, id uint, revision int64, hash string, x, y float64) (string, error) {
	return s.Change(testroom.Ctx, id, revision, proportion.PickReference{Photo: hash, X: x, Y: y})
}

func bringWIF(s *plan.Desk, id uint, revision int64, data []byte) (string, error) {
	return s.Change(testroom.Ctx, id, revision, draft.BringWIF{File: plan.File{Data: data}})
}

func TestCurvesAndLines(t *testing.T) {
	s := testroom.Studio(t, Stage())
	id, _ := testroom.Quilt(t, s)
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "drawn"})
	at := []piece.Point{{X: 100, Y: 100}, {X: 200, Y: 100}, {X: 200, Y: 200}, {X: 100, Y: 200}}
	p := testroom.Do(t, s, id, AddOutline{Part: "Cloud", Corners: at, Curved: true})
	cloud := p.Piece.Areas()[p.Piece.Part(keyOf(p, "Cloud"))]
	assert.Greater(t, cloud, 12_000.0, "it bows out beyond its four places")
	assert.Less(t, cloud, math.Pi*5000, "and stays within the circle through them")
	p = testroom.Do(t, s, id, AddOutline{Part: "Stem", Corners: []piece.Point{{X: 10, Y: 250}, {X: 110, Y: 250}}, Wide: 3})
	assert.InDelta(t, 300, p.Piece.Areas()[p.Piece.Part(keyOf(p, "Stem"))], 1e-6, "100 mm of a line of 3 mm")
	testroom.Refused(t, s, id, AddOutline{Part: "x", Corners: at[:1], Wide: 3}, "at least two points")
	testroom.Refused(t, s, id, AddOutline{Part: "x", Corners: at, Wide: 9000}, "500 mm wide")
	testroom.Refused(t, s, id, AddOutline{Part: "x", Corners: at[:2], Curved: true}, "at least three corners")
}

func keyOf(p *plan.Plan, name string) string {
	for _, part := range p.Piece.Parts {
		if part.Name == name {
			return part.Key
		}
	}
	return ""
}
