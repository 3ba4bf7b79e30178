package balance

import (
	"math"
	"math/rand/v2"
	"slices"
	"sync"

	"lampfern/core/colour"
)

// Way is one way to give the parts of a piece their colours. Indices are −1
// where there is none.
type Way struct {
	Fill  []int   // for each part the index of its colour
	Lead  int     // the part that takes the first look
	Times float64 // its pull over the next
	Lost  int     // edges that are lost
	Off   float64 // share of the piece that would have to change colour for the shares asked for
	score float64
}

// WaysAsked says what is wanted of the ways.
type WaysAsked struct {
	Pinned map[int]int // parts, by index, that keep a colour
	Focus  int         // part that should take the first look, −1 for any
	Quiet  []int       // parts that should recede
	Shares []float64   // of the piece that each colour should take, 1 together; nil for any
	Kept   []int       // colours that go to no part but those that are pinned to them
}

// MostWays is how many ways are offered.
const MostWays = 12

// How ways are scored: in the natural logarithm of a ratio of pulls. Starting
// values.
const (
	lostCost    = 0.5
	hiddenCost  = 0.5 // a part whose neighbour has its colour is no longer seen
	quietWeight = 0.4
	shareWeight = 6.0     // a tenth of the piece amiss costs more than a lost edge
	leadEnough  = 0.92    // ln of 2.5: more lead than that is no better
	tried       = 400_000 // ways looked at, at most
)

// Found is what a search for ways brings: the best that differ, how many ways
// there are, and how many were looked at.
type Found struct {
	Ways   []Way
	All    float64
	Looked int
}

// Ways tries the ways to give parts colours and returns the best that differ: no
// two with the same colour leading and the same colour on the largest part. With
// more parts than colours, colours take several parts and each is used; with more
// colours than parts, each part has its own. Where there are too many ways to look
// at all, it starts from many at random, by a fixed seed, and betters each by
// trades of two parts. Layout's Share and Border are those of the parts. stop,
// when given, is asked now and then whether to give up.
func Ways(l Layout, colours []colour.Lab, asked WaysAsked, stop func() bool) Found {
	m, n := len(l.Share), len(colours)
	if m == 0 || n == 0 {
		return Found{}
	}
	s := newSearch(l, colours, asked)
	if stop != nil {
		var one sync.Mutex
		s.stop = func() bool {
			one.Lock()
			defer one.Unlock()
			return stop()
		}
	}
	if len(s.open) == 0 {
		return Found{}
	}
	all := s.count()
	if all <= tried {
		s.walkAll()
	} else {
		s.climb()
	}
	slices.SortStableFunc(s.best, func(a, b Way) int {
		switch {
		case a.score > b.score:
			return -1
		case a.score < b.score:
			return 1
		}
		return slices.Compare(a.Fill, b.Fill)
	})
	return Found{s.best[:min(len(s.best), MostWays)], all, s.done}
}

// sums are what a colour's contrast is made of.
type sums struct{ edge, length, outside, share, rest, alike float64 }

// rareShare is the share of the piece under which a colour is as rare as counts.
var rareShare = math.Exp(-rareFrom)

// search walks through the assignments.
type search struct {
	l       Layout
	asked   WaysAsked
	parts   int
	colours int
	apart   [][]float64 // ΔE00 of colours
	losable [][]bool    // of colours: an edge between them is lost
	matters [][]bool    // of parts: they touch along enough of an edge
	like    [][]float64 // of colours: how much of one counts for the other
	sums    []sums      // of colours, while one assignment is judged
	strong  []float64   // what its strength makes of a colour's contrast
	thin    float64     // mm under which a part is thin
	ground  int
	free    []int // parts that no colour is pinned to
	open    []int // colours that may be placed
	among   int   // parts that may have, or are pinned to, one of them
	fill    []int
	used    []int
	pull    []float64
	best    []Way
	at      map[[2]int]int // place in best, by the leading colour and the ground's
	done    int
	stop    func() bool
}

