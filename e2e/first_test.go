package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// From an empty folder to five pasted yarns on a scheme and on stripes: counted presses and fields,
// on a desk and on a phone.
func TestTheFirstMinutes(t *testing.T) {
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
		press("#begin button", "Put them on the shelf and start a plan")
		assert.Equal(t, []string{"Plum", "Moth wing", "Violet", "Reed", "Teal"}, b.trayNames())
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
	s := serve(t, true)
	b := s.openAt("/photos", 390, 844)
	photo := *b.MustElement("#photo-list a").MustAttribute("href")
	for _, c := range []struct{ page, picture string }{
		{photo, "#photo img"}, {"/plans/6/draft", ".draft-picture svg"}, {"/plans/9/cards", ".riffle"}, {"/plans/9/values", ".run-picture svg"}, {"/plans/9/proportion", "#piece"},
		{"/plans/4/proportion", ".solid-view"}, {"/plans/7/stitches", "#chart"}, {"/plans/3/drawing", "#drawing"}, {"/plans/9/wheel", ".wheel-picture svg"}, {"/plans/9/squint", ".squint svg"},
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
	s := serve(t, true)
	b := s.open("/plans/9/proportion")
	assert.Equal(t, []string{"Skip to the stage", "Skip to the notes", "Skip to the tray"}, b.texts(".skip"))
	for _, id := range []string{"notes", "tray", "stage"} {
		b.MustEval(`(id) => document.querySelector('.skip[href="#' + id + '"]').click()`, id)
		assert.Equal(t, id, b.MustEval(`() => document.activeElement.id`).Str())
	}
	b.press('1', 'x')
	assert.Contains(t, b.text("#said"), "Plum curtain", "what was done is said")
	b.press('z')
	assert.Contains(t, b.text("#said"), "Undone")
}
