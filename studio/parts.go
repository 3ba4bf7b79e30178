package studio

import (
	"slices"

	"lampfern/core/piece"
	"lampfern/store"
)

// part is the index of a part by its key, −1 for none.
func (p *Piece) part(key string) int {
	return slices.IndexFunc(p.Parts, func(q piece.Part) bool { return q.Key == key })
}

// partOf is the plan's piece and the place of one of its parts.
func (d *draft) partOf(key string) (p *Piece, at int, err error) {
	if p, err = d.chosenPiece(); err != nil {
		return nil, 0, err
	}
	if at = p.part(key); at < 0 {
		return nil, 0, refuse("This piece has no such part.")
	}
	return p, at, nil
}

func (d *draft) pinned(part string) bool { return slices.Contains(d.plan.Pinned, part) }

// grouped are the parts that take one card with a part, itself among them.
func (d *draft) grouped(part string) []string {
	for _, g := range d.plan.Groups {
		if slices.Contains(g, part) {
			return slices.Clone(g)
		}
	}
	return []string{part}
}

// settleParts brings what is kept of parts in line with a piece: what speaks of
// parts it does not have goes, and empty parts take cards.
func (d *draft) settleParts(p *Piece) {
	gone := func(part string) bool { return p.part(part) < 0 }
	d.plan.Fills = slices.DeleteFunc(d.plan.Fills, func(f store.Fill) bool { return gone(f.Part) })
	d.plan.Pinned = slices.DeleteFunc(d.plan.Pinned, gone)
	for i := range d.plan.Groups {
		d.plan.Groups[i] = slices.DeleteFunc(d.plan.Groups[i], gone)
	}
	d.plan.Groups = slices.DeleteFunc(d.plan.Groups, func(g []string) bool { return len(g) < 2 })
	d.fillRest()
}

// Pin makes a part keep its card through swaps, ways and shares, or no longer.
func Pin(part string, on bool) Edit {
	return func(d *draft) (string, error) {
		p, at, err := d.partOf(part)
		if err != nil {
			return "", err
		}
		d.plan.Pinned = slices.DeleteFunc(d.plan.Pinned, func(q string) bool { return q == part })
		if !on {
			return "unpin the " + p.Parts[at].Name, nil
		}
		if !slices.ContainsFunc(d.plan.Fills, func(f store.Fill) bool { return f.Part == part }) {
			return "", refuse("The %s has no card to keep: give it one first.", p.Parts[at].Name)
		}
		d.plan.Pinned = append(d.plan.Pinned, part)
		slices.Sort(d.plan.Pinned)
		return "pin the " + p.Parts[at].Name, nil
	}
}

// Group makes parts take one card together: the card of the first that has one.
func Group(parts []string) Edit {
	return func(d *draft) (string, error) {
		p, err := d.chosenPiece()
		if err != nil {
			return "", err
		}
		var all []string
		for _, part := range p.Parts { // in the piece's order
			if slices.Contains(parts, part.Key) {
				all = append(all, part.Key)
			}
		}
		if len(all) < 2 {
			return "", refuse("Tick two parts or more in the list of parts, then group them.")
		}
		for i := range d.plan.Groups {
			d.plan.Groups[i] = slices.DeleteFunc(d.plan.Groups[i], func(q string) bool { return slices.Contains(all, q) })
		}
		d.plan.Groups = append(slices.DeleteFunc(d.plan.Groups, func(g []string) bool { return len(g) < 2 }), all)
		for _, q := range all {
			at := slices.IndexFunc(d.plan.Fills, func(f store.Fill) bool { return f.Part == q })
			if at < 0 {
				continue
			}
			card := d.plan.Fills[at].EntryKey
			for _, part := range all {
				if d.pinned(part) {
					continue
				}
				d.plan.Fills = slices.DeleteFunc(d.plan.Fills, func(f store.Fill) bool { return f.Part == part })
				d.plan.Fills = append(d.plan.Fills, store.Fill{Part: part, EntryKey: card})
			}
			break
		}
		d.sortFills()
		return "group parts", nil
	}
}

// Ungroup lets the parts of a group take cards of their own again.
func Ungroup(part string) Edit {
	return func(d *draft) (string, error) {
		d.plan.Groups = slices.DeleteFunc(d.plan.Groups, func(g []string) bool { return slices.Contains(g, part) })
		return "part a group", nil
	}
}

// FillAt gives the part at a place of a piece made of cells a card; across and
// down are shares of its width and height.
func FillAt(across, down float64, key int) Edit {
	return func(d *draft) (string, error) {
		p, err := d.chosenPiece()
		if err != nil {
			return "", err
		}
		at := -1
		if p.Cells != nil {
			at = p.Cells.At(across*p.Width, down*p.Height)
		}
		if at < 0 {
			return "", refuse("There is no part at that place.")
		}
		return Fill(p.Parts[at].Key, key)(d)
	}
}
