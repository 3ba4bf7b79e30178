package shelf

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/wheel"
	"lampfern/store"
)

// mixed is a shelf of cloth, paint and what is of no kind, in a row of violets.
func mixed(t *testing.T) *Shelf {
	t.Helper()
	st, err := store.Open(t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { st.Close() })
	k := New(st)
	for i, kind := range []string{"fabric", "paint", "fabric", "other", "paint", "fabric"} {
		_, err := k.SaveMaterial(t.Context(), 0, 0, material.Material{Name: fmt.Sprint(kind, i), Kind: kind,
			Colour: colour.Lab{L: 20 + 10*float64(i), A: 30, B: -40}})
		require.NoError(t, err)
	}
	sh, err := k.Shelf(t.Context())
	require.NoError(t, err)
	return sh
}

func TestOffersKeepToTheKinds(t *testing.T) {
	sh := mixed(t)
	o := sh.Offer([]string{"fabric"}, nil)
	assert.Equal(t, 3, o.Left, "the paints, and what is of another kind")
	assert.Len(t, o.Cards(), 3, "the cloths")
	near := o.Nearest(colour.Lab{L: 30, A: 30, B: -40}, 2, 0)
	require.Len(t, near, 2)
	for _, n := range near {
		assert.NotEqual(t, "paint", n.Kind, "though a paint is nearest")
	}
	assert.Equal(t, "paint1", sh.Nearest(colour.Lab{L: 30, A: 30, B: -40}, 1, 0)[0].Name)
	place := near[0].Place(wheel.Pigment)
	assert.Len(t, o.Matches(wheel.Pigment, place), 3)
	assert.Len(t, o.Within(wheel.Pigment, place, 1), 3)
	assert.NotNil(t, o.NearestHue(wheel.Pigment, place))

	assert.Empty(t, sh.Offer([]string{"filament"}, nil).Cards(), "none is of the kind, and all are left out")
	assert.Len(t, sh.Offer([]string{"other"}, nil).Cards(), 1, "a kind like each")
	assert.Zero(t, sh.Offer(nil, nil).Left)
	empty := newShelf(1, nil).Offer([]string{"fabric"}, func(*Card) bool { return true })
	assert.Empty(t, empty.Nearest(colour.Lab{L: 50}, 3, 0))
	assert.Nil(t, empty.NearestHue(wheel.Pigment, 3))
}

func TestOffersInsideTheLimitsComeFirst(t *testing.T) {
	sh := mixed(t)
	light := sh.Offer(nil, func(c *Card) bool { return c.Colour.L >= 50 })
	near := light.Nearest(colour.Lab{L: 45, A: 30, B: -40}, 3, 0)
	require.Len(t, near, 3)
	assert.GreaterOrEqual(t, near[0].Colour.L, 50.0, "a little farther off, and inside")
	far := light.Nearest(colour.Lab{L: 20, A: 30, B: -40}, 1, 0)
	assert.Less(t, far[0].Colour.L, 50.0, "but not one that is far from what is wanted")
	all := light.Matches(wheel.Pigment, near[0].Place(wheel.Pigment))
	require.Len(t, all, 6, "those outside come after")
	inside := true
	for _, c := range all {
		now := c.Colour.L >= 50
		assert.False(t, now && !inside, "inside first")
		inside = now
	}
	without := light.NearestBut(colour.Lab{L: 55, A: 30, B: -40}, 6, map[uint]bool{near[0].ID: true})
	assert.Len(t, without, 5)
}
