package proportion

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/note"
	"lampfern/plan"
	"lampfern/testroom"
)

// Cards are offered from 20 L* away on, by the middle of their band: that of the
// middle one is 51.
func TestAMendIsFarEnoughInValue(t *testing.T) {
	s := testroom.Studio(t, Stage())
	offered := func(name string, l float64) *Mend {
		id, _ := testroom.Heap(t, s, name+" grey=#7a7a7a") // L* 51
		ground := colour.Lab{L: l}
		p := testroom.Do(t, s, id, plan.Doing(func(d *plan.Draft) (string, error) {
			return "add", d.Add(plan.FreeEntry(name, ground))
		}))
		require.Len(t, p.Tray, 2)
		return MendOf(p, note.Note{ID: "lost:a:b", Grade: note.Fix, Aside: -1, Cards: []int{0, 1}})
	}
	near := offered("near", 32)
	assert.Nil(t, near, "a card 19 away parts nothing, and there is no piece to turn round")
	far := offered("far", 30)
	require.NotNil(t, far)
	require.NotNil(t, far.Find, "21 away does")
	assert.Equal(t, "middle", far.Find.Value)
}
