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
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/3/mix")
	b.MustElement("#want-hex").MustInput("#2e7d7a")
	b.MustElement("#want-name").MustInput("Weir teal")
	b.press(input.Enter)
	assert.Contains(t, b.text(".wanted-list .now"), "Weir teal")
	require.NotEmpty(t, b.MustElements("#mix-recipes li"))
	b.click("#mix-recipes li:first-child .act")
	mixed := b.text("#mixed-is")
	assert.Contains(t, b.text("#trust"), "accurate to about ΔE 6")
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
	assert.Contains(t, b.text("#flashes"), "very different from the prediction")
	assert.Equal(t, "#a02a22", b.MustElement("#record-result").MustProperty("value").Str())
	b.MustElement("#record-result").MustSelectAllText().MustInput("46 -22 -4")
	b.press(input.Enter)
	assert.Contains(t, b.text("#records"), "Weir teal")
	assert.Contains(t, b.text("#trust"), "one test mix of these paints")
	b.click("#undo-records")
	assert.NotContains(t, b.text("#trust"), "one test mix")

	// Choosing paints, by keyboard.
	b.MustElement("#paints summary").MustFocus()
	b.press(input.Enter)
	before := b.text("#paints summary")
	b.MustElement("#paints-form .paint-list input:checked").MustFocus()
	b.press(input.Space)
	assert.NotEqual(t, before, b.text("#paints summary"))

	b.click("#to-few")
	assert.Contains(t, b.text("#few"), "Fewest colourants: ")
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

// A soap by its batter; a reading by the reader; a record that is corrected; a chart
// whose corners are pressed.
func TestMixSoapReaderRecordsAndCharts(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/5/mix")
	b.MustElement("#want-hex").MustInput("#7f9ab0")
	b.MustElement("#want-name").MustInput("Tide")
	b.press(input.Enter)
	b.click("#mix-recipes li:first-child .act")
	b.MustElement("#batch-total").MustInput("1300")
	b.press(input.Enter)
	b.visit("/plans/5/buy")
	b.MustElement("#ask-batch").MustInput("2000")
	b.press(input.Enter)
	b.visit("/plans/5/mix")
	assert.Contains(t, b.text("#left-over"), "The other 503 g", "of 2000 g the mould takes 1497")
	assert.Len(t, b.MustElements("#pour tbody tr"), 4)
	assert.Contains(t, b.text("#care"), "aw soap is hot")

	// A limit of the supplier is kept to, by name.
	b.click("#doses summary")
	b.MustElement("#doses form input[name=limit]").MustInput("0.25")
	b.press(input.Enter)
	name := b.text("#doses form b")
	row := b.MustElementR(".slab-row", name).MustElement("[id^=more-]")
	id := "#" + *row.MustAttribute("id")
	b.click(id)
	b.click(id)
	assert.Contains(t, b.text(".mix-slab .mend"), name+" is at 0.5% of the batter, over the supplier’s limit of 0.25% of the batter")
	b.click("#undo")
	b.click("#undo")

	// The mix goes to a part, with its recipe.
	b.MustElement("#mix-part").MustSelect("batter B")
	b.click("#to-tray")
	assert.Contains(t, b.text(".flash"), "Tide is in the tray, with its recipe")
	assert.Contains(t, b.text("#tray"), "Tide")

	b.click("#read-result")
	b.until("the reading", `() => document.getElementById('record-result').value !== '' || !!document.querySelector('#flashes .hint')`)
	if b.MustElement("#record-result").MustProperty("value").Str() == "" {
		assert.Contains(t, b.text("#flashes .hint"), "alibrate")
		b.MustElement("#record-result").MustInput("62 -6 -14")
	}
	b.click(`#record-form input[name=sure]`)
	b.click("#keep-record")
	b.visit("/plans/5/records")
	b.MustElement("#records-search").MustInput("tide")
	b.press(input.Enter)
	b.click("[id^=correct-] summary")
	b.MustElement("[id^=correct-] input[name=remark]").MustInput("second mould")
	b.press(input.Enter)
	assert.Contains(t, b.text("#records"), "second mould")

	b.visit("/plans/3/charts?kind=tints&enter=1")
	b.MustElement("#chart-photo").MustSelect("sprig print.jpg")
	b.until("the photo", `() => document.querySelector('#chart-sheet-photo img')?.naturalWidth > 0`)
	box := b.MustElement("#chart-sheet-photo img").MustWaitVisible().MustShape().Box()
	b.Mouse.MustMoveTo(box.X+.25*box.Width, box.Y+.2*box.Height)
	b.Mouse.MustClick("left")
	b.until("the corner", `() => document.getElementById('corner-c0').value.startsWith('25')`)

	narrow := s.openAt("/plans/5/mix", 390, 844)
	assert.False(t, narrow.MustEval(`() => document.documentElement.scrollWidth > innerWidth`).Bool(), "nothing runs off the side")
	rows := narrow.MustElements(".slab-row")
	assert.Less(t, rows[0].MustShape().Box().Y+rows[0].MustShape().Box().Height, rows[1].MustShape().Box().Y+1, "rows lie under one another")
	acts := narrow.MustElement("#clear-slab").MustShape().Box()
	assert.Less(t, rows[len(rows)-1].MustShape().Box().Y, acts.Y, "the rows lie above what follows")
}
