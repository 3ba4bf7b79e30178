package e2e

import (
	"context"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// photoNamed is the address of a photo of the demo workroom.
func (s *site) photoNamed(name string) string {
	s.t.Helper()
	all, err := s.work.Photos(context.Background())
	require.NoError(s.t, err)
	for _, p := range all {
		if p.Name == name {
			return "/photos/" + p.Hash
		}
	}
	s.t.Fatalf("no photo %s", name)
	return ""
}

const heap = "cloths under the kitchen lamp.jpg"

// drawBox drags a box over the photo, in shares of its size.
func (b *tab) drawBox(x, y, w, h float64) {
	b.t.Helper()
	img := b.MustElement("#photo img").MustShape().Box()
	at := func(u, v float64) proto.Point {
		return proto.Point{X: img.X + u*img.Width, Y: img.Y + v*img.Height}
	}
	a, z := at(x, y), at(x+w, y+h)
	b.Mouse.MustMoveTo(a.X, a.Y)
	b.Mouse.MustDown(proto.InputMouseButtonLeft)
	b.Mouse.MustMoveTo((a.X+z.X)/2, (a.Y+z.Y)/2)
	b.Mouse.MustMoveTo(z.X, z.Y)
	b.Mouse.MustUp(proto.InputMouseButtonLeft)
	b.settle()
}

func TestColoursFromAPhotoByMouse(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open(s.photoNamed(heap) + "?plan=9")
	b.drawBox(0.12, 0.16, 0.12, 0.22)
	assert.Contains(t, b.text("#stage .heading p"), "White-balanced")
	b.drawBox(0.40, 0.18, 0.14, 0.16)
	b.drawBox(0.38, 0.64, 0.12, 0.12)
	require.Len(t, b.MustElements(".taken"), 2)
	b.unfold("about-1")
	b.unfold("about-2")
	assert.Contains(t, b.text(".taken"), "White-balanced by a grey of value 9.5")
	assert.Contains(t, b.texts(".taken")[1], "Marrow flesh")
	b.MustElement("#name-1").MustSelectAllText().MustInput("Market plum")
	b.click("#keep-1")
	assert.Contains(t, b.text(".flash"), "Market plum is on the shelf")
	require.Len(t, b.MustElements(".taken"), 2, "the boxes are still there")
	b.unfold("about-2")
	b.MustElement("#name-2").MustSelectAllText().MustInput("Fair gold")
	b.clickText(".taken:nth-of-type(2) button", "Scrap page")
	assert.Contains(t, b.text(".flash"), "scrap page of Stage curtain")
	b.clickText(".taken .act", "Remove")
	assert.Len(t, b.MustElements(".taken"), 1)
	b.visit("/plans/9/scraps")
	assert.Len(t, b.MustElements(".scrap"), 4)
	b.click("#scrap-4 .pull-card:not([disabled])")
	assert.Len(t, b.trayNames(), 6)
	b.press('z')
	assert.Len(t, b.trayNames(), 5)
}

func TestColoursFromAPhotoByKeyboard(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open(s.photoNamed(heap))
	b.tabTo("#photo")
	for range 32 { // from the middle to the paper
		b.press(input.ArrowLeft)
	}
	for range 22 {
		b.press(input.ArrowUp)
	}
	b.press(input.Enter)
	assert.Contains(t, b.text("#stage .heading p"), "White-balanced")
	b.tabTo("#photo")
	for range 28 {
		b.press(input.ArrowRight)
	}
	b.press(input.Enter)
	require.Len(t, b.MustElements(".taken"), 1)
	b.unfold("about-1")
	assert.Contains(t, b.text(".taken"), "Plum curtain")
}

func TestPhotoBroughtInAndReadAsAPrint(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/photos")
	b.click("#add-photo")
	assert.Contains(t, b.text("[role=alert]"), "Choose a photo first")
	b.MustElement("#file").MustSetFiles(writeFile(t, "x.jpg", "II*\x00 a TIFF renamed"))
	b.click("#add-photo")
	assert.Contains(t, b.text("[role=alert]"), "save it as JPEG, PNG or WebP")
	b.MustElement("#file").MustSetFiles("../demo/photos/sprig print.jpg")
	b.click("#add-photo")
	b.click("#as-print")
	b.MustElement("#print-mm").MustInput("20 cm")
	b.MustElement("#print-cut").MustInput("nine")
	b.click("#cut-it")
	assert.Contains(t, b.text("[role=alert]"), "not a length")
	b.MustElement("#print-cut").MustSelectAllText().MustInput("0.4 in")
	b.click("#cut-it")
	assert.Contains(t, b.text("#notes"), "200 sample pieces")
	holds, goes := len(b.MustElements(".cut-pieces .holds")), len(b.MustElements(".cut-pieces .goes"))
	assert.Equal(t, 42, holds+goes)
	assert.Positive(t, goes, "cut this small, some pieces are mostly sprig")
}
