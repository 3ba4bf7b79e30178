package balance

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestNotesOfOneKindAreOneSentence(t *testing.T) {
	hexes := []string{"#b03030", "#b23232", "#b43434", "#3050b0", "#3252b2", "#e8e4da"}
	cs := cards(t, hexes...)
	for i, name := range []string{"Rust", "Brick", "Madder", "Delft", "Gentian", "Chalk"} {
		cs[i].Name = name
	}
	l := plain(.3, .1, .1, .1, .1, .3)
	one := Grouped(Notes(l, cs), l, cs)
	kinds := map[string]int{}
	for _, n := range one {
		kinds[n.ID[:4]]++
	}
	assert.Equal(t, 1, kinds["lost"])
	assert.Equal(t, 1, kinds["alik"])
	lost := find(one, "lost:#3050b0:#3252b2,#b03030:#b23232,#b03030:#b43434,#b23232:#b43434")
	require.NotNil(t, lost, "%v", one)
	assert.Equal(t,
		"Four edges disappear because the values are too close: Brick on Rust (0.1 value steps), Brick on Madder (0.1 value steps), Madder on Rust (0.1 value steps) and Delft on Gentian (0.1 value steps).", lost.About+lost.Words)
	assert.Equal(t, []int{1, 0, 1, 2, 2, 0, 3, 4}, lost.Cards)
	alike := find(one, "alike:#3050b0,#3252b2,#b03030,#b23232,#b43434")
	require.NotNil(t, alike)
	assert.Equal(t,
		"Five cards will read as fewer colours (under ΔE 5): Rust, Brick and Madder; Delft and Gentian.",
		alike.About+alike.Words)
	assert.Equal(t, 1, alike.Aside, "of those with the least room the first")

	pair := Notes(plain(.5, .5), cs[:2])
	assert.Equal(t, pair, Grouped(pair, plain(.5, .5), cs[:2]), "one pair keeps its own sentence")
}
