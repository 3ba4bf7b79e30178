package buy

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/buying"
	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/core/quantity"
	"lampfern/core/words"
	"lampfern/shelf"
	"lampfern/store"
)

// Row is one card, or one thing that has none, as it is bought.
type Row struct {
	Key, Name, Kind string
	Card            *shelf.Card // nil for what has none
	Parts           []string    // of the piece that take it
	MixOf           string      // the mix that it goes into, empty for none
	Plans           string      // others that need it, on a list of several
	Need            float64     // in the kind's base unit
	NeedWords       string
	Spare           string // what of it is allowance, in words; empty for nothing
	spare           float64
	Sizes           []piece.Size
	Own             bool     // the maker wrote the amount
	Lots            []string // on hand
	Others          []string // kept back for other plans
	Also            []string // plans that have it in their tray, and keep none of it back
	Buy             string   // in the trade's own units; empty for nothing
	Left            string   // what is left over, in words
	Working         []string
	Warnings        []string
	Problem         string
	Cuts            []piece.Cut
	Wide            float64
	Mixed           bool            // several lots may be used
	Got             *store.Purchase // what was bought last; nil for nothing
	Supplier        string
	Asked           string        // when its price was asked, in words; empty for the maker's own
	Offers          []store.Price // by the price lists, the one that is taken first
	Currency        string        // of the price, empty for the maker's own

	buying.Order
	ask  buying.Ask
	step float64 // the cloth is sold by, 0 for whole packs
	pack string  // what one unit is called
}

// yards are an amount of eighths of a yard as they are read.
func yards(eighths float64) string {
	whole, rest := math.Floor(eighths/8), int(eighths)%8
	part := []string{"", "1/8", "1/4", "3/8", "1/2", "5/8", "3/4", "7/8"}[rest]
	switch {
	case whole == 0:
		return part + " yd"
	case part == "":
		return fmt.Sprintf("%.0f yd", whole)
	}
	return fmt.Sprintf("%.0f %s yd", whole, part)
}

// packOf is what one purchase unit of a need holds, its word, and the asked usual value.
func packOf(n needed, asked piece.Values) (each float64, word string) {
	stock := material.StockOf(n.Kind)
	if n.card != nil {
		stock = material.StockOf(n.card.Kind)
	}
	switch {
	case n.Step > 0:
		return n.Step, ""
	case n.card != nil && n.card.Pack > 0 && stock.Pack != "":
		return n.card.Pack, stock.Pack
	case stock.Pack == "":
		return 1, stock.Units[0].Name
	}
	for _, key := range []string{"skein", "pot"} {
		if v := asked[key]; v > 0 {
			return v, stock.Pack
		}
	}
	if n.Kind == "filament" {
		return 1000, stock.Pack
	}
	return 1, stock.Units[0].Name
}

// priceOf is what one purchase unit costs, by the newest lot with a price; 0 when none
// has one.
func priceOf(c *shelf.Card, each float64) float64 {
	stock := material.StockOf(c.Kind)
	for i := len(c.Lots) - 1; i >= 0; i-- {
		l := c.Lots[i]
		if l.Price == 0 {
			continue
		}
		if base, err := stock.Convert(1, l.Unit, stock.Units[0].Name, c.Pack); err == nil && base > 0 {
			return l.Price / base * each
		}
	}
	return 0
}

