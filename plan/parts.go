package plan

import (
	"slices"

	"lampfern/core/piece"
	"lampfern/core/words"
)

// Part is the index of a part by its key, −1 for none.
func (p *Piece) Part(key string) int {
	return slices.IndexFunc(p.Parts, func(q piece.Part) bool { return q.Key == key })
}

// partOf is the plan's piece and the place of one of its parts.
func (d *Draft) partOf(key string) (p *Piece, at int, err error) {
	if p, err = d.ChosenPiece(); err != nil {
		return nil, 0, err
	}
	if at = p.Part(key); at < 0 {
		return nil, 0, words.Refuse("This piece has no such part.")
	}
	return p, at, nil
}

// Pinned reports whether a part keeps its card.
func (d *Draft) Pinned(part string) bool { return slices.Contains(d.Plan.Pinned, part) }

// Grouped are the parts that take one card with a part, itself among them.
func (d *Draft) Grouped(part string) []string {
	for _, g := range d.Plan.Groups {
		if slices.Contains(g, part) {
			return slices.Clone(g)
		}
	}
	return []string{part}
}

// settleParts brings what is kept of parts in line with a piece: what speaks of
// parts it does not have goes, and empty parts take cards.
func (d *Draft) settleParts(p *Piece) {
	gone := func(part string) bool { return p.Part(part) < 0 }
	d.Plan.Splits = slices.DeleteFunc(d.Plan.Splits, func(s piece.Split) bool { return gone(s.Key()) })
	d.Plan.Fills = slices.DeleteFunc(d.Plan.Fills, func(f Fill) bool { return gone(f.Part) })
	d.Plan.Pinned = slices.DeleteFunc(d.Plan.Pinned, gone)
	d.Plan.Last = slices.DeleteFunc(d.Plan.Last, gone)
	for i := range d.Plan.Groups {
		d.Plan.Groups[i] = slices.DeleteFunc(d.Plan.Groups[i], gone)
	}
	d.Plan.Groups = slices.DeleteFunc(d.Plan.Groups, func(g []string) bool { return len(g) < 2 })
	d.fillRest()
}

// Pin makes a part keep its card through swaps, ways and shares, or no longer.
type Pin struct {
	Part string `form:"part"`
	On   bool   `form:"on"`
}

func (e Pin) Do(d *Draft) (string, error) {
	p, at, err := d.partOf(e.Part)
	if err != nil {
		return "", err
	}
	d.Plan.Pinned = slices.DeleteFunc(d.Plan.Pinned, func(q string) bool { return q == e.Part })
	if !e.On {
		return "unpin the " + p.Parts[at].Name, nil
	}
	if !slices.ContainsFunc(d.Plan.Fills, func(f Fill) bool { return f.Part == e.Part }) {
		return "", words.Refuse("The %s has no colour to pin. Give it one first.", p.Parts[at].Name)
	}
	d.Plan.Pinned = append(d.Plan.Pinned, e.Part)
	slices.Sort(d.Plan.Pinned)
	return "pin the " + p.Parts[at].Name, nil
}

// ChooseLast leaves a part, and those grouped with it, open until the others have their cards, or no longer.
type ChooseLast struct {
	Part string `form:"part"`
	On   bool   `form:"on"`
}

func (e ChooseLast) Do(d *Draft) (string, error) {
	p, at, err := d.partOf(e.Part)
	if err != nil {
		return "", err
	}
	if e.On && d.Pinned(e.Part) {
		return "", words.Refuse("The %s is pinned. Unpin it in the list of parts first.", p.Parts[at].Name)
	}
	parts := d.Grouped(e.Part)
	among := func(part string) bool { return slices.Contains(parts, part) }
	d.Plan.Last = slices.DeleteFunc(d.Plan.Last, among)
	if !e.On {
		return "choose the " + p.Parts[at].Name + " with the rest", nil
	}
	d.Plan.Last = append(d.Plan.Last, parts...)
	slices.Sort(d.Plan.Last)
	d.Plan.Fills = slices.DeleteFunc(d.Plan.Fills, func(f Fill) bool { return among(f.Part) })
	return "choose the " + p.Parts[at].Name + " last", nil
}

// Group makes parts take one card together: the card of the first that has one.
type Group struct {
	Parts []string `form:"part"`
}

func (e Group) Do(d *Draft) (string, error) {
	p, err := d.ChosenPiece()
	if err != nil {
		return "", err
	}
	var all []string
	for _, part := range p.Parts { // in the piece's order
		if slices.Contains(e.Parts, part.Key) {
			all = append(all, part.Key)
		}
	}
	if len(all) < 2 {
		return "", words.Refuse("Tick at least two parts in the list, then group them.")
	}
	for i := range d.Plan.Groups {
		d.Plan.Groups[i] = slices.DeleteFunc(d.Plan.Groups[i], func(q string) bool { return slices.Contains(all, q) })
	}
	d.Plan.Groups = append(slices.DeleteFunc(d.Plan.Groups, func(g []string) bool { return len(g) < 2 }), all)
	for _, q := range all {
		at := slices.IndexFunc(d.Plan.Fills, func(f Fill) bool { return f.Part == q })
		if at < 0 {
			continue
		}
		card := d.Plan.Fills[at].EntryKey
		for _, part := range all {
			if d.Pinned(part) {
				continue
			}
			d.Plan.Fills = slices.DeleteFunc(d.Plan.Fills, func(f Fill) bool { return f.Part == part })
			d.Plan.Fills = append(d.Plan.Fills, Fill{Part: part, EntryKey: card})
		}
		break
	}
	d.SortFills()
	return "group parts", nil
}

// Ungroup lets the parts of a group take cards of their own again.
type Ungroup struct {
	Part string `form:"part"`
}

func (e Ungroup) Do(d *Draft) (string, error) {
	d.Plan.Groups = slices.DeleteFunc(d.Plan.Groups, func(g []string) bool { return slices.Contains(g, e.Part) })
	return "ungroup parts", nil
}

// FillAt gives the part at a place of a piece made of cells a card; across and
// down are shares of its width and height.
type FillAt struct {
	Across float64 `form:"across"`
	Down   float64 `form:"down"`
	Key    int     `form:"key"`
}

func (e FillAt) Do(d *Draft) (string, error) {
	p, err := d.ChosenPiece()
	if err != nil {
		return "", err
	}
	at := -1
	if p.Cells != nil {
		at = p.Cells.At(e.Across*p.Width, e.Down*p.Height)
	}
	if at < 0 {
		return "", words.Refuse("There is no part at that place.")
	}
	return FillPart{Part: p.Parts[at].Key, Key: e.Key}.Do(d)
}
