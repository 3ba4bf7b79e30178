package shelf_test

import (
	"bytes"
	"image"
	"image/jpeg"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/surface"
	"lampfern/exchange"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/stages"
	"lampfern/stages/gather"
	"lampfern/testroom"
)

var (
	paperBox = shelf.Box{X: 0.1, Y: 0.2, W: 0.3, H: 0.6}
	clothBox = shelf.Box{X: 0.6, Y: 0.2, W: 0.3, H: 0.6}
)

func TestPhotoToShelfAndScrapPage(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	id, _ := testroom.Quilt(t, s)
	hash, err := s.AddPhoto(testroom.Ctx, "heap.jpg", testroom.SwatchPhoto(t, 200))
	require.NoError(t, err)
	again, err := s.AddPhoto(testroom.Ctx, "same heap.jpg", testroom.SwatchPhoto(t, 200))
	require.NoError(t, err)
	assert.Equal(t, hash, again)
	all, err := s.Photos(testroom.Ctx)
	require.NoError(t, err)
	require.Len(t, all, 1, "the same photo is kept once")

	fresh := plan.NewDesk(shelf.New(s.Store), stages.All()) // as after a restart: the photo comes from its file
	photo, err := fresh.Photo(testroom.Ctx, hash)
	require.NoError(t, err)
	sh, err := s.Shelf(testroom.Ctx)
	require.NoError(t, err)
	r, err := photo.Read(sh, shelf.Look{White: &paperBox, Known: colour.Lab{L: 95}, Boxes: []shelf.Box{clothBox}})
	require.NoError(t, err)
	assert.True(t, r.Corrected)
	truth, _ := colour.ParseHex("#8a5a86")
	assert.Less(t, colour.DeltaE2000(truth.Lab(), r.Taken[0].Colour), 3.0)
	assert.Equal(t, "Heather rail", r.Taken[0].Near[0].Name)
	byCard, err := photo.Read(sh, shelf.Look{White: &clothBox, Known: truth.Lab(), Boxes: []shelf.Box{paperBox}})
	require.NoError(t, err)
	assert.True(t, byCard.Corrected)
	assert.Less(t, colour.DeltaE2000(colour.Lab{L: 95}, byCard.Taken[0].Colour), 8.0, "white paper, by a card that is owned")
	assert.Greater(t, byCard.Taken[0].Uncertainty, r.Taken[0].Uncertainty, "less sure than by white")
	notThat, err := photo.Read(sh, shelf.Look{White: &clothBox, Known: colour.Lab{L: 60, A: -50, B: 40}})
	require.NoError(t, err)
	assert.Contains(t, notThat.WhiteTrouble, "would not look like this under any lamp")
	palette := photo.Palette(r)
	assert.InDelta(t, 0.5, palette[0].Share, 0.03)
	assert.InDelta(t, 0.5, palette[1].Share, 0.03)
	raw, err := photo.Read(sh, shelf.Look{Boxes: []shelf.Box{clothBox}})
	require.NoError(t, err)
	assert.Greater(t, raw.Taken[0].Uncertainty, r.Taken[0].Uncertainty, "without a white the doubt is said")
	wrong, err := photo.Read(sh, shelf.Look{White: &shelf.Box{X: 0.4, Y: 0, W: 0.2, H: 1}, Known: colour.Lab{L: 95}})
	require.NoError(t, err)
	assert.Contains(t, wrong.WhiteTrouble, "more than one colour")
	assert.False(t, wrong.Corrected)
	_, err = photo.Read(sh, shelf.Look{Boxes: []shelf.Box{{X: 1.4, Y: 1.4, W: 0.1, H: 0.1}}})
	assert.ErrorContains(t, err, "outside the photo")
	_, err = photo.Read(sh, shelf.Look{Boxes: make([]shelf.Box, 25)})
	assert.ErrorContains(t, err, "at most 24")

	mid, err := s.SaveMaterial(testroom.Ctx, 0, 0, photo.Material(r.Taken[0], "Stall heather", "fabric"))
	require.NoError(t, err)
	sh, _ = s.Shelf(testroom.Ctx)
	c, err := sh.Card(mid)
	require.NoError(t, err)
	assert.Equal(t, "photo", c.Source)
	assert.Equal(t, r.Taken[0].Uncertainty, c.Uncertainty)

	p := testroom.Do(t, s, id, plan.TearScrap{Photo: photo, Taken: r.Taken[0], Name: "market heather"})
	page := gather.ScrapPage(p)
	require.Len(t, page, 1)
	assert.Equal(t, "Stall heather", page[0].Near[0].Name)
	assert.Len(t, page[0].Near, 3)
	p = testroom.Do(t, s, id, gather.RenameScrap{Key: 1, Name: "heather of the market"})
	assert.Equal(t, "heather of the market", p.Scraps[0].Name)
	_, out, err := s.Export(testroom.Ctx, id)
	require.NoError(t, err)
	other := testroom.Studio(t, stages.All()...)
	there, err := testroom.Import(other, out)
	require.NoError(t, err)
	_, back, err := other.Export(testroom.Ctx, there)
	require.NoError(t, err)
	assert.Equal(t, out, back, "scraps travel with the plan, without their photos")
	p = testroom.Do(t, s, id, gather.DropScrap{Key: 1})
	assert.Empty(t, p.Scraps)
	_, err = s.StepPlan(testroom.Ctx, id, p.Revision, true)
	require.NoError(t, err)
	p, _ = s.Open(testroom.Ctx, id)
	assert.Len(t, p.Scraps, 1, "a scrap thrown out comes back")
	for want, e := range map[string]plan.Edit{"was deleted": gather.RenameScrap{Key: 9, Name: "x"}, "a name": gather.RenameScrap{Key: 1, Name: " "},
		"Give the material": plan.TearScrap{Photo: photo, Taken: r.Taken[0], Name: ""}} {
		assert.ErrorContains(t, testroom.Change(s, id, p.Revision, e), want)
	}
}

