package plan

import (
	"slices"

	"lampfern/core/colour"
	"lampfern/core/piece"
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
	for _, e := range d.Plan.Entries {
		key = max(key, e.Key)
	}
	key++
	d.Plan.Entries = append(d.Plan.Entries, Entry{Key: key, Name: name, L: lab.L, A: lab.A, B: lab.B})
	return key
}

// Refit takes a piece and the cards of its parts in place of the plan's own.
func (d *Draft) Refit(template string, settings map[string]float64, own piece.Own, cards map[string]int) error {
	p, err := d.Desk.Piece(template, settings, own)
	if err != nil {
		return err
	}
	d.Plan.Template, d.Plan.Settings = template, settings
	if err := d.SetOwn(own); err != nil {
		return err
	}
	d.Plan.Fills, d.Plan.Pinned, d.Plan.Groups = nil, nil, nil
	for _, part := range p.Parts {
		if key := cards[part.Key]; key > 0 {
			d.Plan.Fills = append(d.Plan.Fills, Fill{Part: part.Key, EntryKey: key})
		}
	}
	d.settleParts(p)
	d.SortFills()
	return nil
}

// Recast makes the piece of a template anew with something else put in; parts that
// it still has keep their cards, pins and groups.
func (d *Draft) Recast(template string, own piece.Own) error {
	p, err := d.Desk.Piece(template, d.Plan.Settings, own)
	if err != nil {
		return err
	}
	if err := d.SetOwn(own); err != nil {
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
