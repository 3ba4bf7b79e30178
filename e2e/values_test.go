package e2e

import (
	"context"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/plan"
	"lampfern/stages/values"
)

// centre is the middle of an element on the page.
func (b *tab) centre(selector string) proto.Point {
	b.t.Helper()
	box := b.MustElement(selector).MustShape().Box()
	return proto.Point{X: box.X + box.Width/2, Y: box.Y + box.Height/2}
}

func (b *tab) tokens() []string {
	var out []string
	for _, e := range b.MustElements("#values .run-card") {
		out = append(out, *e.MustAttribute("data-token"))
	}
	return out
}

func TestARunByMouse(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/9/values")
	all := b.tokens()
	require.Len(t, all, 7)
	assert.Contains(t, b.text("#notes"), "Dusty fig is noticeably greyer than its neighbours")

	// Dragged out: the fit follows while it is dragged, and once it is dropped.
	fig := ""
	for _, e := range b.MustElements("#values .run-card") {
		if label := *e.MustAttribute("aria-label"); len(label) > 9 && label[:9] == "Dusty fig" {
			fig = *e.MustAttribute("data-token")
		}
	}
	require.NotEmpty(t, fig)
	from, heap := b.centre(`[data-token="`+fig+`"] path:last-of-type`), b.centre("#heap")
	b.Mouse.MustMoveTo(from.X, from.Y)
	b.Mouse.MustDown(proto.InputMouseButtonLeft)
	b.Mouse.MustMoveTo(from.X+40, from.Y)
	b.Mouse.MustMoveTo(heap.X, heap.Y)
	b.until("the run without it", `n => document.querySelectorAll('#values .run-card').length === n`, 6)
	assert.Len(t, values.Of(mustOpen(t, s)).Run.Aside, 1, "nothing is saved yet")
	b.Mouse.MustUp(proto.InputMouseButtonLeft)
	b.settle()
	assert.Contains(t, b.text("#heap"), "too grey", "the reason is kept")
	assert.Len(t, values.Of(mustOpen(t, s)).Run.Aside, 2)
	assert.NotContains(t, b.text("#notes .notes"), "Dusty fig")

	// And dragged back in.
	from, to := b.centre(`#heap li[data-token="`+fig+`"] i`), b.centre("#run")
	b.Mouse.MustMoveTo(from.X, from.Y)
	b.Mouse.MustDown(proto.InputMouseButtonLeft)
	b.Mouse.MustMoveTo(from.X-30, from.Y)
	b.Mouse.MustMoveTo(to.X, to.Y)
	b.Mouse.MustUp(proto.InputMouseButtonLeft)
	b.settle()
	assert.Len(t, b.tokens(), 7)

	// Alternatives of a step under the pointer.
	b.MustElement("#steps > li:nth-child(3) .run-step").MustHover()
	b.until("its alternatives", `() => document.querySelector('#steps > li:nth-child(3)').classList.contains('on')`)
	assert.True(t, b.MustElement("#steps > li:nth-child(3) .near-step").MustVisible())
	assert.False(t, b.MustElement("#steps > li:nth-child(2) .near-step").MustVisible())
	before := len(b.trayNames())
	b.click("#steps > li:nth-child(3) .pull-card:not([disabled])")
	assert.Len(t, b.trayNames(), before+1)

	b.click("#run-tray")
	b.unfold("more-notes")
	assert.Contains(t, b.text("#notes"), "Mixed hues: judged by value only")
	b.click("#run-scraps")
	assert.Contains(t, b.text("#stage .heading p"), "3 colours on the scrap page")
	b.click("#run-shelf")
	b.MustElement("#run-family").MustSelect("brown")
	b.settle()
	assert.Contains(t, b.text("#stage .heading p"), "10 colours on the shelf")
	b.MustElement("#run-kind").MustSelect("fabric")
	b.settle()
	b.MustElement("#run-steps").MustSelectAllText().MustInput("many")
	b.settle()
	assert.Contains(t, b.text("#flashes"), "whole number")
	b.MustElement("#run-steps").MustSelectAllText().MustInput("4")
	b.settle()
	assert.Len(t, b.MustElements("#steps > li"), 4)
	b.unfold("keep-run")
	b.click("#make-strips")
	b.clickText(".rail a", "Proportion")
	assert.GreaterOrEqual(t, len(b.MustElements("#piece .part")), 4)
	for path, kind := range map[string]string{"run.pdf": "application/pdf", "run.png": "image/png", "run.svg": "image/svg+xml",
		"run.csv": "text/csv; charset=utf-8", "run.tokens.json": "application/json"} {
		r := s.get("/plans/9/" + path)
		assert.Equal(t, 200, r.StatusCode, path)
		assert.Equal(t, kind, r.Header.Get("Content-Type"))
	}
}

func TestARunByKeyboard(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/9/values")
	b.tabTo(".run-card")
	b.press(input.Enter)
	assert.Len(t, b.tokens(), 6)
	assert.Contains(t, b.text("#heap"), "set aside by hand")
	b.press('z')
	assert.Len(t, b.tokens(), 7)
}

func TestRampsByMouseAndKeyboard(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/9/values")
	b.click("#to-ramp")
	require.Len(t, b.MustElements("#ramps li"), 3)
	b.click("#ramp-1")
	assert.Equal(t, "Heather dusk", b.attr("#ramp-name", "value"))
	b.clickText("#ramps .now button", "Copy")
	assert.Equal(t, "Heather dusk (variation)", b.text("#ramp-4"))
	b.click("#ramp-4")
	swatches := b.MustEval(`() => [...document.querySelectorAll('#ramps .now .main i')].map(i => i.style.background).join()`).Str()
	b.MustElement("#ramp-turn").MustSelectAllText().MustInput("60")
	b.settle()
	assert.NotEqual(t, swatches,
		b.MustEval(`() => [...document.querySelectorAll('#ramps .now .main i')].map(i => i.style.background).join()`).Str(), "swatches are live")
	b.MustElement("#dark-0-hue").MustSelectAllText().MustInput("warm")
	b.settle()
	assert.Contains(t, b.text("#flashes"), "is not a number")
	assert.Equal(t, "warm", b.MustEval(`() => document.getElementById('dark-0-hue').value`).Str(), "what was typed stays, to be mended")
	b.MustElement("#dark-0-hue").MustSelectAllText().MustInput("350")
	b.settle()
	b.click("#add-dark")
	assert.Contains(t, b.text("#notes"), "would be", "what is held at its bounds is told")
	b.tabTo("#recipe-name")
	require.NoError(t, b.Keyboard.Type([]input.Key("My ladder")...))
	b.press(input.Enter)
	assert.Contains(t, b.text("#recipes li"), "My ladder")
	b.clickText(".ramp-near button", "^Mix it$")
	b.clickText(".rail a", "Mix")
	assert.Contains(t, b.text("#stage"), "Heather dusk (variation)")
	b.visit("/plans/9/squint?blur=12")
	assert.Contains(t, b.attr(".picture.squint", "style"), "blur(12px)")
}

// mustOpen reads the stage curtain's plan as it is saved.
func mustOpen(t *testing.T, s *site) *plan.Plan {
	t.Helper()
	p, err := s.work.Open(context.Background(), 9)
	require.NoError(t, err)
	return p
}
