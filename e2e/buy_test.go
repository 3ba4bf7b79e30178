package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
)

// From what the piece takes to a bought lot, by mouse and by key, and on a phone in a
// shop that the program cannot be reached from.
func TestBuyFromNeedToShelf(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/9/buy")
	assert.Contains(t, b.text("#row-card1"), "2.0 m")
	b.click("#how-card1 summary")
	assert.Contains(t, b.text("#how-card1"), "quarter-square triangles: cut")
	assert.NotEmpty(t, b.MustElements("#how-card1 svg.bolt rect"))
	b.MustElement("#ask-waste").MustInput("0")
	b.press(input.Enter)
	b.until("less to spare", `() => document.querySelector('#row-card1').textContent.includes('1.79 m')`)
	b.click("#undo")
	assert.Contains(t, b.text("#row-card1"), "1.96 m")
	b.unfold("add-item")
	b.MustElement("#line-name").MustInput("Needles")
	b.press(input.Enter)
	assert.Contains(t, b.text(".buy-rows"), "Needles")

	b.unfold("prices")
	b.click("#ask-prices")
	assert.Contains(t, b.text(".flash"), "prices of 10 sellers are saved")
	assert.Contains(t, b.text("#row-card1"), "Kiln & Rowan:")
	assert.Contains(t, b.text("#row-card1"), "0.5 m", "the seller has the lot that is on hand")

	n := s.openAt("/plans/9/list", 390, 844)
	assert.False(t, n.MustEval(`() => document.documentElement.scrollWidth > innerWidth`).Bool(), "nothing runs off the side")
	tick := "#buy-card1 .btn"
	assert.GreaterOrEqual(t, n.MustElement(tick).MustShape().Box().Height, 40.0)
	// Away from the program: the tick is kept on the phone.
	off := proto.NetworkEmulateNetworkConditions{Offline: true, DownloadThroughput: -1, UploadThroughput: -1}
	assert.NoError(t, off.Call(n))
	n.MustElement("#buy-card1 input[name=lot]").MustInput("21")
	n.MustElement(tick).MustClick()
	n.until("the tick is kept",
		`() => document.querySelector('#buy-card1').classList.contains('done') && !document.getElementById('waiting').hidden`)
	off.Offline = false
	assert.NoError(t, off.Call(n))
	n.MustEval(`() => dispatchEvent(new Event('online'))`)
	n.until("it is sent", `() => document.querySelector('#buy-card1')?.textContent.includes('bought 50 cm')`)
	b.visit("/plans/9/buy")
	assert.Contains(t, b.text("#row-card1"), "2.00 m of lot 21")
	assert.Contains(t, b.text("#row-card1"), "nothing")
}

// The maker's own parts list, a swatch that is measured, and what a bolt in the shop would
// be, by mouse, by key and by touch.
func TestBuyByTheMakersOwnFigures(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/2/buy")
	b.click("#own-pieces summary")
	b.MustElement("#text-pieces").MustInput("flat, walls, 36\ntile, roof, many")
	b.click("#own-pieces form:first-of-type button")
	assert.Contains(t, b.text("[role=alert], .flash"), `line 2: "how many" is "many"`)
	assert.Contains(t, b.MustElement("#text-pieces").MustProperty("value").Str(), "many", "what was typed is still there")
	b.MustElement("#text-pieces").MustSelectAllText().MustInput("flat, walls, 36\ntile, roof, 110")
	b.click("#own-pieces form:first-of-type button")
	b.until("the list counts", `() => document.querySelector('.buy-rows').textContent.includes('38 pieces')`)
	b.click("#undo")
	b.until("as drawn", `() => document.querySelector('.buy-rows').textContent.includes('85 pieces')`)

	b.visit("/plans/7/buy")
	b.MustElement("#ask-sw_w").MustInput("15")
	b.press(input.Tab)
	b.MustElement("#ask-sw_h").MustInput("16")
	b.press(input.Enter)
	b.until("the gauge is told", `() => document.querySelector('#buy-notes').textContent.includes('20 stitches and 25 rows in 10 cm')`)
	b.click(`#buy-notes button[value="do=fit"]`)
	b.until("the piece is drawn so", `() => !document.querySelector('#buy-notes')?.textContent.includes('Your gauge')`)

	n := s.openAt("/plans/9/shop?lab=%23607a9a", 390, 844)
	assert.False(t, n.MustEval(`() => document.documentElement.scrollWidth > innerWidth`).Bool(), "nothing runs off the side")
	assert.Contains(t, n.text("#shop-as-words"), "Unlike any card of the plan")
	assert.Len(t, n.MustElements(".shop-pieces svg"), 2)
	n.MustElement("#shop-as").MustSelect("Lamp soot")
	n.until("in another place", `() => document.querySelector('.shop-halves').textContent.includes('Lamp soot')`)
}
