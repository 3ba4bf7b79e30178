package together

import (
	"fmt"
	"slices"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

// MediaView is the palette with each of its places in each kind that the pieces are made of.
type MediaView struct {
	Kinds  []string
	Rows   []MediaRow
	Pieces []PieceMade
}

// PieceMade is a piece with the kinds that it is made of.
type PieceMade struct {
	plan.Member
	Kinds []string // its own; none for those of the plan
}

// MediaRow is one place of the palette.
type MediaRow struct {
	Key   int
	Main  *shelf.Card
	Cells []MediaCell // by kind
	Words string      // how far what fills it lies apart
}

// MediaCell is a place of the palette in one kind.
type MediaCell struct {
	Kind  string
	Card  *shelf.Card // nil for none yet
	Own   bool        // it is the place's own card
	Apart float64     // from that
	Near  []shelf.Near
}

// How many near materials are offered, and from how far apart, in ΔE00, two of one place are seen to
// differ.
const (
	nearShown   = 5
	mediaDiffer = 3.0
)

// Media works out the palette in several kinds.
func Media(p *plan.Plan) MediaView {
	v := MediaView{}
	used := map[string]bool{}
	for _, m := range p.Members() {
		of := p.Of
		if m.Held != nil {
			of = m.Held.Of
		}
		v.Pieces = append(v.Pieces, PieceMade{m, of})
		for _, k := range of {
			used[k] = true
		}
	}
	if len(used) == 0 {
		return v
	}
	for _, e := range p.Entries {
		if c, err := plan.CardOf(p.Shelf, e); err == nil && c.ID != 0 {
			used[c.Kind] = true
		}
	}
	offers := map[string]*shelf.Offer{}
	for _, k := range material.Kinds() {
		if used[k] {
			v.Kinds = append(v.Kinds, k)
			offers[k] = p.Shelf.Offer([]string{k}, nil)
		}
	}
	for _, e := range p.Entries {
		main, err := plan.CardOf(p.Shelf, e)
		if err != nil || e.Given {
			continue // what is there already is not bought in any kind
		}
		row := MediaRow{Key: e.Key, Main: main}
		there := []*shelf.Card{main}
		for _, k := range v.Kinds {
			cell := MediaCell{Kind: k, Own: main.ID != 0 && main.Kind == k}
			if cell.Own {
				cell.Card = main
			} else if id := e.In(k, main.Kind); id > 0 {
				if c, err := p.Shelf.Card(id); err == nil {
					cell.Card, cell.Apart = c, colour.DeltaE2000(main.Colour, c.Colour)
					there = append(there, c)
				}
			}
			if !cell.Own {
				cell.Near = offers[k].Nearest(main.Colour, nearShown, 0)
				if c := cell.Card; c != nil && !slices.ContainsFunc(cell.Near, func(n shelf.Near) bool { return n.ID == c.ID }) {
					cell.Near = append(cell.Near, shelf.Near{Card: c, Apart: cell.Apart})
				}
			}
			row.Cells = append(row.Cells, cell)
		}
		row.Words = apartWords(there)
		v.Rows = append(v.Rows, row)
	}
	return v
}

// apartWords say how far the materials of one place lie apart, by the two that lie farthest.
func apartWords(all []*shelf.Card) string {
	far, a, b := 0.0, all[0], all[0]
	for i, x := range all {
		for _, y := range all[:i] {
			if d := colour.DeltaE2000(x.Colour, y.Colour); d >= far {
				far, a, b = d, y, x
			}
		}
	}
	switch {
	case len(all) == 1:
		return "It is in one material only."
	case far < mediaDiffer:
		return fmt.Sprintf("They read as one colour (ΔE %.1f at most).", far)
	}
	lean := ""
	if d := (b.Colour.L - a.Colour.L) / 10; d > .25 || d < -.25 {
		lean = fmt.Sprintf(", %.1f value steps %s", max(d, -d), map[bool]string{true: "lighter", false: "darker"}[d > 0])
	}
	return fmt.Sprintf("%s is ΔE %.1f from %s%s: you will see it side by side.", words.Capital(b.Name), far, a.Name, lean)
}

// nearEnough is how far apart, in ΔE00, what fills an empty place unasked may lie from its card.
const nearEnough = 10.0

// Free is for each empty place what lies nearest, not farther than nearEnough, and fills no other
// place of that kind yet.
func (v MediaView) Free() (out []plan.FillMedium) {
	taken := map[uint]bool{}
	for _, r := range v.Rows {
		for _, c := range r.Cells {
			if c.Card != nil {
				taken[c.Card.ID] = true
			}
		}
	}
	for _, r := range v.Rows {
		for _, c := range r.Cells {
			at := slices.IndexFunc(c.Near, func(n shelf.Near) bool { return !taken[n.ID] && n.Apart <= nearEnough })
			if c.Card == nil && at >= 0 {
				taken[c.Near[at].ID] = true
				out = append(out, plan.FillMedium{Key: r.Key, Kind: c.Kind, Material: c.Near[at].ID})
			}
		}
	}
	return out
}

// FillMedia fills the empty places of all kinds with what is free; the rest is left to be chosen.
type FillMedia struct{}

func (FillMedia) Do(d *plan.Draft) (string, error) {
	p, err := d.View()
	if err != nil {
		return "", err
	}
	free := Media(p).Free()
	if len(free) == 0 {
		return "", words.Refuse("You own nothing within ΔE %g of an empty place. Choose by hand, or add materials.",
			nearEnough)
	}
	for _, f := range free {
		if _, err := f.Do(d); err != nil {
			return "", err
		}
	}
	return "fill " + words.Plural(len(free), "place", "places") + " with the nearest", nil
}
