package studio

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/piece"
	"lampfern/core/surface"
)

// bareDisc is a photo of a bright disc of a quarter of its width on dark ground.
func bareDisc(t *testing.T, dark uint8) []byte {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, 400, 300))
	for y := range 300 {
		for x := range 400 {
			v := dark
			if math.Hypot(float64(x)-200, float64(y)-150) < 100 {
				v = 3*dark + uint8((200-y)/8)
			}
			img.SetRGBA(x, y, color.RGBA{v, v, v, 255})
		}
	}
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, img, &jpeg.Options{Quality: 95}))
	return b.Bytes()
}

func TestAPhotoIsLaidUnderADrawingAndMasked(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	p := mustOpen(t, s, id)
	require.NoError(t, s.LayPhoto(ctx, id, p.Revision, "disc.jpg", bareDisc(t, 50), 200))
	p = mustOpen(t, s, id)
	require.Equal(t, "drawn", p.Template)
	require.Len(t, p.Piece.Unders, 1)
	assert.InDelta(t, 150, p.Piece.Height, 1e-6, "as high as the photo asks")
	assert.Empty(t, p.Piece.Parts, "a bare thing has no ground")
	assert.NotPanics(t, func() { p.Proportion() })

	// The disc is 100 mm across: its area is π·50² mm².
	require.NoError(t, s.GrowOutline(ctx, id, p.Revision, "disc", piece.Point{X: 100, Y: 75}, 20))
	p = mustOpen(t, s, id)
	assert.InEpsilon(t, math.Pi*2500, p.Piece.Areas()[0], .05)
	require.NoError(t, s.FollowOutline(ctx, id, p.Revision, "round", []piece.Point{{X: 51, Y: 73}, {X: 64, Y: 38}, {X: 100, Y: 23}, {X: 137, Y: 40}, {X: 148, Y: 75}, {X: 136, Y: 112}, {X: 101, Y: 123}, {X: 63, Y: 112}}))
	p = mustOpen(t, s, id)
	on := 0
	corners := p.Own.Drawing.Outlines[1].Corners
	for _, c := range corners {
		if math.Abs(math.Hypot(c.X-100, c.Y-75)-50) < 2 {
			on++
		}
	}
	assert.Greater(t, on, len(corners)*2/3, "its sides lie on the edge of the disc")
	p = do(t, s, id, SplitOutline(1, piece.Point{X: 20, Y: 75}, piece.Point{X: 180, Y: 75}, "lower half"))
	areas := p.Piece.Areas()
	assert.InEpsilon(t, areas[1], areas[2], .05)
	refused(t, s, id, SplitOutline(1, piece.Point{X: 1, Y: 1}, piece.Point{X: 2, Y: 1}, "x"), "does not cut the outline in two")

	// A second view lies beside the first; colourways share the masks.
	require.NoError(t, s.LayPhoto(ctx, id, p.Revision, "behind.jpg", bareDisc(t, 60), 200))
	p = mustOpen(t, s, id)
	require.Len(t, p.Piece.Unders, 2)
	assert.Greater(t, p.Piece.Unders[1].X, 200.0)
	assert.InDelta(t, p.Piece.Unders[1].X+200, p.Piece.Width, 1e-9)
	assert.Len(t, p.Own.Drawing.Outlines, 3)
	grays, err := s.Unders(ctx, p)
	require.NoError(t, err)
	assert.Len(t, grays, 2)
	require.NoError(t, s.MakeBare(ctx, id, p.Revision, 0, surface.Bare{X: .1, Y: .1, W: .8, H: .8, Turn: 3, Even: 1}))
	p = mustOpen(t, s, id)
	assert.Equal(t, 3.0, p.Own.Drawing.Unders[0].Bare.Turn)
	for _, lights := range []bool{false, true} {
		data, err := s.TemplatePicture(ctx, p.Piece.Unders[0], lights)
		require.NoError(t, err)
		assert.NotEmpty(t, data)
	}
	p = do(t, s, id, TakeUnder(1))
	assert.Len(t, p.Own.Drawing.Unders, 1)

	// A plan file does not carry photos: where they are missing the outlines stay.
	out, err := s.ExportPlan(ctx, id)
	require.NoError(t, err)
	other := studio(t)
	again, err := other.ImportPlan(ctx, out)
	require.NoError(t, err)
	q := mustOpen(t, other, again)
	assert.Empty(t, q.Piece.Unders)
	assert.Len(t, q.Own.Drawing.Outlines, 3)
}

