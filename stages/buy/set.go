package buy

import (
	"fmt"
	"slices"

	"lampfern/core/material"
	"lampfern/core/note"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
)

// ofSet is what all pieces of the plan take, as often as they are made, what several take of one
// card or one thing added up before it is rounded. A plan of one piece takes what that takes.
func (v *BuyView) ofSet(k *plan.Desk, p *plan.Plan, of piece.Craft, s *Section, asked piece.Values) ([]needed, error) {
	if len(p.Pieces) < 2 {
		return v.needs(k, p, of, s, asked)
	}
	whole, err := v.eachOf(k, p, of, s, asked)
	if err != nil {
		return nil, err
	}
	var out []needed
	for _, w := range whole {
		more, err := w.view.needs(k, w.Plan, w.of, &w.sec, w.asked)
		if err != nil {
			return nil, err
		}
		called := "For the " + w.Name
		if w.sec.Times > 1 {
			called += fmt.Sprintf(" × %d", w.sec.Times)
		}
		for _, n := range more {
			n.Working = append([]string{called + ": " + material.AmountWords(n.Amount, UnitOf(n.Kind))}, n.Working...)
			n.parts = slices.Clone(n.parts)
			for i := range n.parts {
				n.parts[i] += " of the " + w.Name
			}
			out = addNeed(out, n)
		}
	}
	if len(out) == 0 && len(v.Empty) == 0 {
		v.Empty = append(v.Empty, "No piece of the set has a colour yet, or all are hidden. See them under Set.")
	}
	if len(out) > 0 {
		v.Empty = nil
		about := words.Capital(words.Plural(len(whole), "piece", "pieces"))
		said := " of the set are counted, each as often as you make it. Hidden pieces are not."
		if len(s.Lists) > 0 {
			said += fmt.Sprintf(" Your own lists are for the %s.", p.Pieces[0].Name)
		}
		v.Notes = append(v.Notes, note.Note{Aside: -1, Grade: note.Fine, About: about, Words: said})
	}
	return out, nil
}

// askedPiece is a piece of the plan with what its craft is told.
type askedPiece struct {
	plan.Whole
	view  *BuyView
	of    piece.Craft
	sec   Section
	asked piece.Values
}

// eachOf is every piece of the plan that is not left out with what its craft is told; of a plan of
// one piece that.
func (v *BuyView) eachOf(k *plan.Desk, p *plan.Plan, of piece.Craft, s *Section, asked piece.Values) (out []askedPiece, err error) {
	if len(p.Pieces) < 2 {
		return []askedPiece{{plan.Whole{Plan: p}, v, of, *s, asked}}, nil
	}
	whole, err := k.Set(p)
	if err != nil {
		return nil, err
	}
	for _, w := range whole {
		one := askedPiece{w, v, craftOf(w.Plan), *s, asked}
		one.sec.Times = s.times() * w.Made()
		if w.Key != p.Pieces[0].Key {
			one.sec.Lists = nil // the maker's own lists are of the first piece
		}
		if w.Held != nil || one.of.Name != of.Name {
			one.view = &BuyView{waste: v.waste}
			one.asked = one.view.asks(one.of, s, p.ID, nil)
		}
		out = append(out, one)
	}
	return out, nil
}

// addNeed adds a need to those of the same row and kind.
func addNeed(all []needed, n needed) []needed {
	at := slices.IndexFunc(all, func(o needed) bool { return o.key == n.key && o.Kind == n.Kind })
	if at < 0 {
		return append(all, n)
	}
	to := &all[at]
	to.Amount += n.Amount
	to.Spare += n.Spare
	to.Working = append(slices.Clone(to.Working), n.Working...)
	to.Warnings = append(slices.Clone(to.Warnings), n.Warnings...)
	to.Cuts = nil // each piece has its own
	to.Sizes = slices.Clone(to.Sizes)
	for _, size := range n.Sizes {
		if i := slices.IndexFunc(to.Sizes, func(o piece.Size) bool { return o.Part == size.Part }); i >= 0 {
			to.Sizes[i].Count += size.Count
		} else {
			to.Sizes = append(to.Sizes, size)
		}
	}
	to.parts, to.share = append(slices.Clone(to.parts), n.parts...), append(slices.Clone(to.share), n.share...)
	if to.Problem == "" {
		to.Problem, to.At = n.Problem, n.At
	}
	return all
}
