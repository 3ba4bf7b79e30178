package buy

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/buying"
	"lampfern/core/craft"
	"lampfern/core/material"
	"lampfern/core/note"
	"lampfern/core/piece"
	"lampfern/core/quantity"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/plan/work"
	"lampfern/shelf"
	"lampfern/store"
)

// BuyView is what the page of buying shows.
type BuyView struct {
	Rows   []Row
	Own    []OwnLine
	Asks   []Ask // what the piece cannot know
	Lists  []OwnList
	Fit    *piece.Fit // what the maker's own figures ask of the piece's settings
	Times  int
	Sum    float64 // of what has a price
	Spent  float64 // of what was bought already
	Budget float64
	Bare   int // rows to buy that have no price
	Notes  []note.Note
	Kept   bool // stock is kept back for this plan
	Empty  []string
	Groups []Group // by supplier

	Sellers []store.Price // whose lists are kept, a line of each
	Server  bool          // a server of price lists is set up
	Postage float64       // of all groups

	asked  piece.Values
	waste  map[string]float64 // % to spare that the maker's work taught, by craft
	bought []store.Purchase
	parts  []store.Price // of the ready-made parts that are needed
}

// Got is what was bought last of a row; nil for nothing.
func (v *BuyView) Got(row string) *store.Purchase {
	for i := len(v.bought) - 1; i >= 0; i-- {
		if v.bought[i].Row == row {
			return &v.bought[i]
		}
	}
	return nil
}

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

// Ask is a number that the piece cannot know, as it is asked for.
type Ask struct {
	piece.Setting
	Value  float64
	Usual  bool   // it is the usual value
	Whence string // where it is from: the usual one, or the maker's own of another plan
	Mend   string // what is wrong with it for this piece, as a sentence; empty for nothing
}

// OwnList is a list of the maker's own, as it was written.
type OwnList struct {
	piece.List
	Text string
}

// Group is what is bought of one supplier.
type Group struct {
	Supplier string
	Rows     []Row
	Sum      float64
}

// dearFrom is the uncertainty of a colour from which a sample is bought first, in ΔE00.
const dearFrom = 4.0

// View works out what a plan needs, with what other plans need on the same list, and what is to be
// known before buying.
func View(ctx context.Context, k *plan.Desk, p *plan.Plan, with ...uint) (*BuyView, error) {
	v, err := Rows(ctx, k, p, with...)
	if err != nil {
		return nil, err
	}
	waits, err := k.Store.Read(ctx).Unanswered(p.ID)
	if err != nil {
		return nil, fmt.Errorf("reading the sheets: %w", err)
	}
	if waits > 0 {
		v.Notes = append(v.Notes, note.Note{Aside: -1, Grade: note.Consider, About: "Sign-off",
			Words: fmt.Sprintf(": sheet %d is not agreed yet. What is bought now may have to be bought again.", waits)})
	}
	v.sums(k, p, v.asked)
	return v, nil
}

// Rows works out the rows of a list alone, which is all that acts on them read. What several plans
// need of one material is added up before it is rounded.
func Rows(ctx context.Context, k *plan.Desk, p *plan.Plan, with ...uint) (*BuyView, error) {
	s := Of(p)
	v := &BuyView{Own: s.Own, Times: s.times(), Budget: p.Asked().Budget, Kept: len(s.Kept) > 0}
	prefs, err := work.PrefsOf(k.Store.Read(ctx))
	if err != nil {
		return nil, err
	}
	v.waste = prefs.Waste
	others, err := plan.EverySection[Section](ctx, k, Key)
	if err != nil {
		return nil, err
	}
	of := craftOf(p)
	asked := v.asks(of, s, p.ID, others)
	v.asked = asked
	for _, l := range of.Lists {
		v.Lists = append(v.Lists, OwnList{l, s.Lists[l.Key]})
	}
	kept, err := v.keptBack(ctx, k, p, others, with)
	if err != nil {
		return nil, err
	}
	if v.bought, err = k.Store.Read(ctx).Purchases(p.ID); err != nil {
		return nil, fmt.Errorf("reading what was bought: %w", err)
	}
	needs, err := v.ofSet(k, p, of, s, asked)
	if err != nil {
		return nil, err
	}
	for _, id := range with {
		if needs, err = v.beside(ctx, k, id, others, needs); err != nil {
			return nil, err
		}
	}
	offers, err := v.offers(ctx, k, needs)
	if err != nil {
		return nil, err
	}
	for _, n := range needs {
		if at := slices.IndexFunc(v.Asks, func(a Ask) bool { return a.Key == n.At }); at >= 0 {
			v.Asks[at].Mend = n.Problem
		}
		v.Rows = append(v.Rows, v.row(s, n, asked, kept, offers))
	}
	return v, nil
}

