package mix

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/craft"
	"lampfern/core/material"
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
// made of or that its craft mixes, or of every kind when the shelf has none of those.
func onShelf(p *plan.Plan) []*shelf.Card {
	var all, made []*shelf.Card
	mixed, of := mixable(), slices.Concat(p.MadeOf(), usualKinds(p.Craft))
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
// had of one kind, for kinds do not mix in one pot unless it is a base: the first of
// those that the thing is made of, else of what the craft mixes, else the first that
// mixes.
func atHand(p *plan.Plan) []*shelf.Card {
	all := slices.DeleteFunc(onShelf(p), func(c *shelf.Card) bool { return c.Discontinued && c.OnHand() <= 0 })
	for _, kind := range slices.Concat(p.MadeOf(), usualKinds(p.Craft), mixable()) {
		if kind == sewing && slices.ContainsFunc(all, func(c *shelf.Card) bool { return c.Kind != sewing }) {
			continue
		}
		one := []string{kind}
		if t := Of(p).together(kind, p.Craft); t.Way == mix.Doses { // a base takes colourants of several kinds
			one = t.Kinds
		}
		of := slices.DeleteFunc(slices.Clone(all), func(c *shelf.Card) bool { return !slices.Contains(one, c.Kind) })
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

// noun is what is mixed, in the plural.
func noun(t Together, cards []*shelf.Card) string {
	switch {
	case t.Key == "soap":
		return "colourants"
	case t.Key == "bath":
		return "dyes"
	case len(cards) == 0:
		return "paints"
	case cards[0].Kind == "pigment or dye":
		return "pigments"
	case cards[0].Kind == "marker or pencil":
		return "markers"
	}
	return cards[0].Kind + "s"
}

// water is what thins a wash: where there is only water the ground is seen.
func water(g *Ground) *shelf.Card { return shelf.FreeCard("Water", g.Colour()) }

// bench are the paints of a plan ready to be mixed, with what was learned of them. In a
// wash the last of them is water.
type bench struct {
	s        *Section
	cards    []*shelf.Card
	ready    []mix.Paint
	strength []float64
	held     []bool
	tried    []bool // in white, or in the ground alone
	most     []int  // parts that a supplier's limit allows; −1 for any number
	learned  learned
	logs     []mix.Log
	as       Together
	basis    string
	step     float64 // dose of one part
	parts    int     // of a recipe at most
	ground   *Ground
	additive shift
	shelf    *shelf.Shelf
	inBasis  func(dose float64, wanted string) (float64, bool)
}

// shift is what an additive did to mixes that were made with it.
type shift struct {
	by colour.Lab
	n  int // records
}

type learned struct {
	strength      []float64
	before, after float64
	n             int
	left          []float64
}

// mostLeftOut bounds the records that are left out of their own learning one by one.
const mostLeftOut = 40

// sameGround is how far the ground of a record may be from that of the plan for the
// record to be learned from, in ΔE00.
const sameGround = 4.0

// settings are the section with what the craft was told of its batch.
func settings(ctx context.Context, k *plan.Desk, p *plan.Plan) (*Section, error) {
	s := *Of(p)
	of, _ := craft.Named(p.Craft)
	if of.Batch == nil {
		return &s, nil
	}
	asked, err := k.Told(ctx, p)
	if err != nil || asked == nil {
		return &s, err
	}
	s.told = new(of.Batch(asked))
	return &s, nil
}

// benchOf makes the paints of a plan ready.
func benchOf(ctx context.Context, k *plan.Desk, p *plan.Plan, cards []*shelf.Card, records []store.Mix) (bench, error) {
	s, err := settings(ctx, k, p)
	if err != nil {
		return bench{}, err
	}
	b := bench{s: s, cards: cards, as: s.together("", ""), shelf: p.Shelf}
	if len(cards) > 0 {
		b.as = s.together(cards[0].Kind, p.Craft)
	}
	b.basis, b.ground, b.parts = s.basis(b.as), s.ground(b.as), b.as.Parts
	b.step = s.step(b.basis)
	b.inBasis = func(dose float64, wanted string) (float64, bool) { return s.inBasis(dose, b.basis, wanted) }
	if s.Parts > 0 {
		b.parts = s.Parts
	}
	if b.as.Way == mix.Wash {
		b.cards = append(slices.Clone(cards), water(b.ground))
	}
	b.tried = make([]bool, len(b.cards))
	logs, of := b.read(records)
	key := fmt.Sprint("mix-learn ", b.as.Key, " ", b.basis, " ", b.step, s.Coats, s.oils())
	if b.ground != nil {
		key += fmt.Sprint(*b.ground)
	}
	b.makeReady(k, logs)
	var start []float64
	oneHeld := false
	for i, c := range b.cards {
		white, strength := isWhite(c.Colour), 1.0
		hold := b.as.Way == mix.Fibres || b.as.Way == mix.Strands || c.ID == waterID
		if b.as.Way == mix.Opaque { // fibres and strands count by their weight
			strength = mix.DefaultStrength(c.Colour, white)
			hold = white && !oneHeld
			oneHeld = oneHeld || white
		}
		if b.as.Way == mix.Layers && len(layersOf(c)) > 0 { // its layers were measured
			hold = true
		}
		start, b.held = append(start, strength), append(b.held, hold)
		key += fmt.Sprint(" ", c.ID, ".", c.Revision, c.Colour, b.most[i])
	}
	for i, l := range logs {
		key += fmt.Sprint(" ", of[i], l)
	}
	b.logs = logs
	b.learned = plan.Remember(k, key, func() learned {
		var l learned
		var after float64
		l.strength, l.before, after = mix.Fit(b.ready, start, b.held, logs)
		l.n, l.after = len(logs), after
		if some := logs[:min(len(logs), mostLeftOut)]; len(some) > 1 {
			l.left = mix.LeftOut(b.ready, start, b.held, some)
			l.after = 0
			for _, e := range l.left {
				l.after += e / float64(len(l.left))
			}
		}
		return l
	})
	b.strength = b.learned.strength
	b.additive = b.shiftOf(s.Additive, records)
	return b, nil
}

// logOf is a record as a mix of these paints; not ok when it holds others, or was made
// or counted otherwise.
func (b bench) logOf(r store.Mix) (mix.Log, bool) {
	log := mix.Log{Parts: make([]float64, len(b.cards)), Measured: colour.Lab{L: r.L, A: r.A, B: r.B}}
	if r.Basis != b.basis || r.Way != b.as.Key && !(r.Way == "" && early(b.as.Key)) {
		return log, false
	}
	if b.ground != nil && len(r.Ground) == 3 && colour.DeltaE2000(b.ground.Colour(),
		colour.Lab{L: r.Ground[0], A: r.Ground[1], B: r.Ground[2]}) > sameGround {
		return log, false
	}
	for _, part := range r.Parts {
		at := slices.IndexFunc(b.cards, func(c *shelf.Card) bool { return c.ID == part.Material })
		if at < 0 {
			return log, false
		}
		log.Parts[at] += part.Parts
	}
	if b.as.Way == mix.Doses {
		for i := range log.Parts {
			log.Parts[i] /= b.step
		}
	}
	return log, true
}

// read takes in the records that are learned from, by their IDs, and marks the paints
// that were tried.
func (b bench) read(records []store.Mix) (logs []mix.Log, of []uint) {
	for _, r := range records {
		if r.KeptOff || r.ReadAs != States()[0] || r.Additive != "" {
			continue
		}
		log, ok := b.logOf(r)
		if !ok {
			continue
		}
		logs, of = append(logs, log), append(of, r.ID)
		var in []int
		for i, n := range log.Parts {
			if n > 0 && b.cards[i].ID != waterID {
				in = append(in, i)
			}
		}
		switch {
		case b.as.Way == mix.Opaque && len(in) == 2: // a tint tells most
			for k, i := range in {
				other := in[1-k]
				if !isWhite(b.cards[i].Colour) && isWhite(b.cards[other].Colour) && log.Parts[other] >= 3*log.Parts[i] {
					b.tried[i] = true
				}
			}
		case b.as.Way != mix.Opaque && len(in) == 1:
			b.tried[in[0]] = true
		}
	}
	return logs, of
}

// layersOf are the spectra of two, three … layers of a material, where they were
// measured.
func layersOf(c *shelf.Card) []colour.Spectrum {
	var out []colour.Spectrum
	for _, f := range c.Further {
		if f.Role == material.Layer {
			out = append(out, colour.SpectrumOf(f.Colour))
		}
	}
	return out
}

// makeReady makes the paints ready, and says how many parts each may have.
func (b *bench) makeReady(k *plan.Desk, logs []mix.Log) {
	s := b.s
	for at, c := range b.cards {
		key := fmt.Sprint("mix-paint ", b.as.Key, " ", c.ID, ".", c.Revision, c.Colour)
		most, parts := -1, 1.0
		if b.as.Way == mix.Doses {
			dose, _ := s.tried(c.Dose, b.basis)
			parts = dose / b.step
			if limit, ok := s.inBasis(c.Dose.Limit, c.Dose.LimitBasis, b.basis); ok && c.Dose.Limit > 0 {
				most = int(limit/b.step + 1e-9)
			}
		}
		if b.ground != nil {
			key += fmt.Sprint(" ", *b.ground, parts, s.Coats)
		}
		paint := plan.Remember(k, key, func() mix.Paint {
			r := c.Reflectance()
			if b.ground == nil {
				return mix.ReadyAs(r, b.as.Way)
			}
			ground := colour.SpectrumOf(b.ground.Colour())
			if b.as.Way == mix.Wash {
				return mix.ReadyAs(mix.Thicker(ground, r, float64(max(1, s.Coats))), mix.Wash)
			}
			var more []colour.Spectrum
			if b.as.Way == mix.Layers {
				more = layersOf(c)
			}
			return mix.ReadyOver(ground, r, parts, b.as.Way, more...)
		})
		if b.as.Way == mix.Doses {
			var doses []float64
			var came []colour.Lab
			for _, l := range logs { // of it alone
				if rest := slices.Clone(l.Parts); rest[at] > 0 {
					dose := rest[at]
					if rest[at] = 0; slices.Max(rest) == 0 {
						doses, came = append(doses, dose), append(came, l.Measured)
					}
				}
			}
			if len(doses) > 1 {
				paint = paint.Bent(mix.Bend(paint, doses, came))
			}
		}
		b.ready, b.most = append(b.ready, paint), append(b.most, most)
	}
}

// shiftOf is what an additive did, from the records that name it: a mean that few
// records only half believe.
func (b bench) shiftOf(additive string, records []store.Mix) (out shift) {
	if additive == "" {
		return out
	}
	for _, r := range records {
		if r.KeptOff || r.ReadAs != States()[0] || !strings.EqualFold(r.Additive, additive) {
			continue
		}
		if log, ok := b.logOf(r); ok {
			is := b.blend(log.Parts)
			out.by.L += log.Measured.L - is.L
			out.by.A += log.Measured.A - is.A
			out.by.B += log.Measured.B - is.B
			out.n++
		}
	}
	n := float64(out.n) + 1
	out.by = colour.Lab{L: out.by.L / n, A: out.by.A / n, B: out.by.B / n}
	return out
}

// trust is the ± of predictions with these paints.
func (b bench) trust() float64 {
	all := len(b.cards) > 0
	for i, c := range b.cards {
		all = all && (b.tried[i] || c.ID == waterID || b.as.Way == mix.Opaque && isWhite(c.Colour))
	}
	return mix.Trust(b.learned.left, all)
}

// blend is the colour of parts by paint, without any additive.
func (b bench) blend(parts []float64) colour.Lab {
	w := make([]float64, len(parts))
	for i, n := range parts {
		w[i] = n * b.strength[i]
	}
	return mix.Mixed(b.ready, w)
}

// mixed is the colour of parts by paint as they are predicted to come out.
func (b bench) mixed(parts []int) colour.Lab {
	w := make([]float64, len(parts))
	for i, n := range parts {
		w[i] = float64(n)
	}
	return b.shifted(b.blend(w))
}

// shifted is a colour as the additive leaves it.
func (b bench) shifted(c colour.Lab) colour.Lab {
	by := b.additive.by
	return colour.Lab{L: max(0, min(100, c.L+by.L)), A: c.A + by.A, B: c.B + by.B}
}

// limits are what a recipe may be.
func (b bench) limits(s *Section) mix.Limits {
	most := s.Colourants
	if b.as.Way == mix.Wash && most > 0 { // water is not counted
		most = min(most+1, mix.MostColourants)
	}
	return mix.Limits{Colourants: most, Parts: b.parts}
}

// colourants are the paints that recipes may take, and where each lies on the bench.
func (b bench) colourants(s *Section) (all []mix.Colourant, at []int, key string) {
	key = fmt.Sprint(b.as.Key, s.Coats)
	if b.ground != nil {
		key += fmt.Sprint(*b.ground)
	}
	for i, c := range b.cards {
		if slices.Contains(s.Without, c.ID) && c.ID != waterID || b.most[i] == 0 {
			continue
		}
		if s.OnHand && c.ID != waterID && c.OnHand() <= 0 {
			continue
		}
		must := slices.Contains(s.Must, c.ID) && c.ID != waterID
		if b.as.Way == mix.Wash && c.ID != waterID && isWhite(c.Colour) && !must {
			continue // white covers; water is what lets the ground through
		}
		all, at = append(all, mix.Colourant{Paint: b.ready[i], Strength: b.strength[i], Must: must, Most: max(0, b.most[i])}), append(at, i)
		key += fmt.Sprint(" ", c.ID, ".", c.Revision, c.Colour, b.strength[i], must, b.most[i], b.step)
	}
	return all, at, key
}

// search finds recipes, or remembers them.
func (b bench) search(k *plan.Desk, s *Section, wanted colour.Lab, l mix.Limits) mix.Found {
	all, at, key := b.colourants(s)
	by := b.additive.by
	aim := colour.Lab{L: max(0, min(100, wanted.L-by.L)), A: wanted.A - by.A, B: wanted.B - by.B}
	found := plan.Remember(k, fmt.Sprint("mix-search ", aim, l, key), func() mix.Found { return mix.Search(all, aim, l) })
	// Numbers of the search are those of the paints that are not left out.
	back := func(r mix.Recipe) mix.Recipe {
		of := make([]int, len(r.Of))
		for i, n := range r.Of {
			of[i] = at[n]
		}
		r.Of, r.Colour = of, b.shifted(r.Colour)
		r.Apart = colour.DeltaE2000(wanted, r.Colour)
		return r
	}
	out := mix.Found{AsIs: back(found.AsIs)}
	for _, r := range found.Recipes {
		if b.as.Way == mix.Wash && len(r.Of) == 1 && b.cards[at[r.Of[0]]].ID == waterID {
			continue // water alone is no recipe
		}
		out.Recipes = append(out.Recipes, back(r))
	}
	if b.as.Way == mix.Wash && len(out.AsIs.Of) == 1 && b.cards[out.AsIs.Of[0]].ID == waterID {
		out.AsIs = mix.Recipe{}
	}
	return out
}

// words are a recipe as it is read.
func (b bench) words(of, parts []int) string {
	var out []string
	for i, at := range of {
		out = append(out, b.part(at, parts[i]))
	}
	return strings.Join(out, ", ")
}

// part is so many parts of one paint as it is read.
func (b bench) part(at, n int) string {
	name := b.cards[at].Name
	if b.cards[at].ID == waterID {
		name = "water"
	}
	return b.amountOf(n) + " " + name
}

// amountOf is so many parts without the name of what they are of.
func (b bench) amountOf(n int) string {
	switch b.as.Way {
	case mix.Doses:
		return shortDose(float64(n)*b.step, b.basis)
	case mix.Layers:
		return words.Plural(n, "layer", "layers") + " of"
	}
	return fmt.Sprint(n)
}

// lay is how a recipe is laid out on the slab.
func (b bench) lay(of, parts []int) string {
	var out []string
	for i, at := range of {
		out = append(out, fmt.Sprintf("%d.%d", b.cards[at].ID, parts[i]))
	}
	return strings.Join(out, " ")
}

// mixes is the best mix of a plan's colourants toward a colour; no words where its kinds are not
// mixed in a pot or over a ground.
func mixes(ctx context.Context, k *plan.Desk, p *plan.Plan, c colour.Lab) (plan.Mixture, error) {
	cards := chosen(p)
	if len(cards) == 0 || !slices.Contains(p.MadeOf(), cards[0].Kind) {
		return plan.Mixture{}, nil
	}
	records, err := recordsOf(ctx, k)
	if err != nil {
		return plan.Mixture{}, err
	}
	b, err := benchOf(ctx, k, p, cards, records)
	if err != nil || b.as.Way != mix.Opaque && b.as.Way != mix.Doses && b.as.Way != mix.Wash {
		return plan.Mixture{}, err
	}
	found := b.search(k, b.s, c, b.limits(b.s))
	if len(found.Recipes) == 0 {
		return plan.Mixture{}, nil
	}
	r := found.Recipes[0]
	return plan.Mixture{Words: b.words(r.Of, r.Parts), Colour: r.Colour, Apart: r.Apart}, nil
}
