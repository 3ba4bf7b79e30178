package studio

import (
	"context"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/balance"
	"lampfern/core/piece"
	"lampfern/exchange"
)

func TestWaysAndColourways(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	p := mustOpen(t, s, id)
	found, err := p.Ways(ctx, WaysAsked{Focus: "spark", Quiet: []string{"ground"}})
	require.NoError(t, err)
	assert.Equal(t, "All 120 ways were looked at.", found.Words)
	ways := found.Ways
	require.Greater(t, len(ways), 4)
	assert.Contains(t, ways[0].Words, "leads on the sparks")
	p = do(t, s, id, TakeWay(ways[1].Fills))
	assert.Equal(t, "first look", p.Proportion().Pulls[0].Words)
	assert.Contains(t, ways[1].Words, p.Proportion().Pulls[0].Name+" leads", "the stage reads it as the search did")
	again, err := p.Ways(ctx, WaysAsked{Focus: "spark", Quiet: []string{"ground"}})
	require.NoError(t, err)
	assert.True(t, again.Ways[1].Now)
	p = do(t, s, id, Pin("ground", true))
	pinned, err := p.Ways(ctx, WaysAsked{})
	require.NoError(t, err)
	for _, w := range pinned.Ways {
		assert.Equal(t, ways[1].Fills["ground"], w.Fills["ground"])
	}

	p = do(t, s, id, KeepColourway("  Spring   house ", nil))
	assert.Equal(t, "Spring house", p.Colourways[0].Name)
	refused(t, s, id, KeepColourway("", nil), "kept already, as Spring house")
	do(t, s, id, KeepColourway("", ways[0].Fills))
	p = do(t, s, id, FavourColourway(2, true))
	views := p.ColourwayViews()
	assert.Equal(t, "Colourway 2", views[0].Name, "the favourite comes first")
	assert.True(t, views[1].Now)
	p = do(t, s, id, TakeColourway(2))
	assert.True(t, p.ColourwayViews()[0].Now)
	p = do(t, s, id, NameColourway(2, "Evening", "for the long room"))
	assert.Equal(t, "for the long room", p.ColourwayViews()[0].Remark)
	refused(t, s, id, NameColourway(2, " ", ""), "a name of at most")
	refused(t, s, id, TakeColourway(9), "no longer kept")

	out, err := s.ExportPlan(ctx, id)
	require.NoError(t, err)
	other := studio(t)
	there, err := other.ImportPlan(ctx, out)
	require.NoError(t, err)
	assert.Equal(t, p.Colourways, mustOpen(t, other, there).Colourways)

	// A card set aside leaves its parts empty in the colourways that had it.
	p = do(t, s, id, SetAside(p.Tray[0].Key))
	empty := 0
	for _, v := range p.ColourwayViews() {
		for _, l := range v.Labs {
			if l == nil {
				empty++
			}
		}
	}
	assert.Equal(t, 2, empty)
	p = do(t, s, id, DropColourway(1))
	assert.Len(t, p.Colourways, 1)

	_, err = p.Ways(ctx, WaysAsked{Focus: "roof"})
	assert.ErrorContains(t, err, "no part called")
	scarf, err := s.ImportPlan(ctx, exchange.Plan{Name: "Scarf", Craft: "weaving"})
	require.NoError(t, err)
	_, err = mustOpen(t, s, scarf).Ways(ctx, WaysAsked{})
	assert.ErrorContains(t, err, "Choose a piece")
	refused(t, s, scarf, KeepColourway("x", nil), "no colours yet")
}

func TestAFocusThatCannotLeadIsToldWhy(t *testing.T) {
	s := studio(t)
	ids := add(t, s, "Grey=#8f8f8c", "Ash=#94948f", "Red=#d02028", "Gold=#f0c020", "Blue=#1040c0")
	id, err := s.NewPlan(ctx, "Quilt", "quilt")
	require.NoError(t, err)
	for _, n := range []string{"Red", "Gold", "Blue", "Ash", "Grey"} {
		do(t, s, id, Pull(ids[n]))
	}
	p := mustOpen(t, s, id)
	key := 0
	for _, c := range p.Tray {
		if c.Name == "Grey" {
			key = c.Key
		}
	}
	do(t, s, id, Fill("sashing", key))
	p = do(t, s, id, Pin("sashing", true))
	_, err = p.Ways(ctx, WaysAsked{Focus: "sashing"})
	assert.ErrorContains(t, err, "Grey is pinned to the sashing and cannot lead there")
	stopped, cancel := context.WithCancel(ctx)
	cancel()
	_, err = p.Ways(stopped, WaysAsked{})
	assert.NoError(t, err, "stopped early, it shows the best found")
}

func TestAcrossTheRoom(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	p := mustOpen(t, s, id)
	assert.Empty(t, p.Across(2).Blends)
	p = do(t, s, id, ChoosePiece("rows", map[string]float64{"colours": 2, "repeats": 10, "rows": 1, "row": 3}))
	got := p.Across(20).Blends
	require.Len(t, got, 1)
	assert.Contains(t, got[0].Words, p.Tray[0].Name)
	assert.Contains(t, got[0].Words, "too fine to be told apart: together they read as a")
	b := p.Brief
	b.Distance = 20
	p = do(t, s, id, SetBrief(p.Name, p.Craft, p.Purpose, b, b.Limit()))
	far := slices.IndexFunc(p.Proportion().Notes, func(n balance.Note) bool { return strings.HasPrefix(n.ID, "brief-far:") })
	require.GreaterOrEqual(t, far, 0, "the notes answer to the brief's distance")
	assert.Equal(t, "From 20 m", p.Proportion().Notes[far].About)
	p = do(t, s, id, Dismiss(p.Proportion().Notes[far].ID, "seen from the stalls only"))
	assert.False(t, slices.ContainsFunc(p.Proportion().Notes, func(n balance.Note) bool { return strings.HasPrefix(n.ID, "brief-far:") }))
	assert.InDelta(t, (p.Tray[0].Colour.XYZ().Y+p.Tray[1].Colour.XYZ().Y)/2, got[0].Colour.XYZ().Y, 1e-9, "half the light of each")
}

func TestAPlanStartsWithAPieceOfItsCraft(t *testing.T) {
	s := studio(t)
	for craft, want := range map[string]string{"quilt": "curtain", "soap": "soap", "garment": "dress", "painted models": "boat", "knitting or crochet": "rows", "weaving": "cloth", "other": "drawn"} {
		id, err := s.NewPlan(ctx, "New", craft)
		require.NoError(t, err)
		assert.Equal(t, want, mustOpen(t, s, id).Template, craft)
	}
	for _, tpl := range piece.Templates() {
		assert.Contains(t, Crafts(), string(tpl.Craft), tpl.Name)
	}
}
