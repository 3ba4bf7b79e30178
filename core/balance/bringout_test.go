package balance

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A red berry on leaves, with a binding left open: a quiet binding lets it lead, a second
// red does not, one like the leaves loses its edge.
func TestABindingLetsTheFocusLead(t *testing.T) {
	c := labs(t, "#dfe6ea", "#5a6a3a", "#c1121f", "#808080")
	l := plain(.5, .35, .05, .1)
	of := labs(t, "#d01a2a", "#c9d6de", "#5b6b3b", "#2f3a4a", "#f2c230", "#dfe6ea", "#c1121f")
	got := BringOut(l, c, 3, 2, of, []int{-1, -1, -1, -1, -1, 0, -1})
	require.Len(t, got, 6, "the ground itself would hide the binding")
	at := map[int]Candidate{}
	place := map[int]int{}
	for i, g := range got {
		at[g.Index], place[g.Index] = g, i
	}
	assert.Less(t, place[3], place[0], "a slate before a second red")
	assert.Less(t, place[3], place[4], "and before a yellow that shouts")
	assert.Equal(t, 1, at[2].Lost)
	assert.Equal(t, 1, at[1].Lost)
	// The figures are those of the piece so coloured.
	c[3] = of[3]
	pulls := FirstLook(l, c)
	require.Equal(t, 2, pulls[0].Part)
	assert.InDelta(t, pulls[0].Pull/pulls[1].Pull, at[3].Times, 1e-9)
	// Left open itself, the focus is best where it leads by most.
	own := BringOut(l, labs(t, "#dfe6ea", "#5a6a3a", "#8a8f86", "#808080"), 2, 2, labs(t, "#8a8f80", "#d01a2a"), []int{-1, -1})
	assert.Equal(t, 1, own[0].Index)
}
