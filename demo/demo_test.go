package demo

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/stages"
	"lampfern/stages/gather"
	"lampfern/stages/wheel"
	"lampfern/store"
)

func lab(t *testing.T, hex string) colour.Lab {
	c, err := colour.ParseHex(hex)
	require.NoError(t, err)
	return c.Lab()
}

func TestDemoWorkroomIsWhole(t *testing.T) {
	st, err := store.Open(t.TempDir())
	require.NoError(t, err)
	defer st.Close()
	s, ctx := plan.NewDesk(shelf.New(st), stages.All()), context.Background()
	require.NoError(t, Load(ctx, s))
	sh, err := s.Shelf(ctx)
	require.NoError(t, err)
	assert.Len(t, sh.Cards, 164, "plans use the shelf's own materials and add none")
	kinds, gone := map[string]int{}, 0
	for _, c := range sh.Cards {
		kinds[c.Kind]++
		if c.Discontinued {
			gone++
		}
	}
	assert.GreaterOrEqual(t, len(kinds), len(material.Kinds())-1, "materials of every craft")
	assert.Positive(t, gone)
	plans, err := s.Plans(ctx)
	require.NoError(t, err)
	assert.Len(t, plans, 9)
	assert.Equal(t, "Stage curtain", plans[0].Name)
	curtain, err := s.Open(ctx, plans[0].ID)
	require.NoError(t, err)
	scraps := gather.ScrapPage(curtain)
	require.Len(t, scraps, 3)
	assert.Less(t, colour.DeltaE2000(scraps[0].Colour, lab(t, "#4b2346")), 6.0, "the white paper takes the lamp out of the photo")
	assert.Less(t, colour.DeltaE2000(scraps[2].Colour, lab(t, "#e0a52e")), 6.0)
	for _, p := range plans {
		full, err := s.Open(ctx, p.ID)
		require.NoError(t, err)
		v, err := wheel.Wheel(full)
		require.NoError(t, err)
		assert.NotNil(t, full.Lead, p.Name)
		assert.True(t, len(v.Lit) > 1 && len(full.Tray) > 2, p.Name)
	}
}
