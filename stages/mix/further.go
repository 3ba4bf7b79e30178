package mix

import (
	"cmp"
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

// batch turns the slab into amounts.
func (v *MixView) batch(b bench, s *Section) {
	unit := Unit(v.Basis)
	if v.Mixed == nil || s.Total == 0 || unit == "" {
		return
	}
	parts := make([]int, len(b.cards))
	for i, c := range b.cards {
		for _, r := range v.Rows {
			if r.Card == c {
				parts[i] = r.Parts
			}
		}
	}
	v.Batch = b.batchOf(s, parts, s.Total)
	v.Batch.Shifted = colour.DeltaE2000(v.Mixed.Colour, v.Batch.colour)
}

// batchOf is so much of a mix by amounts: of doses in a batch of the base.
func (b bench) batchOf(s *Section, parts []int, total float64) *Batch {
	out := &Batch{Unit: Unit(b.basis)}
	least := s.Least
	if out.Unit == "drops" {
		least = max(least, 1)
	}
	var of []int
	for i, n := range parts {
		if n > 0 {
			of = append(of, i)
		}
	}
	slices.SortStableFunc(of, func(x, y int) int { return parts[y] - parts[x] }) // most first
	var some []float64
	for _, i := range of {
		some = append(some, float64(parts[i]))
	}
	var exact, rounded []float64
	if b.as.Way == mix.Doses {
		for _, n := range some {
			per, _ := s.perBatter(n*b.step, b.basis, b.basis)
			grams := total * per / 100
			exact = append(exact, grams)
			if least > 0 {
				rounded = append(rounded, math.Round(grams/least)*least)
				if grams < least/2 {
					out.Enough = max(out.Enough, least*100/per)
				}
			} else {
				rounded = append(rounded, grams)
			}
		}
	} else {
		exact, rounded, out.Enough = mix.Amounts(some, total, least)
	}
	really := make([]float64, len(parts))
	for k, i := range of {
		name := b.cards[i].Name
		if b.cards[i].ID == waterID {
			name = "water"
		}
		a := Amount{Name: name, Of: rounded[k], Exact: exact[k]}
		really[i] = rounded[k]
		if b.as.Way == mix.Doses {
			a.Dose = shortDose(some[k]*b.step, b.basis)
			if exact[k] > 0 {
				really[i] = some[k] * rounded[k] / exact[k]
			}
		}
		out.Amounts = append(out.Amounts, a)
		out.Total += rounded[k]
	}
	out.colour = b.shifted(b.blend(really))
	if b.as.Way == mix.Doses {
		out.Base, out.Total = total, total
	}
	return out
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
	log, ok := b.logOf(records[at])
	if !ok || !strings.EqualFold(records[at].Additive, s.Additive) {
		return
	}
	aim := mix.AimPast(b.shifted(b.blend(log.Parts)), want, last)
	found := b.search(k, s, aim, b.limits(s))
	if len(found.Recipes) == 0 {
		return
	}
	r := found.Recipes[0]
	v.Past = &Past{Came: differs(want, last)}
	v.Past.RecipeView = recipeView(b, r, want)
}

// few finds the fewest paints for all wanted colours, and the one more that would save
// most mixing.
func (v *MixView) few(k *plan.Desk, p *plan.Plan, b bench, s *Section) {
	if len(v.Wanted) < 2 {
		return
	}
	all, at, key := b.colourants(s)
	for i := range all {
		all[i].Must = false
	}
	var wanted []colour.Lab
	for _, w := range v.Wanted {
		wanted = append(wanted, w.Colour)
		key += fmt.Sprint(" ", w.Colour)
	}
	limits := b.limits(s)
	found := plan.Remember(k, fmt.Sprint("mix-few ", limits, key), func() mix.Few { return mix.FewForAll(all, wanted, nearEnough, limits) })
	out := &FewView{Within: nearEnough}
	paints := 0
	for _, i := range found.Of {
		if c := b.cards[at[i]]; c.ID != waterID {
			out.Names, out.Paints = append(out.Names, c.Name), append(out.Paints, c.ID)
			paints++
		}
	}
	out.All = paints == v.Chosen
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
		out.Rows = append(out.Rows, FewRow{v.Wanted[i].Key, v.Wanted[i].Name, v.Wanted[i].Colour, recipeView(b, r, v.Wanted[i].Colour)})
	}
	v.Few = out
	if b.ground == nil {
		v.tube(k, p, b, all, wanted, found, limits, key)
	}
}

