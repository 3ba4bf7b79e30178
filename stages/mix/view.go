package mix

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/material"
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
	Step      float64 // dose of one part; 0 where parts are no doses
	Oils      float64 // % of the batter that is oils, by the recipe that the craft was told; 0 for none
	Ground    *Ground // what is added to; nil for none
	Parts     int     // of a recipe at most
	NoneHere  bool    // nothing of what is chosen is on hand, and only that is asked for
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
	LeftOff   int      // parts of paints that are no longer chosen
	Over      []string // colourants on the slab that are over their supplier's limit, as sentences
	Lighter   string   // that the wanted colour is lighter than its ground; empty where it is not
	Shift     string   // what the additive does, as a sentence; empty without one
	Teach     *TeachView
	Pour      *PourView // the batter of a poured piece; nil for none
	Kinds     int       // of the chosen paints
	Mixed     *Blob     // what lies on the slab; nil for nothing
	Path      []Blob
	Batch     *Batch  // the slab as it is weighed; nil while no amount is set
	Trust     float64 // ±, ΔE00
	Records   []RecordView
	Learned   int     // records that were learned from
	Before    float64 // mean ΔE00 of these with the usual strengths
	After     float64 // and with those learned, each left out of its own learning
	UndoLabel string  // the last change of the records, empty for none

	inBatter func(dose float64) (perCent float64, ok bool)
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
	Tried         bool   // it has been tried in white, or alone in its ground
	Dose          string // what its colour is taken to have been tried at; empty where there are no doses
	Told          bool   // the maker said so
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
	Tube    *Tube // the one more that would save most mixing; nil for none
}

// Tube is a paint that would save mixing.
type Tube struct {
	Words   string
	Name    string
	Colour  colour.Lab
	OnShelf bool
}

// FewRow is a wanted colour and its recipe of those.
type FewRow struct {
	Key    int // of the wanted colour
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
	In      string // the parts as they are read in a recipe
	Dose    string // the parts as a dose; empty where there are none
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
	Base    float64 // that doses go into; 0 where there are none
	colour  colour.Lab
}

// Amount is what is weighed of one paint.
type Amount struct {
	Name  string
	Of    float64 // rounded to what can be weighed
	Exact float64
	Dose  string // empty where there are none
}

// RecordView is a record as it is listed.
type RecordView struct {
	store.Mix
	Colour colour.Lab
	Words  string
	Off    float64 // from what is predicted now; −1 where that cannot be said
	Day    string
	Why    string // why nothing is learned from it here; empty where it is
	Went   []Went // what went in, to be corrected
}

// Went is what went into a record of one material.
type Went struct {
	Name  string
	Parts float64
}

// nearEnough is how near a recipe has to come for nothing to be missing, in ΔE00.
const nearEnough = 3.0

// recordsOf are all records of mixes, the newest first.
func recordsOf(ctx context.Context, k *plan.Desk) ([]store.Mix, error) {
	records, err := k.Store.Read(ctx).Mixes()
	if err != nil {
		return nil, fmt.Errorf("reading the records of mixes: %w", err)
	}
	return records, nil
}

// OnSlab works out what lies on the slab and nothing beside it: no recipe is looked for. Acts that
// keep the mix as it is read this.
func OnSlab(ctx context.Context, k *plan.Desk, p *plan.Plan) (*MixView, error) {
	return partOf(ctx, k, p, func(v *MixView, b bench, s *Section) {
		v.slab(b, s.slabOf(v.Now.Key))
		slices.SortStableFunc(v.Rows, func(x, y Row) int { return y.Parts - x.Parts }) // as a recipe is written: most first
		v.batch(b, s)
	})
}

// partOf works out one part of the page, of the wanted colour that is mixed, where paints are chosen.
func partOf(ctx context.Context, k *plan.Desk, p *plan.Plan, fill func(*MixView, bench, *Section)) (*MixView, error) {
	w, err := now(p)
	if err != nil {
		return nil, err
	}
	records, err := recordsOf(ctx, k)
	if err != nil {
		return nil, err
	}
	v := &MixView{Now: &WantedView{Wish: w, Colour: w.Colour(), On: true}}
	b, err := v.bench(ctx, k, p, records)
	if err == nil && v.Chosen > 0 {
		fill(v, b, b.s)
	}
	return v, err
}

// bench makes the chosen paints ready, and takes in what they are mixed as.
func (v *MixView) bench(ctx context.Context, k *plan.Desk, p *plan.Plan, records []store.Mix) (bench, error) {
	cards := chosen(p)
	b, err := benchOf(ctx, k, p, cards, records)
	if err != nil {
		return b, err
	}
	v.Chosen, v.As, v.Noun, v.Basis, v.Ground, v.Parts = len(cards), b.as, noun(b.as, cards), b.basis, b.ground, b.parts
	if b.as.Way == mix.Doses {
		v.Step = b.step
		if b.s.told != nil {
			v.Oils = b.s.told.Oils
		}
	}
	v.inBatter = func(dose float64) (float64, bool) { return b.s.perBatter(dose, b.basis, b.basis) }
	return b, nil
}

