package buy

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"lampfern/core/craft"
	"lampfern/core/material"
	"lampfern/core/note"
	"lampfern/core/piece"
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

// Ask is a number that the piece cannot know, as it is asked for.
type Ask struct {
	piece.Setting
	Value  float64
	Usual  bool   // it is the usual value
	Whence string // where it is from: the usual one, or the maker's own of another plan
	Mend   string // what is wrong with it for this piece, as a sentence; empty for nothing
}

// RowOf is the row that a question alone changes; −1 for more than one, or none.
func (v *BuyView) RowOf(a Ask) int {
	if a.Row == "" {
		return -1
	}
	at := -1
	for i, r := range v.Rows {
		if strings.EqualFold(r.Name, a.Row) || r.Kind == a.Row || slices.Contains(r.Parts, a.Row) {
			if at >= 0 {
				return -1
			}
			at = i
		}
	}
	return at
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
	others, err := v.ask(ctx, k, p)
	if err != nil {
		return nil, err
	}
	of, asked := craftOf(p), v.asked
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

// ask asks what the piece cannot know; others are what buying keeps of every plan.
func (v *BuyView) ask(ctx context.Context, k *plan.Desk, p *plan.Plan) (others map[uint]*Section, err error) {
	prefs, err := work.PrefsOf(k.Store.Read(ctx))
	if err != nil {
		return nil, err
	}
	v.waste = prefs.Waste
	if others, err = plan.EverySection[Section](ctx, k, Key); err != nil {
		return nil, err
	}
	v.asked = v.asks(craftOf(p), Of(p), p.ID, others)
	return others, nil
}

// told implements plan.Stage's Told.
func told(ctx context.Context, k *plan.Desk, p *plan.Plan) (piece.Values, error) {
	var v BuyView
	_, err := v.ask(ctx, k, p)
	return v.asked, err
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
		one := Ask{Setting: a, Value: values[a.Key], Usual: true, Whence: "usually"}
		if _, there := before[a.Key]; there && values[a.Key] != a.Default {
			one.Whence = "yours before:"
		}
		if x, taught := v.waste[of.Name]; taught && slices.Contains(spares, a.Key) && x >= a.Min && x <= a.Max {
			one.Value, one.Whence, values[a.Key] = x, "from your past work:", x
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
		return nil, words.Refuse("A plan of this list was deleted. Choose the others again.")
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
		n.Working = append([]string{"For " + q.Name + ": " + material.AmountWords(n.Amount, UnitOf(n.Kind))}, n.Working...)
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
			held.plans = append(held.plans, fmt.Sprintf("%s kept for %s", material.AmountWords(one.Amount, stock), other.Name))
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
		v.Empty = append(v.Empty, "Choose a piece on Proportion first. What you need is calculated from it.")
		return nil, nil
	}
	m, cards, pattern, written, err := making(p, of, s, asked)
	if err != nil {
		return nil, err
	}
	if len(cards) == 0 {
		v.Empty = append(v.Empty, "No part of the piece has a colour yet. Add some on Proportion.")
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
			if of.Batch != nil { // shares of the whole; the need is of the colourants together
				share /= sum
			}
			one.Amount, one.Spare = n.Amount*share, n.Spare*share
			one.Working = append(slices.Clone(n.Working), fmt.Sprintf("%.3g of it in the mix %s: %s", share, c.Name,
				material.AmountWords(one.Amount, material.StockOf(in.Kind).Units[0].Name)))
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