// craftOf is the craft whose rules tell how much a plan's piece takes.
func craftOf(p *plan.Plan) piece.Craft { return craft.Reckoning(p.Craft, p.Pattern, len(p.Of) > 0) }

// spares are the keys under which crafts ask how much there is to spare.
var spares = []string{"waste", "spare", "spoil", "spares"}

// asks are what the craft asks, by this plan, the newest other one, or the usual value.
func (v *BuyView) asks(of piece.Craft, s *Section, id uint, others map[uint]*Section) piece.Values {
	own := s.Asked[of.Name]
	var before piece.Values
	newest := uint(0)
	for other, o := range others {
		if a := o.Asked[of.Name]; other != id && a != nil && other > newest {
			newest, before = other, a
		}
	}
	values := piece.Usual(of.Asks, before)
	for _, a := range of.Asks {
		one := Ask{Setting: a, Value: values[a.Key], Usual: true, Whence: "usual"}
		if _, there := before[a.Key]; there && values[a.Key] != a.Default {
			one.Whence = "yours, as before"
		}
		if x, taught := v.waste[of.Name]; taught && slices.Contains(spares, a.Key) && x >= a.Min && x <= a.Max {
			one.Value, one.Whence, values[a.Key] = x, "as your work taught", x
		}
		if x, there := own[a.Key]; there && x >= a.Min && x <= a.Max {
			one.Value, one.Usual, one.Whence = x, false, ""
			values[a.Key] = x
		}
		v.Asks = append(v.Asks, one)
	}
	v.Asks = slices.DeleteFunc(v.Asks, func(a Ask) bool { return !a.Wanted(values) })
	return values
}

// kept is stock that other plans keep back, by material, and the plans that have the
// material in their tray and keep none of it back.
type kept struct {
	amount float64
	plans  []string
	also   []string
}

// beside adds what another plan needs.
func (v *BuyView) beside(ctx context.Context, k *plan.Desk, id uint, others map[uint]*Section, needs []needed) ([]needed, error) {
	q, err := k.Open(ctx, id)
	if err != nil {
		return nil, words.Refuse("A plan of this list is no longer kept: choose the others again.")
	}
	own := BuyView{waste: v.waste}
	of := craftOf(q)
	asked := own.asks(of, Of(q), id, others)
	more, err := own.needs(k, q, of, Of(q), asked)
	if err != nil {
		return nil, err
	}
	for _, n := range more {
		if amount, there := Of(q).Amounts[n.key]; there {
			n.Amount, n.Working = amount, []string{"as you wrote"}
		}
		n.Working = append([]string{"For " + q.Name + ": " + amountWords(n.Amount, UnitOf(n.Kind))}, n.Working...)
		same := -1
		if n.card != nil && n.card.ID != 0 {
			same = slices.IndexFunc(needs, func(o needed) bool { return o.card != nil && o.card.ID == n.card.ID && o.Kind == n.Kind })
		}
		if same < 0 {
			n.key, n.plan = fmt.Sprintf("plan%d %s", id, n.key), q.Name
			needs = append(needs, n)
			continue
		}
		to := &needs[same]
		to.Amount += n.Amount
		to.Spare += n.Spare
		to.Working = append(slices.Clone(to.Working), n.Working...)
		to.Cuts = nil
		if to.plan != "" {
			to.plan += ", "
		}
		to.plan += q.Name
	}
	return needs, nil
}