func TestPhotosRefusedAndMissing(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	_, err := s.AddPhoto(testroom.Ctx, "x.tif", []byte("II*"))
	assert.ErrorContains(t, err, "Not added")
	_, err = s.Photo(testroom.Ctx, "abcd")
	assert.ErrorIs(t, err, shelf.ErrNotFound)
	for i := range 6 { // more than are held in memory
		_, err := s.AddPhoto(testroom.Ctx, "x.jpg", testroom.SwatchPhoto(t, 100+10*i))
		require.NoError(t, err)
	}
	all, err := s.Photos(testroom.Ctx)
	require.NoError(t, err)
	for _, p := range all {
		photo, err := s.Photo(testroom.Ctx, p.Hash)
		require.NoError(t, err)
		view, err := photo.View()
		require.NoError(t, err)
		assert.NotEmpty(t, view)
		_, err = photo.Cut(shelf.Look{White: &paperBox, Known: colour.Lab{L: 95}}, 100, 10)
		require.NoError(t, err)
		_, err = photo.Cut(shelf.Look{}, 0, 10)
		assert.ErrorContains(t, err, "how many millimetres")
	}
}

// BenchmarkPhotoToPalette takes a photo of twelve megapixels to its palette,
// beside decoding it.
func BenchmarkPhotoToPalette(b *testing.B) {
	img := image.NewNRGBA(image.Rect(0, 0, 4000, 3000))
	for i := range img.Pix {
		img.Pix[i] = uint8(i * 7 >> 4)
	}
	var file bytes.Buffer
	require.NoError(b, jpeg.Encode(&file, img, nil))
	b.Run("decode", func(b *testing.B) {
		for b.Loop() {
			_, err := jpeg.Decode(bytes.NewReader(file.Bytes()))
			require.NoError(b, err)
		}
	})
	b.Run("palette", func(b *testing.B) {
		for b.Loop() {
			read, err := exchange.ReadPhoto(b.Context(), file.Bytes())
			require.NoError(b, err)
			require.NotEmpty(b, surface.Palette(read.Image, surface.Correction{}, shelf.PhotoPalette))
		}
	})
}
