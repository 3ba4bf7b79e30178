// Package mesh measures solid things made of triangles: surface, volume, whether
// they are closed, what is seen of each of their bodies from all round, and a
// coarser likeness for turning.
//
// Reading files and drawing belong elsewhere.
package mesh

import (
	"errors"
	"fmt"
	"math"
	"slices"
)

// Vec is a place or direction, in mm.
type Vec struct{ X, Y, Z float64 }

func (a Vec) plus(b Vec) Vec      { return Vec{a.X + b.X, a.Y + b.Y, a.Z + b.Z} }
func (a Vec) minus(b Vec) Vec     { return Vec{a.X - b.X, a.Y - b.Y, a.Z - b.Z} }
func (a Vec) times(k float64) Vec { return Vec{k * a.X, k * a.Y, k * a.Z} }
func (a Vec) dot(b Vec) float64   { return a.X*b.X + a.Y*b.Y + a.Z*b.Z }
func (a Vec) length() float64     { return math.Sqrt(a.dot(a)) }
func (a Vec) cross(b Vec) Vec {
	return Vec{a.Y*b.Z - a.Z*b.Y, a.Z*b.X - a.X*b.Z, a.X*b.Y - a.Y*b.X}
}

// Body is one thing of an assembly. Corners of its triangles count its vertices
// from 0; seen from outside they go round against the clock.
type Body struct {
	Name      string
	Vertices  []Vec
	Triangles [][3]int32
}

// Mesh is an assembly of bodies.
type Mesh struct {
	Bodies   []Body
	Supports int // bodies of its file that only hold others up while they are printed, and are left out
}

// Limits of a mesh.
const (
	MostTriangles = 2_000_000
	MostBodies    = 40
	mostAway      = 1e5 // mm
)

// Triangles is how many the mesh has.
func (m Mesh) Triangles() int {
	n := 0
	for _, b := range m.Bodies {
		n += len(b.Triangles)
	}
	return n
}

// Check says in one sentence what keeps the mesh from being used: nothing in it,
// places that are none, or too much.
func (m Mesh) Check() error {
	n := m.Triangles()
	switch {
	case n == 0:
		return errors.New("there are no triangles in it: export the part again as a solid")
	case n > MostTriangles:
		return fmt.Errorf("it has %d triangles and at most %d can be used: export it with fewer", n, MostTriangles)
	case len(m.Bodies) > MostBodies:
		return fmt.Errorf("it has %d bodies, and at most %d can be used", len(m.Bodies), MostBodies)
	}
	for _, b := range m.Bodies {
		for _, v := range b.Vertices {
			for _, x := range [3]float64{v.X, v.Y, v.Z} {
				if math.IsNaN(x) || math.IsInf(x, 0) {
					return errors.New("one of its corners is not a number: export the part again")
				}
				if math.Abs(x) > mostAway {
					return fmt.Errorf("it has a corner %.3g m away: check the unit it was exported in", math.Abs(x)/1000)
				}
			}
		}
		for _, t := range b.Triangles {
			for _, i := range t {
				if i < 0 || int(i) >= len(b.Vertices) {
					return errors.New("it has a triangle whose corner is missing: export the part again")
				}
			}
		}
	}
	return nil
}

// Surface is the area of the body's triangles in mm².
func (b Body) Surface() float64 {
	sum := 0.0
	for _, t := range b.Triangles {
		p := b.Vertices[t[0]]
		sum += b.Vertices[t[1]].minus(p).cross(b.Vertices[t[2]].minus(p)).length() / 2
	}
	return sum
}

// Volume is the body's volume in mm³, from the tetrahedra between its triangles
// and its middle (divergence theorem). It only means something where the body is
// closed.
func (b Body) Volume() float64 {
	low, high := b.bounds()
	middle := low.plus(high).times(.5)
	sum := 0.0
	for _, t := range b.Triangles {
		p, q, r := b.Vertices[t[0]].minus(middle), b.Vertices[t[1]].minus(middle), b.Vertices[t[2]].minus(middle)
		sum += p.dot(q.cross(r)) / 6
	}
	return math.Abs(sum)
}

