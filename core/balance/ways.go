package balance

import (
	"math"
	"slices"

	"lampfern/core/colour"
)

// Way is one way to give the parts of a piece their colours. Indices are −1
// where there is none.
type Way struct {
	Fill  []int   // for each part the index of its colour
	Lead  int     // the part that takes the first look
	Times float64 // its pull over the next
	Lost  int     // edges that are lost
	score float64
}

// WaysAsked says what is wanted of the ways.
type WaysAsked struct {
	Pinned map[int]int // parts, by index, that keep a colour
	Focus  int         // part that should take the first look, −1 for any
	Quiet  []int       // parts that should recede
}

// MostWays is how many ways are offered.
const MostWays = 12

// How ways are scored: in the natural logarithm of a ratio of pulls. Starting
// values.
const (
	lostCost    = 0.5
	quietWeight = 0.4
	leadEnough  = 0.92 // ln of 2.5: more lead than that is no better
	tried       = 400_000
)

// Ways tries every way to give parts colours and returns the best that differ: no
// two with the same colour leading and the same colour on the largest part. With
// more parts than colours, colours take several parts and each is used; with more
// colours than parts, each part has its own. Layout's Share and Border are those of
// the parts. stop, when given, is asked now and then whether to give up.
func Ways(l Layout, colours []colour.Lab, asked WaysAsked, stop func() bool) []Way {
	m, n := len(l.Share), len(colours)
	if m == 0 || n == 0 {
		return nil
	}
	s := newSearch(l, colours, asked)
	s.stop = stop
	s.walk(0)
	slices.SortStableFunc(s.best, func(a, b Way) int {
		switch {
		case a.score > b.score:
			return -1
		case a.score < b.score:
			return 1
		}
		return slices.Compare(a.Fill, b.Fill)
	})
	return s.best[:min(len(s.best), MostWays)]
}

// sums are what a part's contrast is made of.
type sums struct{ edge, length, rest, share float64 }

// search walks through the assignments.
type search struct {
	l       Layout
	asked   WaysAsked
	parts   int
	colours int
	apart   [][]float64 // ΔE00 of colours
	losable [][]bool    // of colours: an edge between them is lost
	matters [][]bool    // of parts: they touch along enough of an edge
	sums    []sums      // of parts, while one assignment is judged
	force   []float64   // what chroma makes of a contrast
	size    []float64   // what share makes of it, by part
	ground  int
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
		row, losable := make([]float64, len(c)), make([]bool, len(c))
		for j := range c {
			row[j] = colour.DeltaE2000(c[i], c[j])
			losable[j] = row[j] < lostApart && math.Abs(c[i].L-c[j].L) < lostLightness
		}
		s.apart, s.losable = append(s.apart, row), append(s.losable, losable)
		s.force = append(s.force, chromaBase+c[i].Chroma()/100)
	}
	length := make([]float64, s.parts)
	for i := range l.Border {
		for _, b := range l.Border[i] {
			length[i] += b
		}
	}
	for i, share := range l.Share {
		s.size = append(s.size, (1-share)*math.Min(1, math.Sqrt(share/smallShare)))
		matters := make([]bool, s.parts)
		for j, b := range l.Border[i] {
			matters[j] = b > edgeMattersAt*math.Min(length[i], length[j])
		}
		s.matters = append(s.matters, matters)
		if share > l.Share[s.ground] {
			s.ground = i
		}
	}
	s.fill, s.used, s.pull, s.sums = make([]int, s.parts), make([]int, s.colours), make([]float64, s.parts), make([]sums, s.parts)
	return s
}

func (s *search) walk(part int) {
	if s.done >= tried || s.done&1023 == 1023 && s.stop != nil && s.stop() {
		return
	}
	if part == s.parts {
		s.done++
		s.judge()
		return
	}
	// Colours repeat only when there are more parts than colours, and then every
	// colour must still find a part.
	left := s.parts - part
	unused := 0
	for _, u := range s.used {
		if u == 0 {
			unused++
		}
	}
	for c := range s.colours {
		if pin, ok := s.asked.Pinned[part]; ok && pin != c {
			continue
		}
		if s.used[c] > 0 {
			_, pinned := s.asked.Pinned[part]
			if !pinned && (s.colours >= s.parts || left <= unused) {
				continue
			}
		}
		s.fill[part] = c
		s.used[c]++
		s.walk(part + 1)
		s.used[c]--
	}
}

// judge reads one assignment. Parts of one colour have no edge between them.
func (s *search) judge() {
	lost := 0
	clear(s.sums)
	for i := range s.parts {
		ci, si := s.fill[i], &s.sums[i]
		row, losable, border, matters := s.apart[ci], s.losable[ci], s.l.Border[i], s.matters[i]
		for j := i + 1; j < s.parts; j++ {
			cj := s.fill[j]
			if ci == cj {
				continue
			}
			de, b, sj := row[cj], border[j], &s.sums[j]
			si.edge += b * de
			sj.edge += b * de
			si.length += b
			sj.length += b
			si.rest += s.l.Share[j] * de
			sj.rest += s.l.Share[i] * de
			si.share += s.l.Share[j]
			sj.share += s.l.Share[i]
			if matters[j] && losable[cj] {
				lost++
			}
		}
	}
	for i := range s.parts {
		si, contrast := &s.sums[i], 0.0
		if si.length > 0 {
			contrast += 0.5 * si.edge / si.length
		}
		if si.share > 0 {
			contrast += 0.5 * si.rest / si.share
		}
		s.pull[i] = contrast * s.force[s.fill[i]] * s.size[i]
	}
	first, second := -1, 0.0
	for i, p := range s.pull {
		if first < 0 || p > s.pull[first] {
			first = i
		}
	}
	for i, p := range s.pull { // parts of the leading colour lead with it
		if s.fill[i] != s.fill[first] {
			second = math.Max(second, p)
		}
	}
	lead := first
	score := math.Log(math.Max(s.pull[first], 1e-9) / math.Max(second, 1e-9))
	if f := s.asked.Focus; f >= 0 && s.fill[f] != s.fill[first] {
		score = math.Log(math.Max(s.pull[f], 1e-9) / math.Max(s.pull[first], 1e-9))
	} else {
		score = math.Min(score, leadEnough)
	}
	score -= lostCost * float64(lost)
	for _, q := range s.asked.Quiet {
		score -= quietWeight * s.pull[q] / math.Max(s.pull[first], 1e-9)
	}
	key := [2]int{s.fill[lead], s.fill[s.ground]}
	at, known := s.at[key]
	if known && s.best[at].score >= score {
		return
	}
	w := Way{Fill: slices.Clone(s.fill), Lead: lead, Times: math.Max(s.pull[first], 1e-9) / math.Max(second, 1e-9), Lost: lost, score: score}
	if known {
		s.best[at] = w
		return
	}
	s.at[key] = len(s.best)
	s.best = append(s.best, w)
}
