package shelf

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/store"
)

func TestLayersAsTheyWereMeasured(t *testing.T) {
	fog := colour.Lab{L: 80, A: -4, B: -12}
	row := Row(material.Material{Name: "Fog", Kind: "marker or pencil", Finish: "matte", Source: "typed", Colour: fog})
	row.ID = 3
	plain := newCard(row)
	require.True(t, plain.Layers())
	two, measured := plain.Layer(2)
	assert.False(t, measured)
	one, _ := fog.RGB()
	assert.Equal(t, colour.Film(one, 2, .9).Lab(colour.WhiteD65), two, "calculated as a film")
	name, recipe := plain.InLayers(2)
	assert.Equal(t, "Fog, two layers: two layers of Fog, calculated as a film", name+": "+recipe)

	chart := colour.Lab{L: 71, A: -5, B: -16}
	row = Row(material.Material{Name: "Fog", Kind: "marker or pencil", Finish: "matte", Source: "typed", Colour: fog,
		Further: []material.Further{{Role: material.Layer, Colour: chart}}})
	row.ID = 3
	tried := newCard(row)
	two, measured = tried.Layer(2)
	assert.True(t, measured)
	assert.Equal(t, chart, two)
	three, measured := tried.Layer(3)
	assert.False(t, measured)
	assert.InDelta(t, chart.XYZ().Y*chart.XYZ().Y/fog.XYZ().Y, three.XYZ().Y, 1e-9, "the third takes away what the second did")
	assert.Len(t, tried.Face(), 2, "the card shows both")
	assert.Equal(t, chart, tried.Face()[1].Colour)
	assert.Len(t, plain.Face(), 1)

	paint := Row(material.Material{Name: "Slate", Kind: "marker or pencil", Finish: "matte", Source: "typed",
		Colour: colour.Lab{L: 74, A: -5, B: -14}})
	paint.ID = 4
	sh := newShelf(1, []store.Material{row, paint})
	near := sh.Offer(nil, nil).NearestInLayers(chart, 2)
	assert.Equal(t, []int{2, 1}, []int{near[0].Layers, near[1].Layers}, "two layers of Fog are the very thing")
	assert.Equal(t, "Fog", near[0].Card.Name)
	assert.Zero(t, near[0].Apart)
}
