package material

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
)

func TestConvertByHand(t *testing.T) {
	for _, c := range []struct {
		kind             string
		amount           float64
		from, to         string
		pack, want, near float64
	}{
		{"fabric", 2.5, "yd", "m", 0, 2.286, 1e-9},
		{"fabric", 36, "in", "yd", 0, 1, 1e-9},
		{"yarn", 3, "ball", "g", 50, 150, 1e-9},
		{"yarn", 8, "oz", "ball", 50, 4.5359, 1e-4},
		{"paint", 1, "l", "pot", 60, 16.6667, 1e-4},
		{"building part", 2, "dozen", "pieces", 0, 24, 1e-9},
		{"filament", 1, "spool", "lb", 1000, 2.20462, 1e-5},
	} {
		got, err := StockOf(c.kind).Convert(c.amount, c.from, c.to, c.pack)
		require.NoError(t, err)
		assert.InDelta(t, c.want, got, c.near, c.kind)
	}
	_, err := StockOf("yarn").Convert(1, "ball", "g", 0)
	assert.EqualError(t, err, "say how many g one ball holds")
	_, err = StockOf("fabric").Convert(1, "m", "litre", 0)
	assert.ErrorContains(t, err, "choose one of m, cm, yd, in")
	for _, k := range Kinds() {
		assert.Equal(t, 1.0, StockOf(k).Units[0].Base, k)
	}
}

func TestLotsAndFurtherColours(t *testing.T) {
	m := Material{Name: "Owl night", Kind: "yarn", Pack: 50, Lots: []Lot{{Name: " 7a ", OnHand: 3, Unit: "ball"},
		{Name: "7b", OnHand: 20, State: UsedUp}, {Name: "8", OnHand: 40, State: Mistake}},
		Further: []Further{{Role: Flash, Colour: colour.Lab{L: 80}}}}
	require.Nil(t, m.Tidy())
	assert.Equal(t, "7a", m.Lots[0].Name)
	assert.Equal(t, "g", m.Lots[1].Unit)
	assert.Zero(t, m.Lots[1].OnHand, "a lot that is used up has none on hand")
	assert.InDelta(t, 190, m.OnHand(), 1e-9, "a mistake still counts as on hand")
	assert.Equal(t, "190 g, 3.8 × ball", m.OnHandWords())

	for want, bad := range map[string]Material{
		"two lots have this name":      {Lots: []Lot{{Name: "a"}, {Name: "A"}}},
		"on hand must":                 {Lots: []Lot{{OnHand: -1}}},
		"the price must":               {Lots: []Lot{{Price: -1}}},
		"is not used for":              {Lots: []Lot{{Unit: "litre"}}},
		"its colour is not possible":   {Lots: []Lot{{Colour: &colour.Lab{L: 300}}}},
		"choose one of in use":         {Lots: []Lot{{State: "lost"}}},
		"at most 40 lots":              {Lots: make([]Lot, 41)},
		"at most 12 extra":             {Further: make([]Further, 13)},
		"is one of flash":              {Further: []Further{{Role: "back"}}},
		"extra colour is not possible": {Further: []Further{{Role: Flash, Colour: colour.Lab{L: -1}}}},
		"cover 120 %":                  {Further: []Further{{Role: Print, Coverage: .6}, {Role: Print, Coverage: .6}}},
		"is from 0 to":                 {Further: []Further{{Role: Print, Coverage: -1}}},
		"One  holds -1":                {Pack: -1},
		"print repeat":                 {Repeat: 9000},
	} {
		bad.Name = "x"
		assert.Contains(t, bad.Tidy().Error(), want)
	}
}

func TestAPrintReadsAsTheMeanOfItsLight(t *testing.T) {
	plain := Material{Colour: colour.Lab{L: 50, A: 10}}
	assert.Equal(t, plain.Colour, plain.ReadsAs())
	black, white := colour.Lab{}, colour.Lab{L: 100}
	print := Material{Colour: white, Further: []Further{{Role: Print, Colour: black, Coverage: 0.5}}}
	assert.InDelta(t, 76.07, print.ReadsAs().L, 0.01, "half the light of white is L* 76, by hand")
	shimmer := Material{Colour: white, Further: []Further{{Role: Flash, Colour: black}}}
	assert.Equal(t, white, shimmer.ReadsAs(), "a flash is no print")
}
