package plan

import (
	"slices"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/shelf"
)

// MaxTray is the most cards a palette holds.
const MaxTray = 40

// TrayCard is one card of the palette. Share and Role are those it has in the
// piece.
type TrayCard struct {
	*shelf.Card
	Key   int
	Parts []string // names of the parts it fills
	Given bool     // it is there already, and is not bought
	Apart bool     // it is outside the scheme: bought and mixed, but not of the palette
	Stand bool     // it stands for the place's own card, in a kind of this piece
	Share float64
	Role  balance.Role
}

// Movable reports whether a card may be exchanged and offered as a free one: it is neither there
// already nor outside the scheme.
func (t TrayCard) Movable() bool { return !t.Given && !t.Apart }

// Movable is that of an entry.
func (e Entry) Movable() bool { return !e.Given && !e.Apart }

// Fixed are the cards of the tray that are there already or outside the scheme.
func (p *Plan) Fixed() []TrayCard {
	return slices.DeleteFunc(slices.Clone(p.Tray), TrayCard.Movable)
}

// InScheme are the cards of the tray that the scheme and the count are of.
func (p *Plan) InScheme() []TrayCard {
	return slices.DeleteFunc(slices.Clone(p.Tray), func(t TrayCard) bool { return t.Apart })
}

// CardOf is the card of an entry: a material, or a free colour, whose ID is 0.
func CardOf(sh *shelf.Shelf, e Entry) (*shelf.Card, error) {
	if e.MaterialID != nil {
		return sh.Card(*e.MaterialID)
	}
	if c, is := layered(sh, e); is {
		return c, nil
	}
	c := shelf.FreeCard(e.Name, colour.Lab{L: e.L, A: e.A, B: e.B})
	c.Recipe = e.Recipe
	return c, nil
}

// FreeEntry is an entry for no material has this colour yet.
func FreeEntry(name string, c colour.Lab) Entry {
	return Entry{Name: name, L: c.L, A: c.A, B: c.B}
}

// Entry is one card of a plan's palette. Key is its number within the plan and
// stays the same through every move. Without a MaterialID it is a free colour,
// with a name and colour of its own.
type Entry struct {
	Key        int     `json:"key"`
	MaterialID *uint   `json:"material_id"`
	Name       string  `json:"name,omitempty"`
	L          float64 `json:"l,omitempty"`
	A          float64 `json:"a,omitempty"`
	B          float64 `json:"b,omitempty"`
	Recipe     string  `json:"recipe,omitempty"` // of a free colour that is mixed, in words
	Mix        []InMix `json:"mix,omitempty"`    // and what it is mixed of
	Layers     int     `json:"layers,omitempty"` // of the one material it is mixed of, 2 and more; 0 for what is not layered
	Given      bool    `json:"given,omitempty"`  // it is there already: it stands in the readings and is not bought
	Apart      bool    `json:"apart,omitempty"`  // it is outside the scheme: bought and mixed, and left out of scheme, count and ways
	Position   int     `json:"position"`

	Also []Medium `json:"also,omitempty"` // what takes its place in other kinds
}

// InMix is a material in a mix, with its share of the whole mix, 0 to 1; of what is added
// to a base by dose, the share of the base.
type InMix struct {
	MaterialID uint    `json:"material_id"`
	Share      float64 `json:"share"`
}

// Fill says which entry a part of the piece takes.
type Fill struct {
	Part     string `json:"part"`
	EntryKey int    `json:"entry_key"`
}
