package mesh

import (
	"fmt"
	"math"
	"strings"
)

// View is what is seen of a mesh from one direction: the body at each of side ×
// side places in rows from the top, −1 for none.
type View []int16

// Round are n directions spread evenly over a sphere, from which a thing is looked
// at (Fibonacci lattice: González, 2010).
func Round(n int) []Vec {
	out := make([]Vec, n)
	for i := range out {
		z := 1 - (2*float64(i)+1)/float64(n)
		r := math.Sqrt(1 - z*z)
		sin, cos := math.Sincos(math.Pi * (3 - math.Sqrt(5)) * float64(i))
		out[i] = Vec{r * cos, r * sin, z}
	}
	return out
}

// Places is how many places of a picture with cells of a side in mm are looked at to draw the mesh
// once, at most: the box of each triangle. Solids that print come to a few times the picture; a file of
// large triangles over one another comes to any number.
func (m Mesh) Places(cell float64) float64 {
	sum := 0.0
	for _, b := range m.Bodies {
		for _, t := range b.Triangles {
			p, q, r := b.Vertices[t[0]], b.Vertices[t[1]], b.Vertices[t[2]]
			long := max(q.minus(p).length(), r.minus(q).length(), p.minus(r).length())/cell + 1
			sum += long * long
		}
	}
	return sum
}

// Look is what is seen of a mesh from a direction, all of it just fitting in side
// × side places; z is up. The nearest body hides what lies behind (z-buffer:
// Catmull, 1974).
func (m Mesh) Look(from Vec, side int) View {
	low, high := m.Bounds()
	return m.LookIn(low, high, from, side)
}

// LookIn is what is seen of a mesh as Look sees it, in the frame of what reaches from low to high.
func (m Mesh) LookIn(low, high, from Vec, side int) View {
	middle := low.plus(high).times(.5)
	reach := high.minus(low).length() / 2
	f := from.times(1 / from.length())
	up := Vec{0, 0, 1}
	if math.Abs(f.Z) > .999 {
		up = Vec{0, 1, 0}
	}
	right := up.cross(f)
	right = right.times(1 / right.length())
	up = f.cross(right)
	k := float64(side) / 2 / math.Max(reach, 1e-9)
	out, depth := make(View, side*side), make([]float64, side*side)
	for i := range out {
		out[i], depth[i] = -1, math.Inf(-1)
	}
	half := float64(side) / 2
	for at, b := range m.Bodies {
		on := make([]Vec, len(b.Vertices))
		for i, v := range b.Vertices {
			p := v.minus(middle)
			on[i] = Vec{half + k*p.dot(right), half - k*p.dot(up), p.dot(f)}
		}
		for _, t := range b.Triangles {
			out.fill(depth, side, int16(at), on[t[0]], on[t[1]], on[t[2]])
		}
	}
	return out
}

// Path is the outline of what is seen of a body, or of any where it is −1, as an SVG path of one row
// of places after another.
func (v View) Path(body int16, side int) string {
	var b strings.Builder
	in := func(x, y int) bool { at := v[y*side+x]; return at >= 0 && (body < 0 || at == body) }
	for y := range side {
		for x := 0; x < side; x++ {
			from := x
			for x < side && in(x, y) {
				x++
			}
			if x > from {
				fmt.Fprintf(&b, "M%d %dh%dv1h-%dz", from, y, x-from, x-from)
			}
		}
	}
	return b.String()
}

// fill paints a triangle where it is nearest.
func (v View) fill(depth []float64, side int, body int16, a, b, c Vec) {
	area := (b.X-a.X)*(c.Y-a.Y) - (c.X-a.X)*(b.Y-a.Y)
	if area == 0 {
		return
	}
	x0, x1 := max(0, int(math.Ceil(min(a.X, b.X, c.X)-.5))), min(side-1, int(max(a.X, b.X, c.X)-.5))
	y0, y1 := max(0, int(math.Ceil(min(a.Y, b.Y, c.Y)-.5))), min(side-1, int(max(a.Y, b.Y, c.Y)-.5))
	for y := y0; y <= y1; y++ {
		for x := x0; x <= x1; x++ {
			px, py := float64(x)+.5, float64(y)+.5
			u := ((b.X-px)*(c.Y-py) - (c.X-px)*(b.Y-py)) / area
			w := ((c.X-px)*(a.Y-py) - (a.X-px)*(c.Y-py)) / area
			if u < 0 || w < 0 || u+w > 1 {
				continue
			}
			if z := u*a.Z + w*b.Z + (1-u-w)*c.Z; z > depth[y*side+x] {
				depth[y*side+x], v[y*side+x] = z, body
			}
		}
	}
}
