package piece

import (
	"math"
	"slices"
	"sort"
)

// thinnest is the height in mm under which a slice between two corners holds no
// area worth keeping.
const thinnest = 1e-9

// edge is one side of an outline, downward.
type edge struct {
	a, b  Point // a above b
	shape int
	x     float64 // where it runs through the slice that is looked at
}

func (e edge) at(y float64) float64 {
	return e.a.X + (y-e.a.Y)/(e.b.Y-e.a.Y)*(e.b.X-e.a.X)
}

// Overlay is what is seen of outlines laid one over another, the last on top,
// filled even-odd: trapezoids that do not overlap, with level tops and feet. The
// plane is cut into slices at every corner and crossing; within a slice no sides
// cross, so what lies on top between two of them is known.
func Overlay(all []Outline) []Region {
	var edges []edge
	for s, o := range all {
		for i, a := range o.Corners {
			b := o.Corners[(i+1)%len(o.Corners)]
			if a.Y > b.Y {
				a, b = b, a
			}
			if a.Y < b.Y {
				edges = append(edges, edge{a: a, b: b, shape: s})
			}
		}
	}
	sort.Slice(edges, func(i, j int) bool { return edges[i].a.Y < edges[j].a.Y })
	cuts := levels(edges)
	var inside []int // shapes that hold the place that is looked at
	type bound struct {
		left, right Point // upper ends of its sides
		leftFoot    Point
		rightFoot   Point
		part        int
	}
	open := map[bound]int{} // regions that may go on into the next slice
	var out []Region
	var active []edge
	next := 0
	for i := 0; i+1 < len(cuts); i++ {
		top, foot := cuts[i], cuts[i+1]
		mid := (top + foot) / 2
		for next < len(edges) && edges[next].a.Y < mid {
			active = append(active, edges[next])
			next++
		}
		active = slices.DeleteFunc(active, func(e edge) bool { return e.b.Y <= mid })
		// Sides are nearly in order already: each is moved to its place.
		for i := range active {
			e := active[i]
			e.x = e.at(mid)
			j := i
			for ; j > 0 && active[j-1].x > e.x; j-- {
				active[j] = active[j-1]
			}
			active[j] = e
		}
		inside = inside[:0]
		going := map[bound]int{}
		topmost, since := -1, edge{}
		for _, e := range active {
			if at := slices.Index(inside, e.shape); at >= 0 {
				inside = slices.Delete(inside, at, at+1)
			} else {
				inside = append(inside, e.shape)
			}
			now := -1
			if len(inside) > 0 {
				now = slices.Max(inside)
			}
			if now == topmost || now >= 0 && topmost >= 0 && all[now].Part == all[topmost].Part {
				topmost = now
				continue
			}
			if topmost >= 0 {
				b := bound{since.a, e.a, since.b, e.b, all[topmost].Part}
				at, known := open[b]
				if known {
					r := &out[at]
					r.Outline[2], r.Outline[3] = Point{e.at(foot), foot}, Point{since.at(foot), foot}
				} else {
					at = len(out)
					out = append(out, Region{b.part, []Point{{since.at(top), top}, {e.at(top), top}, {e.at(foot), foot}, {since.at(foot), foot}}})
				}
				going[b] = at
			}
			topmost, since = now, e
		}
		open = going
	}
	return slices.DeleteFunc(out, func(r Region) bool { return r.Area() < thinnest*thinnest })
}

// Over makes the piece of outlines laid one over another.
func (p *Piece) Over(all []Outline) { p.Regions, p.Sliced = Overlay(all), true }

// levels are the heights of all corners and crossings, in order.
func levels(edges []edge) []float64 {
	var ys []float64
	for _, e := range edges {
		ys = append(ys, e.a.Y, e.b.Y)
	}
	for i, e := range edges {
		for _, f := range edges[i+1:] {
			if f.a.Y >= e.b.Y {
				break // edges are in order of their upper ends
			}
			if y, ok := crossing(e, f); ok {
				ys = append(ys, y)
			}
		}
	}
	sort.Float64s(ys)
	kept := ys[:0]
	for _, y := range ys {
		if len(kept) == 0 || y-kept[len(kept)-1] > thinnest {
			kept = append(kept, y)
		}
	}
	return kept
}

// crossing is the height at which two sides cross within both.
func crossing(e, f edge) (float64, bool) {
	if math.Max(e.a.X, e.b.X) < math.Min(f.a.X, f.b.X) || math.Max(f.a.X, f.b.X) < math.Min(e.a.X, e.b.X) {
		return 0, false
	}
	top, foot := math.Max(e.a.Y, f.a.Y), math.Min(e.b.Y, f.b.Y)
	a, b := e.at(top)-f.at(top), e.at(foot)-f.at(foot)
	if a*b >= 0 {
		return 0, false
	}
	return top + (foot-top)*a/(a-b), true
}
