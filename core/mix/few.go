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
	Counts  []int    // of colourants in the simplest recipe of all for each; 0 where none reaches it
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
			out.Counts = make([]int, len(wanted))
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
		out.Counts = append(out.Counts, 0)
		if len(near[i]) > 0 {
			out.Counts[i] = len(near[i][0].Of)
		}
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

// Saving is what one colourant more would save.
type Saving struct {
	Of      int   // by index of those that could be had; −1 for none
	Counts  []int // as those of Few, with it
	Reached int   // wanted colours that nothing reached without it
	Saved   int   // colourants that need no longer be mixed, in all recipes together
}

// savingPairs are those that a third is tried with.
const savingPairs = 8

// SavesMost finds which of some colourants that could be had would save most mixing: it
// brings the most wanted colours within a difference, in ΔE00, and then takes most
// colourants out of the simplest recipes. counts are those of Few without it.
func SavesMost(all, could []Colourant, wanted []colour.Lab, counts []int, within float64, l Limits) Saving {
	l = l.usual()
	best := Saving{Of: -1}
	for at, one := range could {
		with := append(slices.Clone(all), one)
		now := Saving{Of: at, Counts: slices.Clone(counts)}
		for i, w := range wanted {
			if counts[i] == 1 {
				continue
			}
			n := simplest(with, w, within, l)
			switch {
			case n == 0:
			case counts[i] == 0:
				now.Counts[i] = n
				now.Reached++
			case n < counts[i]:
				now.Counts[i] = n
				now.Saved += counts[i] - n
			}
		}
		if now.Reached+now.Saved > 0 && (best.Of < 0 || cmp.Or(cmp.Compare(now.Reached, best.Reached), cmp.Compare(now.Saved, best.Saved)) > 0) {
			best = now
		}
	}
	return best
}

// simplest is how many colourants the simplest recipe takes that holds the last of them
// and comes within; 0 for none.
func simplest(all []Colourant, wanted colour.Lab, within float64, l Limits) int {
	s := newSearch(all, wanted, l)
	last := len(all) - 1
	near := func() bool {
		for _, r := range s.best {
			if r.Apart <= within {
				return true
			}
		}
		return false
	}
	s.every([][]int{{last}})
	if near() || l.Colourants == 1 {
		return first(near(), 1)
	}
	var pairs [][]int
	for i := range last {
		pairs = append(pairs, []int{i, last})
	}
	s.every(pairs)
	if near() || l.Colourants == 2 {
		return first(near(), 2)
	}
	ranked := s.ranked(2)
	var threes [][]int
	for _, p := range ranked[:min(len(ranked), savingPairs)] {
		for i := range last {
			if !slices.Contains(p.Of, i) {
				threes = append(threes, []int{p.Of[0], i, last})
			}
		}
	}
	s.every(threes)
	return first(near(), 3)
}

func first(is bool, n int) int {
	if is {
		return n
	}
	return 0
}