// Closed reports whether every side of a triangle is also that of exactly one
// neighbour, run the other way.
func (b Body) Closed() bool {
	sides, turned := make([]uint64, 0, 3*len(b.Triangles)), make([]uint64, 0, 3*len(b.Triangles))
	for _, t := range b.Triangles {
		for i := range 3 {
			a, c := uint64(t[i]), uint64(t[(i+1)%3])
			sides, turned = append(sides, a<<32|c), append(turned, c<<32|a)
		}
	}
	slices.Sort(sides)
	slices.Sort(turned)
	for i := 1; i < len(sides); i++ {
		if sides[i] == sides[i-1] {
			return false
		}
	}
	return len(sides) > 0 && slices.Equal(sides, turned)
}

func (b Body) bounds() (low, high Vec) {
	low, high = Vec{math.Inf(1), math.Inf(1), math.Inf(1)}, Vec{math.Inf(-1), math.Inf(-1), math.Inf(-1)}
	for _, v := range b.Vertices {
		low = Vec{math.Min(low.X, v.X), math.Min(low.Y, v.Y), math.Min(low.Z, v.Z)}
		high = Vec{math.Max(high.X, v.X), math.Max(high.Y, v.Y), math.Max(high.Z, v.Z)}
	}
	return low, high
}

// Bounds are the corners of the box that holds the mesh.
func (m Mesh) Bounds() (low, high Vec) {
	low, high = m.Bodies[0].bounds()
	for _, b := range m.Bodies[1:] {
		l, h := b.bounds()
		low = Vec{math.Min(low.X, l.X), math.Min(low.Y, l.Y), math.Min(low.Z, l.Z)}
		high = Vec{math.Max(high.X, h.X), math.Max(high.Y, h.Y), math.Max(high.Z, h.Z)}
	}
	return low, high
}

// onePlace is how far apart two corners in mm may be and still be one: what reckoning
// leaves over, far below what any file that keeps 32-bit numbers tells apart.
const onePlace = 1e-6

// welder makes corners at one place one.
type welder struct {
	vertices []Vec
	table    []int32 // one more than the vertex, 0 for free
}

// newWelder has room for so many corners. Its table of vertices by place is open to the next
// free one (Knuth, 6.4); a map takes three times as long.
func newWelder(corners int) *welder {
	size := 16
	for size < 2*corners {
		size *= 2
	}
	return &welder{make([]Vec, 0, corners/5), make([]int32, size)}
}

// cell is the number of the cube of a side of onePlace that a coordinate lies in, and the next one
// where it lies so near a face that what is meant to be the same may lie beyond.
func cell(x float64) (at, or float64) {
	const near = 0.001
	q := x / onePlace
	at = math.Floor(q + 0.5)
	switch rest := q - at; {
	case rest > 0.5-near:
		return at, at + 1
	case rest < near-0.5:
		return at, at - 1
	}
	return at, at
}

func (w *welder) look(x, y, z float64, v Vec) (free int, known int32) {
	const mix uint64 = 0x9e3779b97f4a7c15
	h := math.Float64bits(x+0)*mix ^ math.Float64bits(y+0)*(mix>>1|1) ^ math.Float64bits(z+0)*(mix>>3|1)
	h ^= h >> 29
	h *= mix
	for i := int(h>>32) & (len(w.table) - 1); ; i = (i + 1) & (len(w.table) - 1) {
		n := w.table[i]
		if n == 0 {
			return i, -1
		}
		if u := w.vertices[n-1]; math.Abs(u.X-v.X) <= onePlace && math.Abs(u.Y-v.Y) <= onePlace && math.Abs(u.Z-v.Z) <= onePlace {
			return 0, n - 1
		}
	}
}