func TestPhotosThatCannotBeMasked(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	p := mustOpen(t, s, id)
	rev := p.Revision
	assert.ErrorContains(t, s.LayPhoto(ctx, id, rev, "x.jpg", []byte("no photo"), 100), "Nothing was laid under the drawing")
	assert.ErrorContains(t, s.LayPhoto(ctx, id, rev, "x.jpg", bareDisc(t, 0), 100), "too dark for its forms")
	assert.ErrorContains(t, s.LayPhoto(ctx, id, rev, "x.jpg", bareDisc(t, 50), 1e9), "from 1 mm to 20 m")
	assert.ErrorContains(t, s.GrowOutline(ctx, id, rev, "x", piece.Point{X: 1, Y: 1}, 20), "There is no photo at that place")
	require.NoError(t, s.LayPhoto(ctx, id, rev, "x.jpg", bareDisc(t, 50), 100))
	p = mustOpen(t, s, id)
	assert.ErrorContains(t, s.GrowOutline(ctx, id, p.Revision, "x", piece.Point{X: 500, Y: 1}, 20), "There is no photo at that place")
	assert.ErrorContains(t, s.GrowOutline(ctx, id, p.Revision, "x", piece.Point{X: 5, Y: 5}, 0), "from 1 to 100")
	assert.ErrorContains(t, s.MakeBare(ctx, id, p.Revision, 0, surface.Bare{X: .9, W: .5, H: 1}), "lies outside it")
	assert.ErrorContains(t, s.MakeBare(ctx, id, p.Revision, 0, surface.Bare{W: 1, H: 1, Turn: 80}), "at most 45 degrees")
	assert.ErrorContains(t, s.MakeBare(ctx, id, p.Revision, 9, surface.Bare{W: 1, H: 1}), "no longer lies under")
	refused(t, s, id, SizeDrawing(100, 75, 2, 2), "not set side by side then")
}

func TestReferencesArePickedFrom(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	p := mustOpen(t, s, id)
	require.NoError(t, s.KeepReference(ctx, id, p.Revision, "disc.jpg", bareDisc(t, 50)))
	p = mustOpen(t, s, id)
	require.Len(t, p.References, 1)
	words, err := s.PickReference(ctx, id, p.Revision, p.References[0], .5, .5)
	require.NoError(t, err)
	assert.Contains(t, words, "lies on the scrap page")
	p = mustOpen(t, s, id)
	require.Len(t, p.Scraps, 1)
	// The middle of the disc is grey 156: L* 64.
	assert.InDelta(t, 64, p.Scraps[0].L, 2)
	_, err = s.PickReference(ctx, id, p.Revision, p.References[0], 2, .5)
	assert.ErrorContains(t, err, "not on the picture")
	assert.ErrorContains(t, s.KeepReference(ctx, id, p.Revision, "disc.jpg", bareDisc(t, 50)), "kept with this plan already")
	p = do(t, s, id, DropReference(p.References[0]))
	assert.Empty(t, p.References)
}

