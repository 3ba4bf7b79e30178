package balance

import (
	"cmp"
	"math"
	"math/bits"
	"slices"

	"lampfern/core/colour"
)

// Coloured is one piece of a set as it is coloured: the layout of its parts, the card of each by its
// number, −1 for none, and how often the piece is made.
type Coloured struct {
	Layout
	Fill  []int
	Times int
}

// Few is a set in fewer colours: the cards that stay, the card of each part of each piece, and what
// is lost by it.
type Few struct {
	Cards []int
	Fill  [][]int
	Moved float64   // mean ΔE00 by which the area changes
	Edges []FewEdge // that were seen and are no longer
	Focus []int     // pieces whose first look goes to another part
	Loss  float64   // by which choices are compared: Moved, and what the rest weighs
}

// FewEdge is an edge between two parts of a piece that is lost.
type FewEdge struct{ Piece, A, B int }

// What is lost weighs, as much as a change of so many ΔE00 over the whole set: the edges of all
// pieces, if all were lost, and one piece's first look of as many as there are.
const (
	fewEdges = 60.0
	fewFocus = 12.0
)

// MostFewer is among how many cards in use Fewer looks.
const MostFewer = 16

// seenFrom is the ΔE00 from which an edge is seen.
const seenFrom = 8.0

// Fewer chooses the n of the cards in use, and how they are placed, that lose least: every choice of
// cards is looked at, each part whose card goes takes first the nearest that stays, and is then
// moved as long as that loses less. Cards of must stay in any case. done, nil for never, ends it early; what was best by then is
// returned, and false where there was nothing. More than 16 cards in use are not looked at.
func Fewer(pieces []Coloured, labs []colour.Lab, n int, must []int, done func() bool) (Few, bool) {
	var used []int
	for _, p := range pieces {
		for _, at := range p.Fill {
			if at >= 0 && !slices.Contains(used, at) {
				used = append(used, at)
			}
		}
	}
	slices.Sort(used)
	if n < 1 || n >= len(used) || len(used) > MostFewer {
		return Few{}, false
	}
	apart := make([][]float64, len(labs))
	for i := range labs {
		apart[i] = make([]float64, len(labs))
		for j := range labs {
			apart[i][j] = colour.DeltaE2000(labs[i], labs[j])
		}
	}
	s := fewer{pieces: pieces, labs: labs, apart: apart}
	s.prepare()
	best, found := Few{Loss: math.Inf(1)}, false
	for set := range 1 << len(used) {
		if bits.OnesCount(uint(set)) != n {
			continue
		}
		if done != nil && done() {
			break
		}
		var cards []int
		for i, c := range used {
			if set&(1<<i) != 0 {
				cards = append(cards, c)
			}
		}
		if slices.ContainsFunc(must, func(c int) bool { return slices.Contains(used, c) && !slices.Contains(cards, c) }) {
			continue
		}
		if few := s.place(cards, best.Loss); few.Loss < best.Loss {
			best, found = few, true
		}
	}
	if found {
		s.tell(&best)
	}
	return best, found
}

// fewer is a search with what it needs again and again.
type fewer struct {
	pieces []Coloured
	labs   []colour.Lab
	apart  [][]float64
	area   float64 // of all pieces, weighed
	edges  float64 // length of all edges that are seen, weighed
	first  []int   // the card of each piece that leads, −1 for none
	weight []float64
}

func (s *fewer) prepare() {
	for _, p := range s.pieces {
		w := float64(max(1, p.Times)) * math.Max(p.Area, 1)
		s.weight = append(s.weight, w)
		s.area += w
		s.first = append(s.first, s.lead(p, p.Fill))
		for a := range p.Fill {
			for b := range a {
				if s.seen(p, p.Fill, a, b) {
					s.edges += w * s.length(p, a, b)
				}
			}
		}
	}
}

// length is that of an edge as a share of the root of the piece's area.
func (s *fewer) length(p Coloured, a, b int) float64 {
	return p.Border[a][b] / math.Sqrt(math.Max(p.Area, 1))
}

func (s *fewer) seen(p Coloured, fill []int, a, b int) bool {
	return p.Border[a][b] > 0 && fill[a] >= 0 && fill[b] >= 0 && fill[a] != fill[b] && s.apart[fill[a]][fill[b]] >= seenFrom
}

// lead is the card that takes the first look, −1 for none.
func (s *fewer) lead(p Coloured, fill []int) int {
	for _, pull := range FirstLook(p.Merge(fill, len(s.labs)), s.labs) {
		if slices.Contains(fill, pull.Part) {
			return pull.Part
		}
	}
	return -1
}

// place colours the set with the cards that stay.
func (s *fewer) place(cards []int, bound float64) Few {
	few := Few{Cards: cards}
	for i, p := range s.pieces {
		fill := slices.Clone(p.Fill)
		var open []int
		for part, at := range fill {
			if at < 0 || slices.Contains(cards, at) {
				continue
			}
			open = append(open, part)
			fill[part] = slices.MinFunc(cards, func(a, b int) int {
				return cmp.Compare(s.apart[at][a], s.apart[at][b])
			})
		}
		loss := s.loss(i, fill)
		for better := true; better; {
			better = false
			for _, part := range open {
				for _, c := range cards {
					was := fill[part]
					if c == was {
						continue
					}
					fill[part] = c
					if now := s.loss(i, fill); now < loss-1e-12 {
						loss, better = now, true
					} else {
						fill[part] = was
					}
				}
			}
		}
		few.Loss += loss
		if lead := s.lead(p, fill); s.first[i] >= 0 && !s.sameLead(p, fill, s.first[i], lead) {
			few.Loss += fewFocus / float64(len(s.pieces))
			few.Focus = append(few.Focus, i)
		}
		few.Fill = append(few.Fill, fill)
		if few.Loss >= bound {
			return few
		}
	}
	return few
}

// sameLead reports whether some part that led still has the card that leads.
func (s *fewer) sameLead(p Coloured, fill []int, was, now int) bool {
	for part, at := range p.Fill {
		if at == was && fill[part] == now {
			return true
		}
	}
	return false
}

// loss is what one piece loses but for its first look.
func (s *fewer) loss(i int, fill []int) float64 {
	p, w := s.pieces[i], s.weight[i]
	moved, lost := 0.0, 0.0
	for part, at := range p.Fill {
		if at >= 0 {
			moved += p.Share[part] * s.apart[at][fill[part]]
		}
		for b := range part {
			if s.seen(p, p.Fill, part, b) && !s.seen(p, fill, part, b) {
				lost += s.length(p, part, b)
			}
		}
	}
	out := w * moved / s.area
	if s.edges > 0 {
		out += fewEdges * w * lost / s.edges
	}
	return out
}

// tell says what the best loses.
func (s *fewer) tell(few *Few) {
	for i, p := range s.pieces {
		for part, at := range p.Fill {
			if at >= 0 {
				few.Moved += s.weight[i] / s.area * p.Share[part] * s.apart[at][few.Fill[i][part]]
			}
			for b := range part {
				if s.seen(p, p.Fill, part, b) && !s.seen(p, few.Fill[i], part, b) {
					few.Edges = append(few.Edges, FewEdge{i, b, part})
				}
			}
		}
	}
}