// find is the vertex at a place, made where there is none.
func (w *welder) find(v Vec) int32 {
	x, x2 := cell(v.X)
	y, y2 := cell(v.Y)
	z, z2 := cell(v.Z)
	free, known := w.look(x, y, z, v)
	if known >= 0 {
		return known
	}
	if x != x2 || y != y2 || z != z2 {
		for _, at := range [][3]float64{{x2, y, z}, {x, y2, z}, {x, y, z2}, {x2, y2, z}, {x2, y, z2}, {x, y2, z2}, {x2, y2, z2}} {
			if _, known := w.look(at[0], at[1], at[2], v); known >= 0 {
				return known
			}
		}
	}
	w.vertices = append(w.vertices, v)
	w.table[free] = int32(len(w.vertices))
	return w.table[free] - 1
}

// whole reports whether a triangle is more than a sliver of no area.
func whole(t [3]int32) bool { return t[0] != t[1] && t[1] != t[2] && t[2] != t[0] }

// Welded is a body of loose triangles, three corners each, with corners at one
// place made one.
func Welded(name string, corners []Vec) Body {
	b, w := Body{Name: name, Triangles: make([][3]int32, 0, len(corners)/3)}, newWelder(len(corners))
	for i := 0; i+2 < len(corners); i += 3 {
		if t := [3]int32{w.find(corners[i]), w.find(corners[i+1]), w.find(corners[i+2])}; whole(t) {
			b.Triangles = append(b.Triangles, t)
		}
	}
	b.Vertices = w.vertices
	return b
}

// Weld makes vertices at one place one. Triangles whose corners are not there are left as they
// are, for Check to refuse.
func (b *Body) Weld() {
	w, to := newWelder(len(b.Vertices)), make([]int32, len(b.Vertices))
	for i, v := range b.Vertices {
		to[i] = w.find(v)
	}
	for _, t := range b.Triangles {
		for _, v := range t {
			if v < 0 || int(v) >= len(to) {
				return
			}
		}
	}
	kept := b.Triangles[:0]
	for _, t := range b.Triangles {
		if t = [3]int32{to[t[0]], to[t[1]], to[t[2]]}; whole(t) {
			kept = append(kept, t)
		}
	}
	b.Vertices, b.Triangles = w.vertices, kept
}

// DropUnused takes away the vertices that no triangle has. Triangles whose corners are not
// there are left as they are, for Check to refuse.
func (b *Body) DropUnused() {
	used := make([]bool, len(b.Vertices))
	n := 0
	for _, t := range b.Triangles {
		for _, v := range t {
			if v < 0 || int(v) >= len(used) {
				return
			}
			if !used[v] {
				used[v] = true
				n++
			}
		}
	}
	if n == len(b.Vertices) {
		return
	}
	to, kept := make([]int32, len(b.Vertices)), make([]Vec, 0, n)
	for i, v := range b.Vertices {
		if used[i] {
			to[i] = int32(len(kept))
			kept = append(kept, v)
		}
	}
	b.Vertices = kept
	for i, t := range b.Triangles {
		b.Triangles[i] = [3]int32{to[t[0]], to[t[1]], to[t[2]]}
	}
}

