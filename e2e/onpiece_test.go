package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"

	"lampfern/plan"
	"lampfern/testroom"
)

// A part of the piece beside a stage is pressed to choose its card; a chosen card goes onto the part that is pressed.
func TestThePieceBesideAStageIsPressed(t *testing.T) {
	t.Parallel()
	s := serve(t, false)
	id, _ := testroom.Quilt(t, s.work)
	p := testroom.Do(t, s.work, id, plan.ChoosePiece{Pattern: "strips"})
	b := s.open("/plans/1/wheel")
	press := func(share float64) {
		box := b.MustElement("#on-piece svg[role=img]").MustShape().Box()
		b.Mouse.MustMoveTo(box.X+share*box.Width, box.Y+box.Height/2)
		b.Mouse.MustClick(proto.InputMouseButtonLeft)
		b.settle()
	}
	on := p.Fill()
	press(.1)
	assert.Equal(t, p.Tray[on[0]].Name, b.text(".tray-card.chosen b"), "the card of the first strip")
	press(.9)
	now := testroom.MustOpen(t, s.work, id)
	assert.Equal(t, p.Tray[on[0]].Key, now.Tray[now.Fill()[4]].Key, "it goes onto the last")
	assert.Contains(t, b.attr("#on-piece svg[role=img]", "style"), "--p4:#")
	b.press('z')
	assert.Equal(t, p.Fill(), testroom.MustOpen(t, s.work, id).Fill())
	b.MustElement("#on-piece a").MustFocus()
	b.MustEval(`() => document.querySelector('#on-piece a').click()`)
	b.until("Proportion", `() => location.pathname.endsWith('/proportion')`)
}
