package proportion

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/testroom"
)

func TestWhatTheSurfacesSay(t *testing.T) {
	card := func(key int, name, finish string, share float64, c colour.Lab) plan.TrayCard {
		return plan.TrayCard{Key: key, Card: &shelf.Card{Material: material.Material{Name: name, Finish: finish, Colour: c}}, Share: share}
	}
	rose, navy := colour.Lab{L: 55, A: 42, B: 8}, colour.Lab{L: 20, A: 2, B: -20}
	p := &plan.Plan{Tray: []plan.TrayCard{card(1, "Rose matt", "matte", .4, rose), card(2, "Rose gloss", "gloss", .3, rose),
		card(3, "Navy", "gloss", .3, navy), card(4, "Rose felt", "fuzzy", 0, rose)}}
	notes := surfaceNotes(p)
	require := assert.New(t)
	require.Len(notes, 2)
	require.Equal("sheen:1:2", notes[0].ID)
	require.Equal("Rose matt and Rose gloss", notes[0].About)
	require.Contains(notes[0].Words, "one colour in two finishes")
	require.Equal(": gloss (Rose gloss and Navy) looks darker and clearer from most sides, and white where it reflects the lamp.",
		notes[1].Words)
	p.Tray = p.Tray[:1]
	require.Empty(surfaceNotes(p), "matte is as it is kept")
}

// A piece looked at in another finish gains and loses something in words, and names the edges that could go with it.
func TestMadeInAnotherFinish(t *testing.T) {
	s := testroom.Studio(t, Stage())
	id, _ := testroom.Quilt(t, s)
	p := testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "curtain"})
	for _, f := range material.Finishes() {
		m := MadeIn(p, f)
		assert.NotEmpty(t, m.Gain, f)
		assert.NotEmpty(t, m.Lose, f)
	}
	assert.Nil(t, MadeIn(p, "flat"), "flat colour is no finish")
	assert.NotContains(t, MadeIn(p, "matte").Lose, "may go too", "a matte surface keeps every edge")

	// By hand: the two colours that touch with the fewest value steps between them come first.
	near, first := 9.0, ""
	l := p.Layout()
	for i := range p.Tray {
		for j := range i {
			if d := p.Tray[i].Colour.Value() - p.Tray[j].Colour.Value(); l.Border[i][j] > 0 && max(d, -d) < near {
				near, first = max(d, -d), p.Tray[i].Name+" on "+p.Tray[j].Name
			}
		}
	}
	if near < 2 {
		assert.Contains(t, MadeIn(p, "metallic").Lose, first)
	}
}
