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

// mixable are the kinds of material that can be mixed, in the order they are offered.
func mixable() []string {
	var out []string
	for _, t := range Togethers() {
		for _, k := range t.Kinds {
			if !slices.Contains(out, k) {
				out = append(out, k)
			}
		}
	}
	return out
}

// Whites are cards so light and so near grey, in L* and C*ab.
const (
	whiteFrom = 92.0
	whiteGrey = 8.0
)

func isWhite(c colour.Lab) bool { return c.L >= whiteFrom && c.Chroma() <= whiteGrey }

// sewing is the kind that most crafts use and few mix: it is offered with all the rest.
const sewing = "thread"

// onShelf are the cards of the shelf that can be mixed: of the kinds that the thing is
// made of, or of every kind when the shelf has none of those.
func onShelf(p *plan.Plan) []*shelf.Card {
	var all, made []*shelf.Card
	mixed, of := mixable(), p.MadeOf()
	for _, c := range p.Shelf.Cards {
		if c.Removed || !slices.Contains(mixed, c.Kind) {
			continue
		}
		all = append(all, c)
		if slices.Contains(of, c.Kind) && c.Kind != sewing {
			made = append(made, c)
		}
	}
	if len(made) > 0 {
		return made
	}
	return all
}

// atHand are the paints that are taken when none are chosen: those that can still be
// had of one kind, for kinds do not mix in one pot: the first of those that the thing
// is made of, else the first that mixes.
func atHand(p *plan.Plan) []*shelf.Card {
	all := slices.DeleteFunc(onShelf(p), func(c *shelf.Card) bool { return c.Discontinued && c.OnHand() <= 0 })
	for _, kind := range slices.Concat(p.MadeOf(), mixable()) {
		if kind == sewing && slices.ContainsFunc(all, func(c *shelf.Card) bool { return c.Kind != sewing }) {
			continue
		}
		of := slices.DeleteFunc(slices.Clone(all), func(c *shelf.Card) bool { return c.Kind != kind })
		if len(of) > 0 {
			return of[:min(len(of), mostPaints)]
		}
	}
	return nil
}

func ids(cards []*shelf.Card) []uint {
	var out []uint
	for _, c := range cards {
		out = append(out, c.ID)
	}
	return out
}

// chosen are the paints of the plan.
func chosen(p *plan.Plan) []*shelf.Card {
	s := Of(p)
	if len(s.Paints) == 0 {
		return atHand(p)
	}
	var out []*shelf.Card
	for _, id := range s.Paints {
		if c, err := p.Shelf.Card(id); err == nil && !c.Removed {
			out = append(out, c)
		}
	}
	return out
}

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

// noun is what is mixed, in the plural.
func noun(cards []*shelf.Card) string {
	if len(cards) == 0 {
		return "paints"
	}
	switch kind := cards[0].Kind; kind {
	case "pigment or dye":
		return "pigments"
	default:
		return kind + "s"
	}
}

// basis is what parts are measured by.
func (s *Section) basis() string {
	if s.Basis == "" {
		return Bases()[0]
	}
	return s.Basis
}

// bench are the paints of a plan ready to be mixed, with what was learned of them.
type bench struct {
	cards    []*shelf.Card
	ready    []mix.Paint
	strength []float64
	tried    []bool // in white
	learned  learned
	as       Together
}

type learned struct {
	strength      []float64
	before, after float64
	n             int
	left          []float64
}

// mostLeftOut bounds the records that are left out of their own learning one by one.
const mostLeftOut = 40

