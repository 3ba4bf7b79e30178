// Package weave holds weaving drafts: which threads are lifted by which
// treadle, in what order they are trodden, what cloth that makes, and how much
// of its face each system of threads shows.
//
// Colours and materials belong elsewhere; yarns are numbers here.
package weave

import (
	"fmt"
	"slices"
)

// Limits of a draft.
const (
	MostShafts   = 40
	MostTreadles = 400
	MostThreads  = 20_000 // ends, or picks, of one repeat
)

// Draft is a weave: one repeat of its threading and treadling, and the tie-up
// between. Shafts and treadles count from 1. Treading lifts shafts, so that
// their ends lie over the pick.
type Draft struct {
	Threading []int   `json:"threading"` // the shaft of each end
	TieUp     [][]int `json:"tie_up"`    // the shafts that each treadle lifts
	Treadling []int   `json:"treadling"` // the treadle of each pick
}

// Structure is a weave with a name.
type Structure struct {
	Key, Name string
	Draft
}

// Structures lists the weaves that can be chosen. Twills are named by the
// picks an end passes over and under.
func Structures() []Structure {
	straight, point := []int{1, 2, 3, 4}, []int{1, 2, 3, 4, 3, 2}
	two := [][]int{{1, 2}, {2, 3}, {3, 4}, {4, 1}}
	return []Structure{
		{"plain", "plain", Draft{[]int{1, 2}, [][]int{{1}, {2}}, []int{1, 2}}},
		{"twill22", "2/2 twill", Draft{straight, two, straight}},
		{"twill13", "1/3 twill", Draft{straight, [][]int{{1}, {2}, {3}, {4}}, straight}},
		{"twill31", "3/1 twill", Draft{straight, [][]int{{1, 2, 3}, {2, 3, 4}, {3, 4, 1}, {4, 1, 2}}, straight}},
		{"herringbone", "herringbone twill", Draft{point, two, straight}},
		{"diamond", "diamond twill", Draft{point, two, point}},
		{"basket", "2/2 basket", Draft{[]int{1, 1, 2, 2}, [][]int{{1}, {2}}, []int{1, 1, 2, 2}}},
	}
}

// Shafts is how many shafts the draft needs.
func (d Draft) Shafts() int {
	most := 0
	for _, s := range d.Threading {
		most = max(most, s)
	}
	for _, t := range d.TieUp {
		for _, s := range t {
			most = max(most, s)
		}
	}
	return most
}

// Check says in one sentence what keeps the draft from being woven: nothing
// threaded or trodden, numbers out of range, or a pick that lifts no end.
func (d Draft) Check() error {
	switch {
	case len(d.Threading) == 0:
		return fmt.Errorf("the threading is empty: write the shaft of each end, such as 1 2 3 4")
	case len(d.Treadling) == 0:
		return fmt.Errorf("the treadling is empty: write the treadle of each pick, such as 1 2 3 4")
	case len(d.TieUp) == 0:
		return fmt.Errorf("the tie-up is empty: write the shafts each treadle lifts, such as 1 2, 2 3, 3 4, 4 1")
	case len(d.Threading) > MostThreads || len(d.Treadling) > MostThreads:
		return fmt.Errorf("a repeat has at most %d ends and %d picks: this one has %d and %d", MostThreads, MostThreads, len(d.Threading),
			len(d.Treadling))
	case len(d.TieUp) > MostTreadles:
		return fmt.Errorf("a draft has at most %d treadles: this one has %d", MostTreadles, len(d.TieUp))
	}
	for i, s := range d.Threading {
		if s < 1 || s > MostShafts {
			return fmt.Errorf("end %d is on shaft %d: choose a shaft from 1 to %d for it", i+1, s, MostShafts)
		}
	}
	for t, shafts := range d.TieUp {
		for _, s := range shafts {
			if s < 1 || s > MostShafts {
				return fmt.Errorf("treadle %d lifts shaft %d: choose shafts from 1 to %d", t+1, s, MostShafts)
			}
		}
	}
	lifts := make([]bool, len(d.TieUp))
	for t := range d.TieUp {
		lifts[t] = slices.ContainsFunc(d.Threading, func(s int) bool { return slices.Contains(d.TieUp[t], s) })
	}
	for i, t := range d.Treadling {
		switch {
		case t < 1 || t > len(d.TieUp):
			return fmt.Errorf("pick %d is on treadle %d and the tie-up has %d: choose one of them", i+1, t, len(d.TieUp))
		case !lifts[t-1] && len(d.TieUp[t-1]) == 0:
			return fmt.Errorf("pick %d lifts no shaft, so it would be loose over the whole cloth: tie a shaft to treadle %d", i+1, t)
		case !lifts[t-1]:
			return fmt.Errorf("pick %d lifts no end: nothing is threaded on the shafts of treadle %d, so thread an end there or tie another shaft",
				i+1, t)
		}
	}
	return nil
}

// Up reports whether the end lies over the pick; both count from 0 and repeat.
func (d Draft) Up(end, pick int) bool {
	return slices.Contains(d.TieUp[d.Treadling[pick%len(d.Treadling)]-1], d.Threading[end%len(d.Threading)])
}

