package mix

import (
	"cmp"
	"slices"

	"lampfern/core/colour"
)

// Few are few colourants that reach many colours.
type Few struct {
	Of      []int    // colourants by index, in rising order
	Recipes []Recipe // for each wanted colour; without colourants where none reaches it
}

// FewForAll finds few colourants from which every wanted colour that can be reached
// within a difference, in ΔE00, is reached. It takes, one after another, the recipe
// that needs the fewest new colourants for the colours it reaches, and then leaves out
// what turned out not to be needed; seldom there are fewer still.
func FewForAll(all []Colourant, wanted []colour.Lab, within float64, l Limits) Few {
	l = l.usual()
	out := Few{Recipes: make([]Recipe, len(wanted))}
	near := make([][]Recipe, len(wanted)) // recipes within, by wanted colour
	for i, w := range wanted {
		if len(all) == 0 {
			break
		}
		s, must := look(all, w, l)
		for _, r := range s.best {
			holds := !slices.ContainsFunc(must, func(i int) bool { return !slices.Contains(r.Of, i) })
			if holds && r.Apart <= within {
				near[i] = append(near[i], r)
			}
		}
		slices.SortFunc(near[i], func(a, b Recipe) int {
			return cmp.Or(cmp.Compare(len(a.Of), len(b.Of)), cmp.Compare(a.Apart, b.Apart), slices.Compare(a.Of, b.Of))
		})
	}
	from := func(set []int, i int) (Recipe, bool) {
		best := Recipe{}
		for _, r := range near[i] {
			in := !slices.ContainsFunc(r.Of, func(c int) bool { return !slices.Contains(set, c) })
			if in && (len(best.Of) == 0 || r.Apart < best.Apart) {
				best = r
			}
		}
		return best, len(best.Of) > 0
	}
	reached := func(set []int) (n int) {
		for i := range wanted {
			if _, ok := from(set, i); ok {
				n++
			}
		}
		return n
	}
	can := 0
	for i := range wanted {
		if len(near[i]) > 0 {
			can++
		}
	}
	var set []int
	for now := 0; now < can; {
		var next []int
		least := 0.0
		for i := range wanted {
			if _, ok := from(set, i); ok {
				continue
			}
			for _, r := range near[i][:min(len(near[i]), fewTried)] {
				with := slices.Clone(set)
				for _, c := range r.Of {
					if !slices.Contains(with, c) {
						with = append(with, c)
					}
				}
				cost := float64(len(with)-len(set)) / float64(reached(with)-now)
				if next == nil || cost < least {
					next, least = with, cost
				}
			}
		}
		set, now = next, reached(next)
	}
	for i := len(set) - 1; i >= 0; i-- {
		if without := slices.Delete(slices.Clone(set), i, i+1); reached(without) == can {
			set = without
		}
	}
	slices.Sort(set)
	out.Of = set
	for i := range wanted {
		if r, ok := from(set, i); ok {
			out.Recipes[i] = r.sorted()
		}
	}
	return out
}

// fewTried bounds the recipes that are looked at for each colour in each turn.
const fewTried = 60