func TestALineDrawingIsBroughtIn(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	p := mustOpen(t, s, id)
	const body = `<g id="wall"><rect width="100" height="80" fill="#4b2346"/></g><g id="door"><rect x="40" y="40" width="20" height="40" fill="#fff"/></g><circle cx="80" cy="20" r="10" fill="#ffffff"/><text>x</text></svg>`
	sizedDrawing := `<svg width="200mm" height="160mm" viewBox="0 0 100 80">` + body
	words, err := s.BringSVG(ctx, id, p.Revision, []byte(sizedDrawing), false, 0)
	require.NoError(t, err)
	assert.Equal(t, "The drawing is brought in: 3 shapes in 2 parts. Left out, or changed: 1 × text.", words)
	p = mustOpen(t, s, id)
	assert.InDelta(t, 200, p.Piece.Width, 1e-9)
	assert.Equal(t, 1, strings.Count(tray(p), "Plum curtain"), "its own card stands for the colour")
	assert.Equal(t, "Plum curtain", fillOf(p, "part1"))
	disc := 64.0 / 2 * 400 * math.Sin(2*math.Pi/64) // of radius 20 mm, drawn with 64 sides
	assert.InDelta(t, 40*80+disc, p.Piece.Areas()[1], 1e-6)

	_, err = s.BringSVG(ctx, id, p.Revision, []byte(`<svg viewBox="0 0 100 80">`+body), true, 0)
	assert.ErrorContains(t, err, "type how wide it is in mm")
	_, err = s.BringSVG(ctx, id, p.Revision, []byte(`<svg viewBox="0 0 100 80">`+body), true, 50)
	require.NoError(t, err)
	p = mustOpen(t, s, id)
	assert.Equal(t, []string{"wall", "door", "shape"}, []string{p.Piece.Parts[0].Name, p.Piece.Parts[1].Name, p.Piece.Parts[2].Name})
	assert.InDelta(t, 50, p.Piece.Width, 1e-9)
	_, err = s.BringSVG(ctx, id, p.Revision, []byte("<svg></svg>"), true, 50)
	assert.ErrorContains(t, err, "holds no filled shape")
}

const hedge = "[WIF]\nVersion=1.1\n[TEXT]\nTitle=Hedge\n[WEAVING]\nShafts=2\nTreadles=2\nRising Shed=false\n[WARP]\nThreads=8\nUnits=Centimeters\nSpacing=0.25\n[WEFT]\nThreads=4\n" +
	"[THREADING]\n1=1\n2=2\n3=1\n4=2\n5=1\n6=2\n7=1\n8=2\n[TIEUP]\n1=1\n2=2\n[TREADLING]\n1=1\n2=2\n3=1\n4=2\n[COLOR TABLE]\n1=75,35,70\n2=255,255,255\n[WARP COLORS]\n1=1\n2=1\n3=2\n4=2\n5=1\n6=1\n7=2\n8=2\n[WEFT]\nColor=2\n"

func TestADraftGoesInAndOut(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	p := mustOpen(t, s, id)
	words, err := s.BringWIF(ctx, id, p.Revision, []byte(hedge))
	require.NoError(t, err)
	assert.Equal(t, "The draft is brought in: 8 ends, 4 picks, 2 shafts. Its shed sinks, so the tie-up was turned over.", words)
	p = mustOpen(t, s, id)
	v, err := p.Cloth()
	require.NoError(t, err)
	assert.Equal(t, []int{8, 4}, []int{v.Ends, v.Picks})
	assert.Equal(t, []string{"2A 2B", "1B", "1 2", "2, 1"}, []string{v.Warp, v.Weft, v.Threading, v.TieUp})
	assert.Equal(t, "Plum curtain", fillOf(p, "yarn1"))
	assert.InDelta(t, 20, p.Piece.Width, 1e-9, "8 ends, 4 in 10 mm")
	data, err := p.WIF()
	require.NoError(t, err)
	other, err := s.NewPlan(ctx, "Again", "weaving")
	require.NoError(t, err)
	_, err = s.BringWIF(ctx, other, mustOpen(t, s, other).Revision, data)
	require.NoError(t, err)
	q := mustOpen(t, s, other)
	assert.Equal(t, p.Piece.Cells.Part, q.Piece.Cells.Part)
	assert.Equal(t, p.Piece.Shares, q.Piece.Shares)
	_, err = s.BringWIF(ctx, id, p.Revision, []byte("[WIF]\n"))
	assert.ErrorContains(t, err, "Nothing was brought in: the weaving file has no section [WEAVING]")
}
