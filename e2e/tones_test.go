package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
)

// One of the set's figures gets a fade, by mouse and on a phone, and it is taken off by keyboard.
func TestAPartInMoreThanOneTone(t *testing.T) {
	t.Parallel()
	for _, w := range []int{1280, 390} {
		s := serve(t, true)
		b := s.openAt("/plans/3/together", w, 844)
		b.click(`#pieces li:nth-child(2) button`)
		b.visit("/plans/3/proportion")
		assert.True(t, b.MustHas("#part-cloak--shade"), "its cloak is shaded already")
		b.unfold("parts")
		b.click("#divide summary")
		b.MustElement("#divide-part").MustSelect("Tunic")
		b.MustElement("#divide-card").MustSelect("River blue")
		b.MustElement("#divide-kind").MustSelect("to fade into")
		b.click("#divide-lay")
		assert.Contains(t, b.text("#said"), "River blue to the foot of the tunic")
		assert.Greater(t, len(fills(b, "#part-tunic path")), 10, "it passes in many steps")
		assert.Contains(t, b.MustEval(`() => document.getElementById('as-table').textContent`).Str(), "foot of the tunic")
		b.tabTo("#join-tunic--fade")
		b.press(input.Enter)
		assert.False(t, b.MustHas("#part-tunic--fade"))
		b.press('z')
		assert.True(t, b.MustHas("#part-tunic--fade"))
	}
}

// A drawing is looked at from near by presses and by keys; a curve and a line of a width are drawn in it.
func TestADrawingFromNear(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/9/proportion")
	b.click("#to-pieces")
	b.click("#piece-drawn")
	b.click("#to-own")
	box := func() string { return b.attr("#drawing", "viewBox") }
	all := box()
	b.unfold("draw-more")
	b.click(`[data-zoom="in"]`)
	near := box()
	assert.NotEqual(t, all, near)
	b.tabTo("#drawing")
	b.press(input.ArrowRight)
	assert.NotEqual(t, near, box())
	b.press('0')
	assert.Equal(t, all, box())
	press := func(at ...[2]float64) {
		for _, q := range at {
			p := b.within("#drawing", q[0], q[1])
			b.Mouse.MustMoveTo(p.X, p.Y).MustDown(proto.InputMouseButtonLeft).MustUp(proto.InputMouseButtonLeft)
		}
	}
	b.click("#tool-curve")
	b.MustElement("#draw-part").MustSelectAllText().MustInput("cloud")
	press([2]float64{.4, .4}, [2]float64{.5, .25}, [2]float64{.6, .4}, [2]float64{.5, .6})
	b.press(input.Enter)
	corners := `n => document.querySelectorAll('#drawing polygon')[n].points.length`
	assert.Equal(t, 48, b.MustEval(corners, 1).Int(), "four places, twelve sides from each to the next")
	b.click("#tool-line")
	b.MustElement("#draw-part").MustSelectAllText().MustInput("stem")
	press([2]float64{.5, .62}, [2]float64{.5, .8})
	b.click("#draw-end")
	assert.Equal(t, 4, b.MustEval(corners, 2).Int())
	b.click("#tool-corners")
	press([2]float64{.1, .1})
	b.click("#draw-end")
	assert.Contains(t, b.text("#flashes"), "at least three corners")
	// What is typed stays where a file is refused.
	b.MustElement("#svg-wide").MustInput("123.4")
	b.MustElement("#svg-file").MustSetFiles("tones_test.go")
	b.click("#bring-svg")
	assert.NotEmpty(t, b.text("#flashes"))
	assert.Equal(t, "123.4", b.MustElement("#svg-wide").MustProperty("value").Str())
}

// One face of the lantern takes a card by a press, and is taken off again among its bodies.
func TestASingleFaceIsColoured(t *testing.T) {
	t.Parallel()
	b := serve(t, true).open("/plans/4/proportion")
	b.until("the lantern", `() => document.getElementById('solid-view')?.dataset.shown === 'fine'`)
	b.click("#by-face")
	b.press('2')
	for range 2 { // the second press finds the face that is there
		p := b.within("#solid-view canvas", .5, .45)
		b.Mouse.MustMoveTo(p.X, p.Y).MustDown(proto.InputMouseButtonLeft).MustUp(proto.InputMouseButtonLeft)
		b.settle()
		b.until("the face", `() => [...document.querySelectorAll('#as-table th')].some(n => n.textContent.startsWith('face of the'))`)
	}
	assert.True(t, b.MustElement("#by-face").MustProperty("checked").Bool(), "it stays so")
	b.click("#to-own")
	assert.Len(t, b.MustElements("#faces li"), 1)
	b.clickText("#faces button", "Remove")
	assert.False(t, b.MustHas("#faces"))
	b.unfold("assemble")
	b.MustElement("#move-z-1").MustSelectAllText().MustInput("12").MustType(input.Enter)
	b.settle()
	assert.True(t, b.MustHas("#save-plated"))
}
