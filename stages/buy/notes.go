package buy

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"

	"lampfern/core/buying"
	"lampfern/core/colour"
	"lampfern/core/note"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

// sums adds up the rows, groups them, and says what is to be known before buying.
func (v *BuyView) sums(k *plan.Desk, p *plan.Plan, asked piece.Values) {
	for _, b := range v.bought {
		v.Spent += b.Price
	}
	groups := map[string]*Group{}
	var order []string
	for i := range v.Rows {
		r := &v.Rows[i]
		if r.Got == nil || r.Card != nil && r.Card.ID != 0 { // what was bought lies on the shelf
			v.Sum += r.Cost
			if r.Packs > 0 && r.Price == 0 {
				v.Bare++
			}
		}
		if r.Packs > 0 || r.Got != nil {
			g := groups[r.Supplier]
			if g == nil {
				g = &Group{Supplier: r.Supplier}
				groups[r.Supplier] = g
				order = append(order, r.Supplier)
			}
			g.Rows, g.Sum = append(g.Rows, *r), g.Sum+r.Cost
		}
		v.note(p, r)
	}
	for _, o := range v.Own {
		if v.Got(o.Row()) == nil {
			v.Sum += o.Price
		}
	}
	slices.SortStableFunc(order, func(a, b string) int {
		return cmp.Or(cmp.Compare(first(a == ""), first(b == "")), strings.Compare(a, b))
	})
	for _, name := range order {
		v.Groups = append(v.Groups, *groups[name])
	}
	if f := v.Fit; f != nil {
		v.Notes = append(v.Notes, note.Note{Aside: -1, Grade: note.Consider, About: f.About, Words: f.Words,
			Offers: []note.Offer{{Do: "do=fit", Label: f.Label}}})
	}
	v.sending()
	v.afford(k, p, asked)
	v.Notes = together(v.Notes)
	slices.SortStableFunc(v.Notes, func(a, b note.Note) int { return cmp.Compare(first(a.Offers == nil), first(b.Offers == nil)) }) // what can be done comes first
	note.ByGrade(v.Notes)
}

// together makes one note of those that say the same of several rows.
func together(all []note.Note) []note.Note {
	var out []note.Note
	about := map[string][]string{}
	same := func(n note.Note) string { return n.Words + fmt.Sprint(n.Offers) }
	for _, n := range all {
		key := same(n)
		if about[key] == nil {
			out = append(out, n)
		}
		if !slices.Contains(about[key], n.About) {
			about[key] = append(about[key], n.About)
		}
	}
	for i, n := range out {
		out[i].About = words.List(about[same(n)])
	}
	return out
}

func first(is bool) int {
	if is {
		return 1
	}
	return 0
}

// note says what is to be known of one row.
func (v *BuyView) note(p *plan.Plan, r *Row) {
	add := func(g note.Grade, words string, args ...any) {
		v.Notes = append(v.Notes, note.Note{Aside: -1, Grade: g, About: r.Name, Words: fmt.Sprintf(words, args...)})
	}
	if r.Problem != "" {
		add(note.Fix, ": %s", r.Problem)
	}
	for _, w := range r.Warnings {
		add(note.Consider, ": %s", w)
	}
	if r.Short > 0 {
		v.instead(p, r)
	}
	if r.Unused {
		so, label := fmt.Sprintf("so the full %s is listed", r.Buy), "Use several lots"
		if r.spreads() {
			so, label = fmt.Sprintf("so the full %s is listed", r.Buy), "Share the lots out by part"
		}
		if r.Short > 0 {
			so = "and the shop has too little. Use several lots, each for its own parts"
		}
		v.Notes = append(v.Notes, note.Note{Aside: -1, Grade: note.Consider, About: r.Name,
			Words:  fmt.Sprintf(": you have %s, but not enough from one dye lot, %s.", r.amountWords(r.OnHand), so),
			Offers: []note.Offer{{Do: "do=mixed&row=" + r.Key, Label: label}}})
	}
	if c := r.Card; c != nil && c.ID != 0 && r.Packs > 0 && c.Uncertainty >= dearFrom {
		said := fmt.Sprintf(": colour %s. Buy a sample first", sourceWords(c))
		if r.Price > 0 && r.Packs > 1 {
			said += fmt.Sprintf(" (%.2f) before spending %.2f", r.Price, r.Cost)
		}
		add(note.Consider, "%s.", said)
	}
	switch {
	case r.Left != "" && len(r.Also) > 0:
		add(note.Consider, ": %s, but %s may need it too. Reserve what this plan needs.", r.Left, words.List(r.Also))
	case r.Left != "":
		add(note.Fine, ": %s.", r.Left)
	case len(r.Also) > 0 && len(r.Lots) > 0:
		add(note.Consider, ": %s may need it too, and there may not be enough for both.", words.List(r.Also))
	}
}

// spreads reports whether lots can be spread over the parts of a row.
func (r *Row) spreads() bool {
	return len(r.Parts) > 1 && (r.Kind == "fabric" || r.Kind == "yarn")
}

func sourceWords(c *shelf.Card) string { return strings.TrimSuffix(c.SourceWords(), ".") }

