package e2e

import (
	"sync/atomic"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// cut makes requests of a pattern fail while what it returns is set.
func (b *tab) cut(pattern string) *atomic.Bool {
	b.t.Helper()
	on := &atomic.Bool{}
	router := b.HijackRequests()
	require.NoError(b.t, router.Add(pattern, "", func(h *rod.Hijack) {
		if on.Load() {
			h.Response.Fail(proto.NetworkErrorReasonConnectionRefused)
			return
		}
		h.ContinueRequest(&proto.FetchContinueRequest{})
	}))
	go router.Run()
	b.t.Cleanup(func() { _ = router.Stop() })
	return on
}

// One answer that does not come is told, truly, and leaves nothing stuck.
func TestAnAnswerThatDoesNotCome(t *testing.T) {
	t.Parallel()
	s := serve(t, true)

	b := s.open("/plans/9/cards?family=violet")
	b.until("the drawer", `() => document.getElementById('riffle-at').textContent.startsWith('1 of ')`)
	drawers := b.cut("*/deck*")
	drawers.Store(true)
	b.unfold("drawers")
	b.click("a[href*='family=red']")
	b.until("what went wrong", `() => document.getElementById('flashes').textContent.includes('The cards could not be loaded')`)
	drawers.Store(false)
	b.unfold("drawers")
	b.click("a[href*='family=violet']")
	b.until("the drawer again", `() => document.getElementById('riffle-at').textContent.endsWith('of 9')`)
	b.unfold("drawers")
	b.click("a[href*='family=red']")
	b.until("the other drawer", `() => !document.getElementById('riffle-at').textContent.endsWith('of 9')`)

	b = s.open("/plans/9/gather?family=green")
	changes := b.cut("*/change*")
	changes.Store(true)
	before := len(b.trayNames())
	b.MustElement("[id^=pull-]").MustEval(`() => this.click()`)
	b.until("an uncertain change", `() => document.getElementById('flashes').textContent.includes('to see whether the change was saved')`)
	assert.Len(t, b.trayNames(), before)
	assert.NotContains(t, b.text("#flashes"), "nothing was changed", "the program cannot know")
	changes.Store(false)
	b.MustElement("[id^=pull-]").MustEval(`() => this.click()`)
	b.until("the pull", `() => document.querySelectorAll('.tray-card').length === `+string(rune('0'+before+1)))

	b = s.open("/plans/9/proportion")
	pages := b.cut("*made=flat*")
	pages.Store(true)
	b.MustElement("#made").MustSelect("flat colour")
	b.until("a view that did not come", `() => document.getElementById('flashes').textContent.includes('nothing was changed')`)
	pages.Store(false)
	b.MustElement("#made").MustSelect("its own finishes")
	b.MustElement("#made").MustSelect("flat colour")
	b.until("the view", `() => location.search.includes('made=flat')`)

	b = s.open("/plans/4/wheel")
	bodies := b.cut("*solid.bin*")
	bodies.Store(true)
	b.visit("/plans/4/proportion")
	b.until("what went wrong", `() => document.getElementById('flashes').textContent.includes('could not be loaded')`)
	bodies.Store(false)
	b.MustElement("#made").MustSelect("flat colour")
	b.settle()
	b.MustElement("#made").MustSelect("its own finishes")
	b.until("the thing", `() => document.getElementById('solid-view')?.dataset.shown === 'fine'`)
}
