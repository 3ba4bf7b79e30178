// Package nest lays boxes on cloth: beside one another across its width, or on sheets of one size.
// It knows no craft; what it finds can be cut as it is drawn, though a better way may exist.
package nest

import (
	"cmp"
	"math"
	"slices"
)

// Box is a rectangle to be laid, W across the cloth and H along it. One that may be turned is also
// laid with H across.
type Box struct {
	W, H float64
	Turn bool
}

// Place is where a box lies: its number, its sheet, its corner and its size as it lies.
type Place struct {
	Box, Sheet int
	X, Y, W, H float64
}

// slack is by how much a box may be larger than its room, for sums that are rounded.
const slack = 1e-9

// Cloth lays boxes on a cloth of a width, and returns where they lie and the length they take. Of
// several orders (the longest first, the widest, the largest) and two rules (as low as can be; with
// the least lost below) the shortest is taken. ok is false where a box is wider than the cloth.
func Cloth(boxes []Box, width float64) (out []Place, length float64, ok bool) {
	length = math.Inf(1)
	try(boxes, width, math.Inf(1), func(all []Place, _ int) {
		long := 0.0
		for _, p := range all {
			long = max(long, p.Y+p.H)
		}
		if long < length-slack {
			out, length, ok = all, long, true
		}
	})
	return out, length, ok
}

// Sheets lays boxes on sheets of one size and returns where they lie and how many sheets they take.
// ok is false where a box is larger than a sheet.
func Sheets(boxes []Box, width, high float64) (out []Place, sheets int, ok bool) {
	try(boxes, width, high, func(all []Place, n int) {
		if !ok || n < sheets {
			out, sheets, ok = all, n, true
		}
	})
	return out, sheets, ok
}

// try lays boxes in every order by every rule, and tells each way that holds them all.
func try(boxes []Box, width, high float64, tell func(all []Place, sheets int)) {
	order := make([]int, len(boxes))
	for i := range order {
		order[i] = i
	}
	for _, size := range []func(b Box) float64{
		func(b Box) float64 { return b.H },
		func(b Box) float64 { return b.W },
		func(b Box) float64 { return b.W * b.H },
		func(b Box) float64 { return max(b.W, b.H) },
	} {
		slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(size(boxes[b]), size(boxes[a])) })
		for _, rule := range []rule{lowest, snug} {
			if all, n, ok := laid(boxes, order, width, high, rule); ok {
				tell(all, n)
			}
		}
	}
}

// laid lays boxes in an order, each on the first sheet that has room.
func laid(boxes []Box, order []int, width, high float64, better rule) (out []Place, n int, ok bool) {
	var sheets []skyline
	for _, i := range order {
		b, done := boxes[i], false
		for s := 0; s <= len(sheets) && !done; s++ {
			if s == len(sheets) {
				sheets = append(sheets, skyline{{0, width, 0}})
			}
			best, found := spot{}, false
			for _, way := range ways(b) {
				if at, fits := sheets[s].find(way[0], way[1], high, better); fits && (!found || better(at, best)) {
					best, found = at, true
				}
			}
			if !found && s == len(sheets)-1 && len(sheets[s]) == 1 && sheets[s][0].y == 0 {
				return nil, 0, false // not even on an empty one
			}
			if found {
				sheets[s] = sheets[s].with(best)
				out, done = append(out, Place{i, s, best.x, best.y, best.w, best.h}), true
			}
		}
	}
	return out, len(sheets), true
}

func ways(b Box) [][2]float64 {
	if b.Turn && b.W != b.H {
		return [][2]float64{{b.W, b.H}, {b.H, b.W}}
	}
	return [][2]float64{{b.W, b.H}}
}

// skyline is how far a cloth is filled, from its left edge to its right one.
type skyline []level

type level struct{ x, w, y float64 }

// spot is a place for a box, and the area that is lost below it.
type spot struct {
	x, y, w, h, lost float64
}

// rule reports whether one spot is better than another.
type rule func(a, b spot) bool

func lowest(a, b spot) bool { return cmp.Or(cmp.Compare(a.y+a.h, b.y+b.h), cmp.Compare(a.x, b.x)) < 0 }

func snug(a, b spot) bool {
	return cmp.Or(cmp.Compare(a.lost, b.lost), cmp.Compare(a.y+a.h, b.y+b.h)) < 0
}

// find is the best spot for a box of a size, not beyond high.
func (s skyline) find(w, h, high float64, better rule) (best spot, ok bool) {
	right := s[len(s)-1].x + s[len(s)-1].w
	for i, from := range s {
		if from.x+w > right+slack {
			break
		}
		at := spot{x: from.x, w: w, h: h}
		for j := i; j < len(s) && s[j].x < from.x+w-slack; j++ {
			at.y = max(at.y, s[j].y)
		}
		if at.y+h > high+slack {
			continue
		}
		for j := i; j < len(s) && s[j].x < from.x+w-slack; j++ {
			at.lost += (at.y - s[j].y) * (min(s[j].x+s[j].w, from.x+w) - s[j].x)
		}
		if !ok || better(at, best) {
			best, ok = at, true
		}
	}
	return best, ok
}

// with is the skyline with a box on a spot.
func (s skyline) with(at spot) skyline {
	var out skyline
	add := func(l level) {
		if l.w <= slack {
			return
		}
		if last := len(out) - 1; last >= 0 && math.Abs(out[last].y-l.y) <= slack {
			out[last].w += l.w
			return
		}
		out = append(out, l)
	}
	end, put := at.x+at.w, false
	for _, l := range s {
		if l.x < at.x {
			add(level{l.x, min(l.w, at.x-l.x), l.y})
		}
		if !put && l.x+l.w > at.x+slack {
			add(level{at.x, at.w, at.y + at.h})
			put = true
		}
		if l.x+l.w > end {
			from := max(l.x, end)
			add(level{from, l.x + l.w - from, l.y})
		}
	}
	return out
}