// View works out the page of mixing; few asks for the fewest paints for all as well,
// which takes long.
func View(ctx context.Context, k *plan.Desk, p *plan.Plan, few bool) (*MixView, error) {
	records, err := recordsOf(ctx, k)
	if err != nil {
		return nil, err
	}
	v := &MixView{Others: p.Wantables()}
	b, err := v.bench(ctx, k, p, records)
	if err != nil {
		return nil, err
	}
	s, cards := b.s, chosen(p)
	v.NoneHere = s.OnHand && len(cards) > 0 && !slices.ContainsFunc(cards, func(c *shelf.Card) bool { return c.OnHand() > 0 })
	if len(cards) > 0 {
		v.Ways = waysOf(cards[0].Kind, p.Craft)
	}
	for _, c := range onShelf(p) {
		at := slices.Index(cards, c)
		one := PaintView{Card: c, On: at >= 0, Without: slices.Contains(s.Without, c.ID), Must: slices.Contains(s.Must, c.ID), Tried: at >= 0 &&
			b.tried[at]}
		if b.as.Way == mix.Doses {
			dose, told := s.tried(c.Dose, b.basis)
			one.Dose, one.Told = DoseWords(dose, b.basis), told
		}
		v.Paints = append(v.Paints, one)
	}
	kinds := map[string]bool{}
	for _, c := range cards {
		if b.as.Way != mix.Doses || !slices.Contains(b.as.Kinds, c.Kind) {
			kinds[c.Kind] = true
		}
	}
	v.Kinds = len(kinds)
	v.Trust = b.trust()
	v.Learned, v.Before, v.After = b.learned.n, b.learned.before, b.learned.after
	v.records(b, records)
	if err := v.pour(ctx, k, p, b); err != nil {
		return nil, err
	}
	if v.UndoLabel, err = shelf.MixSteps(k.Store.Read(ctx)); err != nil {
		return nil, err
	}
	current, none := now(p)
	for _, w := range p.Targets {
		one := WantedView{Wish: w, Colour: w.Colour(), On: none == nil && w.Key == current.Key}
		one.Reach = reach(b.search(k, s, one.Colour, mix.Limits{Colourants: 2, Parts: b.parts}), b)
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
	v.recipes(b, b.search(k, s, v.Now.Colour, b.limits(s)))
	v.past(k, p, b, s, records)
	if few {
		v.few(k, p, b, s)
	}
	v.slab(b, s.slabOf(current.Key))
	v.batch(b, s)
	v.teach(k, p, b, s)
	v.Shift = shiftWords(s.Additive, b)
	return v, nil
}

// Recipe is what lies on the slab as a card carries it: its parts and what they are
// counted in.
func (v *MixView) Recipe() string {
	var out []string
	for _, r := range v.Rows {
		if r.Parts > 0 {
			out = append(out, r.In)
		}
	}
	said := strings.Join(out, ", ")
	switch {
	case v.Basis == material.DoseBases()[1]:
		return said + " (per kg of oils)"
	case v.Step > 0:
		return said + " of the " + strings.TrimPrefix(v.Basis, "% of ")
	case v.Basis == byLayers:
		return said
	}
	return said + " by " + v.Basis
}

// shares are what the mix on the slab is made of.
func (v *MixView) shares() (out []plan.InMix) {
	all := 0
	for _, r := range v.Rows {
		all += r.Parts
	}
	for _, r := range v.Rows {
		if r.Parts == 0 || r.ID == waterID {
			continue
		}
		share := float64(r.Parts) / float64(all)
		if v.Step > 0 {
			per, _ := v.inBatter(float64(r.Parts) * v.Step)
			share = per / 100
		}
		out = append(out, plan.InMix{MaterialID: r.ID, Share: share})
	}
	return out
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
	case len(f.Recipes) == 0 && len(b.cards) > 0:
		return "no recipe"
	case len(f.Recipes) == 0:
		return "nothing chosen"
	case len(f.AsIs.Of) == 1 && f.AsIs.Apart <= max(1, f.Recipes[0].Apart):
		return "unmixed: " + b.cards[f.AsIs.Of[0]].Name
	case f.Recipes[0].Apart > 2*nearEnough:
		return fmt.Sprintf("best of two: ΔE %.0f", f.Recipes[0].Apart)
	}
	return fmt.Sprintf("best of two: ΔE %.0f", math.Ceil(f.Recipes[0].Apart))
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
	if b.ground != nil && v.Now.Colour.L > b.ground.L+10*lighterFrom {
		v.Lighter = fmt.Sprintf("%s is %.1f steps lighter than the %s it goes on, and no %s can lighten it. Choose a lighter ground.", v.Now.Name, (v.Now.Colour.L-b.ground.L)/10, b.ground.Name, Singular(v.Noun))
		return
	}
	best, want := f.Recipes[0].Colour, v.Now.Colour
	paint := want // what adds to a ground is named by what it makes of it
	if b.ground == nil {
		paint = colour.Lab{L: math.Max(0, math.Min(100, 2*want.L-best.L)), A: 2*want.A - best.A, B: 2*want.B - best.B}
	}
	v.Missing = &Missing{Paint: paint, Words: fmt.Sprintf("The best mix is %s. You would need %s.", differs(want, best),
		which(best, paint))}
}

