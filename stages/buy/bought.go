package buy

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"lampfern/core/form"
	"lampfern/core/material"
	"lampfern/core/quantity"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/store"
)

// Bought ticks a row of the list: what was bought goes onto the shelf as a lot of its
// material, and into the plan's purchases.
type Bought struct {
	Row   string `form:"row"`
	Much  string `form:"much,optional"`  // in the kind's base unit; empty for what is to be bought
	Price string `form:"price,optional"` // paid for all; empty for what was reckoned
	Lot   string `form:"lot,optional"`

	With []uint // the other plans of the list
}

func (e *Bought) Read(f *form.Form) error {
	e.With = WithOf(f.Texts("with"))
	return nil
}

// WithOf are plans by their numbers; what is no number is left out.
func WithOf(texts []string) (out []uint) {
	for _, t := range texts {
		if id, err := strconv.ParseUint(t, 10, 32); err == nil && !slices.Contains(out, uint(id)) {
			out = append(out, uint(id))
		}
	}
	return out
}

func (e Bought) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	v, err := Rows(ctx, k, p, e.With...)
	if err != nil {
		return "", err
	}
	lot := strings.Join(strings.Fields(e.Lot), " ")
	if len([]rune(lot)) > material.MaxField {
		return "", words.Refuse("The lot is longer than %d characters: shorten it.", material.MaxField)
	}
	b := store.Purchase{PlanID: p.ID, Row: e.Row, BoughtAt: time.Now()}
	at := slices.IndexFunc(v.Rows, func(r Row) bool { return r.Key == e.Row })
	if at < 0 {
		own := slices.IndexFunc(v.Own, func(o OwnLine) bool { return o.Row() == e.Row })
		if own < 0 {
			return "", words.Refuse("That row is no longer on the list: load the page again.")
		}
		o := v.Own[own]
		b.Name, b.Much = o.Name, o.Much
		if b.Price, err = figureOf(e.Price, "price", o.Price); err != nil {
			return "", err
		}
		return o.Name + " is bought.", k.Store.Write(ctx, func(tx store.Tx) error { return tx.PutPurchase(&b) })
	}
	r := v.Rows[at]
	if b.Amount, err = figureOf(e.Much, "amount", r.Packs*r.Each); err != nil {
		return "", err
	}
	if b.Amount == 0 {
		return "", words.Refuse("The list asks for no %s. Write how much you bought, in %s.", r.Name, UnitOf(r.Kind))
	}
	if b.Price, err = figureOf(e.Price, "price", b.Amount/r.Each*r.Price); err != nil {
		return "", err
	}
	b.Name = r.Name
	b.Much = material.AmountWords(b.Amount, UnitOf(r.Kind))
	if r.Card == nil || r.Card.ID == 0 {
		return r.Name + " is bought.", k.Store.Write(ctx, func(tx store.Tx) error { return tx.PutPurchase(&b) })
	}
	if b.Lot = lot; lot == "" {
		b.Lot = "bought " + words.ShortDate(b.BoughtAt)
	}
	b.MaterialID = &r.Card.ID
	err = k.ChangeMaterials(ctx, "buy "+r.Name, []uint{r.Card.ID}, func(m *material.Material) error { return addLot(m, b) },
		func(tx store.Tx) error { return tx.PutPurchase(&b) })
	return fmt.Sprintf("%s of %s is on your shelf, as lot %s.", b.Much, r.Name, b.Lot), err
}

// addLot puts what was bought onto a material as a lot, or to a lot of that name.
func addLot(m *material.Material, b store.Purchase) error {
	unit := UnitOf(m.Kind)
	for i, l := range m.Lots {
		if l.Name != b.Lot {
			continue
		}
		more, err := material.StockOf(m.Kind).Convert(b.Amount, unit, l.Unit, m.Pack)
		if err != nil {
			return words.Refuse("Lot %s is counted in %s: %s.", l.Name, l.Unit, err)
		}
		m.Lots[i].OnHand += more
		m.Lots[i].State = material.InUse
		return nil
	}
	lot := material.Lot{Name: b.Lot, OnHand: b.Amount, Unit: unit}
	if b.Amount > 0 {
		lot.Price = b.Price / b.Amount
	}
	m.Lots = append(m.Lots, lot)
	return nil
}

// Unbought takes a tick back, and what it put onto the shelf.
type Unbought struct {
	ID uint `form:"id"`
}

func (e Unbought) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	all, err := k.Store.Read(ctx).Purchases(p.ID)
	if err != nil {
		return "", fmt.Errorf("reading what was bought: %w", err)
	}
	at := slices.IndexFunc(all, func(b store.Purchase) bool { return b.ID == e.ID })
	if at < 0 {
		return "", words.Refuse("That was already undone.")
	}
	b := all[at]
	drop := func(tx store.Tx) error { return tx.DropPurchase(b.ID) }
	if b.MaterialID == nil {
		return b.Name + " is back on the list.", k.Store.Write(ctx, drop)
	}
	err = k.ChangeMaterials(ctx, "undo the purchase of "+b.Name, []uint{*b.MaterialID}, func(m *material.Material) error {
		take(m, b.Amount, b.Lot)
		return nil
	}, drop)
	return b.Name + " is back on the list, and its lot is removed from the shelf.", err
}

