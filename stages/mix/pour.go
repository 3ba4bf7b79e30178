package mix

import (
	"slices"

	"lampfern/core/colour"
	"lampfern/core/mix"
	"lampfern/plan"
	"lampfern/shelf"
)

// PourView is the batter of a piece split by the shares of its parts.
type PourView struct {
	Batter float64 // g in all
	Mould  float64 // g that are poured into the mould of the piece
	Rows   []PourRow
	Left   float64 // g that the mould does not hold
	Lacks  float64 // g that the mould would hold beyond the batch
}

// PourRow is the batter of one part.
type PourRow struct {
	Part   string
	Share  float64
	Card   string // that the part takes; empty for none
	Colour colour.Lab
	Batter float64 // g in the mould
	Second float64 // g of what is left over, for a second mould
	Batch  *Batch  // its colourants; nil where nothing is added
	Words  string  // what is to be known: no recipe, plain, how far off
	Over   []string
}

// plainWithin is how near to the base a card has to be for its batter to stay plain.
const plainWithin = 3.0

// pour splits the batter of a soap by the parts of the piece, each with its colourants:
// those on the slab for its card's colour, else those of the best recipe for it.
func (v *MixView) pour(k *plan.Desk, p *plan.Plan, b bench, s *Section) {
	if p.Craft != "soap" || b.as.Way != mix.Doses || p.Piece == nil || s.Total == 0 {
		return
	}
	out := &PourView{Batter: s.Total, Mould: s.Total}
	if s.Mould > 0 {
		out.Mould = min(s.Mould, s.Total)
		out.Left, out.Lacks = max(0, s.Total-s.Mould), max(0, s.Mould-s.Total)
	}
	shares, fill := p.Piece.Shares, p.Fill()
	for i, part := range p.Piece.Parts {
		row := PourRow{Part: part.Name, Share: shares[i], Batter: out.Mould * shares[i], Second: out.Left * shares[i], Colour: b.ground.Colour()}
		if fill[i] < 0 {
			row.Words = "no card yet, so it stays plain"
			out.Rows = append(out.Rows, row)
			continue
		}
		card := p.Tray[fill[i]]
		row.Card, row.Colour = card.Name, card.Colour
		parts, words := b.forCard(k, p, s, card)
		row.Words = words
		if parts != nil {
			row.Batch = b.batchOf(s, parts, row.Batter+row.Second)
			for at, n := range parts {
				if over := b.over(at, float64(n)*b.step); over != "" {
					row.Over = append(row.Over, over)
				}
			}
		}
		out.Rows = append(out.Rows, row)
	}
	v.Pour = out
}

// forCard are the parts of each colourant for the colour of a card; nil for none, and
// what is to be known.
func (b bench) forCard(k *plan.Desk, p *plan.Plan, s *Section, card plan.TrayCard) (parts []int, words string) {
	parts = make([]int, len(b.cards))
	for _, w := range p.Targets {
		steps := s.slabOf(w.Key)
		if w.Colour() != card.Colour || len(steps) == 0 {
			continue
		}
		for _, id := range steps {
			for at, c := range b.cards {
				if c.ID == id {
					parts[at]++
				}
			}
		}
		if slices.Max(parts) > 0 {
			return parts, "as on the slab, " + ApartWords(colour.DeltaE2000(card.Colour, b.mixed(parts)))
		}
	}
	if colour.DeltaE2000(b.ground.Colour(), card.Colour) <= plainWithin {
		return nil, "plain"
	}
	// The card of a colourant is coloured with that, as it was tried.
	if at := slices.IndexFunc(b.cards, func(c *shelf.Card) bool { return c.ID == card.ID && card.ID != 0 }); at >= 0 {
		dose, told := s.tried(b.cards[at].Dose, b.basis)
		parts[at] = max(1, int(dose/b.step+.5))
		if b.most[at] >= 0 {
			parts[at] = min(parts[at], b.most[at])
		}
		if parts[at] > 0 && told {
			return parts, "as its colour was tried"
		}
	}
	found := b.search(k, s, card.Colour, b.limits(s))
	if len(found.Recipes) == 0 {
		return nil, "no recipe among what is chosen"
	}
	best := found.Recipes[0]
	parts = make([]int, len(b.cards))
	for i, at := range best.Of {
		parts[at] = best.Parts[i]
	}
	return parts, "best recipe, " + ApartWords(best.Apart)
}
