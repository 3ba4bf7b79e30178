package buy

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/craft"
	"lampfern/core/material"
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
	Notes  []Note
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
	Spread          []string // which part is of which lot
	Own             bool     // the maker wrote the amount
	Level           float64
	Lots            []string // on hand
	Others          []string // kept back for other plans
	Also            []string // plans that have it in their tray, and keep none of it back
	Buy             string   // in the trade's own units; empty for nothing
	Packs           float64
	Each            float64 // what one unit holds, in the base unit
	Price           float64 // of one; 0 when not known
	Cost            float64
	Left            string // what is left over, in words
	Working         []string
	Warnings        []string
	Problem         string
	Cuts            []piece.Cut
	Wide            float64
	Mixed           bool            // several lots may be used
	Unused          string          // what is on hand and not used, for it is not enough in one lot; empty for nothing
	Got             *store.Purchase // what was bought last; nil for nothing
	Supplier        string
	Asked           string        // when its price was asked, in words; empty for the maker's own
	Offers          []store.Price // by the price lists, the one that is taken first
	Currency        string        // of the price, empty for the maker's own
	Short           float64       // units that cannot be had
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

// Note is something to know before buying.
type Note struct {
	Severity int // 2 mend, 1 consider, 0 fine
	About    string
	Words    string
	Do       string // a change that it offers, empty for none
	Label    string
	See      string // the query of At the shop that shows it on the piece; empty for none
}

// Group is what is bought of one supplier.
type Group struct {
	Supplier string
	Rows     []Row
	Sum      float64
}

// dearFrom is the uncertainty of a colour from which a sample is bought first, in ΔE00.
const dearFrom = 4.0

// View works out what a plan needs, with what other plans need on the same list. What
// several need of one material is added up before it is rounded.
func View(ctx context.Context, k *plan.Desk, p *plan.Plan, with ...uint) (*BuyView, error) {
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
		v.Rows = append(v.Rows, v.row(p, s, n, asked, kept, offers))
	}
	waits, err := k.Store.Read(ctx).Unanswered(p.ID)
	if err != nil {
		return nil, fmt.Errorf("reading the sheets: %w", err)
	}
	if waits > 0 {
		v.Notes = append(v.Notes, Note{Severity: 1, About: "Sign-off", Words: fmt.Sprintf(": sheet %d is not agreed yet. What is bought now may have to be bought again.", waits)})
	}
	v.sums(k, p, asked)
	return v, nil
}

