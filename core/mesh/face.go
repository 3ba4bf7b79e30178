package mesh

import (
	"math"
	"slices"
)

// Turned is the body turned about its middle, by so many degrees about x, then y, then z, each
// against the clock seen from its end, and moved by so many mm.
func (b Body) Turned(turn, by Vec) Body {
	low, high := b.bounds()
	middle := low.plus(high).times(.5)
	out := Body{Name: b.Name, Triangles: b.Triangles, Vertices: make([]Vec, len(b.Vertices))}
	sin, cos := [3]float64{}, [3]float64{}
	for i, deg := range []float64{turn.X, turn.Y, turn.Z} {
		sin[i], cos[i] = math.Sincos(deg * math.Pi / 180)
		if math.Mod(deg, 90) == 0 { // exact, so that what lay flat lies flat
			sin[i], cos[i] = math.Round(sin[i]), math.Round(cos[i])
		}
	}
	for i, v := range b.Vertices {
		p := v.minus(middle)
		p.Y, p.Z = cos[0]*p.Y-sin[0]*p.Z, sin[0]*p.Y+cos[0]*p.Z
		p.X, p.Z = cos[1]*p.X+sin[1]*p.Z, cos[1]*p.Z-sin[1]*p.X
		p.X, p.Y = cos[2]*p.X-sin[2]*p.Y, sin[2]*p.X+cos[2]*p.Y
		out.Vertices[i] = p.plus(middle).plus(by)
	}
	return out
}

// Hit is the nearest triangle that a line from a place in a direction meets (Möller and Trumbore,
// 1997); false for none.
func (m Mesh) Hit(from, toward Vec) (body, triangle int, ok bool) {
	near := math.Inf(1)
	for b, one := range m.Bodies {
		for t, tri := range one.Triangles {
			a := one.Vertices[tri[0]]
			u, v := one.Vertices[tri[1]].minus(a), one.Vertices[tri[2]].minus(a)
			p := toward.cross(v)
			det := u.dot(p)
			if math.Abs(det) < 1e-12 {
				continue
			}
			s := from.minus(a)
			x := s.dot(p) / det
			q := s.cross(u)
			y := toward.dot(q) / det
			if at := v.dot(q) / det; x >= 0 && y >= 0 && x+y <= 1 && at > 0 && at < near {
				near, body, triangle, ok = at, b, t, true
			}
		}
	}
	return body, triangle, ok
}

// What still belongs to a face: how far neighbours are turned from one another, and all from where it
// began, as cosines.
var (
	faceBend  = math.Cos(12 * math.Pi / 180)
	faceReach = math.Cos(50 * math.Pi / 180)
)

// mostAtEdge is how many triangles that share an edge are looked at: a solid has two, and of a file of
// the same triangle over and over looking at all would never end.
const mostAtEdge = 64

// Face are the triangles of the face that one lies in: all that can be reached over edges that hardly
// bend.
func (b Body) Face(seed int) []bool {
	normals := make([]Vec, len(b.Triangles))
	next := map[[2]int32][]int{}
	for t, tri := range b.Triangles {
		n := b.Vertices[tri[1]].minus(b.Vertices[tri[0]]).cross(b.Vertices[tri[2]].minus(b.Vertices[tri[0]]))
		if l := n.length(); l > 0 {
			normals[t] = n.times(1 / l)
		}
		for i := range 3 {
			e := [2]int32{min(tri[i], tri[(i+1)%3]), max(tri[i], tri[(i+1)%3])}
			if len(next[e]) < mostAtEdge {
				next[e] = append(next[e], t)
			}
		}
	}
	in := make([]bool, len(b.Triangles))
	if seed < 0 || seed >= len(in) {
		return in
	}
	in[seed] = true
	for open := []int{seed}; len(open) > 0; {
		t := open[len(open)-1]
		open = open[:len(open)-1]
		tri := b.Triangles[t]
		for i := range 3 {
			e := [2]int32{min(tri[i], tri[(i+1)%3]), max(tri[i], tri[(i+1)%3])}
			for _, o := range next[e] {
				flat := normals[o] == Vec{} // one without an area belongs to its neighbours
				if !in[o] && (flat || normals[t] == Vec{} || normals[o].dot(normals[t]) >= faceBend && normals[o].dot(normals[seed]) >= faceReach) {
					in[o] = true
					open = append(open, o)
				}
			}
		}
	}
	return in
}

// Split takes some triangles of a body out of it: what is left, and what was taken.
func (b Body) Split(taken []bool) (rest, out Body) {
	rest, out = Body{Name: b.Name, Vertices: b.Vertices}, Body{Name: b.Name, Vertices: b.Vertices}
	for t, tri := range b.Triangles {
		if taken[t] {
			out.Triangles = append(out.Triangles, tri)
		} else {
			rest.Triangles = append(rest.Triangles, tri)
		}
	}
	out.Vertices, out.Triangles = used(out.Vertices, out.Triangles)
	return rest, out
}

// used leaves out corners that no triangle has.
func used(vertices []Vec, triangles [][3]int32) ([]Vec, [][3]int32) {
	at := make([]int32, len(vertices))
	var kept []Vec
	triangles = slices.Clone(triangles)
	for t := range triangles {
		for i, v := range triangles[t] {
			if at[v] == 0 {
				kept = append(kept, vertices[v])
				at[v] = int32(len(kept))
			}
			triangles[t][i] = at[v] - 1
		}
	}
	return kept, triangles
}