// mostTubes bounds what is tried as one paint more, over all wanted colours together.
const mostTubes = 48

// tube finds the one more paint that would save most mixing: one of the shelf that is
// not chosen, or a paint of a wanted colour.
func (v *MixView) tube(k *plan.Desk, p *plan.Plan, b bench, all []mix.Colourant, wanted []colour.Lab, few mix.Few, l mix.Limits,
	key string) {
	type tube struct {
		name  string
		c     colour.Lab
		shelf bool
	}
	var could []tube
	for i, w := range v.Wanted {
		if few.Counts[i] != 1 {
			could = append(could, tube{w.Name, w.Colour, false})
		}
	}
	kind := ""
	if len(b.cards) > 0 {
		kind = b.cards[0].Kind
	}
	var others []*shelf.Card
	for _, c := range p.Shelf.Cards {
		if !c.Removed && c.Kind == kind && !slices.Contains(b.cards, c) {
			others = append(others, c)
		}
	}
	apart := func(c *shelf.Card) float64 {
		least := math.Inf(1)
		for i, w := range wanted {
			if few.Counts[i] != 1 {
				least = min(least, colour.DeltaE2000(w, c.Colour))
			}
		}
		return least
	}
	slices.SortStableFunc(others, func(x, y *shelf.Card) int { return cmp.Compare(apart(x), apart(y)) })
	room := max(2, mostTubes/len(wanted))
	could = could[:min(len(could), room)]
	for _, c := range others[:min(len(others), max(0, room-len(could)))] {
		could = append(could, tube{c.Name, c.Colour, true})
	}
	var more []mix.Colourant
	for _, t := range could {
		key += fmt.Sprint(" ", t.c)
		strength := 1.0
		if b.as.Way == mix.Opaque {
			strength = mix.DefaultStrength(t.c, isWhite(t.c))
		}
		more = append(more, mix.Colourant{Paint: mix.ReadyAs(colour.SpectrumOf(t.c), b.as.Way), Strength: strength})
	}
	best := plan.Remember(k, fmt.Sprint("mix-tube ", l, key), func() mix.Saving {
		return mix.SavesMost(all, more, wanted, few.Counts, nearEnough, l)
	})
	if best.Of < 0 {
		return
	}
	t := could[best.Of]
	var does []string
	if best.Reached > 0 {
		does = append(does, fmt.Sprintf("make %s that you cannot make now", words.Plural(best.Reached, "colour", "colours")))
	}
	if best.Saved > 0 {
		does = append(does, fmt.Sprintf("save %s in the recipes", words.Plural(best.Saved, Singular(v.Noun), v.Noun)))
	}
	what := fmt.Sprintf("%s like %s", words.AFamily(colour.Family(t.c)), t.name)
	if t.shelf {
		what = t.name + ", which you own but did not choose,"
	}
	v.Few.Tube = &Tube{Words: words.Capital(what) + " would help most: it would " + words.List(does) + ".", Name: t.name, Colour: t.c,
		OnShelf: t.shelf}
}

// TeachView is the mix that would teach most.
type TeachView struct {
	Words string
	Lay   string
	Gains float64 // share of what is unsure in the recipes that it takes away
}

