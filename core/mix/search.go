package mix

import (
	"cmp"
	"math"
	"runtime"
	"slices"
	"sync"

	"lampfern/core/colour"
)

// Colourant is a paint that a recipe may take, ready to be mixed.
type Colourant struct {
	Paint
	Strength float64
	Must     bool // the recipe has to hold it
	Most     int  // parts it may have at most; 0 for any number
}

// Limits are what a recipe may be. The zero value is the usual: four colourants in
// at most twelve parts. Where parts add to a ground, three parts and twice as many are
// two mixes, not one.
type Limits struct {
	Colourants int // at most, 1 to 4
	Parts      int // in all, 1 to 24
}

// Bounds of the limits, and the usual ones.
const (
	MostColourants  = 4
	MostParts       = 24
	usualColourants = 4
	usualParts      = 12
)

// usual are the limits with those out of bounds at their usual values.
func (l Limits) usual() Limits {
	if l.Colourants < 1 || l.Colourants > MostColourants {
		l.Colourants = usualColourants
	}
	if l.Parts < 1 || l.Parts > MostParts {
		l.Parts = usualParts
	}
	return l
}

// Recipe is a mix by whole parts without a common factor.
type Recipe struct {
	Of     []int // colourants by index, most parts first
	Parts  []int
	Colour colour.Lab
	Apart  float64 // ΔE00 from the wanted colour
}

// Found is what a search came to.
type Found struct {
	Recipes []Recipe // the best of different sets of colourants, nearest first
	AsIs    Recipe   // the colourant that is nearest as it is
}

// How the search goes: all pairs are tried, what adds most to the best of them makes
// up a short list, and of that all threes and fours are tried.
const (
	pairsKept    = 40 // pairs that a third is tried with
	shortList    = 12
	shown        = 3
	shownBeside  = 6.0  // ΔE00 by which another recipe may be further off than the best
	looked       = 3    // shares of a set that are looked at in all bands
	usefulBeside = 4.0  // ΔE00 by which a larger set may be further off than the best smaller one
	usefulFrom   = 6.0  // and how far off it always may be
	partCost     = 0.02 // ΔE00 that a part more must gain
	anotherFrom  = 0.4  // what one colourant more must gain over a recipe without it
)

// Search finds the recipes that come nearest to a colour (least ΔE00; ties to fewer
// colourants, then fewer parts). Without colourants there are none.
func Search(all []Colourant, wanted colour.Lab, l Limits) Found {
	l = l.usual()
	if len(all) == 0 {
		return Found{}
	}
	s, must := look(all, wanted, l)
	out := Found{AsIs: Recipe{Apart: math.Inf(1)}}
	for i := range all {
		if all[i].way.adds() { // nothing is ready as it is
			break
		}
		lab := Mixed([]Paint{all[i].Paint}, []float64{1})
		if apart := colour.DeltaE2000(wanted, lab); apart < out.AsIs.Apart {
			out.AsIs = Recipe{Of: []int{i}, Parts: []int{1}, Colour: lab, Apart: apart}
		}
	}
	if len(must) > l.Colourants {
		return out
	}
	out.Recipes = s.different(must)
	return out
}

// look tries what the limits allow, and names the colourants that must be held.
func look(all []Colourant, wanted colour.Lab, l Limits) (s *search, must []int) {
	s = newSearch(all, wanted, l)
	for i, c := range all {
		if c.Must {
			must = append(must, i)
		}
	}
	if len(must) > l.Colourants {
		return s, must
	}
	s.every(sets(len(all), 1))
	if l.Colourants > 1 {
		s.every(sets(len(all), 2))
	}
	if l.Colourants > 2 {
		list := s.short(must)
		for _, r := range s.best {
			s.bound = math.Min(s.bound, r.Apart+usefulBeside)
		}
		s.bound = math.Max(s.bound, usefulFrom)
		if len(must) > 0 { // what must be held may keep all recipes far off
			s.bound = math.Inf(1)
		}
		for n := 3; n <= l.Colourants; n++ {
			var some [][]int
			for _, set := range sets(len(list), n) {
				of := make([]int, n)
				for k, at := range set {
					of[k] = list[at]
				}
				some = append(some, of)
			}
			s.every(some)
		}
	}
	return s, must
}