func newSearch(l Layout, c []colour.Lab, asked WaysAsked) *search {
	s := &search{l: l, asked: asked, parts: len(l.Share), colours: len(c), at: map[[2]int]int{}}
	for i := range c {
		row, losable, like := make([]float64, len(c)), make([]bool, len(c)), make([]float64, len(c))
		for j := range c {
			row[j] = colour.DeltaE2000(c[i], c[j])
			like[j] = math.Exp(-(row[j] / rareReach) * (row[j] / rareReach))
			losable[j] = row[j] < lostApart && math.Abs(c[i].L-c[j].L) < lostLightness
		}
		s.apart, s.losable, s.like = append(s.apart, row), append(s.losable, losable), append(s.like, like)
		s.strong = append(s.strong, strength(c[i]))
	}
	length := make([]float64, s.parts)
	for i := range l.Border {
		for _, b := range l.Border[i] {
			length[i] += b
		}
	}
	for i, share := range l.Share {
		matters := make([]bool, s.parts)
		for j, b := range l.Border[i] {
			matters[j] = b > EdgeMatters*math.Min(length[i], length[j])
		}
		s.matters = append(s.matters, matters)
		if share > l.Share[s.ground] {
			s.ground = i
		}
	}
	s.thin = thinFrom * math.Sqrt(l.Area)
	s.fill, s.used, s.pull, s.sums = make([]int, s.parts), make([]int, s.colours), make([]float64, s.colours), make([]sums, s.colours)
	for i := range c {
		if !slices.Contains(asked.Kept, i) {
			s.open = append(s.open, i)
		}
	}
	for part := range s.parts {
		pin, is := asked.Pinned[part]
		if !is {
			s.free = append(s.free, part)
		} else {
			s.fill[part] = pin
			s.used[pin]++
		}
		if !is || !slices.Contains(asked.Kept, pin) {
			s.among++
		}
	}
	return s
}

// each reports whether each part has a colour of its own.
func (s *search) each() bool { return len(s.open) >= s.among }

// unused is how many colours that may be placed no part has.
func (s *search) unused() int {
	n := 0
	for _, c := range s.open {
		if s.used[c] == 0 {
			n++
		}
	}
	return n
}

// count is how many ways there are.
func (s *search) count() float64 {
	f, u := len(s.free), s.unused()
	all := 1.0
	if s.each() {
		for k := range f {
			all *= float64(u - k)
		}
		return all
	}
	// Every colour used: by inclusion and exclusion of those that are not.
	all = 0
	choose := 1.0
	for k := range u + 1 {
		term := choose * math.Pow(float64(len(s.open)-k), float64(f))
		if k%2 == 1 {
			term = -term
		}
		all += term
		choose *= float64(u-k) / float64(k+1)
	}
	return math.Max(0, all)
}

func (s *search) over() bool {
	return s.done >= tried || s.done&1023 == 1023 && s.stop != nil && s.stop()
}

// climb betters ways from many at random by trades of two parts, and by giving
// a part another colour, until nothing is better.
func (s *search) climb() {
	rnd := rand.New(rand.NewPCG(uint64(s.parts), uint64(s.colours)))
	pinned := slices.Clone(s.used)
	for !s.over() && len(s.free) > 0 {
		copy(s.used, pinned)
		parts := rnd.Perm(len(s.free))
		var left []int // colours that must, or may, be used first
		for _, i := range rnd.Perm(len(s.open)) {
			if c := s.open[i]; s.used[c] == 0 {
				left = append(left, c)
			}
		}
		for i, at := range parts {
			c := s.open[rnd.IntN(len(s.open))]
			if i < len(left) {
				c = left[i]
			}
			s.fill[s.free[at]] = c
			s.used[c]++
		}
		for score, better := s.judge(), true; better && !s.over(); {
			better = false
			for i, a := range s.free {
				for _, b := range s.free[i+1:] {
					if s.fill[a] == s.fill[b] {
						continue
					}
					s.fill[a], s.fill[b] = s.fill[b], s.fill[a]
					if now := s.judge(); now > score {
						score, better = now, true
					} else {
						s.fill[a], s.fill[b] = s.fill[b], s.fill[a]
					}
				}
				for _, c := range s.open {
					was := s.fill[a]
					if c == was || s.each() && s.used[c] > 0 || !s.each() && s.used[was] < 2 {
						continue
					}
					s.fill[a] = c
					if now := s.judge(); now > score {
						score, better = now, true
						s.used[was]--
						s.used[c]++
					} else {
						s.fill[a] = was
					}
				}
			}
		}
	}
}

// walkAll walks every way, from each colour of the first free part side by side. What it finds does not
// depend on which ends first.
func (s *search) walkAll() {
	const worthIt = 5 // free parts
	if len(s.free) < worthIt {
		s.walk(0)
		return
	}
	full := s.each() || len(s.free) <= s.unused()
	from := make([]*search, len(s.open))
	var wait sync.WaitGroup
	for i, c := range s.open {
		if s.used[c] > 0 && full {
			continue
		}
		one := *s
		one.fill, one.used, one.pull = slices.Clone(s.fill), slices.Clone(s.used), slices.Clone(s.pull)
		one.sums, one.best, one.at = make([]sums, len(s.sums)), nil, map[[2]int]int{}
		one.fill[one.free[0]] = c
		one.used[c]++
		from[i] = &one
		wait.Go(func() { one.walk(1) })
	}
	wait.Wait()
	for _, one := range from {
		if one == nil {
			continue
		}
		s.done += one.done
		for _, w := range one.best {
			s.keep(w)
		}
	}
}

