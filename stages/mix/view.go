package mix

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/mix"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/store"
)

// MixView is what the page of mixing shows.
type MixView struct {
	Wanted    []WantedView
	Now       *WantedView     // nil when nothing is wanted
	Others    []plan.Wantable // colours of the plan that could be wanted
	Paints    []PaintView     // all that can be mixed, chosen or not
	Chosen    int
	Basis     string
	As        Together
	Ways      []Together // of the kind that is chosen
	Noun      string     // what is mixed: paints, yarns
	Recipes   []RecipeView
	AsIs      *RecipeView
	Past      *Past    // the next try after one that came out off; nil for none
	Few       *FewView // the fewest paints for all; nil unless asked for, or with fewer than two wanted
	Missing   *Missing // nil when a recipe comes near enough
	Rows      []Row    // of the slab: the chosen paints
	Steps     int
	LeftOff   int   // parts of paints that are no longer chosen
	Kinds     int   // of the chosen paints
	Mixed     *Blob // what lies on the slab; nil for nothing
	Path      []Blob
	Batch     *Batch  // the slab as it is weighed; nil while no amount is set
	Trust     float64 // ±, ΔE00
	Records   []RecordView
	Learned   int     // records that were learned from
	Before    float64 // mean ΔE00 of these with the usual strengths
	After     float64 // and with those learned, each left out of its own learning
	UndoLabel string  // the last change of the records, empty for none
}

// WantedView is a colour that waits to be mixed.
type WantedView struct {
	plan.Wish
	Colour colour.Lab
	On     bool
	Reach  string // how near two paints come, at a glance
}

// PaintView is a paint that can be chosen.
type PaintView struct {
	*shelf.Card
	On            bool
	Without, Must bool
	Tried         bool // it has been tried in white
}

// RecipeView is a recipe as it is read.
type RecipeView struct {
	Words  string // 3 Loch blue, 2 Reed yellow
	Apart  float64
	Colour colour.Lab
	Notes  string // all on hand; two paints only
	Lay    string // how it is laid out
	Card   *shelf.Card
	How    string // how it differs, in words
}

// Past is the next try at a colour that came out off: it aims as far past the wanted
// colour as the last one missed it.
type Past struct {
	RecipeView
	Came string // how the last try came out
}

// FewView is the fewest paints that reach all wanted colours.
type FewView struct {
	Names   []string
	Reached int
	Missed  []string // wanted colours that none reaches
	Within  float64
	All     bool // these are the chosen ones already
	Paints  []uint
	Rows    []FewRow
}

// FewRow is a wanted colour and its recipe of those.
type FewRow struct {
	Name   string
	Colour colour.Lab
	Recipe RecipeView
}

// Missing is what no recipe reaches.
type Missing struct {
	Words string
	Paint colour.Lab // of a paint that would close the gap
}

// Row is a paint on the slab.
type Row struct {
	*shelf.Card
	Parts   int
	OneMore string // what one part more would do, in words
}

// Blob is a colour on the slab.
type Blob struct {
	Colour colour.Lab
	Apart  float64 // from the wanted one
}

// Batch is a mix by amounts.
type Batch struct {
	Unit    string
	Amounts []Amount
	Total   float64 // of the rounded amounts
	Shifted float64 // ΔE00 by which rounding changes the colour
	Enough  float64 // the smallest batch of which every part can be weighed; 0 when this one is
}

// Amount is what is weighed of one paint.
type Amount struct {
	Name  string
	Of    float64 // rounded to what can be weighed
	Exact float64
}

// RecordView is a record as it is listed.
type RecordView struct {
	store.Mix
	Colour colour.Lab
	Words  string
	Off    float64 // from what is predicted now
	Day    string
}

// nearEnough is how near a recipe has to come for nothing to be missing, in ΔE00.
const nearEnough = 3.0

// View works out the page of mixing; few asks for the fewest paints for all as well,
// which takes long.
func View(ctx context.Context, k *plan.Desk, p *plan.Plan, few bool) (*MixView, error) {
	records, err := k.Store.Read(ctx).Mixes()
	if err != nil {
		return nil, fmt.Errorf("reading the records of mixes: %w", err)
	}
	s, v := Of(p), &MixView{Others: p.Wantables(), Basis: Of(p).basis()}
	cards := chosen(p)
	v.Chosen = len(cards)
	b := benchOf(k, s, cards, records)
	v.As, v.Noun = b.as, noun(cards)
	for _, t := range Togethers() {
		if len(cards) > 0 && slices.Contains(t.Kinds, cards[0].Kind) {
			v.Ways = append(v.Ways, t)
		}
	}
	for _, c := range onShelf(p) {
		at := slices.Index(cards, c)
		v.Paints = append(v.Paints, PaintView{Card: c, On: at >= 0, Without: slices.Contains(s.Without, c.ID), Must: slices.Contains(s.Must, c.ID), Tried: at >= 0 && b.tried[at]})
	}
	kinds := map[string]bool{}
	for _, c := range cards {
		kinds[c.Kind] = true
	}
	v.Kinds = len(kinds)
	v.Trust = b.trust()
	v.Learned, v.Before, v.After = b.learned.n, b.learned.before, b.learned.after
	v.records(b, records)
	if v.UndoLabel, _, err = k.Store.Read(ctx).Labels(recordScope); err != nil {
		return nil, err
	}
	current, none := now(p)
	for _, w := range p.Targets {
		one := WantedView{Wish: w, Colour: w.Colour(), On: none == nil && w.Key == current.Key}
		one.Reach = reach(b.search(k, s, one.Colour, mix.Limits{Colourants: 2, Parts: s.Parts}), b)
		v.Wanted = append(v.Wanted, one)
		if one.On {
			v.Now = &v.Wanted[len(v.Wanted)-1]
		}
	}
	if none != nil || len(cards) == 0 {
		return v, nil
	}
	for i := range v.Wanted { // the list may have moved while it grew
		if v.Wanted[i].On {
			v.Now = &v.Wanted[i]
		}
	}
	v.recipes(b, b.search(k, s, v.Now.Colour, mix.Limits{Colourants: s.Colourants, Parts: s.Parts}))
	v.past(k, p, b, s, records)
	if few {
		v.few(k, b, s)
	}
	v.slab(b, s.slabOf(current.Key))
	v.batch(b, s)
	return v, nil
}

