package e2e

import (
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
)

// Two pieces and a copy of one share the tray: each in its own colours, seen together, read over
// all, and tried in fewer colours; by mouse, by keyboard and on a phone.
func TestASetOfPieces(t *testing.T) {
	t.Parallel()
	for _, w := range []int{1280, 390} {
		s := serve(t, true)
		b := s.openAt("/plans/9/proportion", w, 844)
		first := fills(b, "#piece .part")
		b.click("#to-together")
		b.click("#add-piece")
		b.click("#piece-waistcoat")
		b.until("the waistcoat", `() => !!document.querySelector('#piece #part-fronts')`)
		assert.Equal(t, []string{"Triangle curtain", "Waistcoat"}, b.texts(".set-row button"))
		b.click("#to-together")
		assert.Len(t, b.MustElements("#pieces li"), 2)
		b.MustElement("#piece-times-2").MustSelectAllText().MustInput("3").MustType(input.Enter)
		b.settle()
		assert.Contains(t, b.text("#pieces"), "Waistcoat × 3")
		assert.Contains(t, b.text("#over"), "cm²")
		assert.Contains(t, strings.Join(b.texts(".set-pairs b"), "; "), "Triangle curtain with Waistcoat")
		b.tabTo(`#members [aria-label="Copy the Waistcoat"]`)
		b.press(input.Enter)
		assert.Len(t, b.MustElements("#pieces li"), 3)
		b.press('z')
		assert.Len(t, b.MustElements("#pieces li"), 2, "a copy is taken back by one undo")

		b.click("#to-fewer")
		assert.Contains(t, b.text("#fewer"), "Keeps ")
		b.clickText("#fewer li:first-child button", "Save")
		assert.Contains(t, b.text("#said"), "save the set in")
		b.clickText("#fewer li:last-child button", "Use this version")
		b.visit("/plans/9/together")
		b.click(`#pieces li:first-child button`)
		b.visit("/plans/9/proportion")
		seen := map[string]bool{}
		for _, colour := range fills(b, "#piece .part") {
			seen[colour] = true
		}
		assert.LessOrEqual(t, len(seen), 2, "the curtain is in two colours")
		b.press('z', 'z')
		b.click("#turn-to-1")
		assert.Equal(t, first, fills(b, "#piece .part"), "and in all its colours again")
	}
}
