package mix

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
)

// PourView is the batter of a piece split by the shares of its parts.
type PourView struct {
	Batter, Second float64 // g that the moulds take, and that are left over for others
	Rows           []PourRow
}

// PourRow is the batter of one part.
type PourRow struct {
	Part    string
	Share   float64
	Card    string // that the part takes; empty for none
	Colour  colour.Lab
	Batter  float64  // g in the mould
	Second  float64  // g of what is left over, for a second mould
	Amounts []Amount // of each colourant, for both
	Words   string   // what is to be known: no recipe, plain, a dose that is the usual one
	Problem string
}

// pour splits the batter of what is made in a batch by the parts of the piece, as the craft reckons
// it for buying: by the doses of the cards themselves, and of the mixes that lie in the tray.
func (v *MixView) pour(ctx context.Context, k *plan.Desk, p *plan.Plan, b bench) error {
	if b.s.told == nil || p.Piece == nil {
		return nil
	}
	sup, err := k.Supply(ctx, p)
	if refusal := words.Refusal(""); errors.As(err, &refusal) {
		return nil // Buy says why it cannot be made
	} else if err != nil {
		return err
	}
	out := &PourView{}
	for _, made := range sup.Pieces {
		m := made.Making
		if made.Craft.Batch == nil {
			continue
		}
		needs, areas := made.Craft.Needs(m), m.AreasOf()
		whole, perArea := m.Piece.Area(), [2]float64{} // g a mm², in the mould and beyond
		for i, n := range needs {
			if n.Portion != nil && areas[i] > 0 {
				perArea = [2]float64{n.Portion.Mould / areas[i], n.Portion.Second / areas[i]}
			}
		}
		for i, area := range m.Piece.Areas() {
			row := PourRow{Part: m.Piece.Parts[i].Name, Share: area / whole, Colour: b.ground.Colour(),
				Batter: area * perArea[0], Second: area * perArea[1]}
			if len(sup.Pieces) > 1 {
				row.Part = made.Name + ": " + row.Part
			}
			if m.Of[i] < 0 {
				row.Words = "no colour yet, so left plain"
			} else if n := needs[m.Of[i]]; n.Problem != "" {
				row.Card, row.Problem = m.Cards[m.Of[i]].Name, n.Problem
			} else {
				n.Amount *= area / areas[m.Of[i]]
				row.fill(k, p, b, made.Keys[m.Of[i]], n)
			}
			out.Batter, out.Second = out.Batter+row.Batter, out.Second+row.Second
			out.Rows = append(out.Rows, row)
		}
	}
	v.Pour = out
	return nil
}

// fill takes in the card of an entry, which colours the row with so much.
func (r *PourRow) fill(k *plan.Desk, p *plan.Plan, b bench, key int, n piece.Need) {
	at := slices.IndexFunc(p.Entries, func(e plan.Entry) bool { return e.Key == key })
	if at < 0 {
		return
	}
	card, parts := p.Tray[at], p.Entries[at].Mix
	dose, _ := b.s.inBasis(n.Portion.Dose, material.DoseBases()[1], b.basis)
	r.Card, r.Colour = card.Name, card.Colour
	switch {
	case card.Given:
		r.Words = "fixed colour"
	case n.Portion.Dose == 0:
		r.Words = "plain"
	case card.ID == 0 && len(parts) > 0:
		sum := 0.0
		for _, part := range parts {
			sum += part.Share
		}
		for _, part := range parts {
			if in, err := p.Shelf.Card(part.MaterialID); err == nil {
				each, _ := b.s.inBasis(100*part.Share, material.DoseBases()[0], b.basis)
				r.Amounts = append(r.Amounts, Amount{Name: in.Name, Of: n.Amount * part.Share / sum, Dose: shortDose(each, b.basis)})
			}
		}
		r.Words = "as it was mixed"
	default:
		r.Amounts = []Amount{{Name: card.Name, Of: n.Amount, Dose: shortDose(dose, b.basis)}}
		switch {
		case n.Portion.Told:
			r.Words = "at the rate you tested"
		case card.ID != 0:
			r.Words = "at your usual rate"
		default:
			r.Words = "no colourant chosen yet; one at your usual rate is assumed"
			if found := b.search(k, b.s, card.Colour, b.limits(b.s)); len(found.Recipes) > 0 {
				best := recipeView(b, found.Recipes[0], card.Colour)
				r.Words += fmt.Sprintf("; the nearest mix is %s, %s", best.Words, ApartWords(best.Apart))
			}
		}
	}
	for _, a := range r.Amounts {
		if b.s.Least > 0 && a.Of < b.s.Least/2 {
			r.Words += ", too little to weigh"
		}
	}
}