// take takes an amount in the base unit off a material's lots: of one lot where it is
// named, else of the smallest that is enough, else of one after another. It returns
// what was there to take.
func take(m *material.Material, amount float64, lot string) (taken float64) {
	stock := material.StockOf(m.Kind)
	base := func(i int) float64 {
		v, err := stock.Convert(m.Lots[i].OnHand, m.Lots[i].Unit, stock.Units[0].Name, m.Pack)
		if err != nil || m.Lots[i].State == material.UsedUp {
			return 0
		}
		return v
	}
	best := -1
	for i := range m.Lots {
		switch {
		case lot != "" && m.Lots[i].Name == lot:
			best = i
		case lot == "" && base(i) >= amount-1e-9 && (best < 0 || base(i) < base(best)):
			best = i
		}
	}
	order := []int{best}
	if best < 0 {
		order = nil
		for i := range m.Lots {
			if lot == "" {
				order = append(order, i)
			}
		}
	}
	for _, i := range order {
		there := base(i)
		some := min(there, amount-taken)
		if some <= 0 {
			continue
		}
		taken += some
		m.Lots[i].OnHand *= (there - some) / there
		if there-some < 1e-9 {
			m.Lots[i].OnHand, m.Lots[i].State = 0, material.UsedUp
		}
	}
	if lot != "" { // a lot that was only bought goes again
		m.Lots = slices.DeleteFunc(m.Lots, func(l material.Lot) bool { return l.Name == lot && l.OnHand == 0 })
	}
	return taken
}

// Used takes what the piece needs off the shelf, when the work is done.
type Used struct{}

func (Used) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	v, err := Rows(ctx, k, p)
	if err != nil {
		return "", err
	}
	need := map[uint]float64{}
	var ids []uint
	for _, r := range v.Rows {
		if r.Card != nil && r.Card.ID != 0 && r.Need > 0 && len(r.Lots) > 0 {
			if _, there := need[r.Card.ID]; !there {
				ids = append(ids, r.Card.ID)
			}
			need[r.Card.ID] += r.Need
		}
	}
	if len(ids) == 0 {
		return "", words.Refuse("You have none of what the piece takes, so there is nothing to deduct.")
	}
	at := 0
	var said []string
	err = k.ChangeMaterials(ctx, "use up for "+p.Name, ids, func(m *material.Material) error {
		taken := take(m, need[ids[at]], "")
		at++
		said = append(said, fmt.Sprintf("%s of %s", material.AmountWords(taken, UnitOf(m.Kind)), m.Name))
		return nil
	}, func(store.Tx) error { return nil })
	return "Deducted from your shelf: " + words.All(said) + ". Undo it on the shelf.", err
}

// Count says how much of a lot is there, counted or weighed again. A spool of filament may
// be weighed whole, with what it weighs empty.
type Count struct {
	Row   string `form:"row"`
	Lot   int    `form:"lot"` // by its place on the shelf
	Much  string `form:"much"`
	Empty string `form:"empty,optional"`
}

func (e Count) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	v, err := Rows(ctx, k, p)
	if err != nil {
		return "", err
	}
	at := slices.IndexFunc(v.Rows, func(r Row) bool { return r.Key == e.Row && r.Card != nil && r.Card.ID != 0 })
	if at < 0 || e.Lot < 0 || e.Lot >= len(v.Rows[at].Card.Lots) {
		return "", words.Refuse("That lot is no longer on the list: load the page again.")
	}
	r := v.Rows[at]
	much, err := figureOf(e.Much, "amount", 0)
	if err != nil {
		return "", err
	}
	empty, err := figureOf(e.Empty, "weight", 0)
	if err != nil {
		return "", err
	}
	if empty > 0 {
		res, err := quantity.Spool(quantity.SpoolIn{Gross: much, Empty: &empty})
		if err != nil {
			return "", words.Refuse("%s", err)
		}
		much = res.Exact.Left
	}
	unit := UnitOf(r.Kind)
	err = k.ChangeMaterials(ctx, "count "+r.Name+" again", []uint{r.Card.ID}, func(m *material.Material) error {
		if e.Lot >= len(m.Lots) {
			return words.Refuse("That lot is no longer on the shelf: load the page again.")
		}
		l := &m.Lots[e.Lot]
		there, err := material.StockOf(m.Kind).Convert(much, unit, l.Unit, m.Pack)
		if err != nil {
			return words.Refuse("The lot is counted in %s: %s.", l.Unit, err)
		}
		l.OnHand, l.State = there, material.InUse
		if there == 0 {
			l.State = material.UsedUp
		}
		return nil
	}, func(store.Tx) error { return nil })
	return fmt.Sprintf("%s of %s counted. Undo it on the shelf.", material.AmountWords(much, unit), r.Name), err
}

// figureOf reads a figure that is written; empty is otherwise.
func figureOf(text, what string, otherwise float64) (float64, error) {
	if strings.TrimSpace(text) == "" {
		return otherwise, nil
	}
	n, err := strconv.ParseFloat(strings.Replace(strings.TrimSpace(text), ",", ".", 1), 64)
	if err != nil || !(n >= 0 && n <= mostAmount) {
		return 0, words.Refuse("%q is not a number. Write the %s in figures, or leave it empty.", text, what)
	}
	return n, nil
}

// UnitOf is the base unit of a kind.
func UnitOf(kind string) string { return material.StockOf(kind).Units[0].Name }
