package buy

import (
	"context"
	"fmt"
	"net/url"
	"slices"
	"strings"

	"lampfern/core/buying"
	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/note"
	"lampfern/core/words"
	"lampfern/exchange"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/store"
)

// offers are the lines of price lists for what is needed, by reference and by name in
// small letters.
func (v *BuyView) offers(ctx context.Context, k *plan.Desk, needs []needed) (map[string][]store.Price, error) {
	tx := k.Store.Read(ctx)
	sellers, err := tx.Sellers()
	if err != nil {
		return nil, fmt.Errorf("reading the sellers: %w", err)
	}
	v.Sellers, v.Server = sellers, k.PricesAddress != ""
	out := map[string][]store.Price{}
	if len(sellers) == 0 {
		return out, nil
	}
	var references, names []string
	for _, n := range needs {
		if n.card != nil && n.card.ID != 0 {
			references, names = append(references, n.card.Reference), append(names, strings.ToLower(n.card.Name))
		}
	}
	all, err := tx.PricesFor(references, names)
	if err != nil {
		return nil, fmt.Errorf("reading the prices: %w", err)
	}
	if err := v.partPrices(tx, needs); err != nil {
		return nil, err
	}
	for _, o := range all {
		if o.Part != "" {
			continue
		}
		if o.Reference != "" {
			out["#"+o.Reference] = append(out["#"+o.Reference], o)
		}
		name := strings.ToLower(o.Name)
		out[name] = append(out[name], o)
	}
	return out, nil
}

// partPrices are the lines for the ready-made parts that are needed.
func (v *BuyView) partPrices(tx store.Tx, needs []needed) error {
	var parts []string
	for _, n := range needs {
		for _, s := range n.Sizes {
			if !slices.Contains(parts, s.Part) {
				parts = append(parts, s.Part)
			}
		}
	}
	if len(parts) == 0 {
		return nil
	}
	all, err := tx.PricesOf(parts)
	if err != nil {
		return fmt.Errorf("reading the prices of parts: %w", err)
	}
	v.parts = all
	return nil
}

// byParts prices a row of ready-made parts part by part where sellers list them so, and
// says which part is not made in its colour, and in which it is.
func (v *BuyView) byParts(r *Row) {
	if len(r.Sizes) == 0 || r.Packs == 0 || len(v.parts) == 0 {
		return
	}
	var sizes []buying.Size
	var from *store.Price
	total := 0.0
	for _, s := range r.Sizes {
		total += s.Count
		best, made := v.partOffer(s.Part, r.Name)
		if best == nil {
			if sizes = append(sizes, buying.Size{Count: s.Count}); len(made) > 0 {
				v.Notes = append(v.Notes, note.Note{Aside: -1, Grade: note.Fix, About: r.Name,
					Words: fmt.Sprintf(": %s is not made in this colour; it is in %s.", s.Part, words.List(made))})
			}
			continue
		}
		from, sizes = best, append(sizes, buying.Size{Count: s.Count, Price: best.Price, Pack: best.Pack})
		packs := buying.Packs(s.Count, best.Pack)
		r.Working = append(r.Working, fmt.Sprintf("%s: %g at %s, %g × %.2f = %.2f", s.Part, s.Count, best.Seller, packs, best.Price,
			packs*best.Price))
	}
	cost, priced := buying.ByParts(r.Packs, sizes)
	if !priced {
		return
	}
	r.Cost, r.Currency = cost, from.Currency
	if r.Packs < total-1e-9 {
		r.Working = append(r.Working, fmt.Sprintf("buy %g of %g, in equal shares of each part: %.2f", r.Packs, total, r.Cost))
	}
	r.Price, r.Supplier, r.Offers, r.Short, r.ask.Offer = r.Cost/r.Packs, from.Seller, nil, 0, nil
	r.ask.Price = r.Price
	r.Asked = ""
}

// partOffer is the cheapest offer of a ready-made part in a colour; where there is none, the colours
// that it is made in.
func (v *BuyView) partOffer(part, colour string) (best *store.Price, made []string) {
	for i, o := range v.parts {
		switch {
		case o.Part != part || o.Vanished || o.Discontinued:
		case strings.EqualFold(o.Name, colour):
			if best == nil || o.Price/o.Pack < best.Price/best.Pack {
				best = &v.parts[i]
			}
		case !slices.Contains(made, o.Name):
			made = append(made, o.Name)
		}
	}
	slices.Sort(made)
	return best, made
}

