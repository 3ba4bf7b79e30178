package piece

import (
	"math"
	"sort"
)

// spot is a place to the nearest thousandth of a micrometre, so that ends that
// are one place are one key.
type spot struct{ x, y int64 }

func spotOf(p Point) spot {
	const grain = 1e6
	return spot{int64(math.Round(p.X * grain)), int64(math.Round(p.Y * grain))}
}

// Contours are the closed outlines of each part, for drawing them without a seam:
// slices of an overlay are joined, and a hole runs the other way round than what
// it lies in. Other regions are their own outlines.
func (p Piece) Contours() [][][]Point {
	out := make([][][]Point, len(p.Parts))
	if !p.Sliced {
		for _, r := range p.Regions {
			out[r.Part] = append(out[r.Part], r.Outline)
		}
		return out
	}
	slices := make([][][]Point, len(p.Parts))
	for _, r := range p.Regions {
		slices[r.Part] = append(slices[r.Part], r.Outline)
	}
	for i, all := range slices {
		out[i] = trace(all)
	}
	return out
}

// trace joins trapezoids with level tops and feet, their corners from the top
// left clockwise: where a foot lies on a top neither is an outline.
func trace(slices [][]Point) [][]Point {
	type level struct {
		x  float64
		up int
	}
	next := map[spot][]Point{}
	from := func(a, b Point) {
		if spotOf(a) != spotOf(b) {
			next[spotOf(a)] = append(next[spotOf(a)], b)
		}
	}
	levels, heights := map[int64][]level{}, map[int64]float64{}
	mark := func(a, b Point, up int) {
		y := spotOf(a).y
		heights[y] = a.Y
		levels[y] = append(levels[y], level{a.X, up}, level{b.X, -up})
	}
	var starts []Point
	for _, q := range slices {
		from(q[1], q[2])
		from(q[3], q[0])
		mark(q[0], q[1], 1)
		mark(q[3], q[2], -1)
		starts = append(starts, q[1], q[3])
	}
	for y, all := range levels {
		sort.Slice(all, func(i, j int) bool { return all[i].x < all[j].x })
		net := 0
		for i, l := range all {
			if i > 0 && net != 0 {
				a, b := Point{all[i-1].x, heights[y]}, Point{l.x, heights[y]}
				if net < 0 {
					a, b = b, a
				}
				from(a, b)
			}
			net += l.up
		}
	}
	var out [][]Point
	for _, start := range starts {
		var loop []Point
		for at := start; ; {
			ways := next[spotOf(at)]
			if len(ways) == 0 {
				break
			}
			next[spotOf(at)] = ways[1:]
			loop = append(loop, at)
			at = ways[0]
		}
		if len(loop) > 2 {
			out = append(out, straight(loop))
		}
	}
	return out
}

// straight leaves out corners that lie on the line between their neighbours.
func straight(loop []Point) []Point {
	var out []Point
	for i, q := range loop {
		a, b := loop[(i+len(loop)-1)%len(loop)], loop[(i+1)%len(loop)]
		if math.Abs((q.X-a.X)*(b.Y-a.Y)-(q.Y-a.Y)*(b.X-a.X)) > 1e-7*math.Hypot(b.X-a.X, b.Y-a.Y) {
			out = append(out, q)
		}
	}
	if len(out) < 3 {
		return loop
	}
	return out
}
