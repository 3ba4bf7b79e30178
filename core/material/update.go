package material

import (
	"fmt"
	"strings"

	"lampfern/core/colour"
)

// Given says what a line of a list tells of a material beside its name.
type Given struct{ Colour, Lot, OnHand, Unit, Price, Place bool }

// Stock reports whether anything is told of what is on hand.
func (g Given) Stock() bool { return g.Lot || g.OnHand || g.Price || g.Place }

// asWritten is the ΔE00 up to which a colour that is written as a hex is the one that was kept.
const asWritten = 0.6

// Updated is m with what a line of a list gives of the same name, and in words what becomes
// different; nothing is said where all is as it was. A lot of a name that is not there yet is
// added; a line that names none is meant for the only lot.
func (m Material) Updated(by Material, g Given) (Material, []string) {
	var said []string
	say := func(format string, args ...any) { said = append(said, fmt.Sprintf(format, args...)) }
	if g.Colour && colour.DeltaE2000(m.Colour, by.Colour) > asWritten {
		say("colour %s, was %s (%s)", by.Colour.Hex(), m.Colour.Hex(), m.Source)
		m.Colour, m.Source, m.Uncertainty, m.Spectrum = by.Colour, by.Source, by.Uncertainty, by.Spectrum
	}
	if !g.Stock() {
		return m, said
	}
	lots := append([]Lot(nil), m.Lots...)
	from := by.Lots
	if len(from) == 0 {
		from = []Lot{{Name: by.Lot}}
	}
	for _, l := range from {
		if !g.Unit { // it was guessed from a kind that the line may not give
			l.Unit = ""
		}
		at := lotAt(lots, l.Name)
		if at < 0 && l.Name == "" && len(lots) == 1 {
			at = 0
		}
		if at < 0 {
			if len(lots) == 0 && l.Name == "" {
				l.Name = m.Lot
			}
			lots = append(lots, l)
			if l.Name != "" {
				say("a new lot, %s", l.Name)
			}
			if l.OnHand > 0 {
				say("%s %s on hand", figure(l.OnHand), l.unit(m.Kind))
			}
			if l.Price > 0 {
				say("price %s", figure(l.Price))
			}
			continue
		}
		old := &lots[at]
		of := ""
		if len(lots) > 1 {
			of = " of lot " + old.Name
		}
		if g.OnHand && (l.OnHand != old.OnHand || g.Unit && l.unit(m.Kind) != old.unit(m.Kind)) {
			unit := old.Unit
			if g.Unit {
				unit = l.Unit
			}
			now := Lot{Unit: unit}
			say("%s %s on hand%s, was %s %s", figure(l.OnHand), now.unit(m.Kind), of, figure(old.OnHand), old.unit(m.Kind))
			old.OnHand, old.Unit = l.OnHand, unit
		}
		if g.Price && l.Price != old.Price {
			say("price %s%s, was %s", figure(l.Price), of, figure(old.Price))
			old.Price = l.Price
		}
		if g.Place && l.Place != old.Place && l.Place != "" {
			say("stored in %s%s", l.Place, of)
			old.Place = l.Place
		}
	}
	if m.Lots = lots; m.Lot == "" && by.Lot != "" {
		m.Lot = by.Lot
	}
	return m, said
}

// lotAt is where the lot of a name stands, −1 for nowhere.
func lotAt(lots []Lot, name string) int {
	for i, l := range lots {
		if strings.EqualFold(l.Name, name) {
			return i
		}
	}
	return -1
}

// unit is what a lot is counted in.
func (l Lot) unit(kind string) string {
	if l.Unit != "" {
		return l.Unit
	}
	return StockOf(kind).Units[0].Name
}

func figure(v float64) string {
	return strings.TrimSuffix(strings.TrimRight(fmt.Sprintf("%.4f", v), "0"), ".")
}