// row is a need as it is bought, less what is on hand.
func (v *BuyView) row(s *Section, n needed, asked piece.Values, held map[uint]kept, offers map[string][]store.Price) Row {
	r := Row{Key: n.key, Name: n.Name, Kind: n.Kind, Card: n.card, Parts: n.parts, MixOf: n.mixOf, Plans: n.plan, Need: n.Amount,
		Working:  n.Working,
		Warnings: slices.Clone(n.Warnings), Problem: n.Problem, Cuts: n.Cuts, Wide: n.Wide, Sizes: n.Sizes,
		Mixed: slices.Contains(s.Mixed, n.key), step: n.Step}
	r.ofCard(n)
	if own, there := s.Amounts[n.key]; there {
		r.Need, r.Own, r.Problem = own, true, ""
		r.Working = []string{"as you wrote"}
		r.Cuts, r.Sizes, n.Spare = nil, nil, 0
	}
	unit := UnitOf(r.Kind)
	r.spare, r.NeedWords, r.Got = n.Spare, r.amountWords(r.Need), v.Got(n.key)
	if r.Problem == "" {
		r.Spare = spareWords(n.Spare, unit)
		if r.step == piece.FatQuarter && r.Spare != "" {
			r.Spare = fmt.Sprintf("%.2g of them waste", n.Spare/piece.FatQuarter)
		}
	}
	each, pack := packOf(n, asked)
	r.pack = pack
	r.ask = buying.Ask{Need: r.Need, Each: each, Fixed: n.Step > 0, InLots: inLots(r.Kind), Mixed: r.Mixed}
	r.onHand(s, held)
	r.offered(offers)
	if r.spreads() && len(n.share) == len(r.Parts) {
		for i, name := range r.Parts {
			r.ask.Parts = append(r.ask.Parts, buying.Part{Name: name, Share: n.share[i]})
		}
	}
	order, err := buying.Work(r.ask)
	if r.Order = order; r.Problem != "" {
		r.Order = buying.Order{Each: each, Price: order.Price, Level: order.Level}
		return r
	}
	if err != nil {
		r.Problem = words.Capital(err.Error())
		return r
	}
	r.said(unit)
	v.byParts(&r)
	return r
}

// amountWords are an amount of a row, in its base unit, as it is counted: cloth that is cut of fat quarters in those.
func (r *Row) amountWords(v float64) string {
	if r.step == piece.FatQuarter {
		return material.AmountWords(v/piece.FatQuarter, material.Quarter)
	}
	return material.AmountWords(v, UnitOf(r.Kind))
}

// ofCard names a row after its card. A card of a kind that is counted otherwise is a problem.
func (r *Row) ofCard(n needed) {
	if n.card == nil {
		return
	}
	r.Name = n.card.Name
	if n.card.ID == 0 {
		return
	}
	r.Supplier = n.card.Supplier
	if unit, own := UnitOf(n.Kind), UnitOf(n.card.Kind); own != unit {
		r.Problem = fmt.Sprintf("it is %s, and this part takes %s, in %s. Choose another card, or write how much you need, in %s.",
			n.card.Kind, n.Kind, unit, own)
		r.Need = 0
	}
	r.Kind = n.card.Kind
}

// spareWords are what of an amount is allowance; empty for nothing.
func spareWords(spare float64, unit string) string {
	switch {
	case spare <= 0 || unit == "pieces" && spare < 1:
		return ""
	case unit == "pieces":
		return fmt.Sprintf("includes %.0f spare", spare)
	case unit == "m" || spare >= 99:
		return fmt.Sprintf("includes %s waste", material.AmountWords(spare, unit))
	}
	return fmt.Sprintf("includes %.2g %s waste", spare, unit)
}

// onHand takes in the lots of a row's card, less what is kept back for other plans.
func (r *Row) onHand(s *Section, held map[uint]kept) {
	if r.Card == nil || r.Card.ID == 0 {
		return
	}
	r.ask.Price, r.ask.Gone = priceOf(r.Card, r.ask.Each), r.Card.Discontinued
	back := held[r.Card.ID]
	r.Others, r.Also = back.plans, back.also
	if slices.ContainsFunc(s.Kept, func(k Kept) bool { return k.Material == r.Card.ID }) {
		r.Also = nil
	}
	unit, stock := UnitOf(r.Kind), material.StockOf(r.Kind)
	var lots []quantity.Lot
	for _, l := range r.Card.Lots {
		amount, err := stock.Convert(l.OnHand, l.Unit, unit, r.Card.Pack)
		if err != nil || amount <= 0 || l.State == material.UsedUp {
			continue
		}
		said, name := r.amountWords(amount), "no lot"
		if l.Name != "" {
			said, name = said+" of lot "+l.Name, l.Name
		}
		r.Lots = append(r.Lots, said)
		lots = append(lots, quantity.Lot{Lot: name, Amount: amount})
	}
	r.ask.Lots, _ = buying.Free(lots, back.amount)
}

