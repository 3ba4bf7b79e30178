package mix

import (
	"fmt"
	"slices"

	"lampfern/core/colour"
	"lampfern/core/mix"
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
