package e2e

import (
	"context"
	"fmt"
	"os"
	"testing"

	"lampfern/plan"
	mixing "lampfern/stages/mix"
)

func TestZZ(t *testing.T) {
	s := serve(t, true)
	ctx := context.Background()
	all, _ := s.work.Plans(ctx)
	soap := uint(0)
	for _, p := range all {
		fmt.Println(p.ID, p.Name, p.Craft)
		if p.Craft == "soap" {
			soap = p.ID
		}
	}
	do := func(id uint, e plan.Edit) {
		p, err := s.work.Open(ctx, id)
		if err != nil {
			t.Fatal(err)
		}
		if said, err := s.work.Change(ctx, id, p.Revision, e); err != nil {
			fmt.Println("refused:", err)
		} else if said != "" {
			fmt.Println("said:", said)
		}
	}
	do(soap, plan.Want{Hex: "#b08a96", Name: "Dusk"})
	do(soap, plan.Want{Hex: "#7f9ab0", Name: "Tide"})
	p, _ := s.work.Open(ctx, soap)
	v, err := mixing.View(ctx, s.work, p, true)
	if err != nil {
		t.Fatal(err)
	}
	do(soap, mixing.LayOut{Recipe: v.Recipes[0].Lay})
	do(soap, mixing.SetBatch{Total: 1300, Least: 0.1, Mould: 1000, Additive: "vanilla"})
	shot := func(b *tab, name string) { os.WriteFile("/tmp/shots/"+name+".png", b.MustScreenshot(), 0o644) }
	b := s.open("/plans/9/wheel")
	b.click("[id^=mix-]")
	shot(b, "wheel")
	b.visit("/plans/9/cards")
	b.MustElement("#laid figure").MustHover()
	shot(b, "cards")
	n := s.openAt(fmt.Sprintf("/plans/%d/mix", soap), 390, 844)
	os.WriteFile("/tmp/shots/phone.png", n.MustScreenshotFullPage(), 0o644)
	n = s.openAt("/plans/3/charts?kind=opposites&enter=1", 390, 844)
	shot(n, "phonechart")
	_ = plan.MaxTray
}
