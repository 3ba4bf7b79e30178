package draft

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/plan"
	"lampfern/testroom"
)

func TestWeftsOverAWarp(t *testing.T) {
	s := testroom.Studio(t, Stage())
	id, ids := testroom.Heap(t, s, "Madder=#b3402f", "Bog=#2f7d46", "Sand=#d8c08a", "Slate=#4a525c", "Rowan=#c8502e")
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "cloth"})
	p := testroom.Do(t, s, id, SetOrders{Warp: "6A 4B 2C", Weft: "8D"})
	at := map[string]int{}
	for i, c := range p.Tray {
		at[c.Name] = i
		if i < 4 {
			p = testroom.Do(t, s, id, plan.FillPart{Part: p.Piece.Parts[i].Key, Key: c.Key})
		}
	}
	v, err := Wefts(p)
	require.NoError(t, err)
	require.Len(t, v.Sections, 5)
	bog := v.Sections[at["Bog"]]
	assert.Contains(t, bog.Words, "Dulls Madder")
	assert.Contains(t, bog.Words, "Repeats Bog and is solid where it crosses")
	assert.True(t, v.Sections[at["Slate"]].Now, "the whole weft is of it")
	for _, sec := range v.Sections {
		assert.Equal(t, len(sec.Cells.Part), sec.Cells.Across*sec.Cells.Down)
		assert.Len(t, sec.Labs, 4, "three yarns of the warp and the weft")
	}

	p = testroom.Do(t, s, id, WeaveWith{Key: p.Tray[at["Rowan"]].Key})
	assert.Equal(t, "Rowan", testroom.FillOf(p, "yarn4"), "a yarn that the warp has not")
	assert.Equal(t, "Madder", testroom.FillOf(p, "yarn1"), "the warp stays as it is")
	p = testroom.Do(t, s, id, WeaveWith{Material: ids["Bog"]})
	assert.Len(t, p.Tray, 5, "it lies there already")
	assert.Equal(t, "Bog", testroom.FillOf(p, "yarn4"))
	testroom.Refused(t, s, id, WeaveWith{Material: 999}, "no longer on the shelf")
	testroom.Do(t, s, id, plan.Pin{Part: "yarn4", On: true})
	testroom.Refused(t, s, id, WeaveWith{Material: ids["Sand"]}, "is pinned")
	_, err = Wefts(testroom.Do(t, s, id, plan.FillPart{Part: "yarn2"}))
	assert.ErrorContains(t, err, "Yarn B of the warp has no card yet")
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "waistcoat"})
	_, err = Wefts(testroom.MustOpen(t, s, id))
	assert.ErrorContains(t, err, "Choose a woven cloth")
}
