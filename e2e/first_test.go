package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// From an empty folder to five pasted yarns on a scheme and on stripes: counted presses and fields,
// on a desk and on a phone.
func TestTheFirstMinutes(t *testing.T) {
	const mostPresses, mostFields = 8, 2
	for _, w := range []int{1280, 390} {
		s := serve(t, false)
		presses, fields := 0, 0
		b := s.openAt("/", w, 844)
		b.MustElement("#begin-colours").MustInput("Plum #5a2a4e\nMoth wing #d9cbb0\n#8a5a86\nReed #7c8a3a\nTeal #1f6f74")
		fields++
		b.MustElement("#begin-kind").MustSelect("yarn")
		fields++
		press := func(selector, words string) {
			t.Helper()
			b.clickText(selector, words)
			b.settle()
			presses++
		}
		press("#begin button", "Put them on the shelf and start a plan")
		assert.Equal(t, []string{"Plum", "Moth wing", "Violet", "Reed", "Teal"}, b.trayNames())
		press("#stage button, #stage a", "Triadic")
		assert.Contains(t, b.text("#stage"), "Triadic from Plum")
		press(".rail a", "Proportion")
		seen := map[string]bool{}
		for _, colour := range fills(b, "#piece .part") {
			seen[colour] = true
		}
		assert.Len(t, seen, 5, "each stripe has its colour")
		t.Logf("%d px wide: %d presses and %d fields, the paste among them", w, presses, fields)
		assert.LessOrEqual(t, presses, mostPresses)
		assert.LessOrEqual(t, fields, mostFields)
	}
}
