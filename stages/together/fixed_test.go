package together_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/plan"
	"lampfern/stages"
	"lampfern/stages/buy"
	"lampfern/stages/proportion"
	"lampfern/stages/wheel"
	"lampfern/testroom"
)

// Wood is bought and mixed, and is no part of the scheme; skin is neither bought nor mixed.
func TestTwoStatesOfFixedColours(t *testing.T) {
	s := testroom.Studio(t, stages.All()...)
	id, _ := testroom.Heap(t, s, "Red=#c0392b", "Blue=#2c5faa", "Wood=#8a5a2b", "Skin=#c99a7a")
	p := testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "cloth"})
	for i, part := range p.Piece.Parts {
		p = testroom.Do(t, s, id, plan.FillPart{Part: part.Key, Key: p.Tray[i].Key})
	}
	before, err := wheel.Wheel(p)
	require.NoError(t, err)
	p = testroom.Do(t, s, id, plan.SetApart{Key: p.Tray[2].Key, On: true})
	p = testroom.Do(t, s, id, plan.SetGiven{Key: p.Tray[3].Key, On: true})
	after, err := wheel.Wheel(p)
	require.NoError(t, err)
	assert.NotEqual(t, before.Made.Words, after.Made.Words)
	assert.Len(t, p.InScheme(), 3, "skin may lead a scheme, and wood is none of it")
	assert.Len(t, p.Fixed(), 2)

	b, err := buy.View(testroom.Ctx, s, p)
	require.NoError(t, err)
	rows := map[string]bool{}
	for _, r := range b.Rows {
		rows[r.Name] = true
	}
	assert.Equal(t, []bool{true, false}, []bool{rows["Wood"], rows["Skin"]})
	wanted := map[string]bool{}
	for _, w := range p.Wantables() {
		wanted[w.Name] = true
	}
	assert.Equal(t, []bool{true, false}, []bool{wanted["Wood"], wanted["Skin"]})

	ways, err := proportion.Ways(testroom.Ctx, s, p, proportion.WaysAsked{})
	require.NoError(t, err)
	named := map[colour.Lab]string{}
	for _, c := range p.Tray {
		named[c.Colour] = c.Name
	}
	for _, w := range ways.Ways {
		assert.Equal(t, "Wood", named[*w.Labs[2]])
		assert.Equal(t, "Skin", named[*w.Labs[3]])
	}
	testroom.Refused(t, s, id, plan.Swap{Key: p.Tray[0].Key, With: p.Tray[2].Key}, "Wood is outside the scheme and keeps its place")
	testroom.Refused(t, s, id, plan.Swap{Key: p.Tray[0].Key, With: p.Tray[3].Key}, "Skin is a fixed colour and keeps its place")
	for _, c := range p.Competing() {
		assert.True(t, c.Lesser.Movable())
	}
	p = testroom.Do(t, s, id, plan.SetApart{Key: p.Tray[3].Key, On: true})
	assert.False(t, p.Tray[3].Given, "one state at a time")
	assert.Less(t, colour.DeltaE2000(p.Tray[3].Colour, testroom.Hex(t, "#c99a7a").Lab()), .1)
}