// nearlyAs is how near another card has to be to stand for one, in ΔE00.
const nearlyAs = 8.0

// widths are those that cloth is often sold in, in cm; a wider one may need less of its
// length.
var widths = []float64{90, 110, 115, 140, 150, 160}

// otherWidth is what the piece would cost of cloth of another width at the same prices a
// metre; 0 where that saves nothing.
func (v *BuyView) otherWidth(k *plan.Desk, p *plan.Plan, asked piece.Values) (width, saved float64) {
	of, s := craftOf(p), Of(p)
	at := slices.IndexFunc(of.Asks, func(a piece.Setting) bool { return a.Key == "wof" || a.Key == "width" })
	if at < 0 {
		return 0, 0
	}
	for _, full := range widths {
		key, w := of.Asks[at].Key, full
		if key == "wof" {
			w -= 4 // its selvedges
		}
		with := maps.Clone(asked)
		with[key] = w
		var other BuyView
		needs, err := other.ofSet(k, p, of, s, with)
		if err != nil || w <= asked[key] {
			continue
		}
		less := 0.0
		for _, n := range needs {
			i := slices.IndexFunc(v.Rows, func(r Row) bool { return r.Key == n.key })
			if i < 0 || v.Rows[i].Packs == 0 || v.Rows[i].Own || n.Problem != "" || n.Step == 0 {
				continue
			}
			less += v.Rows[i].Cost - v.Rows[i].costOf(n.Amount)
		}
		if less > saved+0.005 {
			width, saved = full, less
		}
	}
	return width, saved
}

// twoAlike are two cards to buy that lie so near one another that one could stand for
// both, and what that would save: the dearer bought no more, the other one's amount grown.
func (v *BuyView) twoAlike() (gone, stays Row, apart, saved float64) {
	for _, a := range v.Rows {
		for _, b := range v.Rows {
			if a.Key == b.Key || a.Card == nil || b.Card == nil || a.Card.ID == 0 || b.Card.ID == 0 || a.Kind != b.Kind || a.Packs == 0 ||
				b.Packs == 0 || a.MixOf != "" || b.MixOf != "" {
				continue
			}
			d := colour.DeltaE2000(a.Card.Colour, b.Card.Colour)
			if d > nearlyAs {
				continue
			}
			less := a.Cost + b.Cost - b.costOf(a.Need+b.Need)
			if less > saved {
				gone, stays, apart, saved = a, b, d, less
			}
		}
	}
	return gone, stays, apart, saved
}

// costOf is what a row would cost if so much were needed of it; as much as it does where that cannot
// be worked out.
func (r *Row) costOf(need float64) float64 {
	ask := r.ask
	ask.Need = need
	order, err := buying.Work(ask)
	if err != nil {
		return r.Cost
	}
	return order.Cost
}

// afford says what drives the sum when it is over the budget, and which smaller changes
// would meet it, or come nearest.
func (v *BuyView) afford(k *plan.Desk, p *plan.Plan, asked piece.Values) {
	over := v.Sum + v.Spent + v.Postage - v.Budget
	if v.Budget == 0 || over <= 0 {
		return
	}
	rows := slices.Clone(v.Rows)
	slices.SortStableFunc(rows, func(a, b Row) int { return cmp.Compare(b.Cost, a.Cost) })
	if len(rows) == 0 || rows[0].Cost == 0 {
		return
	}
	said := fmt.Sprintf(" is exceeded by %.2f. %s is the largest cost (%.2f).", over, rows[0].Name, rows[0].Cost)
	var ways []string
rows:
	for _, r := range rows {
		if r.Card == nil || r.Card.ID == 0 || r.Cost == 0 || r.MixOf != "" {
			continue
		}
		for _, n := range p.Shelf.Nearest(r.Card.Colour, 12, r.Card.ID) {
			inTray := slices.ContainsFunc(p.Tray, func(t plan.TrayCard) bool { return t.ID == n.ID })
			if n.Kind == r.Card.Kind && !inTray && n.Apart <= nearlyAs && n.OnHand() >= r.Need {
				ways = append(ways, fmt.Sprintf("using %s, which you have (ΔE %.0f from %s), saves %.2f (%s)", n.Name, n.Apart, r.Name, r.Cost,
					strings.TrimSuffix(colour.Beside(n.Colour, r.Card.Colour).Words(), ".")))
				break rows
			}
		}
	}
	if gone, stays, apart, saved := v.twoAlike(); saved > 0.005 {
		ways = append(ways, fmt.Sprintf("using %s for %s too (ΔE %.0f) saves %.2f", stays.Name, gone.Name, apart, saved))
	}
	if width, saved := v.otherWidth(k, p, asked); saved > 0.005 {
		ways = append(ways, fmt.Sprintf("cloth %.0f cm wide at the same price saves %.2f", width, saved))
	}
	if len(ways) == 0 {
		ways = append(ways,
			"you have no similar colour, no two colours are close, and no other cloth width saves anything: make the piece smaller, or raise the budget")
	}
	v.Notes = append(v.Notes, note.Note{Aside: -1, Grade: note.Fix, About: "The budget",
		Words: said + " " + words.Capital(strings.Join(ways, "; ")) + "."})
}
