package studio

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/surface"
	"lampfern/exchange"
)

// swatchPhoto is a photo of white paper on the left and plum cloth on the
// right, in a warm light.
func swatchPhoto(t *testing.T, width int) []byte {
	t.Helper()
	warm := func(hex string) color.NRGBA {
		c, err := colour.ParseHex(hex)
		require.NoError(t, err)
		r, g, b := c.Linear()
		w := colour.LinearRGB(r*0.8, g*0.62, b*0.42)
		return color.NRGBA{uint8(255 * w.R), uint8(255 * w.G), uint8(255 * w.B), 255}
	}
	img := image.NewNRGBA(image.Rect(0, 0, width, 100))
	paper, cloth := warm("#f1f1f1"), warm("#8a5a86")
	for y := range 100 {
		for x := range width {
			c := paper
			if x > width/2 {
				c = cloth
			}
			img.SetNRGBA(x, y, c)
		}
	}
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, img, &jpeg.Options{Quality: 95}))
	return b.Bytes()
}

var (
	paperBox = Box{0.1, 0.2, 0.3, 0.6}
	clothBox = Box{0.6, 0.2, 0.3, 0.6}
)

func TestPhotoToShelfAndScrapPage(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	hash, err := s.AddPhoto(ctx, "heap.jpg", swatchPhoto(t, 200))
	require.NoError(t, err)
	again, err := s.AddPhoto(ctx, "same heap.jpg", swatchPhoto(t, 200))
	require.NoError(t, err)
	assert.Equal(t, hash, again)
	all, err := s.Photos(ctx)
	require.NoError(t, err)
	require.Len(t, all, 1, "the same photo is kept once")

	fresh := New(s.store) // as after a restart: the photo comes from its file
	photo, err := fresh.Photo(ctx, hash)
	require.NoError(t, err)
	sh, err := s.Shelf(ctx)
	require.NoError(t, err)
	r, err := photo.Read(sh, Look{White: &paperBox, Lightness: 95, Boxes: []Box{clothBox}})
	require.NoError(t, err)
	assert.True(t, r.Corrected)
	truth, _ := colour.ParseHex("#8a5a86")
	assert.Less(t, colour.DeltaE2000(truth.Lab(), r.Taken[0].Colour), 3.0)
	assert.Equal(t, "Heather rail", r.Taken[0].Near[0].Name)
	palette := photo.Palette(r)
	assert.InDelta(t, 0.5, palette[0].Share, 0.03)
	assert.InDelta(t, 0.5, palette[1].Share, 0.03)
	raw, err := photo.Read(sh, Look{Boxes: []Box{clothBox}})
	require.NoError(t, err)
	assert.Greater(t, raw.Taken[0].Uncertainty, r.Taken[0].Uncertainty, "without a white the doubt is said")
	wrong, err := photo.Read(sh, Look{White: &Box{0.4, 0, 0.2, 1}, Lightness: 95})
	require.NoError(t, err)
	assert.Contains(t, wrong.WhiteTrouble, "more than one colour")
	assert.False(t, wrong.Corrected)
	_, err = photo.Read(sh, Look{Boxes: []Box{{1.4, 1.4, 0.1, 0.1}}})
	assert.ErrorContains(t, err, "outside the photo")
	_, err = photo.Read(sh, Look{Boxes: make([]Box, 25)})
	assert.ErrorContains(t, err, "at most 24")

	mid, err := s.KeepTaken(ctx, photo, r.Taken[0], "Stall heather", "yarn")
	require.NoError(t, err)
	sh, _ = s.Shelf(ctx)
	c, err := sh.Card(mid)
	require.NoError(t, err)
	assert.Equal(t, "photo", c.Source)
	assert.Equal(t, r.Taken[0].Uncertainty, c.Uncertainty)

	p := do(t, s, id, TearScrap(photo, r.Taken[0], "market heather"))
	page := p.ScrapPage()
	require.Len(t, page, 1)
	assert.Equal(t, "Stall heather", page[0].Near[0].Name)
	assert.Len(t, page[0].Near, 3)
	p = do(t, s, id, RenameScrap(1, "heather of the market"))
	assert.Equal(t, "heather of the market", p.Scraps[0].Name)
	out, err := s.ExportPlan(ctx, id)
	require.NoError(t, err)
	other := studio(t)
	there, err := other.ImportPlan(ctx, out)
	require.NoError(t, err)
	back, err := other.ExportPlan(ctx, there)
	require.NoError(t, err)
	assert.Equal(t, out, back, "scraps travel with the plan, without their photos")
	p = do(t, s, id, DropScrap(1))
	assert.Empty(t, p.Scraps)
	_, err = s.StepPlan(ctx, id, p.Revision, true)
	require.NoError(t, err)
	p, _ = s.Open(ctx, id)
	assert.Len(t, p.Scraps, 1, "a scrap thrown out comes back")
	for want, e := range map[string]Edit{"no longer on the page": DropScrap(9), "longer on the page": RenameScrap(9, "x"), "a name": RenameScrap(1, " "), "Give the material": TearScrap(photo, r.Taken[0], "")} {
		assert.ErrorContains(t, s.Change(ctx, id, p.Revision, e), want)
	}
}

func TestPhotosRefusedAndMissing(t *testing.T) {
	s := studio(t)
	_, err := s.AddPhoto(ctx, "x.tif", []byte("II*"))
	assert.ErrorContains(t, err, "Nothing was kept")
	_, err = s.Photo(ctx, "abcd")
	assert.ErrorIs(t, err, ErrNotFound)
	for i := range 6 { // more than are held in memory
		_, err := s.AddPhoto(ctx, "x.jpg", swatchPhoto(t, 100+10*i))
		require.NoError(t, err)
	}
	all, err := s.Photos(ctx)
	require.NoError(t, err)
	for _, p := range all {
		photo, err := s.Photo(ctx, p.Hash)
		require.NoError(t, err)
		view, err := photo.View()
		require.NoError(t, err)
		assert.NotEmpty(t, view)
		_, err = photo.Cut(Look{White: &paperBox, Lightness: 95}, 100, 10)
		require.NoError(t, err)
		_, err = photo.Cut(Look{}, 0, 10)
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
			read, err := exchange.ReadPhoto(file.Bytes())
			require.NoError(b, err)
			require.NotEmpty(b, surface.Palette(read.Image, surface.Correction{}, photoPalette))
		}
	})
}
