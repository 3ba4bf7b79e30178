package e2e

import (
	"os"
	"testing"
)

func TestZZLook(t *testing.T) {
	s := serve(t, true)
	b := s.open("/plans/5/mix")
	shot := func(name string, b *tab) {
		data, err := b.Screenshot(false, nil)
		if err != nil {
			t.Fatal(err)
		}
		os.WriteFile("/tmp/look/"+name+".png", data, 0o644)
	}
	b.MustElement("#want-hex").MustInput("#7f9ab0")
	b.MustElement("#want-name").MustInput("Tide")
	b.click("#want")
	shot("mix", b)
	b.visit("/plans/8/buy")
	b.MustEval(`() => { const d = document.querySelector('#own-parts'); d.open = true; }`)
	b.MustElement("#text-parts").MustInput("front, Slate wool, 100, 80, 4\nsleeve, Slate wool, 60, 30, 2")
	b.MustElement("#own-parts form button").MustClick()
	b.settle()
	b.MustEval(`() => { for (const d of document.querySelectorAll('[id^=how-]')) if (d.innerText.includes('') && d.closest('tbody').innerText.includes('Slate wool')) { d.open = true; d.scrollIntoView(); } }`)
	shot("garment", b)
	b.visit("/plans/6/draft")
	shot("draft", b)
	b.visit("/plans/9/scraps")
	b.MustElement("#paste-text").MustInput("Dusk #4b2447\nnavy\nAuntie's mix\n2 balls Barn door")
	b.click("#paste-it")
	shot("scraps", b)
	b.visit("/plans/3/together")
	b.MustEval(`() => { for (const d of document.querySelectorAll('details')) d.open = true; document.querySelector('#given-name').scrollIntoView(); }`)
	shot("together", b)
	n := serve(t, false)
	e := n.open("/")
	e.MustElement("#begin-colours").MustInput("Barn #884422\nnavy\nOld door\nTitle line\n3 balls Moss #4f5a34")
	e.click("#begin-now")
	shot("begin", e)
	p := s.openAt("/plans/5/mix", 390, 844)
	shot("mix-phone", p)
	w := s.open("/plans/9/wheel")
	shot("wheel", w)
}
