package studio

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/material"
)

func TestDrawersAndFlags(t *testing.T) {
	s := studio(t)
	id, ids := quilt(t, s)
	sh, err := s.Shelf(ctx)
	require.NoError(t, err)
	sum := 0
	for _, d := range sh.Drawers() {
		assert.Len(t, sh.Drawer(string(d.Family), false), d.Count)
		sum += d.Count
	}
	assert.Equal(t, 5, sum)
	assert.Len(t, sh.Drawer("", true), 5)
	p := do(t, s, id, Flag(ids["Moth wing"], true))
	assert.True(t, p.Flags(ids["Moth wing"]))
	p = do(t, s, id, FlagDrawer("", true))
	assert.Len(t, p.ToPrint(), 5)
	p = do(t, s, id, FlagDrawer("violet", false))
	assert.Less(t, len(p.ToPrint()), 5)
	refused(t, s, id, Flag(999, true), "no longer on the shelf")
}

func TestCardsAreLaidAndTried(t *testing.T) {
	s := studio(t)
	id, ids := quilt(t, s)
	v := mustOpen(t, s, id).Lay("")
	require.Len(t, v.Cards, 5, "the tray lies there at first")
	assert.Len(t, v.Pairs, 4)
	assert.InDelta(t, 1, v.Warm+v.Cool+v.Grey, 1e-9)
	other := add(t, s, "Fir=#1f3b2d", "Gorse=#f1de4a")
	token := func(id uint) string { return tokenOf(&Card{ID: id}) }
	p := do(t, s, id, LayDown(token(other["Fir"])))
	assert.Len(t, p.Lay("").Cards, 6)
	refused(t, s, id, LayDown(token(other["Gorse"])), "pick one up first")
	p = do(t, s, id, PickUp(token(ids["Moth wing"])))
	assert.Len(t, p.Lay("").Cards, 5)
	refused(t, s, id, PickUp(token(ids["Moth wing"])), "is not laid")
	p = do(t, s, id, LayInstead(token(other["Fir"]), token(other["Gorse"])))
	assert.Equal(t, "Gorse", p.Lay("").Cards[4].Name)
	refused(t, s, id, LayInstead(token(other["Fir"]), token(other["Gorse"])), "cannot be tried")
	p = do(t, s, id, LayByShare(true))
	v = p.Lay("")
	assert.Greater(t, v.Cards[0].Wide, v.Cards[4].Wide, "a card that is not placed is narrow, and still seen")
	assert.Positive(t, v.Cards[4].Wide)
	do(t, s, id, LayTray())
	for _, k := range mustOpen(t, s, id).Lay("").Cards[1:] {
		do(t, s, id, PickUp(k.Token))
	}
	refused(t, s, id, PickUp(mustOpen(t, s, id).Lay("").Cards[0].Token), "One card must stay")
}

func TestWhatTiesASetTogether(t *testing.T) {
	s := studio(t)
	id, ids := quilt(t, s)
	gold, err := colour.ParseHex("#dfa530")
	require.NoError(t, err)
	plum, err := colour.ParseHex("#4c2447")
	require.NoError(t, err)
	_, err = s.SaveMaterial(ctx, 0, 0, material.Material{Name: "Sprigged binding", Colour: plum.Lab(), Further: []material.Further{{Role: material.Print, Colour: gold.Lab(), Coverage: 0.3}}})
	require.NoError(t, err)
	v := mustOpen(t, s, id).Lay(tokenOf(&Card{ID: ids["Lamp soot"]}))
	require.Equal(t, 4, v.Trying)
	require.NotEmpty(t, v.Tries)
	assert.Equal(t, "Sprigged binding", v.Tries[0].Name)
	assert.Equal(t, []string{"Plum curtain", "Marrow flesh"}, v.Tries[0].Holds)
}

func TestAPaintedCardComesBack(t *testing.T) {
	s := studio(t)
	_, ids := quilt(t, s)
	words, err := s.Repaint(ctx, ids["Heather rail"], colour.Lab{L: 50, A: 26, B: -17}, "photo", 3, 1)
	require.NoError(t, err)
	assert.Contains(t, words, "Heather rail came out lighter by 0.5 value steps")
	sh, err := s.Shelf(ctx)
	require.NoError(t, err)
	c, err := sh.Card(ids["Heather rail"])
	require.NoError(t, err)
	assert.InDelta(t, 50, c.Colour.L, 1e-9)
	assert.Equal(t, "photo", c.Source)
	_, err = s.Repaint(ctx, ids["Heather rail"], colour.Lab{L: 30}, "typed", 3, 3)
	assert.ErrorContains(t, err, "layer 2 comes first")
	words, err = s.Repaint(ctx, ids["Heather rail"], colour.Lab{L: 40, A: 20, B: -10}, "typed", 3, 2)
	require.NoError(t, err)
	assert.Contains(t, words, "in 2 layers")
	_, err = s.Repaint(ctx, ids["Heather rail"], colour.Lab{L: 38, A: 20, B: -10}, "typed", 3, 2)
	require.NoError(t, err)
	sh, _ = s.Shelf(ctx)
	c, _ = sh.Card(ids["Heather rail"])
	require.Len(t, c.Further, 1, "a layer is entered once and then changed")
	assert.InDelta(t, 38, c.Further[0].Colour.L, 1e-9)
	label, err := s.StepShelf(ctx, true)
	require.NoError(t, err)
	assert.Contains(t, label, "Heather rail", "and can be undone")
	_, err = s.Repaint(ctx, 999, colour.Lab{}, "typed", 3, 1)
	assert.ErrorContains(t, err, "no longer on the shelf")
	film := newCard(c.row)
	assert.Len(t, film.Face(), 1)
	row := c.row
	row.Finish = "translucent"
	film = newCard(row)
	require.Len(t, film.Face(), 3)
	assert.Less(t, film.Face()[2].Colour.L, film.Face()[0].Colour.L, "more layers are darker")
}
