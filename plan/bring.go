package plan

import (
	"slices"

	"lampfern/core/colour"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/shelf"
)

// asCard is how near, in ΔE00, a card of the tray must be to a colour of a file to
// stand for it.
const asCard = 2.0

// CardFor is the key of the tray's card of a colour: one that is there already, or
// a new free colour; 0 when the tray is full.
func (d *Draft) CardFor(lab colour.Lab, name string) int {
	best, key := asCard, 0
	for _, e := range d.Plan.Entries {
		c, err := CardOf(d.Shelf, e)
		if err != nil {
			continue
		}
		if apart := colour.DeltaE2000(c.Colour, lab); apart < best {
			best, key = apart, e.Key
		}
	}
	if key != 0 || len(d.Plan.Entries) >= MaxTray {
		return key
	}
	key = d.Plan.newKey()
	d.Plan.Entries = append(d.Plan.Entries, Entry{Key: key, Name: name, L: lab.L, A: lab.A, B: lab.B})
	return key
}

// Refit takes a piece, with what is put into it and the cards of its parts, in place
// of the plan's own.
func (d *Draft) Refit(pattern string, settings piece.Values, in piece.Input, cards map[string]int) error {
	was := *d.Plan
	d.toPattern(pattern, settings)
	d.Plan.Settings, d.Plan.Fills, d.Plan.Pinned, d.Plan.Last, d.Plan.Groups = settings, nil, nil, nil, nil
	err := d.Recast(in)
	if err != nil {
		*d.Plan = was
		return err
	}
	var given []Fill
	for part, key := range cards {
		if key > 0 {
			given = append(given, Fill{Part: part, EntryKey: key})
		}
	}
	if len(given) == 0 {
		return nil
	}
	p, err := d.ChosenPiece()
	if err != nil {
		return err
	}
	d.Plan.Fills = given
	d.settleParts(p)
	d.SortFills()
	return nil
}

// Recast makes the piece anew with something else put into its pattern; parts that
// it still has keep their cards, pins and groups.
func (d *Draft) Recast(in piece.Input) error {
	if err := in.Check(); err != nil {
		return words.Refuse("The piece is not possible: %s.", err)
	}
	was := d.Plan.put
	if err := d.Put(in); err != nil {
		return err
	}
	p, err := d.ChosenPiece()
	if err != nil {
		d.Plan.put = was
		return err
	}
	d.settleParts(p)
	return nil
}

// Take puts a card into the tray unless it lies there already.
func (d *Draft) Take(c *shelf.Card) error {
	if c.ID != 0 {
		if d.holds(c.ID) {
			return nil
		}
		id := c.ID
		return d.Add(Entry{MaterialID: &id})
	}
	e := FreeEntry(c.Name, c.Colour)
	if slices.ContainsFunc(d.Plan.Entries, func(o Entry) bool {
		return o.MaterialID == nil && o.Name == e.Name && o.L == e.L && o.A == e.A && o.B == e.B
	}) {
		return nil
	}
	return d.Add(e)
}
