package e2e

import (
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// attr is an attribute of the first element of a selector.
func (b *tab) attr(selector, name string) string {
	b.t.Helper()
	v := b.MustElement(selector).MustAttribute(name)
	require.NotNil(b.t, v, "%s has no %s", selector, name)
	return *v
}

func TestABriefByMouse(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/8/brief")
	shaded := func() int { return len(b.MustElements("#fern .shaded")) }
	require.Zero(t, b.MustEval(`() => document.querySelectorAll('#fern .shaded').length`).Int(), "no limits yet")
	b.unfold("moods")
	b.clickText(".moods button", "^Velvet")
	assert.Positive(t, shaded())
	assert.Contains(t, b.text(".brief-wheel figcaption"), "of your 74 materials fit")
	assert.Equal(t, "5", b.attr("#value-to", "value"))
	before := shaded()
	b.click("#out-violet")
	assert.Greater(t, shaded(), before, "a family ruled out is shaded at once")
	b.MustElement("#brief-count").MustSelectAllText().MustInput("2")
	b.MustElement("#value-from").MustSelectAllText().MustInput("7")
	b.MustElement("#brief-for").MustClick()
	b.settle()
	assert.Contains(t, b.text("#flashes"), "put the smaller number first")
	assert.Equal(t, "7", b.MustEval(`() => document.getElementById('value-from').value`).Str(), "what was typed stays, to be mended")
	b.MustElement("#value-from").MustSelectAllText().MustInput("1")
	b.MustElement("#brief-for").MustClick()
	b.settle()
	assert.Contains(t, b.text("#notes"), "too light for Velvet")

	b.unfold("moods")
	b.MustElement("#mood-name").MustInput("Badger dusk")
	b.click("#save-mood")
	assert.Contains(t, b.text(".moods li"), "Badger dusk", "own moods come first")
	b.clickText(".moods button", "^Delete$")
	assert.NotContains(t, b.text(".moods"), "Badger dusk")
	b.click("#undo-moods")
	assert.Contains(t, b.text(".moods"), "Badger dusk", "a forgotten mood comes back")

	b.clickText(".rail a", "Wheel")
	assert.Positive(t, shaded(), "the limits show on the wheel")
	assert.Contains(t, b.text("#notes"), "too light for Velvet", "and notes answer to them")
}

func TestABriefByKeyboard(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/8/brief")
	b.tabTo("#brief-for")
	require.NoError(t, b.Keyboard.Type([]input.Key("the badger")...))
	b.press(input.Tab)
	b.tabTo("#out-pink")
	b.press(input.Space)
	b.visit("/plans/8/brief")
	assert.Equal(t, "the badger", b.attr("#brief-for", "value"))
	assert.NotNil(t, b.MustElement("#out-pink").MustAttribute("checked"))
	b.press('z')
	assert.Nil(t, b.MustElement("#out-pink").MustAttribute("checked"), "undo lets it back in")
	assert.False(t, b.MustEval(`() => document.getElementById('out-pink').checked`).Bool())
}

func TestWheelsSchoolsAndPlaces(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/9/wheel")
	hub := b.attr("#fern path.hub", "fill")
	lead := b.MustElement("#wheel").MustAttribute("data-lead-place")
	for _, w := range []string{"process", "perceptual"} {
		b.unfold("wheel-set")
		b.click("#wheel-" + w)
		assert.Equal(t, hub, b.attr("#fern path.hub", "fill"), "the lead colour keeps its colour")
		assert.NotEqual(t, *lead, b.attr("#wheel", "data-lead-place"))
		assert.Len(t, b.MustElements("#fern .leaf"), 120)
	}
	assert.Contains(t, b.MustEval(`() => document.querySelector('#fern').textContent`).Str(), "Turquoise")
	b.unfold("wheel-set")
	b.click("#wheel-pigment")
	arc := b.attr("#fern .warm-half", "d")
	b.click("#school-to-violet")
	assert.NotEqual(t, arc, b.attr("#fern .warm-half", "d"))
	b.click("#school-relative")
	assert.Empty(t, b.MustElements("#fern .warm-half"))

	b.unfold("more-1")
	b.click("#off-1")
	assert.Len(t, b.MustElements("#light .lit"), 2)
	assert.Len(t, b.MustElements("#light .lit-off"), 1)
	b.click("#off-1")
	b.unfold("more-2")
	b.clickText("#place-2 .place-tools button", "▸")
	assert.Contains(t, b.text("#place-2 h3"), "moved +5°")
	b.click("#place-1 .free")
	names := b.trayNames()
	assert.Contains(t, names[len(names)-1], "shade", "a free colour lies in the tray")
	b.MustElement("#free-value-6").MustSelectAllText().MustInput("7,5")
	b.settle()
	assert.Equal(t, "7.5", b.attr("#free-value-6", "value"))
	b.click("#free .pull-card:not([disabled])")
	assert.NotContains(t, strings.Join(b.trayNames(), ","), "shade", "a material takes its place")
	b.click("#nearest-first")
	assert.Equal(t, "true", b.attr("#nearest-first", "aria-pressed"))

	// Two cards, and what brings them together.
	b.visit("/plans/9/cards")
	b.unfold("compare")
	b.MustElement("#pair-a").MustSelect("Marrow flesh")
	b.settle()
	assert.Contains(t, b.text("#compare"), "Marrow flesh compared with")
	b.unfold("bridges")
	assert.Contains(t, b.text("#compare"), "Between their lights")
	b.press('v')
	assert.Contains(t, b.text("#compare"), "Marrow flesh compared with", "another view keeps the pair")
}

// TestTheWheelIsATableOfPlaces reads the wheel as a screen reader does.
func TestTheWheelIsATableOfPlaces(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.openAt("/plans/9/wheel", 1024, 700)
	b.click("#as-table summary")
	rows := b.texts("#as-table tbody tr")
	require.Len(t, rows, 12)
	assert.Contains(t, rows[1], "lead")
	assert.Contains(t, rows[1], "of 10")
	small := b.MustEval(`() => {
		const svg = document.querySelector('#fern'), scale = svg.getScreenCTM().a;
		const labels = [...svg.querySelectorAll('text')].map(t => [t, parseFloat(getComputedStyle(t).fontSize) * scale, t.getBoundingClientRect()]);
		const cut = labels.filter(([, , r]) => r.left < 118 || r.right > 762).length;
		return [Math.min(...labels.map(l => l[1])), cut];
	}`).Arr()
	assert.GreaterOrEqual(t, small[0].Num(), 12.0, "labels are legible at 1024 × 700")
	assert.Zero(t, small[1].Int(), "and not cut")
}

func TestANudgeAndAPageOfCombinations(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/8/wheel")
	b.click("#to-nudge")
	b.MustElement("#seed").MustSelectAllText().MustInput("4711")
	b.click("#deal-again")
	hand := b.texts("#hand b")
	require.NotEmpty(t, hand)
	b.click("#hand figure:nth-child(1) input")
	b.click("#deal-new")
	assert.Equal(t, hand[0], b.texts("#hand b")[0], "the held card stays")
	assert.NotEqual(t, "4711", b.attr("#seed", "value"), "and the new hand says its number")
	b.MustElement("#seed").MustSelectAllText().MustInput("many")
	b.click("#deal-again")
	assert.Contains(t, b.text(".mend"), "numbered from 1 to 999999")
	b.visit("/plans/8/nudge?seed=4711")
	assert.Equal(t, hand, b.texts("#hand b"), "a number is dealt again")
	b.tabTo("#take-hand")
	b.press(input.Enter)
	for _, h := range hand {
		assert.Contains(t, b.trayNames(), h)
	}
	assert.Equal(t, hand, b.texts("#hand b"), "the hand stays on the table")
	b.press('g', 'w')
	b.until("the wheel", `() => document.querySelector('h1').textContent === 'Wheel'`)
	b.tabTo("#keep-scheme")
	b.press(input.Enter)
	b.visit("/plans/8/combinations")
	b.click("#keep-tray")
	require.Len(t, b.MustElements("#tried li"), 2)
	b.MustElement("#remark-1").MustInput("for the second coat")
	b.press(input.Enter)
	assert.Equal(t, "for the second coat", b.attr("#remark-1", "value"))
	b.clickText("#tried-2 button", "Delete")
	assert.Len(t, b.MustElements("#tried li"), 1)
	b.press('z')
	assert.Len(t, b.MustElements("#tried li"), 2, "what was taken away comes back")
	r := s.get(b.attr("#print-tried", "href"))
	assert.Equal(t, "application/pdf", r.Header.Get("Content-Type"))
	b.visit("/plans/9/nudge?seed=3")
	before := b.texts("#tray .tab span")
	b.click("#other-roles")
	assert.NotEqual(t, before, b.texts("#tray .tab span"), "the same cards have other roles")
}