// which names a paint by how it differs from what was mixed: a clearer, lighter green.
func which(from, paint colour.Lab) string {
	var how []string
	switch d := paint.Chroma() - from.Chroma(); {
	case d >= clearerFrom:
		how = append(how, "clearer")
	case d <= -clearerFrom:
		how = append(how, "greyer")
	}
	switch d := (paint.L - from.L) / 10; {
	case d >= lighterFrom:
		how = append(how, "lighter")
	case d <= -lighterFrom:
		how = append(how, "darker")
	}
	if len(how) == 0 {
		return words.AFamily(colour.Family(paint))
	}
	return "a " + strings.Join(how, ", ") + " " + string(colour.Family(paint))
}

func recipeView(b bench, r mix.Recipe, want colour.Lab) RecipeView {
	stock, paints := true, 0
	for _, at := range r.Of {
		if c := b.cards[at]; c.ID != waterID {
			stock = stock && c.OnHand() > 0
			paints++
		}
	}
	out := RecipeView{Words: b.words(r.Of, r.Parts), Apart: r.Apart, Colour: r.Colour, Lay: b.lay(r.Of, r.Parts), How: differs(want, r.Colour)}
	var notes []string
	if stock {
		notes = append(notes, "in stock")
	}
	switch {
	case paints == 1 && len(r.Of) == 1 && b.as.Way == mix.Opaque:
		notes = append(notes, "no mixing")
	case paints == 2:
		notes = append(notes, "two colours")
	}
	out.Notes = strings.Join(notes, ", ")
	return out
}

// Singular is one of what is mixed.
func Singular(noun string) string { return strings.TrimSuffix(noun, "s") }

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
		row := Row{Card: c, Parts: parts[i], In: b.part(i, parts[i])}
		if b.as.Way == mix.Doses {
			row.Dose = shortDose(float64(row.Parts)*b.step, b.basis)
		}
		if over := b.over(i, float64(row.Parts)*b.step); over != "" {
			v.Over = append(v.Over, over)
		}
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

// over says that a dose is over the limit of a colourant's supplier, in the limit's own
// basis; empty when it is not, or none is known.
func (b bench) over(at int, dose float64) string {
	d := b.cards[at].Dose
	if b.as.Way != mix.Doses || d.Limit == 0 || b.most[at] < 0 {
		return ""
	}
	own, ok := b.inBasis(dose, d.LimitBasis)
	if !ok || own <= d.Limit+1e-9 {
		return ""
	}
	return fmt.Sprintf("%s is at %s, over the supplier’s limit of %s. Use less.", b.cards[at].Name, DoseWords(own, d.LimitBasis),
		DoseWords(d.Limit, d.LimitBasis))
}

func (v *MixView) records(b bench, all []store.Mix) {
	name := func(id uint) string {
		if id == waterID {
			return "water"
		}
		if c, err := b.shelf.Card(id); err == nil {
			return c.Name
		}
		return "a deleted paint"
	}
	for _, r := range all {
		out := RecordView{Mix: r, Colour: colour.Lab{L: r.L, A: r.A, B: r.B}, Day: words.ShortDate(r.MadeAt), Off: -1,
			Words: recordWords(r, name)}
		for _, part := range r.Parts {
			out.Went = append(out.Went, Went{name(part.Material), part.Parts})
		}
		log, ok := b.logOf(r)
		if ok {
			out.Off = colour.DeltaE2000(out.Colour, b.shifted(b.blend(log.Parts)))
		}
		switch {
		case r.KeptOff:
			out.Why = "very different, so not used"
		case r.ReadAs != States()[0]:
			out.Why = "read " + r.ReadAs + ", so not used"
		case r.Additive != "":
			out.Why = "with " + r.Additive
		case !ok:
			out.Why = "mixed or measured another way"
		}
		v.Records = append(v.Records, out)
	}
}

// recordWords are what went into a record.
func recordWords(r store.Mix, name func(id uint) string) string {
	var out []string
	for _, part := range r.Parts {
		switch {
		case slices.Contains(material.DoseBases(), r.Basis):
			out = append(out, shortDose(part.Parts, r.Basis)+" "+name(part.Material))
		case r.Basis == byLayers:
			out = append(out, fmt.Sprintf("%g %s of %s", part.Parts, map[bool]string{true: "layer", false: "layers"}[part.Parts == 1],
				name(part.Material)))
		default:
			out = append(out, fmt.Sprintf("%g %s", part.Parts, name(part.Material)))
		}
	}
	return strings.Join(out, ", ")
}