// craftOf is the craft whose rules tell how much a plan's piece takes: its own, or, where
// that does not know the piece, the one that goes by areas.
func craftOf(p *plan.Plan) piece.Craft {
	of, _ := craft.Named(p.Craft)
	if len(p.Of) > 0 && !of.Owns(p.Pattern) { // a piece of other kinds goes by the craft of its pattern
		for _, c := range craft.All() {
			if c.Owns(p.Pattern) {
				of = c
			}
		}
	}
	if of.OwnOnly && !of.Owns(p.Pattern) || of.Needs == nil {
		of, _ = craft.Named("other")
	}
	return of
}

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
	all := plan.Recall(k, key, func() (t told) {
		if m.Input, _, err = k.InputOf(p, pattern); err != nil { // costly to read, and seldom needed
			return t
		}
		if of.Fit != nil {
			t.fit = of.Fit(m)
		}
		t.needs = of.Needs(m)
		return t
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
			if of.Name == "soap" { // shares of the batter; the need is of the colourants together
				share /= sum
			}
			one.Amount, one.Spare = n.Amount*share, n.Spare*share
			one.Working = append(slices.Clone(n.Working), fmt.Sprintf("%.3g of it in the mix %s: %s", share, c.Name, amountWords(one.Amount, material.StockOf(in.Kind).Units[0].Name)))
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
func (v *BuyView) row(p *plan.Plan, s *Section, n needed, asked piece.Values, held map[uint]kept, offers map[string][]store.Price) Row {
	r := Row{Key: n.key, Name: n.Name, Kind: n.Kind, Card: n.card, Parts: n.parts, MixOf: n.mixOf, Need: n.Amount, Working: n.Working, Warnings: slices.Clone(n.Warnings),
		Problem: n.Problem, Cuts: n.Cuts, Wide: n.Wide, Mixed: slices.Contains(s.Mixed, n.key)}
	unit := material.StockOf(n.Kind).Units[0].Name
	r.Plans, r.Sizes = n.plan, n.Sizes
	if n.card != nil {
		r.Name = n.card.Name
		if n.card.ID != 0 {
			r.Supplier = n.card.Supplier
			if own := material.StockOf(n.card.Kind).Units[0].Name; own != unit {
				r.Problem = fmt.Sprintf("it is of the kind %s, and what the piece takes here is %s, in %s: put another card there, or write how much you need, in %s.",
					n.card.Kind, n.Kind, unit, own)
				r.Need, unit = 0, own
			}
			r.Kind = n.card.Kind
		}
	}
	if own, there := s.Amounts[n.key]; there {
		r.Need, r.Own, r.Problem = own, true, ""
		r.Working = []string{"as you wrote"}
		r.Cuts, r.Sizes, n.Spare = nil, nil, 0
	}
	r.spare = n.Spare
	if n.Spare > 0 && r.Problem == "" {
		r.Spare = fmt.Sprintf("%.2g %s of it waste", n.Spare, unit)
		if unit == "m" || n.Spare >= 99 {
			r.Spare = amountWords(n.Spare, unit) + " of it waste"
		}
		if unit == "pieces" {
			r.Spare = fmt.Sprintf("%.0f of them spare", n.Spare)
		}
		if unit == "pieces" && n.Spare < 1 {
			r.Spare = ""
		}
	}
	r.Got = v.Got(n.key)
	r.NeedWords = amountWords(r.Need, unit)
	each, word := packOf(n, asked)
	r.Each = each
	var lots []any
	onHand := 0.0
	if n.card != nil && n.card.ID != 0 {
		r.Price = priceOf(n.card, each)
		r.Offers = offersOf(n.card, offers)
		stock := material.StockOf(n.card.Kind)
		back := held[n.card.ID]
		r.Others, r.Also = back.plans, back.also
		if slices.ContainsFunc(s.Kept, func(k Kept) bool { return k.Material == n.card.ID }) {
			r.Also = nil
		}
		rest := back.amount
		for _, l := range n.card.Lots {
			amount, err := stock.Convert(l.OnHand, l.Unit, stock.Units[0].Name, n.card.Pack)
			if err != nil || amount <= 0 || l.State == material.UsedUp {
				continue
			}
			name := l.Name
			if name == "" {
				name = "no lot"
			}
			said := amountWords(amount, stock.Units[0].Name)
			if l.Name != "" {
				said += " of lot " + l.Name
			}
			r.Lots = append(r.Lots, said)
			take := min(rest, amount)
			rest -= take
			onHand += amount - take
			lots = append(lots, piece.Given("lot", name, "amount", amount-take))
		}
	}
	if r.Need > 0 {
		r.Level = min(1, onHand/r.Need)
	}
	if r.Problem != "" {
		return r
	}
	available := -1.0
	least := 0.0
	if len(r.Offers) > 0 {
		o := r.Offers[0]
		stock := material.StockOf(r.Kind)
		if one, err := stock.Convert(o.Pack, o.Unit, stock.Units[0].Name, n.card.Pack); err == nil && one > 0 {
			if n.Step == 0 {
				each, r.Each = one, one
				if one != 1 && word != stock.Pack && stock.Pack != "" {
					word = stock.Pack
				}
			}
			r.Price = o.Price / one * each
			r.Supplier, r.Currency = o.Seller, o.Currency
			r.Asked = o.ReadAt.Format("2 Jan 2006")
			if o.Stock != nil {
				available = math.Floor(*o.Stock*one/each + 1e-9)
			}
			if l, err := stock.Convert(o.Least, o.Unit, stock.Units[0].Name, n.card.Pack); err == nil {
				least = l
			}
		}
	}
	in := piece.Given("need", r.Need, "pack", each, "price", r.Price, "allow_mixed", r.Mixed || !inLots(r.Kind))
	if shop := r.shopLot(); shop != "" {
		in = append(in, piece.Given("shop_lot", shop)...)
		r.Warnings = append(r.Warnings, fmt.Sprintf("%s has lot %s, which is on hand too: ask for it.", r.Supplier, shop))
	}
	if lots != nil {
		in = append(in, piece.Given("on_hand", lots)...)
	}
	if n.card != nil && n.card.Discontinued || len(r.Offers) > 0 && (r.Offers[0].Discontinued || r.Offers[0].Vanished) {
		in = append(in, piece.Given("discontinued", true)...)
	} else if available >= 0 {
		in = append(in, piece.Given("available_packs", available)...)
	}
	res, err := quantity.Of("stock.to_buy", in)
	if err != nil {
		r.Problem = words.Capital(err.Error())
		return r
	}
	if r.Mixed && r.spreads() && len(n.share) == len(r.Parts) && len(lots) > 0 {
		r.spread(n, lots, &res)
	}
	r.Packs, r.Cost, r.Short = res.Rounded["packs"].(float64), res.Rounded["cost"].(float64), res.Rounded["short_packs"].(float64)
	said := res.Working
	if lots == nil {
		said = said[len(said)-1:]
	}
	if each == 1 {
		said = said[:len(said)-1]
	}
	if r.Packs > 0 && r.Spread == nil && len(said) > 0 {
		r.Working = append(slices.Clone(r.Working), "To buy, in "+unit)
		r.Working = append(r.Working, said...)
	}
	if r.Packs > 0 && r.Packs*each < least-1e-9 {
		r.Packs = math.Ceil(least/each - 1e-9)
		r.Cost = math.Round(100*r.Packs*r.Price) / 100
		r.Warnings = append(r.Warnings, fmt.Sprintf("%s sells no less than %s.", r.Supplier, amountWords(least, unit)))
	}
	v.byParts(&r)
	for _, w := range res.Warnings {
		if w == "stock_not_used" && r.Packs > 0 {
			r.Unused = amountWords(onHand, unit)
			continue
		}
		if !inLots(r.Kind) && (w == "mixed_lots" || w == "lot_unknown") {
			continue
		}
		if w == "not_enough_available" || w == "discontinued" && r.Packs == 0 {
			continue // said with what could stand for it
		}
		if said := quantity.Warned(w); said != "" && w != "stock_not_used" && (w != "lot_unknown" || r.Packs > 0) {
			r.Warnings = append(r.Warnings, said)
		}
	}
	if r.Packs > 0 {
		switch {
		case n.Step == piece.EighthYard:
			r.Buy = yards(r.Packs)
		case n.Step == piece.FatQuarter:
			r.Buy = words.Plural(int(r.Packs), "fat quarter", "fat quarters")
		case n.Step > 0:
			r.Buy = fmt.Sprintf("%.1f m", r.Packs*n.Step)
		case each == 1:
			r.Buy = amountWords(r.Packs, unit)
		default:
			r.Buy = words.Plural(int(r.Packs), word, word+"s") + fmt.Sprintf(" of %g %s", each, unit)
		}
	} else if r.Need > 0 && onHand > r.Need {
		r.Left = amountWords(onHand-r.Need, unit) + " left afterwards"
		if r.Kind == "marker or pencil" {
			r.Left = "enough left, for it takes " + r.NeedWords
		}
	}
	return r
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
		if lot != "" && slices.ContainsFunc(r.Card.Lots, func(l material.Lot) bool { return l.Name == lot && l.OnHand > 0 && l.State == material.InUse }) {
			return lot
		}
	}
	return ""
}

// spread takes each part of one lot, so that two lots meet only where two parts do, and
// buys what no lot is enough for.
func (r *Row) spread(n needed, lots []any, res *quantity.Result) {
	sum := 0.0
	for _, a := range n.share {
		sum += a
	}
	var regions []any
	for i, name := range r.Parts {
		regions = append(regions, piece.Given("name", name, "need", r.Need*n.share[i]/sum))
	}
	took, err := quantity.Of("stock.lots", piece.Given("regions", regions, "lots", lots))
	if err != nil {
		return // two lots of one name: they count together
	}
	buy := took.Unrounded["to_buy"].(float64)
	packs := math.Ceil(buy/r.Each - 1e-9)
	res.Rounded["packs"], res.Rounded["cost"] = packs, math.Round(100*packs*r.Price)/100
	of := took.Rounded["assign"].(map[string]string)
	for _, name := range r.Parts {
		switch lot := of[name]; lot {
		case "none", "":
		case "buy":
			r.Spread = append(r.Spread, name+" of a new lot")
		default:
			r.Spread = append(r.Spread, name+" of lot "+lot)
		}
	}
	r.Working = append(slices.Clone(r.Working), "shared by the areas of its parts: "+words.List(r.Spread))
	res.Warnings = slices.DeleteFunc(res.Warnings, func(w string) bool { return w == "mixed_lots" })
}
