package mix

import (
	"fmt"
	"math"
	"slices"

	"lampfern/core/colour"
	"lampfern/core/mix"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/store"
)

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
