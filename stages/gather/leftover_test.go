package gather_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/brief"
	"lampfern/core/material"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/stages"
	"lampfern/stages/gather"
	"lampfern/testroom"
)

// What is set aside carries its plan and its reason to the shelf, is found by it, and is
// offered in the next plan.
func TestWhatIsSetAsideIsFoundAgain(t *testing.T) {
	k := testroom.Studio(t, stages.All()...)
	id, ids := testroom.Quilt(t, k)
	p := testroom.Do(t, k, id, plan.SetAside{Key: 3})
	require.Len(t, gather.SetAside(p), 1)
	p = testroom.Do(t, k, id, plan.WhyAside{Material: ids["Heather rail"], Reason: "  too   cold "})
	assert.Equal(t, "too cold", gather.SetAside(p)[0].Reason)
	testroom.Refused(t, k, id, plan.WhyAside{Material: ids["Moth wing"], Reason: "x"}, "no longer set aside")
	testroom.Refused(t, k, id, plan.WhyAside{Material: ids["Heather rail"], Reason: strings.Repeat("x", 161)}, "at most 160 characters")

	trays, err := k.Trays(testroom.Ctx)
	require.NoError(t, err)
	assert.Equal(t, "left over from Stage curtain, too cold", trays.Left[ids["Heather rail"]][0].Words())
	assert.False(t, trays.Used(0)[ids["Heather rail"]])
	sh, err := k.Shelf(testroom.Ctx)
	require.NoError(t, err)
	found, _ := sh.Find(shelf.Query{Text: "left over too cold", Said: trays.Said()})
	require.Len(t, found, 1)
	assert.Equal(t, "Heather rail", found[0].Name)

	next, err := k.NewPlan(testroom.Ctx, "Cushion", "quilt")
	require.NoError(t, err)
	offered := testroom.MustOpen(t, k, next).Leftovers(trays, 6)
	require.Len(t, offered, 1)
	assert.Equal(t, "Heather rail", offered[0].Card.Name)
	assert.Empty(t, testroom.MustOpen(t, k, id).Leftovers(trays, 6), "its own are listed as set aside")
	soap, err := k.NewPlan(testroom.Ctx, "Soap", "soap")
	require.NoError(t, err)
	_, err = k.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: "Rose mica", Kind: "soap colourant",
		Colour: testroom.Hex(t, "#d9829a").Lab()})
	require.NoError(t, err)
	trays, err = k.Trays(testroom.Ctx)
	require.NoError(t, err)
	assert.Empty(t, testroom.MustOpen(t, k, soap).Leftovers(trays, 6), "a cloth is not offered to a soap")

	p = testroom.Do(t, k, id, plan.Pull{Material: ids["Heather rail"]})
	assert.Empty(t, p.Aside, "pulled back, it is aside no more")
	p, err = undo(k, t, id)
	require.NoError(t, err)
	assert.Equal(t, "too cold", p.Aside[0].Reason, "and undo puts it there again, with its reason")
}

func undo(k *plan.Desk, t *testing.T, id uint) (*plan.Plan, error) {
	_, err := k.StepPlan(testroom.Ctx, id, testroom.MustOpen(t, k, id).Revision, true)
	return testroom.MustOpen(t, k, id), err
}

func TestTheShelfsPortrait(t *testing.T) {
	k := testroom.Studio(t, stages.All()...)
	testroom.Quilt(t, k)
	testroom.Add(t, k, "Fir=#1f3b2d", "Gorse=#f1de4a")
	trays, err := k.Trays(testroom.Ctx)
	require.NoError(t, err)
	sh, err := k.Shelf(testroom.Ctx)
	require.NoError(t, err)
	p := sh.Portrait(trays.Used(0))
	assert.Equal(t, []int{7, 5}, []int{p.Cards, p.Used})
	assert.Equal(t, 7, p.Warm+p.Cool+p.Neutral)
	assert.Equal(t, 7, p.Dark+p.Middle+p.Light)
	said := strings.Join(p.Missing, "; ")
	assert.Contains(t, said, "nothing ")
	assert.Contains(t, said, "no light or clear green")
	for _, f := range p.Families {
		if f.Name == "green" {
			assert.Equal(t, 1, f.Never())
		}
	}
	assert.Empty(t, (&shelf.Shelf{}).Portrait(nil).Missing, "an empty shelf lacks nothing in particular")

	require.NoError(t, k.KeepTaste(testroom.Ctx, brief.Taste{Like: "Greens and  whimsy", Dislike: "yellow"}))
	taste, err := k.Taste(testroom.Ctx)
	require.NoError(t, err)
	assert.Equal(t, "Greens and whimsy", taste.Like)
	assert.ErrorContains(t, k.KeepTaste(testroom.Ctx, brief.Taste{Like: strings.Repeat("x", 200)}), "at most 160")
}
