package e2e

import (
	"fmt"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
)

func TestALongListShowsHowFarItIs(t *testing.T) {
	t.Parallel()
	s := serve(t, false)
	var list strings.Builder
	list.WriteString("name,L,a,b\n")
	for i := range 4000 {
		fmt.Fprintf(&list, "Card %d,%d,%d,%d\n", i, 20+i%75, i%60-30, i%50-25)
	}
	b := s.open("/shelf/import")
	b.MustElement("#file").MustSetFiles(writeFile(t, "long.csv", list.String()))
	b.click("#preview")
	b.MustEval(`() => { window.most = 0; setInterval(() => { const p = document.getElementById('progress'); if (p && !p.hidden) window.most = Math.max(window.most, p.value); }, 10); }`)
	b.MustElement("#confirm").MustFocus()
	b.press(input.Enter)
	b.until("the list is on the shelf", `() => document.querySelector('h1').textContent === 'Shelf'`)
	assert.Contains(t, b.text(".flash"), "4000 materials are now on the shelf")
	assert.Positive(t, b.MustEval(`() => window.most`).Int(), "the bar moved")
	assert.Equal(t, "/shelf", b.MustEval(`() => location.pathname`).Str())
}

func TestMeasuringByKeyboard(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/shelf/material/3")
	b.tabTo("#measure-it")
	b.press(input.Enter)
	b.until("the reader", `() => document.querySelector('h1').textContent === 'Measure Heather rail'`)
	b.tabTo("#calibrate")
	b.press(input.Enter)
	b.until("calibrated", `() => document.querySelector('.flash')?.textContent.includes('Calibrated')`)
	b.tabTo("#measure")
	b.press(input.Enter)
	b.until("measured", `() => document.querySelectorAll('.readings li').length === 5`)
	b.tabTo("#keep-measured")
	b.press(input.Enter)
	b.until("kept", `() => document.querySelector('.flash')?.textContent.includes('mean of 5 readings')`)
}
