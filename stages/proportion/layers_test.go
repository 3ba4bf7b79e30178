package proportion

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/plan"
	"lampfern/testroom"
)

func TestAPartTakesACardInLayers(t *testing.T) {
	s := testroom.Studio(t, Stage())
	id, _ := testroom.Quilt(t, s)
	fog, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: "Fog", Kind: "marker or pencil",
		Colour: colour.Lab{L: 80, A: -4, B: -12}})
	require.NoError(t, err)
	testroom.Do(t, s, id, plan.Pull{Material: fog})
	p := testroom.MustOpen(t, s, id)
	key := p.Tray[5].Key
	testroom.Refused(t, s, id, plan.LayPart{Part: "ground", Layers: 2}, "no colour that is applied in layers")
	testroom.Do(t, s, id, plan.FillPart{Part: "ground", Key: key})
	testroom.Do(t, s, id, plan.FillPart{Part: "spark", Key: key})
	p = testroom.Do(t, s, id, plan.LayPart{Part: "spark", Layers: 2})
	require.Len(t, p.Tray, 7)
	two := p.Tray[6]
	assert.Equal(t, []string{"Fog, two layers", "sparks"}, append([]string{two.Name}, two.Parts...))
	assert.Equal(t, []string{"ground"}, p.Tray[5].Parts, "the ground keeps one layer")
	n, of := p.Layer(two.Key)
	assert.Equal(t, 2, n)
	assert.Equal(t, fog, of.ID)
	reckoned := two.Colour

	// What the chart came to is what the part then shows.
	chart := colour.Lab{L: 70, A: -6, B: -17}
	said, err := s.Repaint(testroom.Ctx, fog, chart, "photo", 3, 2)
	require.NoError(t, err)
	assert.Contains(t, said, "Fog in 2 layers")
	p = testroom.MustOpen(t, s, id)
	assert.NotEqual(t, reckoned, p.Tray[6].Colour)
	assert.Equal(t, chart, p.Tray[6].Colour)
	assert.Equal(t, "two layers of Fog, as measured on the chart", p.Tray[6].Recipe)
	assert.Equal(t, colour.Lab{L: 80, A: -4, B: -12}, p.Tray[5].Colour, "and its own colour stays")

	p = testroom.Do(t, s, id, plan.LayPart{Part: "spark", Layers: 3})
	require.Len(t, p.Tray, 7, "two layers that no part has any more left the tray")
	assert.Equal(t, "Fog, three layers", p.Tray[6].Name)
	p = testroom.Do(t, s, id, plan.LayPart{Part: "spark", Layers: 1})
	assert.Len(t, p.Tray, 6)
	assert.ElementsMatch(t, []string{"ground", "sparks"}, p.Tray[5].Parts)
	testroom.Refused(t, s, id, plan.LayPart{Part: "spark", Layers: 5}, "1 to 4 layers")
	p = testroom.Do(t, s, id, plan.PullLayers{Material: fog, Layers: 2})
	assert.Equal(t, "Fog, two layers", p.Tray[6].Name)

	_, out, err := s.Export(testroom.Ctx, id)
	require.NoError(t, err)
	other := testroom.Studio(t, Stage())
	there, err := testroom.Import(other, out)
	require.NoError(t, err)
	assert.Equal(t, chart, testroom.MustOpen(t, other, there).Tray[6].Colour, "it travels with its plan")
}
