package e2e

import (
	"context"
	"os"
	"testing"

	"lampfern/plan"
)

func TestZZ(t *testing.T) {
	s := serve(t, true)
	ctx := context.Background()
	shot := func(b *tab, name string) { os.WriteFile("/tmp/shots/"+name+".png", b.MustScreenshot(), 0o644) }
	do := func(id uint, e plan.Edit) {
		p, _ := s.work.Open(ctx, id)
		if _, err := s.work.Change(ctx, id, p.Revision, e); err != nil { t.Log(err) }
	}
	p, _ := s.work.Open(ctx, 9)
	do(9, plan.SetAside{Key: p.Tray[2].Key})
	do(9, plan.WhyAside{Material: p.Tray[2].ID, Reason: "too cold"})
	b := s.open("/plans/9/gather")
	shot(b, "a1")
	b.visit("/portrait")
	b.MustElement("#like").MustInput("greens, soft")
	b.MustElement("#dislike").MustInput("yellow")
	b.click("#keep-taste")
	shot(b, "a2")
	b.visit("/")
	shot(b, "a3")
	b.visit("/plans/2/gather")
	b.visit("/plans/9/nudge?seed=4711&n=5")
	shot(b, "a4")
	n := s.openAt("/portrait", 390, 844)
	shot(n, "n1")
	n.visit("/plans/9/gather")
	n.MustEval(`() => document.querySelector('#set-aside').scrollIntoView()`)
	shot(n, "n2")
}