func (s *Section) slabOf(wanted int) []uint {
	for _, b := range s.Slabs {
		if b.Wanted == wanted {
			return b.Steps
		}
	}
	return nil
}

// reach says how near the best of two paints comes.
func reach(f mix.Found, b bench) string {
	switch {
	case len(f.Recipes) == 0:
		return "no paint chosen"
	case len(f.AsIs.Of) == 1 && f.AsIs.Apart <= max(1, f.Recipes[0].Apart):
		return "as it is: " + b.cards[f.AsIs.Of[0]].Name
	case f.Recipes[0].Apart > 2*nearEnough:
		return fmt.Sprintf("two miss it by %.0f", f.Recipes[0].Apart)
	}
	return fmt.Sprintf("two come within %.0f", math.Ceil(f.Recipes[0].Apart))
}

func (v *MixView) recipes(b bench, f mix.Found) {
	for _, r := range f.Recipes {
		v.Recipes = append(v.Recipes, recipeView(b, r, v.Now.Colour))
	}
	if len(f.AsIs.Of) == 1 {
		as := recipeView(b, f.AsIs, v.Now.Colour)
		as.Card = b.cards[f.AsIs.Of[0]]
		v.AsIs = &as
	}
	if len(f.Recipes) == 0 || f.Recipes[0].Apart <= nearEnough {
		return
	}
	best, want := f.Recipes[0].Colour, v.Now.Colour
	paint := colour.Lab{L: math.Max(0, math.Min(100, 2*want.L-best.L)), A: 2*want.A - best.A, B: 2*want.B - best.B}
	v.Missing = &Missing{Paint: paint,
		Words: fmt.Sprintf("The best recipe stays %s. %s that is clearer and truer to it would reach it.", differs(want, best), words.Capital(words.AFamily(colour.Family(paint))))}
}

func recipeView(b bench, r mix.Recipe, want colour.Lab) RecipeView {
	var names, lay []string
	stock := true
	for i, at := range r.Of {
		c := b.cards[at]
		names = append(names, fmt.Sprintf("%d %s", r.Parts[i], c.Name))
		lay = append(lay, fmt.Sprintf("%d.%d", c.ID, r.Parts[i]))
		stock = stock && c.OnHand() > 0
	}
	out := RecipeView{Words: strings.Join(names, ", "), Apart: r.Apart, Colour: r.Colour, Lay: strings.Join(lay, " "), How: differs(want, r.Colour)}
	var notes []string
	if stock {
		notes = append(notes, "all on hand")
	}
	switch len(r.Of) {
	case 1:
		notes = append(notes, "no mixing")
	case 2:
		notes = append(notes, "two only")
	}
	out.Notes = strings.Join(notes, ", ")
	return out
}

func (v *MixView) slab(b bench, steps []uint) {
	parts := make([]int, len(b.cards))
	for _, id := range steps {
		at := slices.IndexFunc(b.cards, func(c *shelf.Card) bool { return c.ID == id })
		if at < 0 {
			v.LeftOff++
			continue
		}
		parts[at]++
		v.Steps++
		c := b.mixed(parts)
		v.Path = append(v.Path, Blob{c, colour.DeltaE2000(v.Now.Colour, c)})
	}
	if len(v.Path) > 0 {
		last := v.Path[len(v.Path)-1]
		v.Mixed = &last
	}
	for i, c := range b.cards {
		row := Row{Card: c, Parts: parts[i]}
		if v.Mixed != nil {
			parts[i]++
			row.OneMore = differs(v.Mixed.Colour, b.mixed(parts))
			parts[i]--
		}
		v.Rows = append(v.Rows, row)
	}
	// Rows stay where they are while parts are put on: first the paints of the recipes
	// shown, then the rest.
	rank := map[uint]int{}
	for _, r := range v.Recipes {
		for _, f := range strings.Fields(r.Lay) {
			var id uint
			if _, err := fmt.Sscanf(f, "%d.", &id); err == nil && rank[id] == 0 {
				rank[id] = len(rank) - len(b.cards) - 1
			}
		}
	}
	slices.SortStableFunc(v.Rows, func(x, y Row) int { return rank[x.ID] - rank[y.ID] })
}

func (v *MixView) records(b bench, all []store.Mix) {
	for _, r := range all {
		out := RecordView{Mix: r, Colour: colour.Lab{L: r.L, A: r.A, B: r.B}, Day: r.MadeAt.Format("2 Jan 2006"), Off: -1}
		var names []string
		parts, known := make([]int, len(b.cards)), r.Basis == v.Basis
		for _, part := range r.Parts {
			at := slices.IndexFunc(b.cards, func(c *shelf.Card) bool { return c.ID == part.Material })
			if at < 0 {
				known = false
				names = append(names, fmt.Sprintf("%g of a paint not chosen", part.Parts))
				continue
			}
			parts[at] += int(math.Round(part.Parts))
			names = append(names, fmt.Sprintf("%g %s", part.Parts, b.cards[at].Name))
		}
		out.Words = strings.Join(names, ", ")
		if known {
			out.Off = colour.DeltaE2000(out.Colour, b.mixed(parts))
		}
		v.Records = append(v.Records, out)
	}
}
