package buy

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/plan"
	"lampfern/testroom"
)

// What cannot be had is never said to be bought anew.
func TestWhatIsNoLongerMadeIsNotBoughtAnew(t *testing.T) {
	for _, gone := range []bool{false, true} {
		s := testroom.Studio(t, Stage())
		m, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: "Bracken", Kind: "fabric", Colour: colour.Lab{L: 30, A: 10, B: 20},
			Discontinued: gone, Lots: []material.Lot{{Name: "3", OnHand: .2, Unit: "m"}, {Name: "4", OnHand: .2, Unit: "m"}}})
		require.NoError(t, err)
		id, err := s.NewPlan(testroom.Ctx, "Bothy quilt", "quilt")
		require.NoError(t, err)
		testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "ninepatch"})
		testroom.Do(t, s, id, plan.Pull{Material: m})
		said := ""
		for _, n := range buyOf(t, s, id).Notes {
			if n.About == "Bracken" {
				said += n.Words
			}
		}
		assert.Contains(t, said, "you have 40 cm, but not enough from one dye lot")
		if gone {
			assert.Contains(t, said, "is 60 cm short at the shop")
			assert.Contains(t, said, "and the shop has too little")
			assert.NotContains(t, said, "so the full 0.6 m is listed")
		} else {
			assert.Contains(t, said, "so the full 0.6 m is listed")
		}
	}
}
