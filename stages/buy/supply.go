package buy

import (
	"context"
	"fmt"
	"slices"

	"lampfern/core/colour"
	"lampfern/core/craft"
	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
)

// supply implements plan.Stage's Supply.
func supply(ctx context.Context, k *plan.Desk, p *plan.Plan) (out plan.Supply, err error) {
	if p.Piece == nil {
		return out, words.Refuse("Choose a piece on Proportion first.")
	}
	v, err := Rows(ctx, k, p)
	if err != nil {
		return out, err
	}
	s := Of(p)
	pieces, err := v.eachOf(k, p, craftOf(p), s, v.asked)
	if err != nil {
		return out, err
	}
	used := map[string]bool{}
	for _, one := range pieces {
		m, cards, pattern, _, err := making(one.Plan, one.of, &one.sec, one.asked)
		if err != nil {
			return out, err
		}
		if m.Input, _, err = k.InputOf(one.Plan, pattern); err != nil {
			return out, err
		}
		var keys []int
		for _, c := range cards {
			used[c.Name], keys = true, append(keys, c.Key)
		}
		if len(cards) > 0 || len(pieces) == 1 { // a piece without a card is not made yet
			out.Pieces = append(out.Pieces, plan.Made{Key: one.Key, Name: one.Name, Craft: one.of, Making: m, Keys: keys})
		}
	}
	out.Cards = len(used)
	for _, r := range v.Rows {
		if r.Card != nil && !r.Own && r.Problem == "" && r.Need > 0 {
			need := plan.Need{Name: r.Name, Unit: UnitOf(r.Kind), Bare: r.Need - r.spare}
			// a card by itself and in a mix is one
			if at := slices.IndexFunc(out.Needs, func(n plan.Need) bool { return n.Name == need.Name && n.Unit == need.Unit }); at >= 0 {
				out.Needs[at].Bare += need.Bare
			} else {
				out.Needs = append(out.Needs, need)
			}
		}
		if r.Buy == "" || v.Got(r.Key) != nil {
			continue
		}
		seller, days := r.Supplier, 0
		if len(r.Offers) > 0 {
			seller, days = r.Offers[0].Seller, r.Offers[0].LeadDays
		}
		at := slices.IndexFunc(out.Orders, func(o plan.Order) bool { return o.Seller == seller })
		if at < 0 {
			at, out.Orders = len(out.Orders), append(out.Orders, plan.Order{Seller: seller})
		}
		o := &out.Orders[at]
		o.Things, o.Days = append(o.Things, r.Name), max(o.Days, days)
	}
	return out, nil
}

// plainWithin is how near to the base of a batch a colour of no material has to be for its part to
// stay plain, in ΔE00.
const plainWithin = 3.0

// plainBatch is the colour of a batch until the maker says otherwise.
var plainBatch = colour.Lab{L: 90, A: 0, B: 8}

// making is the piece as it is to be made, without what was put into its pattern, which is
// costly to read: the cards that parts take, the pattern, and what was written down.
func making(p *plan.Plan, of piece.Craft, s *Section, asked piece.Values) (m piece.Making, cards []plan.TrayCard, pattern piece.Pattern,
	written string, err error) {
	if pattern, err = craft.Pattern(p.Pattern); err != nil {
		return m, nil, pattern, "", words.Refuse("The piece cannot be made: %s.", err)
	}
	values, err := pattern.Values(p.Settings)
	if err != nil {
		return m, nil, pattern, "", words.Refuse("The piece cannot be made: %s.", err)
	}
	m = piece.Making{Piece: p.Piece.Piece, Values: values, Asked: asked, Times: s.times(), Lists: map[string][]piece.Row{}}
	for _, l := range of.Lists {
		if text := s.Lists[l.Key]; text != "" {
			if m.Lists[l.Key], err = l.Read(text); err != nil {
				return m, nil, pattern, "", words.Refuse("%s: %s. Correct the list or save it empty.", l.Name, err)
			}
			written += l.Key + text
		}
	}
	at := map[int]int{}
	_, solid := p.Put().(piece.Bodied) // of which what is hidden is printed all the same
	for part, entry := range p.Fill() {
		if entry < 0 || p.Piece.Covered(part) && !solid {
			m.Of = append(m.Of, -1)
			continue
		}
		if _, there := at[entry]; !there {
			at[entry] = len(cards)
			c := p.Tray[entry]
			name := c.Name
			for n := 2; slices.ContainsFunc(m.Cards, func(t piece.Taken) bool { return t.Name == name }); n++ {
				name = fmt.Sprintf("%s (%d)", c.Name, n)
			}
			taken := piece.Taken{Name: name, Pack: c.Pack, Dose: c.Dose.Tried, DoseOf: c.Dose.TriedBasis,
				Limit: c.Dose.Limit, LimitOf: c.Dose.LimitBasis}
			if c.ID != 0 {
				taken.Kind = c.Kind
				taken.Quarters = slices.ContainsFunc(c.Lots, func(l material.Lot) bool { return l.Unit == material.Quarter })
			}
			mix := mixOf(p, c.Key)
			if taken.DoseOf == material.DoseBases()[2] { // of fibre, which says nothing of a batch
				taken.Dose = 0
			}
			if len(mix) > 0 {
				taken.Dose, taken.DoseOf = 0, material.DoseBases()[0]
				for _, part := range mix {
					taken.Dose += 100 * part.Share
				}
			}
			if of.Batch != nil && c.ID == 0 && len(mix) == 0 {
				taken.Plain = colour.DeltaE2000(p.Base(plainBatch), c.Colour) <= plainWithin
			}
			m.Cards, cards = append(m.Cards, taken), append(cards, c)
		}
		m.Of = append(m.Of, at[entry])
	}
	return m, cards, pattern, written, nil
}