func (v *BuyView) keptBack(ctx context.Context, k *plan.Desk, p *plan.Plan, others map[uint]*Section, with []uint) (map[uint]kept, error) {
	out := map[uint]kept{}
	all, err := k.Plans(ctx)
	if err != nil {
		return nil, err
	}
	for _, other := range all {
		if other.ID == p.ID || other.PutAway || slices.Contains(with, other.ID) {
			continue
		}
		o := others[other.ID]
		if o == nil {
			o = &Section{}
		}
		for _, c := range other.Cards {
			if keeps := slices.ContainsFunc(o.Kept, func(k Kept) bool { return k.Material == c.ID }); c.ID != 0 && !keeps {
				held := out[c.ID]
				held.also = append(held.also, other.Name)
				out[c.ID] = held
			}
		}
		for _, one := range o.Kept {
			held := out[one.Material]
			held.amount += one.Amount
			stock := "pieces"
			if c, err := p.Shelf.Card(one.Material); err == nil {
				stock = material.StockOf(c.Kind).Units[0].Name
			}
			held.plans = append(held.plans, fmt.Sprintf("%s kept for %s", amountWords(one.Amount, stock), other.Name))
			out[one.Material] = held
		}
	}
	return out, nil
}

// needed is a need with the card it is of.
type needed struct {
	piece.Need
	key   string
	card  *shelf.Card
	parts []string
	share []float64 // of the amount, by part
	mixOf string
	plan  string // other plans that need it too
}

// needs are what the piece takes, mixes by what they are mixed of.
func (v *BuyView) needs(k *plan.Desk, p *plan.Plan, of piece.Craft, s *Section, asked piece.Values) ([]needed, error) {
	if p.Piece == nil {
		v.Empty = append(v.Empty, "Choose a piece on Proportion first: what is needed is worked out from it.")
		return nil, nil
	}
	m, cards, pattern, written, err := making(p, of, s, asked)
	if err != nil {
		return nil, err
	}
	if len(cards) == 0 {
		v.Empty = append(v.Empty, "No part of the piece has a card yet: put some there on Proportion.")
		return nil, nil
	}
	var out []needed
	mixed := map[uint]int{}
	type told struct {
		needs []piece.Need
		fit   *piece.Fit
	}
	key := fmt.Sprint("buy-needs ", of.Name, p.Piece.Key, m.Of, m.Cards, asked, m.Times, written)
	all, err := plan.Recall(k, key, func() (t told, err error) {
		if m.Input, _, err = k.InputOf(p, pattern); err != nil { // costly to read, and seldom needed
			return t, err
		}
		if of.Fit != nil {
			t.fit = of.Fit(m)
		}
		t.needs = of.Needs(m)
		return t, nil
	})
	if err != nil {
		return nil, err
	}
	v.Fit = all.fit
	areas := p.Piece.Areas()
	for _, n := range all.needs {
		if n.Card < 0 {
			out = append(out, needed{Need: n, key: "line " + n.Name})
			continue
		}
		c := cards[n.Card]
		if c.Given {
			continue // it is there already
		}
		mix := mixOf(p, c.Key)
		sum := 0.0
		for _, part := range mix {
			sum += part.Share
		}
		if sum == 0 {
			one := needed{Need: n, key: fmt.Sprintf("card%d", c.Key), card: c.Card, parts: c.Parts}
			if c.Stand { // of another kind than the place's own card
				one.key += fmt.Sprintf("-m%d", c.ID)
			}
			for _, name := range c.Parts {
				share := 0.0
				for part, card := range m.Of {
					if card == n.Card && p.Piece.Parts[part].Name == name {
						share += areas[part]
					}
				}
				one.share = append(one.share, share)
			}
			out = append(out, one)
			continue
		}
		// A mix counts by what it is mixed of.
		for _, part := range mix {
			in, err := p.Shelf.Card(part.MaterialID)
			if err != nil {
				continue
			}
			one := n
			share := part.Share
			if of.Batch { // shares of the whole; the need is of the colourants together
				share /= sum
			}
			one.Amount, one.Spare = n.Amount*share, n.Spare*share
			one.Working = append(slices.Clone(n.Working), fmt.Sprintf("%.3g of it in the mix %s: %s", share, c.Name,
				amountWords(one.Amount, material.StockOf(in.Kind).Units[0].Name)))
			if at, there := mixed[in.ID]; there {
				out[at].Amount += one.Amount
				out[at].Spare += one.Spare
				out[at].Working = append(slices.Clone(out[at].Working), one.Working...)
				out[at].mixOf += ", " + c.Name
				continue
			}
			mixed[in.ID] = len(out)
			out = append(out, needed{Need: one, key: fmt.Sprintf("mix%d", in.ID), card: in, parts: c.Parts, mixOf: c.Name})
		}
	}
	return out, nil
}