// offersOf are what price lists ask for a card: that of its own supplier first, then the
// least price.
func offersOf(c *shelf.Card, offers map[string][]store.Price) []store.Price {
	var out []store.Price
	stock := material.StockOf(c.Kind)
	add := func(o store.Price) {
		same := slices.ContainsFunc(out, func(x store.Price) bool { return x.ID == o.ID })
		if _, err := stock.Convert(o.Pack, o.Unit, stock.Units[0].Name, c.Pack); err == nil && !same && o.Kind == c.Kind {
			out = append(out, o)
		}
	}
	for _, o := range offers["#"+c.Reference] {
		if c.Reference != "" && strings.EqualFold(o.Seller, c.Supplier) {
			add(o)
		}
	}
	for _, o := range offers[strings.ToLower(c.Name)] {
		add(o)
	}
	rank := func(o store.Price) int {
		return 4*first(o.Vanished || o.Discontinued) + 2*first(o.Stock != nil && *o.Stock == 0) + first(!strings.EqualFold(o.Seller, c.Supplier))
	}
	slices.SortStableFunc(out, func(a, b store.Price) int { return rank(a) - rank(b) })
	return out
}

// tried is how many near cards are looked at to stand for one that cannot be had.
const tried = 12

// instead says that a card cannot be had in full, and which near one can.
func (v *BuyView) instead(p *plan.Plan, r *Row) {
	said := fmt.Sprintf(" is %s short at %s.", material.AmountWords(r.Short*r.Each, UnitOf(r.Kind)), or(r.Supplier, "the shop"))
	if r.Short < r.Packs {
		said = fmt.Sprintf(" is %s short at %s.", material.AmountWords(r.Short*r.Each, UnitOf(r.Kind)), or(r.Supplier, "the shop"))
	}
	if len(r.Offers) > 0 && r.Offers[0].Vanished {
		said = fmt.Sprintf(" is no longer in the newest list of %s.", r.Supplier)
	}
	out := note.Note{Aside: -1, Grade: note.Fix, About: r.Name, Words: said}
	var key int
	// one that stands for another is not replaced here
	if _, err := fmt.Sscanf(r.Key, "card%d", &key); err == nil && r.Card != nil && !strings.Contains(r.Key, "-m") {
		for _, n := range p.Shelf.Nearest(r.Card.Colour, tried, r.Card.ID) {
			inTray := slices.ContainsFunc(p.Tray, func(t plan.TrayCard) bool { return t.ID == n.ID })
			if n.Kind == r.Card.Kind && !inTray && !n.Discontinued && n.OnHand() >= r.Need {
				out.Words += fmt.Sprintf(" Nearest on hand: %s, %s", n.Name, colour.Beside(n.Colour, r.Card.Colour).Words())
				if does := AtTheShop(p, n.Colour, key).Does; len(does) > 0 {
					out.Words += " On the piece: " + strings.Join(does, " ")
				}
				out.Offers = []note.Offer{{Do: fmt.Sprintf("do=replace&key=%d&material=%d", key, n.ID), Label: "Take " + n.Name + " instead",
					See: url.Values{"lab": {fmt.Sprintf("%.2f %.2f %.2f", n.Colour.L, n.Colour.A, n.Colour.B)}, "as": {fmt.Sprint(key)}}.Encode()}}
				break
			}
		}
	}
	v.Notes = append(v.Notes, out)
}

func or(text, otherwise string) string {
	if text == "" {
		return otherwise
	}
	return text
}

