// Package buying works out what is bought of one thing: what of the lots on hand is free, in which
// units it is sold, how many of these, and what they cost; and of a list, where it is bought for
// least. It knows amounts and prices, no materials and no words.
package buying

import (
	"math"
	"slices"

	"lampfern/core/quantity"
)

// exact protects exact fits from the noise of floating point.
const exact = 1e-9

// Offer is what a seller asks. Amounts are in the thing's base unit.
type Offer struct {
	Price float64  // of one unit as it is sold
	Unit  float64  // what that holds, more than 0
	Stock *float64 // units that the seller has; nil where that is not said
	Least float64  // that the seller sells; 0 for any amount
}

// Part is a part of the piece, and its share of the need in any unit.
type Part struct {
	Name  string
	Share float64
}

// Ask is what is needed of one thing. Amounts are in its base unit.
type Ask struct {
	Need  float64
	Each  float64        // what one unit holds
	Fixed bool           // it is sold by the measure, so that an offer of another unit does not change Each
	Lots  []quantity.Lot // on hand, and free
	Price float64        // of one unit of the maker's own; 0 when not known
	Offer *Offer         // that is taken; nil for none
	Gone  bool           // it is no longer made, or sold

	InLots  bool   // lots differ, so that they must not meet in one part
	Mixed   bool   // several lots may be used all the same
	ShopLot string // the seller's lot that is on hand too
	Parts   []Part // of the piece, where each may be of a lot of its own
}

// PartLot is the lot that a part is of; empty for a new one.
type PartLot struct{ Part, Lot string }

// Order is what is bought.
type Order struct {
	Each, Price float64   // of one unit
	Packs       float64   // units to buy
	Cost        float64   // of all, rounded to hundredths
	Short       float64   // units of these that cannot be had
	OnHand      float64   // that is free
	Level       float64   // of the need that is on hand, at most 1
	Unused      bool      // what is on hand is not enough in one lot, and is not used
	Raised      bool      // the seller sells no less
	PartLots    []PartLot // where each part is of one lot
	Codes       []quantity.Warning
	Steps       []string // of the working; empty where nothing is bought
}

// Free takes what is reserved off lots, the first of them first, and adds up what is free.
func Free(lots []quantity.Lot, reserved float64) (free []quantity.Lot, sum float64) {
	for _, l := range lots {
		take := min(reserved, l.Amount)
		reserved -= take
		l.Amount -= take
		free, sum = append(free, l), sum+l.Amount
	}
	return free, sum
}

// Packs are the units of which an amount is made up; an exact fit stays one.
func Packs(amount, each float64) float64 { return math.Max(0, math.Ceil(amount/each-exact)) }

// Cost is the price of so many units, in hundredths.
func Cost(packs, price float64) float64 { return math.Round(100*packs*price) / 100 }

// Work works an order out. The error is a *quantity.Fault.
func Work(a Ask) (Order, error) {
	o := Order{Each: a.Each, Price: a.Price}
	for _, l := range a.Lots {
		o.OnHand += l.Amount
	}
	if a.Need > 0 {
		o.Level = min(1, o.OnHand/a.Need)
	}
	in := quantity.ToBuyIn{Need: a.Need, OnHand: a.Lots, ShopLot: a.ShopLot, AllowMixed: a.Mixed || !a.InLots, Discontinued: a.Gone}
	if f := a.Offer; f != nil {
		if !a.Fixed {
			o.Each = f.Unit
		}
		o.Price = f.Price / f.Unit * o.Each
		if f.Stock != nil && !a.Gone {
			in.AvailablePacks = new(math.Floor(*f.Stock*f.Unit/o.Each + exact))
		}
	}
	in.Pack, in.Price = &o.Each, o.Price
	res, err := quantity.ToBuy(in)
	if err != nil {
		return o, err
	}
	o.Packs, o.Short = res.Rounded.Packs, res.Rounded.ShortPacks
	o.Codes = without(res.Warnings, quantity.NotEnoughAvailable) // Short says it
	if spread, buy, ok := spread(a); ok {
		o.PartLots, o.Packs = spread, Packs(buy, o.Each)
		switch {
		case a.Gone:
			o.Short = o.Packs
		case in.AvailablePacks != nil:
			o.Short = math.Max(0, o.Packs-*in.AvailablePacks)
		}
		o.Codes = without(o.Codes, quantity.MixedLots)
	}
	if a.Offer != nil && o.Packs > 0 && o.Packs*o.Each < a.Offer.Least-exact {
		o.Packs, o.Raised = Packs(a.Offer.Least, o.Each), true
	}
	o.Cost = Cost(o.Packs, o.Price)
	o.Unused = o.Packs > 0 && slices.Contains(o.Codes, quantity.StockNotUsed)
	o.Codes = without(o.Codes, quantity.StockNotUsed)
	if !a.InLots {
		o.Codes = without(o.Codes, quantity.MixedLots, quantity.LotUnknown)
	}
	if o.Packs == 0 {
		o.Codes = without(o.Codes, quantity.LotUnknown, quantity.Discontinued)
		return o, nil
	}
	if o.PartLots == nil {
		o.Steps = steps(res.Working, a.Lots != nil, o.Each != 1)
	}
	return o, nil
}