type search struct {
	all    []Colourant
	wanted colour.Lab
	limits Limits
	bound  float64                          // cost from which a set is no longer of use
	best   map[[MostColourants]int16]Recipe // by set of colourants
	adding [][][coarse]float64              // by colourant and parts, where parts add to a ground
}

// newSearch is a search that has tried nothing yet, of one colourant at least.
func newSearch(all []Colourant, wanted colour.Lab, l Limits) *search {
	s := &search{all: all, wanted: wanted, limits: l, bound: math.Inf(1), best: map[[MostColourants]int16]Recipe{}}
	if all[0].way.adds() {
		for i := range all {
			steps := make([][coarse]float64, l.Parts+1)
			for n := 1; n <= l.Parts; n++ {
				steps[n] = all[i].addingFew(float64(n) * all[i].Strength)
			}
			s.adding = append(s.adding, steps)
		}
	}
	return s
}

// sets are all sets of k of the numbers under n, each in rising order.
func sets(n, k int) [][]int {
	var out [][]int
	set := make([]int, 0, k)
	var add func(from int)
	add = func(from int) {
		if len(set) == k {
			out = append(out, slices.Clone(set))
			return
		}
		for i := from; i < n; i++ {
			set = append(set, i)
			add(i + 1)
			set = set[:len(set)-1]
		}
	}
	add(0)
	return out
}

// shares are the ways to give n colourants whole parts, at most so many in all and
// without a common factor, unless every number of parts is a mix of its own.
func shares(n, most int, every bool) [][]int {
	var out [][]int
	now := make([]int, n)
	var add func(i, left, factor int)
	add = func(i, left, factor int) {
		if i == n {
			if factor == 1 || every {
				out = append(out, slices.Clone(now))
			}
			return
		}
		for p := 1; p <= left-(n-1-i); p++ {
			now[i] = p
			add(i+1, left-p, Common(factor, p))
		}
	}
	add(0, most, 0)
	return out
}

// Common is the greatest common factor of two numbers of parts.
func Common(a, b int) int {
	for b != 0 {
		a, b = b, a%b
	}
	return a
}

// every tries all shares of sets of colourants and keeps the best of each set.
func (s *search) every(of [][]int) {
	if len(of) == 0 {
		return
	}
	ways := shares(len(of[0]), s.limits.Parts, s.all[0].way.adds())
	workers := runtime.GOMAXPROCS(0)
	found := make([]Recipe, len(of))
	var wait sync.WaitGroup
	for w := range workers {
		wait.Go(func() {
			for at := w; at < len(of); at += workers {
				found[at] = s.bestOf(of[at], ways)
			}
		})
	}
	wait.Wait()
	for _, r := range found {
		if len(r.Of) > 0 {
			s.best[key(r.Of)] = r
		}
	}
}

// key names a set of colourants.
func key(of []int) (k [MostColourants]int16) {
	sorted := slices.Sorted(slices.Values(of))
	for i := range k {
		k[i] = -1
		if i < len(sorted) {
			k[i] = int16(sorted[i])
		}
	}
	return k
}