// benchOf makes the paints of a plan ready.
func benchOf(k *plan.Desk, s *Section, cards []*shelf.Card, records []store.Mix) bench {
	b, basis := bench{cards: cards, tried: make([]bool, len(cards)), as: s.together("")}, s.basis()
	if len(cards) > 0 {
		b.as = s.together(cards[0].Kind)
	}
	var start []float64
	var held []bool
	key := "mix-learn " + basis + b.as.Key
	oneHeld := false
	for _, c := range cards {
		white := isWhite(c.Colour)
		b.ready = append(b.ready, plan.Recall(k, fmt.Sprint("mix-paint ", b.as.Key, c.Colour), func() mix.Paint { return mix.ReadyAs(c.Colour, b.as.Way) }))
		strength := 1.0 // fibres and strands count by their weight
		if b.as.Way == mix.Opaque {
			strength = mix.DefaultStrength(c.Colour, white)
		}
		start = append(start, strength)
		held = append(held, white && !oneHeld || b.as.Way != mix.Opaque)
		oneHeld = oneHeld || white
		key += fmt.Sprint(" ", c.ID, c.Colour)
	}
	var logs []mix.Log
	for _, r := range records {
		if r.KeptOff || r.ReadAs != States()[0] || r.Basis != basis {
			continue
		}
		log, known := mix.Log{Parts: make([]float64, len(cards)), Measured: colour.Lab{L: r.L, A: r.A, B: r.B}}, true
		for _, part := range r.Parts {
			at := slices.IndexFunc(cards, func(c *shelf.Card) bool { return c.ID == part.Material })
			if known = known && at >= 0; known {
				log.Parts[at] += part.Parts
			}
		}
		if !known {
			continue
		}
		logs = append(logs, log)
		if len(r.Parts) == 2 { // a tint tells most
			for at := range cards {
				if log.Parts[at] > 0 && !isWhite(cards[at].Colour) && slices.ContainsFunc(cards, func(c *shelf.Card) bool {
					return isWhite(c.Colour) && log.Parts[slices.Index(cards, c)] >= 3*log.Parts[at]
				}) {
					b.tried[at] = true
				}
			}
		}
		key += fmt.Sprint(" ", r.ID, log)
	}
	b.learned = plan.Recall(k, key, func() learned {
		var l learned
		var after float64
		l.strength, l.before, after = mix.Fit(b.ready, start, held, logs)
		l.n, l.after = len(logs), after
		if some := logs[:min(len(logs), mostLeftOut)]; len(some) > 1 {
			l.left = mix.LeftOut(b.ready, start, held, some)
			l.after = 0
			for _, e := range l.left {
				l.after += e / float64(len(l.left))
			}
		}
		return l
	})
	b.strength = b.learned.strength
	return b
}

// trust is the ± of predictions with these paints.
func (b bench) trust() float64 {
	all := len(b.cards) > 0
	for i, c := range b.cards {
		all = all && (b.tried[i] || isWhite(c.Colour))
	}
	return mix.Trust(b.learned.left, all)
}

// mixed is the colour of parts by paint.
func (b bench) mixed(parts []int) colour.Lab {
	w := make([]float64, len(parts))
	for i, n := range parts {
		w[i] = float64(n) * b.strength[i]
	}
	return mix.Mixed(b.ready, w)
}

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

