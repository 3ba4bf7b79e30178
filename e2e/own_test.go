package e2e

import (
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// within is a point of an element, by shares of its width and height.
func (b *tab) within(selector string, across, down float64) proto.Point {
	b.t.Helper()
	box := b.MustElement(selector).MustShape().Box()
	return proto.Point{X: box.X + across*box.Width, Y: box.Y + down*box.Height}
}

// drag presses at the first point and moves through the others.
func (b *tab) drag(points ...proto.Point) {
	b.t.Helper()
	b.Mouse.MustMoveTo(points[0].X, points[0].Y)
	b.Mouse.MustDown(proto.InputMouseButtonLeft)
	for _, p := range points[1:] {
		b.Mouse.MustMoveTo(p.X, p.Y)
	}
	b.Mouse.MustUp(proto.InputMouseButtonLeft)
	b.settle()
}

func TestAChartByMouseAndKeyboard(t *testing.T) {
	t.Parallel()
	b := serve(t, true).open("/plans/7/proportion")
	b.click("#to-own")
	count := func(letter string) string { return b.MustElementR("#yarns label", `\b`+letter+`\b`).MustText() }
	require.Contains(t, count("B"), "70 st")
	stitch := func(x, y float64) proto.Point { return b.within("#chart", (x+.5)/16, (y+.5)/22) }
	b.drag(stitch(0, 0), stitch(3, 0), stitch(7, 0))
	assert.Contains(t, count("B"), "78 st", "a fast stroke leaves no holes")
	b.press('z')
	assert.Contains(t, count("B"), "70 st")

	b.tabTo("#chart")
	b.MustEval(`() => { document.querySelector('#yarns input[value="3"]').click(); document.getElementById('chart').focus() }`)
	b.press(input.ArrowRight, input.ArrowDown, ' ')
	assert.Contains(t, count("D"), "3 st")
	b.press(input.ArrowRight, 'd')
	assert.Contains(t, count("D"), "4 st")
	assert.True(t, b.MustElement(`#yarns input[value="3"]`).MustProperty("checked").Bool(), "the yarn stays chosen")
	b.tabTo("#chart-across")
	b.MustElement("#chart-across").MustSelectAllText().MustInput("0")
	b.press(input.Enter)
	assert.Contains(t, b.text("#flashes"), "1 to 400 stitches each way")
	b.MustElement("#chart-across").MustSelectAllText().MustInput("20")
	b.press(input.Enter)
	assert.Contains(t, b.text("#notes"), "20 × 22 stitches")
}

func TestAClothByMouseAndKeyboard(t *testing.T) {
	t.Parallel()
	b := serve(t, true).open("/plans/6/proportion")
	b.MustElement("#pick-4").MustClick()
	b.clickAt(b.within("#piece .cells:nth-of-type(2) image", .02, .02))
	assert.Contains(t, b.text("#tray"), "Storm")
	assert.NotContains(t, b.text(".tray-card:nth-child(4)"), "12%", "yarn A took Storm, by a thread seen close by")
	b.press('z')
	b.click("#to-own")
	filled := func() int { return len(b.MustElements(`#draft [data-mark^="tie-up"] path[fill="currentColor"]`)) }
	require.Equal(t, 8, filled())
	b.MustElement(`#draft [data-mark="tie-up.1.3"]`).MustClick()
	b.settle()
	assert.Equal(t, 9, filled())
	assert.Contains(t, b.text("#notes"), "your own draft")
	b.tabTo("#warp")
	b.MustElement("#warp").MustSelectAllText().MustInput("8A 1mm B")
	b.press(input.Enter)
	assert.Contains(t, b.text("#flashes"), "thinner than one thread")
	assert.Equal(t, "8A 1mm B", b.MustElement("#warp").MustProperty("value").Str(), "what was typed stays")
	b.MustElement("#warp").MustSelectAllText().MustInput("8A 4C")
	b.press(input.Enter)
	b.click("#as-warped")
	assert.Equal(t, "8A 4C", b.MustElement("#weft").MustProperty("value").Str())
	assert.NotContains(t, b.text("#notes .figures"), "Storm", "its yarn is no longer used")
	b.clickText("#notes a", "Second yarn")
	b.MustElement("#second-structure").MustSelect("3/1 twill")
	b.settle()
	assert.Contains(t, b.text("#notes"), "75% of what shows in 3/1 twill")
	cards := len(b.MustElements(".tray-card"))
	b.clickText(".seconds button", "Add to tray")
	assert.Len(t, b.MustElements(".tray-card"), cards+1)
}

func TestADrawingByMouseAndKeyboard(t *testing.T) {
	t.Parallel()
	b := serve(t, true).open("/plans/1/pieces")
	b.click("#piece-drawn")
	b.click("#to-own")
	// The sheet is 300 × 300 mm and fills the height.
	at := func(x, y float64) proto.Point {
		v := b.MustEval(`(x, y) => { const p = new DOMPoint(x, y).matrixTransform(document.getElementById('drawing').getScreenCTM()); return [p.x, p.y] }`, x, y).Arr()
		return proto.Point{X: v[0].Num(), Y: v[1].Num()}
	}
	b.MustElement("#draw-part").MustSelectAllText().MustInput("leaf")
	for _, p := range [][2]float64{{50, 50}, {200, 52}, {200, 150}, {51, 49}} {
		b.clickAt(at(p[0], p[1]))
	}
	assert.Equal(t, "50,50 200,50 200,150", b.attr(`#drawing polygon[data-at="1"]`, "points"), "corners lie on the grid, and the first closes")
	b.MustElement("#draw-part").MustSelectAllText().MustInput("sun")
	b.click("#tool-disc")
	b.drag(at(100, 220), at(120, 220), at(130, 220))
	b.click("#tool-move")
	b.drag(at(100, 220), at(180, 200), at(200, 220))
	assert.True(t, strings.HasPrefix(b.attr(`#drawing polygon[data-at="2"]`, "points"), "230.0"), "a disc of 30 mm, as large as a circle")
	assert.Len(t, b.MustElements(".outlines li"), 3)

	b.click("#typed summary")
	b.tabTo("#typed-corners")
	b.typeText("0,0 300,0 300,20")
	b.tabTo("#typed-part")
	b.typeText("eaves")
	b.press(input.Enter)
	assert.Len(t, b.MustElements(".outlines li"), 4)
	b.tabTo("#typed-corners")
	b.MustElement("#typed-corners").MustSelectAllText().MustInput("0,0 5,five 3,3")
	b.tabTo("#typed-part")
	b.MustElement("#typed-part").MustSelectAllText().MustInput("eaves")
	b.press(input.Enter)
	assert.Contains(t, b.text("#flashes"), "is not a corner")
	b.click(".outlines li:first-child summary")
	b.clickText(".outlines li:first-child button", "remove")
	b.clickText("#notes a", "Back to Proportion")
	assert.Len(t, b.MustElements("#piece .part"), 3)
	b.unfold("parts")
	assert.Contains(t, b.text("#notes"), "Leaf")
}

func TestPinsGroupsAndHiddenNotes(t *testing.T) {
	t.Parallel()
	b := serve(t, true).open("/plans/9/proportion")
	b.unfold("parts")
	b.click("#pin-sashing")
	b.MustElement("#fill-sashing").MustSelect("Moth wing")
	b.settle()
	assert.Contains(t, b.text("#flashes"), "The sashing is pinned")
	b.click("#pin-sashing")
	for _, part := range []string{"peak", "spark"} {
		b.MustElement(`input[form=group-form][value=` + part + `]`).MustClick()
	}
	b.click("#group")
	assert.Equal(t, b.MustElement("#fill-peak").MustProperty("value").Str(), b.MustElement("#fill-spark").MustProperty("value").Str())
	b.press('z')

	notes := len(b.MustElements("#notes .notes li"))
	b.MustElement(`#notes .notes li:first-child [aria-label^="Hide"]`).MustClick()
	b.settle()
	assert.Len(t, b.MustElements("#notes .notes li"), notes-1)
	b.MustElement("#hidden-notes summary").MustClick()
	b.MustElement("#hidden-notes [name=remark]").MustInput("meant so")
	b.press(input.Tab)
	b.settle()
	b.visit("/plans/9/proportion")
	b.MustElement("#hidden-notes summary").MustClick()
	assert.Equal(t, "meant so", b.MustElement("#hidden-notes [name=remark]").MustProperty("value").Str())
	b.clickText("#hidden-notes button", "Show again")
	assert.Len(t, b.MustElements("#notes .notes li"), notes)
	b.MustElement("#notes a.mends").MustClick()
	b.until("a page that mends", `() => !location.pathname.endsWith('/proportion')`)
}