// bestOf is the best recipe of one set: all shares are looked at in a few bands, and
// the nearest of them in all.
func (s *search) bestOf(of []int, ways [][]int) Recipe {
	var few [MostColourants]*[coarse]float64
	var strength [MostColourants]float64
	for k, i := range of {
		few[k], strength[k] = &s.all[i].few, s.all[i].Strength
	}
	paint, weights := &s.all[of[0]].Paint, fewWeights()
	opaque, inner, through := paint.way == Opaque, paint.s.Inner, (1-paint.s.Outer)*(1-paint.s.Inner)
	var near [looked]struct {
		cost float64
		way  int
	}
	for i := range near {
		near[i].cost, near[i].way = s.bound, -1
	}
	low, high := luminances(s.wanted.L, lighterBy*s.bound)
	most := s.most(of)
	for at, parts := range ways {
		if over(parts, most) {
			continue
		}
		var sum [coarse]float64
		all := 0.0
		if s.adding != nil {
			sum, all = paint.ground.few, 1
			for k, i := range of {
				q := &s.adding[i][parts[k]]
				for b := range sum {
					sum[b] += q[b]
				}
			}
		} else {
			for k := range of {
				w := float64(parts[k]) * strength[k]
				all += w
				q := few[k]
				for b := range sum {
					sum[b] += w * q[b]
				}
			}
		}
		var x colour.XYZ
		one := 1 / all
		for b, v := range sum {
			q := v * one
			if opaque { // as back, in line
				q = 1 + q - math.Sqrt(q*q+2*q)
				q = through * q / (1 - inner*q)
			} else {
				q = paint.back(q)
			}
			r := q
			w := &weights[b]
			x.X, x.Y, x.Z = x.X+r*w[0], x.Y+r*w[1], x.Z+r*w[2]
		}
		if x.Y < low || x.Y > high { // too far off in lightness alone
			continue
		}
		cost := colour.DeltaE2000(s.wanted, x.Lab(colour.WhiteD65)) + partCost*float64(total64(parts))
		for i := range near {
			if cost < near[i].cost {
				copy(near[i+1:], near[i:looked-1])
				near[i].cost, near[i].way = cost, at
				low, high = luminances(s.wanted.L, lighterBy*near[looked-1].cost)
				break
			}
		}
	}
	best, lowest := Recipe{}, math.Inf(1)
	paints, w := make([]Paint, len(of)), make([]float64, len(of))
	for k, i := range of {
		paints[k] = s.all[i].Paint
	}
	for _, n := range near {
		if n.way < 0 {
			break
		}
		for k := range of {
			w[k] = float64(ways[n.way][k]) * strength[k]
		}
		lab := Mixed(paints, w)
		apart := colour.DeltaE2000(s.wanted, lab)
		if cost := apart + partCost*float64(total64(ways[n.way])); cost < lowest {
			lowest, best = cost, Recipe{Of: of, Parts: ways[n.way], Colour: lab, Apart: apart}
		}
	}
	return best
}

// most are the most parts that each of a set may have; nil when that is any number.
func (s *search) most(of []int) []int {
	var out []int
	for k, i := range of {
		if most := s.all[i].Most; most > 0 {
			if out == nil {
				out = slices.Repeat([]int{MostParts}, len(of))
			}
			out[k] = most
		}
	}
	return out
}

// over reports whether some part is beyond what it may have.
func over(parts, most []int) bool {
	for k := range most {
		if parts[k] > most[k] {
			return true
		}
	}
	return false
}

// lighterBy is what CIEDE2000 divides a difference of L* by at most.
const lighterBy = 1.76

// luminances are Y of L* so far below and above a lightness.
func luminances(l, far float64) (low, high float64) {
	low, high = math.Inf(-1), math.Inf(1)
	if l > far {
		low = colour.Lab{L: l - far}.XYZ().Y
	}
	if l+far < 100 {
		high = colour.Lab{L: l + far}.XYZ().Y
	}
	return low, high
}

func total64(parts []int) (sum int) {
	for _, p := range parts {
		sum += p
	}
	return sum
}

