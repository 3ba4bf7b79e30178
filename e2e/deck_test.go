package e2e

import (
	"fmt"
	"os"
	"sort"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func (b *tab) front() string { b.t.Helper(); return b.text("#riffle .front b") }

func TestTheDeckByKeyboardAndMouse(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/9/cards?family=violet")
	b.until("the drawer", `() => document.getElementById('riffle-at').textContent.startsWith('1 of ')`)
	first := b.front()
	b.tabTo("#riffle")
	b.press(input.ArrowRight, input.ArrowRight)
	third := b.front()
	assert.NotEqual(t, first, third)
	b.press(input.End)
	assert.Equal(t, "9 of 9", b.text("#riffle-at"))
	b.press(input.Home, input.ArrowRight, input.ArrowRight, input.Enter)
	assert.Len(t, b.MustElements("#laid figure"), 6, "laid beside the tray's five")
	assert.Contains(t, b.text("#laid"), third)
	b.press(input.ArrowRight, input.ArrowRight, input.ArrowRight, input.Enter)
	assert.Contains(t, b.text("#flashes"), "6 cards are compared, the most there is room for")
	b.click("#deck-flag")
	assert.Contains(t, b.MustElement("#print-of").MustHTML(), "1 chosen card")
	before := len(b.trayNames())
	b.click("[data-riffle='1']")
	b.click("[data-riffle='1']")
	b.click("#deck-pull")
	assert.Len(t, b.trayNames(), before+1)
	b.click("#deck-aside")
	assert.Len(t, b.trayNames(), before)

	// One place is tried in turn, the others are kept.
	b.MustElement("#laid figure:nth-child(2)").MustHover()
	b.click("#laid figure:nth-child(2) a")
	require.NotEmpty(t, b.MustElements("#tries .pull-card"))
	kept := b.texts("#laid figure:nth-child(3) b")
	was := b.text("#laid figure:nth-child(2) b")
	b.click("#tries .pull-card")
	assert.NotEqual(t, was, b.text("#laid figure:nth-child(2) b"))
	b.click("#tries .pull-card:nth-child(1)")
	assert.Equal(t, kept, b.texts("#laid figure:nth-child(3) b"), "another is tried in the same place")
	assert.Equal(t, kept, b.texts("#laid figure:nth-child(3) b"))
	b.click("#by-share")
	b.click("#lay-tray")
	assert.Len(t, b.MustElements("#laid figure"), 5)
	wide := b.MustEval(`() => [...document.querySelectorAll('#laid figure')].map(f => f.offsetWidth)`).Arr()
	assert.Greater(t, wide[0].Int(), wide[3].Int(), "by share")
}

func TestAChartIsFilledIn(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/shelf/chart?kind=marker+or+pencil&layers=2")
	b.tabTo("#field-" + b.attr(".chart [name=material]", "value") + "-1")
	require.NoError(t, b.Keyboard.Type([]input.Key("#f0d040")...))
	b.press(input.Enter)
	b.until("the answer", `() => document.querySelector('.flash')?.textContent.includes('compared with before')`)
	b.MustElement(".chart td:nth-child(4) input[name=colour]").MustInput("nonsense")
	b.MustElement(".chart td:nth-child(4) button").MustClick()
	b.until("the sentence", `() => document.querySelector('.mend')?.textContent.includes('is not a colour')`)
}

// TestRiffleBudget times frames while a deck of 5,000 is riffled.
func TestRiffleBudget(t *testing.T) {
	if os.Getenv("LAMPFERN_BENCH") == "" {
		t.Skip("times are measured by ./bench, never by the tests")
	}
	s := serve(t, true)
	thousands(t, s.work, 5000-164)
	b := s.open("/plans/9/cards")
	b.until("the deck", `() => document.getElementById('riffle-at').textContent === '1 of 5000'`)
	b.MustActivate()
	got := b.MustEval(`async () => {
		const rack = document.getElementById('riffle'); rack.focus();
		const out = []; let last = await new Promise(requestAnimationFrame);
		for (let i = 0; i < 240; i++) {
			const t = performance.now();
			rack.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true }));
			rack.getBoundingClientRect();
			out.push(performance.now() - t);
			last = await new Promise(requestAnimationFrame);
		}
		return [document.querySelectorAll('.riffled').length, ...out];
	}`).Arr()
	var ms []float64
	for _, v := range got[1:] {
		ms = append(ms, v.Num())
	}
	sort.Float64s(ms)
	fmt.Printf("%-42s p50 %5.1f ms  p95 %5.1f ms  budget 16.7 ms  %d cards in the page\n", "cards: riffle through 5,000, a step",
		ms[len(ms)/2], ms[len(ms)*95/100], got[0].Int())
}
