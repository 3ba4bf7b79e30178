package e2e

import (
	"fmt"
	"strconv"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWaysByMouseAndKeyboard(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/9/proportion")
	b.click("#open-wide")
	kept := len(b.MustElements("#colourways li"))
	b.MustElement("#ways-focus").MustSelect("peaks")
	b.settle()
	b.click("#quiet-ground")
	require.Greater(t, len(b.MustElements("#ways li")), 3)
	assert.Contains(t, b.text("#ways li p"), "on the peaks stands out most")
	b.clickText("#ways li:nth-child(1) button", "Use this")
	assert.Contains(t, b.text("#ways li"), "As it is now")
	b.tabTo("#keep-colourway")
	b.press(input.Enter)
	assert.Len(t, b.MustElements("#colourways li"), kept+1)
	b.press('z', 'z')
	assert.Len(t, b.MustElements("#colourways li"), kept)
	b.click("#pin-ground")
	r := s.get("/plans/9/colourways.pdf")
	assert.Equal(t, 200, r.StatusCode)
}

func TestPiecesByMouseAndKeyboard(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/8/proportion")
	b.click("#to-pieces")
	assert.Equal(t, "Garment", b.text(".gallery h2"), "the plan's own craft comes first")
	b.click("#piece-dress")
	assert.Contains(t, b.text("#stage"), "Striped dress, 82 × 106 cm")
	assert.Len(t, b.MustElements("#piece .part"), 7)
	b.click("#to-pieces")
	b.tabTo("#piece-triangles")
	b.press(input.Enter)
	b.until("the quilt", `() => !!document.querySelector('#piece #part-quiet')`)
	b.MustElement("#set-setting").MustSelect("as pinwheels")
	b.settle()
	assert.Equal(t, "2", b.MustElement("#set-setting").MustProperty("value").Str())

	b.tabTo("#far")
	b.press(input.End)
	b.settle()
	assert.Contains(t, b.text(".far-form"), "60 m")
	assert.Equal(t, 640,
		b.MustEval(`async () => { const i = new Image(); i.src = document.querySelector('#piece image').href.baseVal; await i.decode(); return Math.max(i.naturalWidth, i.naturalHeight) }`).Int())
	b.press('z')
	b.settle()
	assert.Contains(t, b.text(".far-form"), "60 m", "a change keeps the distance")
	b.tabTo("#far")
	b.press(input.Home)
	b.settle()
	assert.NotEmpty(t, b.MustElements("#piece .part"))
}

func TestSwapMendsTheFocus(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/3/brief")
	b.MustElement("[name=focus]").MustSelectAllText().MustInput("windows")
	b.press(input.Tab)
	b.settle()
	b.clickText(".rail a", "Proportion")
	require.Contains(t, b.text("#notes .notes li"), "should be the focal point")
	b.clickText("#notes .notes li:first-child button", "Swap the two")
	assert.NotContains(t, b.text("#notes .notes"), "should be the focal point")
}

func TestBattensByMouseAndKeyboard(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/9/proportion")
	share := func(card int) float64 {
		v, err := strconv.ParseFloat(b.attr(fmt.Sprintf("#battens .batten:nth-of-type(%d)", card), "data-share"), 64)
		require.NoError(t, err)
		return v
	}
	// Widen the third, the heather, by an eighth of the bar.
	was := share(3)
	edge := b.MustEval(`() => { const r = document.querySelectorAll('#battens .batten')[2].getBoundingClientRect(); const w = document.querySelector('.battens').getBoundingClientRect().width; return [r.right, r.top + 10, w] }`).Arr()
	b.Mouse.MustMoveTo(edge[0].Num()-1, edge[1].Num())
	b.Mouse.MustDown(proto.InputMouseButtonLeft)
	b.Mouse.MustMoveTo(edge[0].Num()+edge[2].Num()/8, edge[1].Num())
	b.Mouse.MustUp(proto.InputMouseButtonLeft)
	b.settle()
	assert.Contains(t, b.text("#flashes"), "Heather rail takes")
	assert.Greater(t, share(3), was+2, "with the narrowest sashing")
	b.press('z')
	b.settle()
	assert.InDelta(t, was, share(3), .01)

	b.tabTo("#batten-card")
	b.press(input.End)
	b.tabTo("#batten-share")
	b.typeText("30")
	b.press(input.Enter)
	b.settle()
	assert.Contains(t, b.text("#flashes"), "Lamp soot takes 30%")
	assert.Contains(t, b.text("#flashes"), "mm")
}