// steps are the lines of a working: the first is of lots, the last of packs.
func steps(all []quantity.Line, lots, packs bool) (out []string) {
	for i, l := range all {
		if i == 0 && len(all) > 1 && !lots || i == len(all)-1 && !packs {
			continue
		}
		out = append(out, l.String())
	}
	return out
}

func without(all []quantity.Warning, gone ...quantity.Warning) []quantity.Warning {
	return slices.DeleteFunc(all, func(w quantity.Warning) bool { return slices.Contains(gone, w) })
}

// spread takes each part of one lot, so that two lots meet only where two parts do, and says how
// much no lot is enough for. It is not ok where lots are not to be spread, or two are of one name.
func spread(a Ask) (out []PartLot, buy float64, ok bool) {
	if !a.Mixed || !a.InLots || len(a.Parts) < 2 || len(a.Lots) == 0 {
		return nil, 0, false
	}
	sum := 0.0
	for _, p := range a.Parts {
		sum += p.Share
	}
	in := quantity.LotsIn{Lots: a.Lots}
	for _, p := range a.Parts {
		in.Regions = append(in.Regions, quantity.LotRegion{Name: p.Name, Need: a.Need * p.Share / sum})
	}
	took, err := quantity.Lots(in)
	if err != nil {
		return nil, 0, false
	}
	for _, p := range a.Parts {
		switch lot := took.Rounded.Assign[p.Name]; lot {
		case quantity.NoLot, "":
		case quantity.BuyLot:
			out = append(out, PartLot{p.Name, ""})
		default:
			out = append(out, PartLot{p.Name, lot})
		}
	}
	return out, took.Exact.ToBuy, true
}

// Size is a ready-made part that an order is made up of: how many, and what a pack of it costs.
// Pack is 0 where no seller has it.
type Size struct {
	Count, Price, Pack float64
}

// ByParts prices an order of ready-made parts part by part. Where fewer are bought than are needed
// the cost is shared as if each part were on hand alike. It is false where no part has a price.
func ByParts(packs float64, sizes []Size) (cost float64, ok bool) {
	total := 0.0
	for _, s := range sizes {
		total += s.Count
		if s.Pack > 0 {
			cost, ok = cost+Packs(s.Count, s.Pack)*s.Price, true
		}
	}
	return math.Round(100*cost*packs/total) / 100, ok
}

// Row is a thing on a list: what it costs as it stands and of whom, and what other sellers ask.
type Row struct {
	Cost   float64
	Seller string
	Others []Quote
}

// Quote is what a seller asks for a whole row.
type Quote struct {
	Seller string
	Cost   float64
}

// Sum is what a list costs with postage, and its sellers by name.
type Sum struct {
	Cost    float64
	Sellers []string
}

// Sums are the least sum of a list, and the least one of the fewest sellers: as it stands, each row
// where it costs least, or all of one seller. Postage is of one order of each seller.
func Sums(rows []Row, postage map[string]float64) (least, fewest Sum) {
	take := func(choose func(Row) (Quote, bool)) (s Sum, all bool) {
		for _, r := range rows {
			q, has := choose(r)
			if !has {
				return s, false
			}
			s.Cost += q.Cost
			if !slices.Contains(s.Sellers, q.Seller) {
				s.Sellers = append(s.Sellers, q.Seller)
				s.Cost += postage[q.Seller]
			}
		}
		slices.Sort(s.Sellers)
		return s, true
	}
	least, _ = take(func(r Row) (Quote, bool) { return Quote{r.Seller, r.Cost}, true })
	fewest = least
	consider := func(s Sum) {
		if s.Cost < least.Cost-exact {
			least = s
		}
		if len(s.Sellers) < len(fewest.Sellers) || len(s.Sellers) == len(fewest.Sellers) && s.Cost < fewest.Cost-exact {
			fewest = s
		}
	}
	cheapest, _ := take(func(r Row) (Quote, bool) {
		best := Quote{r.Seller, r.Cost}
		for _, q := range r.Others {
			if q.Cost < best.Cost {
				best = q
			}
		}
		return best, true
	})
	consider(cheapest)
	var sellers []string
	for _, r := range rows {
		for _, q := range r.Others {
			if !slices.Contains(sellers, q.Seller) {
				sellers = append(sellers, q.Seller)
			}
		}
	}
	slices.Sort(sellers)
	for _, name := range sellers {
		if alone, all := take(func(r Row) (Quote, bool) {
			at := slices.IndexFunc(r.Others, func(q Quote) bool { return q.Seller == name })
			if at < 0 {
				return Quote{}, false
			}
			return r.Others[at], true
		}); all {
			consider(alone)
		}
	}
	return least, fewest
}
