package buy

import (
	"context"
	"slices"

	"lampfern/core/words"
	"lampfern/plan"
)

// supply implements plan.Stage's Supply.
func supply(ctx context.Context, k *plan.Desk, p *plan.Plan) (out plan.Supply, err error) {
	if p.Piece == nil {
		return out, words.Refuse("Choose a piece on Proportion first: the work follows from it.")
	}
	v, err := View(ctx, k, p)
	if err != nil {
		return out, err
	}
	s, of := Of(p), craftOf(p)
	m, cards, pattern, _, err := making(p, of, s, v.asked)
	if err != nil {
		return out, err
	}
	if m.Input, _, err = k.InputOf(p, pattern); err != nil {
		return out, err
	}
	out.Craft, out.Making, out.Cards = of, m, len(cards)
	for _, r := range v.Rows {
		if r.Card != nil && !r.Own && r.Problem == "" && r.Need > 0 {
			out.Needs = append(out.Needs, plan.Need{Name: r.Name, Unit: UnitOf(r.Kind), Bare: r.Need - r.spare})
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