// mixOf is what a card of the tray is mixed of; a material that stands for it is not mixed.
func mixOf(p *plan.Plan, key int) []plan.InMix {
	for i, e := range p.Entries {
		if e.Key == key && !p.Tray[i].Stand {
			return e.Mix
		}
	}
	return nil
}

// amountWords are an amount with its unit.
func amountWords(v float64, unit string) string {
	switch {
	case unit == "m" && v >= 0.995:
		return fmt.Sprintf("%.2f m", v)
	case unit == "m":
		return fmt.Sprintf("%.0f cm", math.Ceil(100*v-1e-9))
	case unit == "pieces" && v > 0 && v < 0.01:
		return "less than 1% of one"
	case unit == "pieces" && v > 0 && v < 1-1e-9:
		return fmt.Sprintf("%.0f%% of one", 100*v)
	case unit == "pieces" && v < 100 && math.Abs(v-math.Round(v)) > 0.05:
		return fmt.Sprintf("%.1f pieces", v)
	case unit == "pieces" || unit == "sheets":
		return words.Plural(int(math.Ceil(v-1e-9)), strings.TrimSuffix(unit, "s"), unit)
	case v >= 100:
		return fmt.Sprintf("%.0f %s", v, unit)
	}
	return fmt.Sprintf("%.3g %s", v, unit)
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
	r.spare, r.NeedWords, r.Got = n.Spare, amountWords(r.Need, unit), v.Got(n.key)
	if r.Problem == "" {
		r.Spare = spareWords(n.Spare, unit)
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
		r.Problem = fmt.Sprintf("it is of the kind %s, and what the piece takes here is %s, in %s: put another card there, or write how much you need, in %s.",
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
		return fmt.Sprintf("%.0f of them spare", spare)
	case unit == "m" || spare >= 99:
		return amountWords(spare, unit) + " of it waste"
	}
	return fmt.Sprintf("%.2g %s of it waste", spare, unit)
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
		said, name := amountWords(amount, unit), "no lot"
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
	r.Supplier, r.Currency, r.Asked = o.Seller, o.Currency, o.ReadAt.Format("2 Jan 2006")
	if r.ask.ShopLot = r.shopLot(); r.ask.ShopLot != "" {
		r.Warnings = append(r.Warnings, fmt.Sprintf("%s has lot %s, which is on hand too: ask for it.", r.Supplier, r.ask.ShopLot))
	}
}

// said words a row's order.
func (r *Row) said(unit string) {
	if len(r.Steps) > 0 {
		r.Working = append(append(slices.Clone(r.Working), "To buy, in "+unit), r.Steps...)
	}
	if spread := r.SpreadWords(); len(spread) > 0 {
		r.Working = append(slices.Clone(r.Working), "shared by the areas of its parts: "+words.List(spread))
	}
	if r.Raised {
		r.Warnings = append(r.Warnings, fmt.Sprintf("%s sells no less than %s.", r.Supplier, amountWords(r.ask.Offer.Least, unit)))
	}
	for _, w := range r.Codes {
		r.Warnings = append(r.Warnings, w.Words())
	}
	switch {
	case r.Packs == 0:
		if r.Need > 0 && r.OnHand > r.Need {
			r.Left = amountWords(r.OnHand-r.Need, unit) + " left afterwards"
			if r.Kind == "marker or pencil" {
				r.Left = "enough left, for it takes " + r.NeedWords
			}
		}
	case r.step == piece.EighthYard:
		r.Buy = yards(r.Packs)
	case r.step == piece.FatQuarter:
		r.Buy = words.Plural(int(r.Packs), "fat quarter", "fat quarters")
	case r.step > 0:
		r.Buy = fmt.Sprintf("%.1f m", r.Packs*r.step)
	case r.Each == 1:
		r.Buy = amountWords(r.Packs, unit)
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