// keep takes a way in where it is the best with its lead and its ground.
func (s *search) keep(w Way) {
	key := [2]int{w.Fill[w.Lead], w.Fill[s.ground]}
	at, known := s.at[key]
	switch {
	case !known:
		s.at[key] = len(s.best)
		s.best = append(s.best, w)
	case s.best[at].score < w.score:
		s.best[at] = w
	}
}

// walk gives the free parts from the at-th on every colour in turn.
func (s *search) walk(at int) {
	if s.over() {
		return
	}
	if at == len(s.free) {
		s.judge()
		return
	}
	// Colours repeat only when there are more parts than colours, and then every
	// colour must still find a part.
	full := s.each() || len(s.free)-at <= s.unused()
	for _, c := range s.open {
		if s.used[c] > 0 && full {
			continue
		}
		s.fill[s.free[at]] = c
		s.used[c]++
		s.walk(at + 1)
		s.used[c]--
	}
}

// judge reads one assignment and returns its score. Parts of one colour are one, as in
// FirstLook of what is merged.
func (s *search) judge() float64 {
	s.done++
	lost, hidden := 0, 0
	clear(s.sums)
	for i, c := range s.fill {
		s.sums[c].share += s.l.Share[i]
		if s.l.Outside != nil {
			s.sums[c].outside += s.l.Outside[i]
		}
	}
	for i := range s.parts {
		ci := s.fill[i]
		si := &s.sums[ci]
		row, losable, border, matters := s.apart[ci], s.losable[ci], s.l.Border[i], s.matters[i]
		for j := i + 1; j < s.parts; j++ {
			b := border[j]
			if b == 0 {
				continue
			}
			cj := s.fill[j]
			if ci == cj {
				if matters[j] {
					hidden++
				}
				continue
			}
			sj, de := &s.sums[cj], row[cj]
			si.edge += b * de
			sj.edge += b * de
			si.length += b
			sj.length += b
			if matters[j] && losable[cj] {
				lost++
			}
		}
	}
	all := 0.0
	for c := range s.sums {
		own := &s.sums[c]
		if own.share == 0 {
			continue
		}
		all += own.share
		own.alike += own.share
		apart, like := s.apart[c], s.like[c]
		for o := c + 1; o < len(s.sums); o++ {
			other := &s.sums[o]
			own.rest += other.share * apart[o]
			other.rest += own.share * apart[o]
			own.alike += other.share * like[o]
			other.alike += own.share * like[o]
		}
	}
	first, second, top := -1, 0.0, 0.0
	for c := range s.sums {
		s.pull[c] = 0
		own := &s.sums[c]
		if own.share == 0 {
			continue
		}
		contrast := 0.0
		if own.length > 0 {
			contrast += edgePart * own.edge / own.length
		}
		if others := all - own.share; others > 1e-12 {
			contrast += (1 - edgePart) * own.rest / others
		}
		pull := contrast * s.strong[c]
		if own.alike > rareShare { // else it is as rare as counts
			pull *= -math.Log(math.Min(1, own.alike)) / rareFrom
		}
		if own.share < smallShare {
			pull *= math.Sqrt(own.share / smallShare)
		}
		if edge := own.length + own.outside; s.l.Area > 0 && edge > 0 {
			pull *= math.Min(1, 2*own.share*s.l.Area/edge/s.thin)
		}
		s.pull[c] = pull
		switch {
		case first < 0 || pull > top:
			first, second, top = c, top, pull
		case pull > second:
			second = pull
		}
	}
	lead := -1
	for i, c := range s.fill { // the largest part of the leading colour leads
		if c == first && (lead < 0 || s.l.Share[i] > s.l.Share[lead]) {
			lead = i
		}
	}
	score := math.Log(math.Max(top, 1e-9) / math.Max(second, 1e-9))
	if f := s.asked.Focus; f >= 0 && s.fill[f] != first {
		score = math.Log(math.Max(s.pull[s.fill[f]], 1e-9) / math.Max(top, 1e-9))
	} else {
		if f >= 0 {
			lead = f
		}
		score = math.Min(score, leadEnough)
	}
	score -= hiddenCost * float64(hidden)
	score -= lostCost * float64(lost)
	for _, q := range s.asked.Quiet {
		score -= quietWeight * s.pull[s.fill[q]] / math.Max(top, 1e-9)
	}
	off := 0.0
	if s.asked.Shares != nil {
		for c, want := range s.asked.Shares {
			off += math.Abs(s.sums[c].share-want) / 2
		}
		score -= shareWeight * off
	}
	if at, known := s.at[[2]int{s.fill[lead], s.fill[s.ground]}]; !known || s.best[at].score < score {
		s.keep(Way{Fill: slices.Clone(s.fill), Lead: lead, Times: math.Max(top, 1e-9) / math.Max(second, 1e-9), Lost: lost, Off: off, score: score})
	}
	return score
}
