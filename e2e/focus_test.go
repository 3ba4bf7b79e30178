package e2e

import (
	"bytes"
	"fmt"
	"image"
	"image/png"
	"os"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/testroom"
)

// focusPages are the pages of which every Tab stop is looked at.
var focusPages = []string{"/start", "/shelf", "/shelf/new", "/photos", "/care", "/plans", "/plans/9/brief", "/plans/9/gather", "/plans/9/wheel",
	"/plans/9/values", "/plans/9/cards", "/plans/9/proportion", "/plans/7/mix", "/plans/9/signoff", "/plans/9/buy", "/plans/9/log", "/plans/9/together",
	"/plans/3/drawing", "/plans/1/pieces", "/plans/9/scraps"}

// focusSeen is how many pixels have to change by a step that is seen, of 255, for the focus to be seen.
const (
	focusStep   = 60
	focusPixels = 40
)

// Where the focus is on any Tab stop is seen: the pixels round it differ from those without it. ./trials looks at all
// pages; else every third.
func TestFocusIsSeenOnEveryTabStop(t *testing.T) {
	testroom.Slow(t)
	t.Parallel()
	s := serve(t, true)
	b := s.open(focusPages[0])
	stops := 0
	for i, path := range focusPages {
		if os.Getenv("LAMPFERN_SEQUENCES") == "" && i%3 != 0 {
			continue
		}
		b.visit(path)
		b.MustEval(`() => { const s = document.createElement('style'); s.textContent = '* { transition: none !important; animation: none !important; caret-color: transparent !important }'; document.head.append(s) }`)
		seen := map[string]bool{}
		for range 260 {
			require.NoError(t, b.Keyboard.Type(input.Tab))
			at := b.MustEval(`() => {
				const e = document.activeElement;
				if (!e || e === document.body) return null;
				for (const stuck of document.querySelectorAll('[data-stop]')) if (stuck === e) return null;
				e.dataset.stop = '';
				e.scrollIntoView({ block: 'nearest', inline: 'nearest' });
				const r = (e.closest('label') ?? e).getBoundingClientRect();
				return [r.x, r.y, r.width, r.height, (e.id || e.getAttribute('aria-label') || e.textContent || e.name || '').trim().slice(0, 40) + ' <' + e.tagName.toLowerCase() + '>'];
			}`)
			if at.Nil() {
				break
			}
			v := at.Arr()
			what := v[4].Str()
			if seen[what] { // one of a row of alike
				continue
			}
			seen[what] = true
			stops++
			const round = 8
			x, y := max(0, v[0].Num()-round), max(0, v[1].Num()-round)
			clip := &proto.PageViewport{X: x, Y: y, Width: min(v[2].Num()+2*round, 1280-x), Height: min(v[3].Num()+2*round, 800-y), Scale: 1}
			if clip.Width <= 0 || clip.Height <= 0 {
				assert.Fail(t, "the focus lies outside the window", "%s: %s", path, what)
				continue
			}
			with := b.pixels(clip)
			b.MustEval(`() => { window.held = document.activeElement; window.held.blur() }`)
			without := b.pixels(clip)
			b.MustEval(`() => window.held.focus({ preventScroll: true, focusVisible: true })`)
			assert.GreaterOrEqual(t, changed(with, without), focusPixels, "%s: the focus is not seen on %s", path, what)
		}
	}
	t.Logf("%d kinds of stops looked at", stops)
	assert.Greater(t, stops, 100)
}

// pixels are a part of the window.
func (b *tab) pixels(clip *proto.PageViewport) image.Image {
	b.t.Helper()
	data, err := b.Screenshot(false, &proto.PageCaptureScreenshot{Format: proto.PageCaptureScreenshotFormatPng, Clip: clip})
	require.NoError(b.t, err)
	img, err := png.Decode(bytes.NewReader(data))
	require.NoError(b.t, err, fmt.Sprint(clip))
	return img
}

// changed counts the pixels that differ in a channel by focusStep or more.
func changed(a, b image.Image) (n int) {
	for y := a.Bounds().Min.Y; y < a.Bounds().Max.Y; y++ {
		for x := a.Bounds().Min.X; x < a.Bounds().Max.X; x++ {
			r, g, bl, _ := a.At(x, y).RGBA()
			r2, g2, b2, _ := b.At(x, y).RGBA()
			for _, d := range []int{int(r>>8) - int(r2>>8), int(g>>8) - int(g2>>8), int(bl>>8) - int(b2>>8)} {
				if d >= focusStep || -d >= focusStep {
					n++
					break
				}
			}
		}
	}
	return n
}
