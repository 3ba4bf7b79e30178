package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// From nothing wanted to a recipe on the slab and a record of what came out, by mouse,
// by keyboard, and on a phone.
func TestMixFromWantedToWritten(t *testing.T) {
	s := serve(t, true)
	b := s.open("/plans/3/mix")
	b.MustElement("#want-hex").MustInput("#2e7d7a")
	b.MustElement("#want-name").MustInput("Weir teal")
	b.press(input.Enter)
	assert.Contains(t, b.text(".wanted-list .now"), "Weir teal")
	require.NotEmpty(t, b.MustElements("#mix-recipes li"))
	b.click("#mix-recipes li:first-child .act")
	mixed := b.text("#mixed-is")
	assert.Contains(t, mixed, "give or take 6")
	parts := func() int { return len(b.MustElements(".notches i[style]")) }
	n := parts()
	assert.Positive(t, n)
	b.click(".slab-row:first-child [id^=more-]")
	assert.Equal(t, n+1, parts())
	b.click("#undo")
	assert.Equal(t, n, parts())
	assert.Equal(t, mixed, b.text("#mixed-is"))

	// What came out is another colour altogether: nothing that was typed is lost.
	b.MustElement("#record-result").MustInput("#a02a22")
	b.click("#keep-record")
	assert.Contains(t, b.text("#flashes"), "another colour altogether")
	assert.Equal(t, "#a02a22", b.MustElement("#record-result").MustProperty("value").Str())
	b.MustElement("#record-result").MustSelectAllText().MustInput("46 -22 -4")
	b.press(input.Enter)
	assert.Contains(t, b.text("#records"), "Weir teal")
	assert.Contains(t, b.text("#trust"), "one record of these paints")
	b.click("#undo-records")
	assert.NotContains(t, b.text("#trust"), "one record")

	// Choosing paints, by keyboard.
	b.MustElement("#paints summary").MustFocus()
	b.press(input.Enter)
	before := b.text("#paints summary")
	b.MustElement("#paints-form .paint-list input:checked").MustFocus()
	b.press(input.Space)
	assert.NotEqual(t, before, b.text("#paints summary"))

	b.click("#to-few")
	assert.Contains(t, b.text("#few"), "Few for all: ")
	assert.Equal(t, "/plans/3/mix?few=1", b.MustEval(`() => location.pathname + location.search`).Str())
	b.click("#to-few")
	b.click("#to-charts")
	assert.Len(t, b.MustElements(".mix-chart section"), 3)
	b.MustElement("#chart-kind").MustSelect("Steps between two")
	b.until("the steps", `() => document.querySelectorAll('.mix-chart section').length === 2`)
	b.click(".mix-chart li:nth-child(5) button")
	b.visit("/plans/3/mix")
	assert.Equal(t, 2, parts(), "one part of each")
	b.click("#undo")
	assert.Equal(t, n, parts())

	narrow := s.openAt("/plans/3/mix", 390, 844)
	assert.False(t, narrow.MustEval(`() => document.documentElement.scrollWidth > innerWidth`).Bool(), "nothing runs off the side")
	narrow.click(".slab-row:first-child [id^=more-]")
	assert.Equal(t, n+1, len(narrow.MustElements(".notches i[style]")))
}
