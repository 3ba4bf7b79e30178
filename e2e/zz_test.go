package e2e

import (
	"os"
	"testing"
)

func TestZZ(t *testing.T) {
	s := serve(t, true)
	shot := func(b *tab, name string) { os.WriteFile("/tmp/shots/"+name+".png", b.MustScreenshot(), 0o644) }
	b := s.open("/plans/9/scraps")
	b.MustElement("#paste-text").MustInput("Plum #4b2346 60 %\n#a5825d barley, a touch")
	b.click("#paste-it")
	b.click("#pull-best")
	shot(b, "a1")
	b.visit("/plans/9/ways")
	shot(b, "a2")
	at := s.photoNamed(heap)
	b.visit(at + "?plan=9&crop=0.40,0.18,0.44,0.36")
	shot(b, "a3")
	b.click("#as-print")
	shot(b, "a4")
}