// short is the list of colourants that threes and fours are tried of: those that must
// be held, and those of the best pairs and of what a third does for these.
func (s *search) short(must []int) []int {
	pairs := s.ranked(2)
	if len(pairs) > pairsKept {
		pairs = pairs[:pairsKept]
	}
	var threes [][]int
	for _, p := range pairs {
		for i := range s.all {
			if !slices.Contains(p.Of, i) {
				threes = append(threes, append(slices.Clone(p.Of), i))
			}
		}
	}
	// A few shares tell what a third is good for.
	ways := [][]int{{1, 1, 1}, {3, 3, 1}, {3, 1, 1}, {1, 3, 1}, {6, 3, 1}, {3, 6, 1}, {4, 1, 4}, {1, 4, 4}, {2, 1, 6}}
	if s.adding != nil {
		ways = shares(3, min(s.limits.Parts, 6), true)
	}
	tried := make([]Recipe, len(threes))
	workers := runtime.GOMAXPROCS(0)
	var wait sync.WaitGroup
	for w := range workers {
		wait.Go(func() {
			for at := w; at < len(threes); at += workers {
				tried[at] = s.bestOf(threes[at], ways)
			}
		})
	}
	wait.Wait()
	slices.SortFunc(tried, func(a, b Recipe) int { return cmp.Compare(a.Apart, b.Apart) })
	list := slices.Clone(must)
	take := func(of []int) {
		for _, i := range of {
			if len(list) < shortList && !slices.Contains(list, i) {
				list = append(list, i)
			}
		}
	}
	for n := 0; n < max(len(pairs), len(tried)) && len(list) < shortList; n++ {
		if n < len(pairs) {
			take(pairs[n].Of)
		}
		if n < len(tried) {
			take(tried[n].Of)
		}
	}
	return list
}

// ranked are the best recipes of sets of n colourants, nearest first.
func (s *search) ranked(n int) []Recipe {
	var out []Recipe
	for _, r := range s.best {
		if len(r.Of) == n {
			out = append(out, r)
		}
	}
	slices.SortFunc(out, func(a, b Recipe) int {
		return cmp.Or(cmp.Compare(a.Apart, b.Apart), slices.Compare(a.Of, b.Of))
	})
	return out
}

// different are the best recipes that hold what they must, each of another set; one
// with a colourant more than another is only worth it when it comes nearer.
func (s *search) different(must []int) []Recipe {
	var all []Recipe
	for _, r := range s.best {
		if !slices.ContainsFunc(must, func(i int) bool { return !slices.Contains(r.Of, i) }) {
			all = append(all, r)
		}
	}
	cost := func(r Recipe) float64 { return r.Apart + anotherFrom*float64(len(r.Of)) }
	slices.SortFunc(all, func(a, b Recipe) int {
		return cmp.Or(cmp.Compare(cost(a), cost(b)), cmp.Compare(len(a.Of), len(b.Of)), cmp.Compare(total64(a.Parts), total64(b.Parts)),
			slices.Compare(a.Of, b.Of))
	})
	var out []Recipe
	for _, r := range all {
		more := slices.ContainsFunc(out, func(o Recipe) bool {
			return !slices.ContainsFunc(o.Of, func(i int) bool { return !slices.Contains(r.Of, i) })
		})
		if more { // it only adds to one that is shown
			continue
		}
		if len(out) > 0 && r.Apart > out[0].Apart+shownBeside { // another colour
			continue
		}
		if out = append(out, r.sorted()); len(out) == shown {
			break
		}
	}
	slices.SortStableFunc(out, func(a, b Recipe) int { return cmp.Compare(a.Apart, b.Apart) })
	return out
}

// sorted is the recipe with most parts first.
func (r Recipe) sorted() Recipe {
	at := make([]int, len(r.Of))
	for i := range at {
		at[i] = i
	}
	slices.SortStableFunc(at, func(a, b int) int { return r.Parts[b] - r.Parts[a] })
	out := Recipe{Colour: r.Colour, Apart: r.Apart}
	for _, i := range at {
		out.Of, out.Parts = append(out.Of, r.Of[i]), append(out.Parts, r.Parts[i])
	}
	return out
}

// Amounts are parts as amounts of a batch of so much in all, exactly and rounded to
// multiples of the least that can be weighed, which 0 leaves as they are. enough is the
// smallest batch of which no part rounds to nothing, where this one is smaller; else 0.
func Amounts(parts []float64, total, least float64) (exact, rounded []float64, enough float64) {
	sum, fewest := 0.0, math.Inf(1)
	for _, p := range parts {
		sum, fewest = sum+p, math.Min(fewest, p)
	}
	for _, p := range parts {
		of := total * p / sum
		exact = append(exact, of)
		if least > 0 {
			of = math.Round(of/least) * least
		}
		rounded = append(rounded, of)
	}
	if least > 0 && total*fewest/sum < least/2 {
		enough = least * sum / fewest
	}
	return exact, rounded, enough
}
