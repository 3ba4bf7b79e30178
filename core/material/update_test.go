package material

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"lampfern/core/colour"
)

func TestAMaterialIsUpdatedByALineOfAList(t *testing.T) {
	plum := colour.Lab{L: 21, A: 22, B: -13}
	wool := Material{Name: "Plum", Kind: "yarn", Lot: "7a", Colour: plum, Source: "measured with a reader",
		Lots: []Lot{{Name: "7a", OnHand: 100, Unit: "g", Price: 0.06}}}
	two := wool
	two.Lots = append([]Lot{}, wool.Lots[0], Lot{Name: "9c", OnHand: 50, Unit: "g"})
	bare := Material{Name: "Plum", Kind: "yarn", Lot: "7a", Colour: plum}
	for name, c := range map[string]struct {
		m    Material
		by   Material
		g    Given
		said []string
		lots []Lot
	}{
		"all as it was": {wool, Material{Colour: plum, Lot: "7a", Lots: []Lot{{Name: "7a", OnHand: 100, Unit: "g"}}},
			Given{Colour: true, Lot: true, OnHand: true, Unit: true}, nil, wool.Lots},
		"the only lot": {wool, Material{Lots: []Lot{{OnHand: 40}}}, Given{OnHand: true}, []string{"40 g on hand, was 100 g"},
			[]Lot{{Name: "7a", OnHand: 40, Unit: "g", Price: 0.06}}},
		"a price alone": {wool, Material{Lots: []Lot{{Price: 0.075}}}, Given{Price: true}, []string{"price 0.075, was 0.06"},
			[]Lot{{Name: "7a", OnHand: 100, Unit: "g", Price: 0.075}}},
		"one of two lots": {two, Material{Lots: []Lot{{Name: "9C", OnHand: 20}}}, Given{Lot: true, OnHand: true},
			[]string{"20 g on hand of lot 9c, was 50 g"}, []Lot{two.Lots[0], {Name: "9c", OnHand: 20, Unit: "g"}}},
		"a new lot": {wool, Material{Lot: "11", Lots: []Lot{{Name: "11", OnHand: 3}}}, Given{Lot: true, OnHand: true},
			[]string{"a new lot, 11", "3 g on hand"}, []Lot{wool.Lots[0], {Name: "11", OnHand: 3}}},
		"a lot by name alone": {wool, Material{Lot: "11"}, Given{Lot: true}, []string{"a new lot, 11"}, []Lot{wool.Lots[0], {Name: "11"}}},
		"nothing on hand yet": {bare, Material{Lots: []Lot{{OnHand: 3}}}, Given{OnHand: true}, []string{"a new lot, 7a", "3 g on hand"},
			[]Lot{{Name: "7a", OnHand: 3}}},
		"another colour": {bare, Material{Colour: colour.Lab{L: 31, A: 22, B: -13}}, Given{Colour: true},
			[]string{"colour #613d5e, was #492646 ()"}, nil},
		"a colour as a hex is": {bare, Material{Colour: colour.Lab{L: 21.2, A: 22.1, B: -13}}, Given{Colour: true}, nil, nil},
	} {
		before := append([]Lot(nil), c.m.Lots...)
		now, said := c.m.Updated(c.by, c.g)
		assert.Equal(t, c.said, said, name)
		assert.Equal(t, c.lots, now.Lots, name)
		assert.Equal(t, before, append([]Lot(nil), c.m.Lots...), "%s: what was there is left alone", name)
	}
}