// offered takes in what the price lists ask for a row's card.
func (r *Row) offered(all map[string][]store.Price) {
	if r.Card == nil || r.Card.ID == 0 {
		return
	}
	r.Offers = offersOf(r.Card, all)
	if len(r.Offers) == 0 || r.Problem != "" {
		return
	}
	o, stock := r.Offers[0], material.StockOf(r.Kind)
	r.ask.Gone = r.ask.Gone || o.Discontinued || o.Vanished
	unit, err := stock.Convert(o.Pack, o.Unit, UnitOf(r.Kind), r.Card.Pack)
	if err != nil || unit <= 0 {
		return
	}
	r.ask.Offer = &buying.Offer{Price: o.Price, Unit: unit, Stock: o.Stock}
	if r.ask.Offer.Least, err = stock.Convert(o.Least, o.Unit, UnitOf(r.Kind), r.Card.Pack); err != nil {
		r.ask.Offer.Least = 0
	}
	if r.step == 0 && unit != 1 && stock.Pack != "" {
		r.pack = stock.Pack
	}
	r.Supplier, r.Currency, r.Asked = o.Seller, o.Currency, words.ShortDate(o.ReadAt)
	if r.ask.ShopLot = r.shopLot(); r.ask.ShopLot != "" {
		r.Warnings = append(r.Warnings, fmt.Sprintf("%s has lot %s, which you have too. Ask for it.", r.Supplier, r.ask.ShopLot))
	}
}

// said words a row's order.
func (r *Row) said(unit string) {
	if len(r.Steps) > 0 {
		r.Working = append(append(slices.Clone(r.Working), "To buy, in "+unit), r.Steps...)
	}
	if spread := r.SpreadWords(); len(spread) > 0 {
		r.Working = append(slices.Clone(r.Working), "shared out by the areas of its parts: "+words.List(spread))
	}
	if r.Raised {
		r.Warnings = append(r.Warnings, fmt.Sprintf("%s sells no less than %s.", r.Supplier, material.AmountWords(r.ask.Offer.Least, unit)))
	}
	for _, w := range r.Codes {
		r.Warnings = append(r.Warnings, w.Words())
	}
	switch {
	case r.Packs == 0:
		if r.Need > 0 && r.OnHand > r.Need {
			r.Left = r.amountWords(r.OnHand-r.Need) + " left over"
			if r.Kind == "marker or pencil" {
				r.Left = "enough left: it takes " + r.NeedWords
			}
		}
	case r.step == piece.EighthYard:
		r.Buy = yards(r.Packs)
	case r.step == piece.FatQuarter:
		r.Buy = words.Plural(int(r.Packs), "fat quarter", "fat quarters")
	case r.step > 0:
		r.Buy = fmt.Sprintf("%.1f m", r.Packs*r.step)
	case r.Each == 1:
		r.Buy = material.AmountWords(r.Packs, unit)
	default:
		r.Buy = words.Plural(int(r.Packs), r.pack, r.pack+"s") + fmt.Sprintf(" of %g %s", r.Each, unit)
	}
}

// SpreadWords say which part is of which lot.
func (r *Row) SpreadWords() (out []string) {
	for _, p := range r.PartLots {
		lot := "a new lot"
		if p.Lot != "" {
			lot = "lot " + p.Lot
		}
		out = append(out, p.Part+" of "+lot)
	}
	return out
}

// inLots reports whether lots of a kind differ, so that they must not meet in one part.
func inLots(kind string) bool {
	return slices.Contains([]string{"fabric", "yarn", "thread", "building part"}, kind)
}

// shopLot is a lot of the seller's that is on hand too; empty for none.
func (r *Row) shopLot() string {
	if len(r.Offers) == 0 || !inLots(r.Kind) {
		return ""
	}
	for _, lot := range strings.Split(r.Offers[0].Lots, ", ") {
		if lot != "" && slices.ContainsFunc(r.Card.Lots, func(l material.Lot) bool {
			return l.Name == lot && l.OnHand > 0 &&
				l.State == material.InUse
		}) {
			return lot
		}
	}
	return ""
}