// teach finds the mix that would teach most about the recipes of the wanted colours.
func (v *MixView) teach(k *plan.Desk, p *plan.Plan, b bench, s *Section) {
	if b.as.Way == mix.Fibres || b.as.Way == mix.Strands {
		return // nothing of them is learned
	}
	type try struct{ of, parts []int }
	var tries []try
	var uses [][]float64
	in := map[int]bool{}
	full := func(t try) []float64 {
		out := make([]float64, len(b.cards))
		for i, at := range t.of {
			out[at] = float64(t.parts[i])
		}
		return out
	}
	add := func(f mix.Found) {
		for _, r := range f.Recipes {
			t := try{r.Of, r.Parts}
			tries, uses = append(tries, t), append(uses, full(t))
			for _, at := range r.Of {
				in[at] = true
			}
		}
	}
	for i, w := range v.Wanted {
		if i < mostTaught || w.On {
			add(b.search(k, s, w.Colour, mix.Limits{Colourants: 2, Parts: b.parts}))
		}
	}
	add(b.search(k, s, v.Now.Colour, b.limits(s)))
	white := -1
	for i, c := range b.cards {
		if b.held[i] && isWhite(c.Colour) {
			white = i
		}
	}
	for i := range b.cards {
		switch {
		case !in[i] || b.held[i]:
		case b.as.Way == mix.Opaque && white >= 0:
			tries = append(tries, try{[]int{i, white}, []int{1, tintWhite}})
		case b.as.Way != mix.Opaque:
			n := 1
			if b.as.Way == mix.Doses {
				n = min(4, b.parts)
				if b.most[i] >= 0 {
					n = min(n, b.most[i])
				}
			}
			tries = append(tries, try{[]int{i}, []int{n}})
		}
	}
	if len(uses) == 0 {
		return
	}
	var all [][]float64
	key := fmt.Sprint("mix-teach ", b.as.Key, b.strength, b.logs, b.ids(), b.step)
	for _, t := range tries {
		all = append(all, full(t))
	}
	lesson := plan.Remember(k, fmt.Sprint(key, all, uses), func() mix.Lesson {
		return mix.Teaches(b.ready, b.strength, b.held, b.logs, all,
			uses)
	})
	if lesson.At < 0 {
		return
	}
	t := tries[lesson.At]
	v.Teach = &TeachView{Words: b.words(t.of, t.parts), Lay: b.lay(t.of, t.parts), Gains: 1 - lesson.After/lesson.Before}
}

// mostTaught bounds the wanted colours whose recipes are asked about.
const mostTaught = 12

// ids names the paints of a bench as they are.
func (b bench) ids() string {
	out := ""
	for _, c := range b.cards {
		out += fmt.Sprint(" ", c.ID, ".", c.Revision)
	}
	return out
}

// shiftWords say what an additive does.
func shiftWords(additive string, b bench) string {
	switch {
	case additive == "":
		return ""
	case b.additive.n == 0:
		return fmt.Sprintf("No results with %s yet. Record one and predictions follow.", additive)
	}
	grey := colour.Lab{L: 50}
	from, to := grey, colour.Lab{L: 50 + b.additive.by.L, A: b.additive.by.A, B: b.additive.by.B}
	how := differs(from, to)
	if to.Chroma() >= clearerFrom {
		how = strings.TrimSpace(fmt.Sprintf("%s, toward %s", lightness(b.additive.by.L),
			colour.Family(colour.Lab{L: 50, A: 10 * to.A, B: 10 * to.B})))
		how = strings.TrimPrefix(how, ", ")
	}
	return fmt.Sprintf("Predicted with %s, from %s: %s.", additive, words.Plural(b.additive.n, "mix", "mixes"), how)
}

// lightness says how much lighter or darker; empty for hardly.
func lightness(by float64) string {
	switch d := by / 10; {
	case d >= lighterFrom:
		return fmt.Sprintf("lighter by %.1f", d)
	case d <= -lighterFrom:
		return fmt.Sprintf("darker by %.1f", -d)
	}
	return ""
}