// search finds recipes, or remembers them.
func (b bench) search(k *plan.Desk, s *Section, wanted colour.Lab, l mix.Limits) mix.Found {
	var all []mix.Colourant
	key := fmt.Sprint("mix-search ", b.as.Key, wanted, l)
	for i, c := range b.cards {
		if slices.Contains(s.Without, c.ID) {
			continue
		}
		must := slices.Contains(s.Must, c.ID)
		all = append(all, mix.Colourant{Paint: b.ready[i], Strength: b.strength[i], Must: must})
		key += fmt.Sprint(" ", c.ID, c.Colour, b.strength[i], must)
	}
	found := plan.Recall(k, key, func() mix.Found { return mix.Search(all, wanted, l) })
	// Numbers of the search are those of the paints that are not left out.
	if len(all) == len(b.cards) {
		return found
	}
	var at []int
	for i, c := range b.cards {
		if !slices.Contains(s.Without, c.ID) {
			at = append(at, i)
		}
	}
	back := func(r mix.Recipe) mix.Recipe {
		of := make([]int, len(r.Of))
		for i, n := range r.Of {
			of[i] = at[n]
		}
		r.Of = of
		return r
	}
	out := mix.Found{AsIs: back(found.AsIs)}
	for _, r := range found.Recipes {
		out.Recipes = append(out.Recipes, back(r))
	}
	return out
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

// Differences from which they are named: value steps, C*ab, and degrees of hue where
// there is enough of it. A third of them is a little.
const (
	lighterFrom = 0.2
	clearerFrom = 3.0
	leansFrom   = 5.0
	hueFrom     = 8.0
	little      = 1.0 / 3
)

// differs says how a colour differs from another, in words.
func differs(from, c colour.Lab) string {
	if out := differing(from, c, 1); len(out) > 0 {
		return words.List(out)
	}
	if out := differing(from, c, little); len(out) > 0 {
		return "a little " + words.List(out)
	}
	return "hardly different"
}

func differing(from, c colour.Lab, of float64) (out []string) {
	switch d := (c.L - from.L) / 10; {
	case d >= lighterFrom && of == 1:
		out = append(out, fmt.Sprintf("lighter by %.1f", d))
	case d <= -lighterFrom && of == 1:
		out = append(out, fmt.Sprintf("darker by %.1f", -d))
	case d >= of*lighterFrom:
		out = append(out, "lighter")
	case d <= -of*lighterFrom:
		out = append(out, "darker")
	}
	switch d := c.Chroma() - from.Chroma(); {
	case d >= of*clearerFrom:
		out = append(out, "clearer")
	case d <= -of*clearerFrom:
		out = append(out, "greyer")
	}
	if from.Chroma() >= hueFrom && c.Chroma() >= hueFrom && math.Abs(colour.HueBetween(from.OKLCh().H, c.OKLCh().H)) >= of*leansFrom {
		out = append(out, "more to "+string(colour.TurnsToward(from, c)))
	}
	return out
}

// ApartWords says how far two colours are apart, in whole ΔE00.
func ApartWords(apart float64) string {
	if apart < 1 {
		return "under 1 apart"
	}
	return fmt.Sprintf("%.0f apart", apart)
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

// batch turns the slab into amounts.
func (v *MixView) batch(b bench, s *Section) {
	if v.Mixed == nil || s.Total == 0 {
		return
	}
	var parts, weights []float64
	var paints []mix.Paint
	out := &Batch{Unit: Unit(v.Basis)}
	for _, r := range v.Rows {
		if r.Parts > 0 {
			parts = append(parts, float64(r.Parts))
			out.Amounts = append(out.Amounts, Amount{Name: r.Name})
		}
	}
	exact, rounded, enough := mix.Amounts(parts, s.Total, max(s.Least, map[bool]float64{true: 1}[out.Unit == "drops"]))
	out.Enough = enough
	at := 0
	for _, r := range v.Rows {
		if r.Parts == 0 {
			continue
		}
		i := slices.Index(b.cards, r.Card)
		paints, weights = append(paints, b.ready[i]), append(weights, rounded[at]*b.strength[i])
		out.Amounts[at].Of, out.Amounts[at].Exact = rounded[at], exact[at]
		out.Total += rounded[at]
		at++
	}
	out.Shifted = colour.DeltaE2000(v.Mixed.Colour, mix.Mixed(paints, weights))
	v.Batch = out
}

// pastFrom is how far the last try must have come out off, in ΔE00, for the next to aim
// past, and pastTo how far it may: what missed by more was something else.
const (
	pastFrom = 2.0
	pastTo   = anotherOne
)

// past finds the next try after the newest dry record of the wanted colour.
func (v *MixView) past(k *plan.Desk, p *plan.Plan, b bench, s *Section, records []store.Mix) {
	at := slices.IndexFunc(records, func(r store.Mix) bool {
		return r.PlanID != nil && *r.PlanID == p.ID && r.Name == v.Now.Name && r.ReadAs == States()[0] && r.Basis == v.Basis && !r.KeptOff
	})
	if at < 0 {
		return
	}
	last, want := colour.Lab{L: records[at].L, A: records[at].A, B: records[at].B}, v.Now.Colour
	if off := colour.DeltaE2000(want, last); off < pastFrom || off > pastTo {
		return
	}
	parts := make([]int, len(b.cards))
	for _, part := range records[at].Parts {
		i := slices.IndexFunc(b.cards, func(c *shelf.Card) bool { return c.ID == part.Material })
		if i < 0 {
			return
		}
		parts[i] += int(math.Round(part.Parts))
	}
	aim := mix.AimPast(b.mixed(parts), want, last)
	found := b.search(k, s, aim, mix.Limits{Colourants: s.Colourants, Parts: s.Parts})
	if len(found.Recipes) == 0 {
		return
	}
	r := found.Recipes[0]
	v.Past = &Past{Came: differs(want, last)}
	v.Past.RecipeView = recipeView(b, r, want)
}

// few finds the fewest paints for all wanted colours.
func (v *MixView) few(k *plan.Desk, b bench, s *Section) {
	if len(v.Wanted) < 2 {
		return
	}
	var all []mix.Colourant
	var at []int
	key := fmt.Sprint("mix-few ", b.as.Key, s.Colourants, s.Parts)
	for i, c := range b.cards {
		if slices.Contains(s.Without, c.ID) {
			continue
		}
		all = append(all, mix.Colourant{Paint: b.ready[i], Strength: b.strength[i]})
		at = append(at, i)
		key += fmt.Sprint(" ", c.ID, c.Colour, b.strength[i])
	}
	var wanted []colour.Lab
	for _, w := range v.Wanted {
		wanted = append(wanted, w.Colour)
		key += fmt.Sprint(" ", w.Colour)
	}
	found := plan.Recall(k, key, func() mix.Few {
		return mix.FewForAll(all, wanted, nearEnough, mix.Limits{Colourants: s.Colourants, Parts: s.Parts})
	})
	out := &FewView{Within: nearEnough, All: len(found.Of) == len(b.cards)}
	for _, i := range found.Of {
		out.Names, out.Paints = append(out.Names, b.cards[at[i]].Name), append(out.Paints, b.cards[at[i]].ID)
	}
	for i, r := range found.Recipes {
		if len(r.Of) == 0 {
			out.Missed = append(out.Missed, v.Wanted[i].Name)
			continue
		}
		back := slices.Clone(r.Of)
		for n := range back {
			back[n] = at[back[n]]
		}
		r.Of = back
		out.Reached++
		out.Rows = append(out.Rows, FewRow{v.Wanted[i].Name, v.Wanted[i].Colour, recipeView(b, r, v.Wanted[i].Colour)})
	}
	v.Few = out
}