// sending adds up what the sellers of the list ask beside their prices, and compares the
// least sum with the fewest sellers.
func (v *BuyView) sending() {
	lists, postage := map[string]store.Price{}, map[string]float64{}
	for _, s := range v.Sellers {
		lists[s.Seller], postage[s.Seller] = s, s.Postage
	}
	currencies, several := map[string]bool{}, false
	var rows []Row
	for _, r := range v.Rows {
		if r.Packs > 0 && r.Price > 0 {
			rows = append(rows, r)
			currencies[r.Currency] = true
			several = several || slices.ContainsFunc(r.Offers, func(o store.Price) bool { return o.Seller != r.Supplier })
		}
	}
	if len(currencies) > 1 {
		v.Notes = append(v.Notes, note.Note{Aside: -1, Grade: note.Fix, About: "Prices",
			Words: " are in several currencies, and the total adds them without converting. Import price lists in one currency."})
	}
	for _, g := range v.Groups {
		s, known := lists[g.Supplier]
		if !known || g.Sum == 0 {
			continue
		}
		v.Postage += s.Postage
		if s.LeastOrder > g.Sum {
			v.Notes = append(v.Notes, note.Note{Aside: -1, Grade: note.Consider, About: g.Supplier,
				Words: fmt.Sprintf(" takes orders from %.2f; yours is %.2f.", s.LeastOrder, g.Sum)})
		}
		if s.LeadDays > 0 {
			v.Notes = append(v.Notes, note.Note{Aside: -1, Grade: note.Fine, About: g.Supplier,
				Words: fmt.Sprintf(" delivers in %s; postage %.2f.", words.Plural(s.LeadDays, "day", "days"), s.Postage)})
		}
	}
	if several && len(currencies) == 1 {
		v.compare(rows, postage)
	}
}

// compare says the least sum with postage, and what the fewest sellers ask.
func (v *BuyView) compare(rows []Row, postage map[string]float64) {
	var list []buying.Row
	for _, r := range rows {
		one := buying.Row{Cost: r.Cost, Seller: or(r.Supplier, "anywhere")}
		for _, o := range r.Offers {
			if cost, had := r.costAt(o); had {
				one.Others = append(one.Others, buying.Quote{Seller: o.Seller, Cost: cost})
			}
		}
		list = append(list, one)
	}
	least, fewest := buying.Sums(list, postage)
	said := fmt.Sprintf(" is %.2f from %s, with postage", least.Cost, words.All(least.Sellers))
	switch {
	case !slices.Equal(least.Sellers, fewest.Sellers):
		said += fmt.Sprintf("; from the fewest suppliers, %s, it is %.2f.", words.All(fewest.Sellers), fewest.Cost)
	case len(least.Sellers) == 1:
		said = fmt.Sprintf(" is %.2f from %s alone, with postage.", least.Cost, least.Sellers[0])
	default:
		said += "; no fewer suppliers have it all."
	}
	v.Notes = append(v.Notes, note.Note{Aside: -1, Grade: note.Fine, About: "The lowest total", Words: said})
}

// costAt is what a row costs by an offer, and whether it can be had by that.
func (r *Row) costAt(o store.Price) (cost float64, had bool) {
	stock := material.StockOf(r.Kind)
	unit, err := stock.Convert(o.Pack, o.Unit, UnitOf(r.Kind), o.Pack)
	if err != nil || unit == 0 {
		return r.Cost, true
	}
	return buying.Cost(r.Packs*r.Each/unit, o.Price), !o.Vanished && !o.Discontinued && o.Currency == r.Currency &&
		(o.Stock == nil || *o.Stock > 0)
}

// AskPrices asks the server of price lists and keeps what it answers.
type AskPrices struct{}

func (AskPrices) Act(ctx context.Context, k *plan.Desk, _ *plan.Plan) (string, error) {
	return k.FetchPrices(ctx)
}

// BringPrices takes a seller's list from a file.
type BringPrices struct{ File plan.File }

func (e *BringPrices) Take(f plan.File) { e.File = f }

// Do keeps the list; the plan stays as it is.
func (e BringPrices) Do(d *plan.Draft) (string, error) {
	lists, err := plan.Read(d, func(ctx context.Context) ([]exchange.PriceList, error) { return exchange.ReadPrices(ctx, e.File.Data) })
	if err != nil {
		return "", err
	}
	d.Beside(func(tx store.Tx) error {
		said, err := shelf.TakePrices(tx, lists, d.Now)
		d.Say(said)
		return err
	})
	return "", nil
}

// DropPrices lets go of a seller's list; it can be asked for, or brought in, again.
type DropPrices struct {
	Seller string `form:"seller"`
}

func (e DropPrices) Act(ctx context.Context, k *plan.Desk, _ *plan.Plan) (string, error) {
	return "The prices of " + e.Seller + " are deleted.", k.Store.Write(ctx, func(tx store.Tx) error { return tx.DropPrices(e.Seller) })
}