// rows are the picks of one repeat, each with its ends of one repeat that are
// up. Picks on one treadle share theirs.
func (d Draft) rows() [][]bool {
	byTreadle := make([][]bool, len(d.TieUp))
	for t, shafts := range d.TieUp {
		var lifted [MostShafts + 1]bool
		for _, s := range shafts {
			lifted[s] = true
		}
		row := make([]bool, len(d.Threading))
		for e, s := range d.Threading {
			row[e] = lifted[s]
		}
		byTreadle[t] = row
	}
	out := make([][]bool, len(d.Treadling))
	for i, t := range d.Treadling {
		out[i] = byTreadle[t-1]
	}
	return out
}

// Drawdown is the face of a cloth: for each crossing, pick by pick from the
// first at the head and end by end from the left, the yarn on top. warp and weft
// are the yarns of the ends and of the picks. The draft must be sound.
func (d Draft) Drawdown(warp, weft []int16) []int16 {
	out := make([]int16, len(warp)*len(weft))
	rows := d.rows()
	n := len(d.Threading)
	for p, y := range weft {
		row, line := rows[p%len(rows)], out[p*len(warp):(p+1)*len(warp)]
		at := 0
		for e := range line {
			if row[at] {
				line[e] = warp[e]
			} else {
				line[e] = y
			}
			if at++; at == n {
				at = 0
			}
		}
	}
	return out
}

// TurnedOver is the draft of the other side of the cloth: every treadle lifts what
// it left down.
func (d Draft) TurnedOver() Draft {
	shafts := d.Shafts()
	out := Draft{Threading: d.Threading, Treadling: d.Treadling, TieUp: make([][]int, len(d.TieUp))}
	for t, lifts := range d.TieUp {
		for s := 1; s <= shafts; s++ {
			if !slices.Contains(lifts, s) {
				out.TieUp[t] = append(out.TieUp[t], s)
			}
		}
	}
	return out
}

// Ups tells of each crossing of so many ends and picks whether the end lies on
// top, in the order of Drawdown.
func (d Draft) Ups(ends, picks int) []bool {
	out := make([]bool, 0, ends*picks)
	rows := d.rows()
	for p := range picks {
		row := rows[p%len(rows)]
		for n := ends; n > 0; n -= len(row) {
			out = append(out, row[:min(n, len(row))]...)
		}
	}
	return out
}

// WarpShare is the share of crossings at which an end is on top, over one
// repeat, 0 to 1: what the warp shows of a face whose threads are equally thick
// and close.
func (d Draft) WarpShare() float64 {
	up := 0
	for _, row := range d.rows() {
		for _, on := range row {
			if on {
				up++
			}
		}
	}
	return float64(up) / float64(len(d.Threading)*len(d.Treadling))
}

// Floats are the longest stretches over which a thread is not tied down, on
// either side of the cloth, in threads crossed. A thread that is never tied
// down floats −1.
type Floats struct{ Warp, Weft int }

// Floats measures the draft, repeated without end.
func (d Draft) Floats() Floats {
	rows := d.rows()
	f := Floats{}
	longest := func(most *int, n int, at func(int) bool) {
		if run := longestRun(n, at); run < 0 || *most < 0 {
			*most = -1
		} else {
			*most = max(*most, run)
		}
	}
	for e := range d.Threading {
		longest(&f.Warp, len(rows), func(p int) bool { return rows[p][e] })
	}
	for _, row := range rows {
		longest(&f.Weft, len(row), func(e int) bool { return row[e] })
	}
	return f
}

// LongFloats tells of each crossing of so many ends and picks, in the order of
// Drawdown, whether a thread floats there over more than so many threads, on the
// face: the warp where it lies on top, else the weft. Threads are followed beyond
// the crossings that are asked for.
func (d Draft) LongFloats(ends, picks, longer int) []bool {
	out := make([]bool, ends*picks)
	up := func(e, p int) bool { return d.Up(e+len(d.Threading), p+len(d.Treadling)) }
	reach := func(n int, same func(int) bool) int {
		k := 0
		for k <= max(longer, n) && same(k+1) {
			k++
		}
		return k
	}
	for p := range picks {
		for e := range ends {
			on := up(e, p)
			step := func(sign int) int {
				return reach(longer, func(k int) bool {
					if on {
						return up(e, p+sign*k+len(d.Treadling)*(k+1)) == on
					}
					return up(e+sign*k+len(d.Threading)*(k+1), p) == on
				})
			}
			out[p*ends+e] = 1+step(1)+step(-1) > longer
		}
	}
	return out
}

// longestRun is the longest run of one value in n places read round, −1 when
// all are of one.
func longestRun(n int, at func(int) bool) int {
	start := -1
	for i := range n {
		if at(i) != at((i+n-1)%n) {
			start = i
			break
		}
	}
	if start < 0 {
		return -1
	}
	longest, run := 0, 0
	for k := range n {
		if k > 0 && at((start+k)%n) != at((start+k-1)%n) {
			run = 0
		}
		run++
		longest = max(longest, run)
	}
	return longest
}
