package e2e

import (
	"fmt"
	"os"
	"testing"
)

func TestZZ(t *testing.T) {
	s := serve(t, true)
	shot := func(b *tab, name string) { os.WriteFile("/tmp/shots/"+name+".png", b.MustScreenshot(), 0o644) }
	b := s.open("/plans/9/bringout?part=sashing")
	shot(b, "a1")
	b.visit("/plans/5/bars")
	shot(b, "a2")
	b.visit("/plans/5/proportion")
	fmt.Println(b.text("aside"))
	b.MustEval(`() => document.querySelector('#bars')?.scrollIntoView()`)
	shot(b, "a3")
	b.visit("/plans/9/gather?q=%23a5825d")
	shot(b, "a4")
	b.visit("/plans/8/values")
	shot(b, "a5")
	n := s.openAt("/plans/9/bringout?part=sashing", 390, 844)
	shot(n, "n1")
	n.visit("/plans/5/bars")
	shot(n, "n2")
	for id := 1; id <= 9; id++ {
		b.visit(fmt.Sprintf("/plans/%d/proportion", id))
		fmt.Println(id, b.text(".notes"))
	}
}