// Shells parts a body into those that do not touch, the one of most triangles
// first. Beyond most of them, the least are kept together as one.
func (b Body) Shells(most int) []Body {
	root := make([]int32, len(b.Vertices))
	for i := range root {
		root[i] = int32(i)
	}
	find := func(i int32) int32 {
		for root[i] != i {
			root[i] = root[root[i]]
			i = root[i]
		}
		return i
	}
	for _, t := range b.Triangles {
		x := find(t[0])
		root[find(t[1])] = x
		root[find(t[2])] = find(x)
	}
	count := map[int32]int{}
	for _, t := range b.Triangles {
		count[find(t[0])]++
	}
	var order []int32
	for r := range count {
		order = append(order, r)
	}
	slices.SortFunc(order, func(x, y int32) int {
		if count[x] != count[y] {
			return count[y] - count[x]
		}
		return int(x) - int(y)
	})
	if len(order) < 2 {
		return []Body{b}
	}
	of := map[int32]int{}
	for i, r := range order {
		of[r] = min(i, most-1)
	}
	out := make([]Body, min(len(order), most))
	at := make([]int32, len(b.Vertices))
	for i := range at {
		at[i] = -1
	}
	for _, t := range b.Triangles {
		to := &out[of[find(t[0])]]
		var u [3]int32
		for k, i := range t {
			if at[i] < 0 {
				at[i] = int32(len(to.Vertices))
				to.Vertices = append(to.Vertices, b.Vertices[i])
			}
			u[k] = at[i]
		}
		to.Triangles = append(to.Triangles, u)
	}
	for i := range out {
		out[i].Name = fmt.Sprintf("%s %d", b.Name, i+1)
		if i == most-1 && len(order) > most {
			out[i].Name = "small pieces"
		}
	}
	return out
}

// Coarse is a likeness of at most about so many triangles, for turning: corners
// within one cell of a grid become one (vertex clustering: Rossignac and Borrel,
// 1993). A mesh that is small enough is returned as it is.
func (m Mesh) Coarse(most int) Mesh {
	if m.Triangles() <= most {
		return m
	}
	low, high := m.Bounds()
	size := high.minus(low)
	longest := math.Max(size.X, math.Max(size.Y, size.Z))
	cells := 96.0
	for {
		out := Mesh{}
		k := cells / longest
		for _, b := range m.Bodies {
			c := Body{Name: b.Name}
			at := map[[3]int32]int32{}
			to := make([]int32, len(b.Vertices))
			var n []float64
			for i, v := range b.Vertices {
				p := v.minus(low).times(k)
				cell := [3]int32{int32(p.X), int32(p.Y), int32(p.Z)}
				j, known := at[cell]
				if !known {
					j = int32(len(c.Vertices))
					at[cell] = j
					c.Vertices, n = append(c.Vertices, Vec{}), append(n, 0)
				}
				to[i] = j
				c.Vertices[j] = c.Vertices[j].plus(v)
				n[j]++
			}
			for j := range c.Vertices {
				c.Vertices[j] = c.Vertices[j].times(1 / n[j])
			}
			seen := map[[3]int32]bool{}
			for _, t := range b.Triangles {
				u := [3]int32{to[t[0]], to[t[1]], to[t[2]]}
				if u[0] == u[1] || u[1] == u[2] || u[2] == u[0] || seen[u] {
					continue
				}
				seen[u] = true
				c.Triangles = append(c.Triangles, u)
			}
			out.Bodies = append(out.Bodies, c)
		}
		if out.Triangles() <= most || cells < 8 {
			return out
		}
		cells *= .8
	}
}

// Box is a closed upright box with one corner at a place.
func Box(name string, at, size Vec) Body {
	p := func(i, j, k float64) Vec { return at.plus(Vec{i * size.X, j * size.Y, k * size.Z}) }
	b := Body{Name: name, Vertices: []Vec{p(0, 0, 0), p(1, 0, 0), p(1, 1, 0), p(0, 1, 0), p(0, 0, 1), p(1, 0, 1), p(1, 1, 1), p(0, 1, 1)}}
	for _, q := range [6][4]int32{{0, 3, 2, 1}, {4, 5, 6, 7}, {0, 1, 5, 4}, {3, 7, 6, 2}, {0, 4, 7, 3}, {1, 2, 6, 5}} {
		b.Triangles = append(b.Triangles, [3]int32{q[0], q[1], q[2]}, [3]int32{q[0], q[2], q[3]})
	}
	return b
}

// Middle is the middle of the box that holds the body.
func (b Body) Middle() Vec {
	low, high := b.bounds()
	return low.plus(high).times(.5)
}
