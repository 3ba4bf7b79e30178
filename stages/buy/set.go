package buy

import (
	"fmt"
	"slices"

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
	whole, err := k.Set(p)
	if err != nil {
		return nil, err
	}
	var out []needed
	for _, w := range whole {
		one, its, a, as := v, *s, asked, craftOf(w.Plan)
		its.Times = s.times() * w.Made()
		if w.Key != p.Pieces[0].Key {
			its.Lists = nil // the maker's own lists are of the first piece
		}
		if w.Held != nil || as.Name != of.Name {
			one = &BuyView{waste: v.waste}
			a = one.asks(as, s, p.ID, nil)
		}
		more, err := one.needs(k, w.Plan, as, &its, a)
		if err != nil {
			return nil, err
		}
		called := "For the " + w.Name
		if its.Times > 1 {
			called += fmt.Sprintf(" × %d", its.Times)
		}
		for _, n := range more {
			n.Working = append([]string{called + ": " + amountWords(n.Amount, UnitOf(n.Kind))}, n.Working...)
			n.parts = slices.Clone(n.parts)
			for i := range n.parts {
				n.parts[i] += " of the " + w.Name
			}
			out = addNeed(out, n)
		}
	}
	if len(out) == 0 && len(v.Empty) == 0 {
		v.Empty = append(v.Empty, "No piece of the set has a card yet, or all are left out: see them under Together.")
	}
	if len(out) > 0 {
		v.Empty = nil
		about := words.Capital(words.Plural(len(whole), "piece", "pieces"))
		said := " of the set are counted, each as often as it is made; what is left out of it is not."
		if len(s.Lists) > 0 {
			said += fmt.Sprintf(" Your own lists count for the %s.", p.Pieces[0].Name)
		}
		v.Notes = append(v.Notes, Note{Severity: 0, About: about, Words: said})
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
