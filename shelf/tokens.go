package shelf

import (
	"fmt"

	"lampfern/core/colour"
	"lampfern/core/wheel"
	"lampfern/store"
)

// NeutralSteps is how many neutrals the whole wheel has, white to black.
const NeutralSteps = 5

// NeutralCard is one of the neutrals of the whole wheel, as a free colour.
func NeutralCard(step int) *Card {
	l := 12 + 20.5*float64(step)
	c := FreeCard(fmt.Sprintf("Neutral of value %.1f", l/10), colour.Lab{L: l})
	c.Token = fmt.Sprintf("n%d", step)
	return c
}

// WheelCard is the colour of one leaflet of a wheel, as a free colour.
func WheelCard(w wheel.Wheel, place, step int, clear bool) *Card {
	lab, _ := Ideal(w, float64(place), step, clear)
	c := FreeCard(IdealName(w.Name(float64(place)), step, clear), lab)
	side := 0
	if clear {
		side = 1
	}
	c.Token = fmt.Sprintf("w%d.%d", w.Number(), place*2*ValueSteps+2*step+side)
	return c
}

// FreeCard is the card of a colour that no material has.
func FreeCard(name string, c colour.Lab) *Card {
	return newCard(store.Material{Name: name, Kind: FreeKind, L: c.L, A: c.A, B: c.B, Source: "typed"})
}

// TokenOf names a card of a hand: m and a material's number, w and a wheel's and
// a leaflet's, n and a neutral's, k and the key of a free colour of the tray.
func TokenOf(c *Card) string {
	if c.Token != "" {
		return c.Token
	}
	return fmt.Sprintf("m%d", c.ID)
}

// FreeKind is the kind of a free colour, which is no material yet.
const FreeKind = "free colour"
