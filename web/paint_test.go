package web

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/plan"
	"lampfern/shelf"
)

// A colour that is the ground's own has a hairline; any other has none.
func TestAColourLikeTheGroundHasAHairline(t *testing.T) {
	for _, c := range []struct {
		surround, hex string
		line          bool
	}{{"bench", "#9b9b9b", true}, {"bench", "#9c9a99", true}, {"bench", "#858585", true}, {"bench", "#4b2346", false}, {"bench", "#ffffff", false},
		{"white", "#ffffff", true}, {"white", "#9b9b9b", false}, {"dark", "#2b2b2b", true}} {
		rgb, err := colour.ParseHex(c.hex)
		assert.NoError(t, err)
		v := View{Surround: c.surround}
		v.Light.Lamp = colour.Lamps()[0]
		if c.line {
			assert.Contains(t, string(v.Paint(rgb.Lab())), "box-shadow", c)
		} else {
			assert.NotContains(t, string(v.Paint(rgb.Lab())), "box-shadow", c)
		}
	}
	for _, s := range surrounds {
		assert.NotEmpty(t, grounds[s], s)
	}
}

// Two cards of one colour are told apart by their finish on small pictures, and a colour that is no card's is flat.
func TestTwoFinishesOfOneColour(t *testing.T) {
	rose := colour.Lab{L: 55, A: 42, B: 8}
	card := func(finish string) plan.TrayCard {
		return plan.TrayCard{Card: &shelf.Card{Material: material.Material{Finish: finish, Colour: rose}}}
	}
	p := &Page{Plan: &plan.Plan{Tray: []plan.TrayCard{card("matte"), card("gloss")}}, View: View{Surround: "bench"}}
	p.View.Light.Lamp = colour.Lamps()[0]
	moss := colour.Lab{L: 40, A: -10, B: 20}
	got := string(p.Paints([]*colour.Lab{&p.Plan.Tray[1].Colour, &p.Plan.Tray[0].Colour, &moss, nil}))
	assert.Contains(t, got, "--f0:url(#small-gloss)")
	assert.NotContains(t, got, "--f1")
	assert.NotContains(t, got, "--f2")
	assert.Contains(t, got, "--p3:transparent")
	assert.True(t, p.HasFinishes())
	p.Made = Flat
	assert.False(t, p.HasFinishes())
}
