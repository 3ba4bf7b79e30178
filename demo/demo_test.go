package demo

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/material"
	"lampfern/store"
	"lampfern/studio"
)

func TestDemoWorkroomIsWhole(t *testing.T) {
	st, err := store.Open(t.TempDir())
	require.NoError(t, err)
	defer st.Close()
	s, ctx := studio.New(st), context.Background()
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
	for _, p := range plans {
		full, err := s.Open(ctx, p.ID)
		require.NoError(t, err)
		v, err := full.Wheel()
		require.NoError(t, err)
		assert.NotNil(t, full.Lead, p.Name)
		assert.True(t, len(v.Lit) > 1 && len(full.Tray) > 2, p.Name)
	}
}
