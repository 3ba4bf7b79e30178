package e2e

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/plan/work"
	"lampfern/testroom"
)

// A plan is put to work with the mouse, worked through by keyboard, and ticked at the
// worktable on a phone.
func TestAPlanIsPutToWork(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/8/log")
	b.click("#order-work")
	b.until("the stem is there", `() => document.querySelectorAll('#stem li.step').length > 4`)
	assert.Contains(t, b.text("#on-time"), "You will finish on")
	due := time.Now().AddDate(0, 0, 6).Format(time.DateOnly)
	b.MustEval(`(day) => { document.getElementById('due').value = day; }`, due)
	b.click("#wanted button")
	b.until("it is late", `() => document.getElementById('on-time').textContent.includes('late')`)
	b.clickText("#on-time button.act", "Move the date to")
	b.until("it is wanted later", `() => document.getElementById('on-time').textContent.includes('the due date')`)

	// By keyboard: a step is done, undone, and the diary is written.
	b.MustElement("#step-cut summary").MustFocus()
	b.Keyboard.MustType(input.Enter)
	b.MustElement("#step-cut [name=took]").MustFocus()
	b.typeText("1 h 20")
	b.press(input.Enter)
	b.until("it is done", `() => !!document.querySelector('#done-steps [data-step=cut]')`)
	b.MustElement("main").MustFocus()
	b.Keyboard.MustType('z')
	b.until("it is undone", `() => !!document.querySelector('.stem:not(.done) [data-step=cut]')`)
	b.visit("/plans/8/diary")
	b.tabTo("#entry-words")
	b.typeText("Toile fits; the back is a little long.")
	b.tabTo("#write-it")
	b.press(input.Enter)
	b.until("it is in the diary", `() => document.querySelector('#diary')?.textContent.includes('Toile fits')`)

	n := s.openAt("/plans/8/worktable", 390, 844)
	step := n.MustElement("#at-work li")
	wide := step.MustShape().Box()
	assert.LessOrEqual(t, wide.X+wide.Width, 390.0, "nothing runs off the side")
	name := step.MustElement("b").MustText()
	step.MustElement("[name=took]").MustInput("25 min")
	step.MustElement("button.btn-dark").MustClick()
	n.MustWait(`(name) => document.querySelector('#at-work li b')?.textContent !== name`, name)
	p, err := s.work.Open(context.Background(), 8)
	require.NoError(t, err)
	took := 0
	for _, st := range work.Of(p).Steps {
		took += st.Took
	}
	assert.Equal(t, 25, took)
	n.MustNavigate(s.url + "/plans/8/log").MustWaitLoad()
	assert.LessOrEqual(t, n.MustEval(`() => document.documentElement.scrollWidth`).Int(), 390)
}

// A photo of the work goes into the diary, and a verdict is written and found again.
func TestDiaryPhotoAndVerdict(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/9/diary")
	b.choose("#entry-photo", "work.png", testroom.SwatchPhoto(t, 90))
	b.MustElement("#entry-took").MustInput("many")
	b.click("#write-it")
	b.until("it is refused", `() => document.body.textContent.includes('is not a length of time')`)
	assert.Contains(t, b.text("#write"), "1 photo added already", "the photo need not be chosen again")
	b.MustElement("#entry-took").MustSelectAllText().MustInput("1 h 10")
	b.click("#write-it")
	b.until("it is there", `() => document.querySelectorAll('#diary .entry img').length > 1`)
	b.visit("/plans/9/log")
	b.click("#judge summary")
	b.MustElement("#verdict").MustInput("The sparks carry to the gallery.")
	b.MustElement("#otherwise").MustInput("Two bolts of one lot.")
	b.click("#judge .btn-dark")
	b.until("it is kept", `() => document.getElementById('notes').textContent.includes('Next time: Two bolts of one lot.')`)
	b.visit("/worked")
	assert.True(t, strings.Contains(b.text("#worked"), "The sparks carry to the gallery."))
}
