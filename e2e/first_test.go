package e2e

import (
	"fmt"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// From an empty folder to five pasted yarns on a scheme and on stripes: counted presses and fields,
// on a desk and on a phone.
func TestTheFirstMinutes(t *testing.T) {
	t.Parallel()
	const mostPresses, mostFields = 8, 2
	for _, w := range []int{1280, 390} {
		s := serve(t, false)
		presses, fields := 0, 0
		b := s.openAt("/", w, 844)
		b.MustElement("#begin-colours").MustInput("Plum #5a2a4e\nMoth wing #d9cbb0\n#8a5a86\nReed #7c8a3a\nTeal #1f6f74")
		fields++
		b.MustElement("#begin-kind").MustSelect("yarn")
		fields++
		press := func(selector, words string) {
			t.Helper()
			b.clickText(selector, words)
			b.settle()
			presses++
		}
		press("#begin button", "Show me")
		assert.Equal(t, []string{"Plum", "Moth wing", "Amethyst", "Reed", "Teal"}, b.trayNames())
		press("#stage button, #stage a", "Triadic")
		assert.Contains(t, b.text("#stage"), "Triadic from Plum")
		press(".rail a", "Proportion")
		seen := map[string]bool{}
		for _, colour := range fills(b, "#piece .part") {
			seen[colour] = true
		}
		assert.Len(t, seen, 5, "each stripe has its colour")
		t.Logf("%d px wide: %d presses and %d fields, the paste among them", w, presses, fields)
		assert.LessOrEqual(t, presses, mostPresses)
		assert.LessOrEqual(t, fields, mostFields)
	}
}

// On a phone every stage has its picture, at a size to work with, and nothing lies on it or runs
// off the side of the window.
func TestPicturesOnAPhone(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.openAt("/photos", 390, 844)
	photo := *b.MustElement("#photo-list a").MustAttribute("href")
	for _, c := range []struct{ page, picture string }{
		{photo, "#photo img"}, {"/plans/6/draft", ".draft-picture svg"}, {"/plans/9/cards", ".riffle"}, {"/plans/9/values", ".run-picture svg"},
		{"/plans/9/proportion", "#piece"},
		{"/plans/4/proportion", ".solid-view"}, {"/plans/7/stitches", "#chart"}, {"/plans/3/drawing", "#drawing"},
		{"/plans/9/wheel", ".wheel-picture svg"}, {"/plans/9/squint", ".squint svg"},
	} {
		b.visit(c.page)
		b.settle()
		b.until("the picture of "+c.page, `(s) => document.querySelector(s)?.getBoundingClientRect().height >= 110`, c.picture)
		over := b.MustEval(`(s) => {
			const box = document.querySelector(s).getBoundingClientRect();
			const on = [...document.querySelectorAll('#stage form, #stage .eye, #stage .heading')].filter((f) => !f.closest('.tools') && !f.contains(document.querySelector(s)) && !document.querySelector(s).contains(f) && !document.querySelector(s).parentElement.contains(f));
			return on.filter((f) => { const o = f.getBoundingClientRect(); return o.height && o.top < box.bottom - 1 && o.bottom > box.top + 1 && o.left < box.right - 1 && o.right > box.left + 1; }).map((f) => f.className || f.id).join(', ');
		}`, c.picture).Str()
		assert.Empty(t, over, "what lies on the picture of %s", c.page)
		wide := b.MustEval(`() => [...document.querySelectorAll('#stage input, #stage select, #stage button')].filter((f) => f.offsetParent && f.getBoundingClientRect().right > 391 && !f.closest('[data-scroll], .riffle, .laid-out, .deck, table')).map((f) => f.name || f.id || f.textContent).join(', ')`).Str()
		assert.Empty(t, wide, "what runs off the side of %s", c.page)
	}
}

// By keyboard one skips to the stage, the notes and the tray, and hears what a change did.
func TestSkippingAndHearing(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/9/gather")
	b.MustEval(`() => document.querySelector('.skip.to-find').click()`)
	assert.Equal(t, "find", b.MustEval(`() => document.activeElement.id`).Str())
	b.visit("/plans/9/proportion")
	assert.False(t, b.MustEval(`() => document.querySelector('.skip.to-find').checkVisibility()`).Bool(), "there is no finder here")
	assert.Equal(t, []string{"Skip to the stage", "Skip to the finder", "Skip to the notes", "Skip to the tray"}, b.texts(".skip"))
	for _, id := range []string{"notes", "tray", "stage"} {
		b.MustEval(`(id) => document.querySelector('.skip[href="#' + id + '"]').click()`, id)
		assert.Equal(t, id, b.MustEval(`() => document.activeElement.id`).Str())
	}
	b.press('1', 'x')
	assert.Contains(t, b.text("#said"), "Plum curtain", "what was done is said")
	b.press('z')
	assert.Contains(t, b.text("#said"), "Undone")
}

// After a press takes away what it was on, the keyboard goes on from what took its place.
func TestThePlaceOfTheKeyboardIsKept(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	for _, c := range []struct{ page, press, to string }{
		{"/plans/9/wheel", ".place .pull-card:not([disabled])", ".pull-card"},
		{"/plans/9/wheel", `#tray-2 [value^="do=aside"]`, "#tray"},
		{"/plans/9/gather", `.deck [value^="do=pull"]:not([disabled])`, ".deck"},
		{"/plans/9/values", `#heap [value^="do=put-back"]`, "#notes"},
		{"/plans/9/ways", `#ways [value^="do=way"]:not([disabled])`, "#stage"},
		{"/plans/9/proportion", `#notes [value^="do=dismiss"]`, "#notes"},
		{"/plans/9/scraps", `[value^="do=drop-scrap"]`, "#stage"},
		{"/plans/9/combinations", `[value^="do=drop-tried"]`, "#stage"},
		{"/plans/9/ramp?ramp=1", `[value^="do=ramp-drop"]`, "#stage"},
		{"/plans/3/mix", `[value^="do=drop-target"]`, "#stage"},
	} {
		b := s.open(c.page)
		b.MustElement(c.press).MustFocus()
		b.press(input.Enter)
		b.until("the keyboard to be within "+c.to+" after "+c.press,
			`(s) => !!document.activeElement.closest(s) && document.activeElement.checkVisibility()`, c.to)
		assert.NotEmpty(t, b.text("#said"), "%s: what was done is said", c.press)
	}
}

// Letters that are pressed act alone, with Alt or not at all, as the maker has it.
func TestLettersActAsTheMakerHasIt(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/9/proportion")
	b.press('?')
	b.MustElement("#keys-act").MustSelect("off")
	b.MustElement("#keys .btn-dark").MustClick()
	b.press('1', 'x', 'z')
	assert.Len(t, b.trayNames(), 5, "nothing was set aside")
	b.visit("/plans/9/proportion")
	b.MustElement(".rail [data-keys]").MustClick()
	b.MustElement("#keys-act").MustSelect("with Alt")
	b.MustElement("#keys .btn-dark").MustClick()
	b.press('1', 'x')
	assert.Len(t, b.trayNames(), 5)
	require.NoError(t, b.Keyboard.Press(input.AltLeft))
	b.press('1', 'x')
	require.NoError(t, b.Keyboard.Release(input.AltLeft))
	assert.Len(t, b.trayNames(), 4)
}

// With the spacing of text that some readers need, no line is cut off.
func TestTextMayStandWider(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	for _, w := range []int{1280, 390} {
		b := s.openAt("/", w, 844)
		for _, v := range views {
			b.visit(v.path)
			cut := b.MustEval(`() => {
				const s = document.createElement('style');
				s.textContent = '* { line-height: 1.5 !important; letter-spacing: .12em !important; word-spacing: .16em !important } p { margin-bottom: 2em !important }';
				document.head.append(s);
				return [...document.querySelectorAll('#bench *:not(svg *)')].filter((e) => [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim()) && ['hidden', 'clip'].includes(getComputedStyle(e).overflowY)
					&& e.clientHeight && e.scrollHeight > e.clientHeight + 2 && !e.closest('.visually-hidden')).map((e) => e.className + ' ' + e.textContent.trim().slice(0, 30)).join('; ');
			}`).Str()
			assert.Empty(t, cut, "%s at %d px", v.name, w)
		}
	}
}

// What is dragged can be pressed at its beginning and its end instead.
func TestPressesInPlaceOfDrags(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.openAt("/plans/3/drawing", 390, 844)
	shapes := func() int { return len(b.MustElements("#drawing polygon[data-at]")) }
	had := shapes()
	b.MustElement(`#draw-tools input[value="rectangle"]`).MustClick()
	b.MustElement("#drawing").MustScrollIntoView()
	b.clickAt(b.within("#drawing", .3, .2))
	assert.Contains(t, b.text("#said"), "Now click the opposite corner")
	b.clickAt(b.within("#drawing", .5, .4))
	assert.Equal(t, had+1, shapes())
	assert.Contains(t, b.text("#said"), "draw")

	b.visit("/plans/7/stitches")
	b.MustElement("#chart").MustScrollIntoView()
	b.MustElement("#in-line").MustClick()
	b.clickAt(b.within("#chart", .03, .03))
	b.clickAt(b.within("#chart", .03, .97))
	down := b.MustEval(`() => Number(document.getElementById('chart').dataset.down)`).Int()
	assert.Contains(t, b.attr("#undo", "title"), fmt.Sprint(down), "the whole column is painted")

	b.visit("/plans/4/proportion")
	b.until("the lantern", `() => document.getElementById('solid-view')?.dataset.shown === 'fine'`)
	before := b.MustEval(`() => document.querySelector('#solid-view canvas').toDataURL()`).Str()
	b.click(`[data-turns="ArrowLeft"]`)
	b.until("it to turn", `(was) => document.querySelector('#solid-view canvas').toDataURL() !== was`, before)

	b.visit("/plans/9/proportion")
	b.MustElement("#pick-1").MustClick()
	first := b.trayNames()[0]
	b.click(`#tray-1 [aria-label$="to the right"]`)
	assert.Equal(t, first, b.trayNames()[1], "a card moves along the tray by a press")
}
