package piece

import "math"

// bendSides is the number of straight sides that a bend is drawn with. Areas are those of what is
// drawn, which is within a hundredth of what the curve itself bows out.
const bendSides = 14

// Curve is an outline in the making, of straight lines and bends.
type Curve []Point

// From begins a curve at a place.
func From(p Point) Curve { return Curve{p} }

// Line goes straight on to one place after another.
func (c Curve) Line(to ...Point) Curve { return append(c, to...) }

// Bend goes on to a place by a cubic Bézier curve with the two given controls.
func (c Curve) Bend(one, two, to Point) Curve {
	from := c[len(c)-1]
	for i := 1; i <= bendSides; i++ {
		t := float64(i) / bendSides
		u := 1 - t
		a, b, d, e := u*u*u, 3*u*u*t, 3*u*t*t, t*t*t
		c = append(c, Point{a*from.X + b*one.X + d*two.X + e*to.X, a*from.Y + b*one.Y + d*two.Y + e*to.Y})
	}
	return c
}

// Toward goes on to a place by a bend that leaves toward a corner and arrives from it: a quarter
// of an ellipse where the two ways to the corner stand square to one another.
func (c Curve) Toward(corner, to Point) Curve {
	const quarter = 0.5522847 // of a circle as a Bézier curve
	from := c[len(c)-1]
	return c.Bend(Point{from.X + quarter*(corner.X-from.X), from.Y + quarter*(corner.Y-from.Y)},
		Point{to.X + quarter*(corner.X-to.X), to.Y + quarter*(corner.Y-to.Y)}, to)
}

// Of is the outline as one of a part, to be laid over others.
func (c Curve) Of(part int) Outline { return Outline{part, c} }

// Mirrored is the outline on the other side of an upright line.
func (o Outline) Mirrored(x float64) Outline {
	out := Outline{o.Part, make([]Point, len(o.Corners))}
	for i, p := range o.Corners {
		out.Corners[len(o.Corners)-1-i] = Point{2*x - p.X, p.Y}
	}
	return out
}

// Rounded is an outline of straight sides with its corners rounded, each over so much of the
// shorter side beside it, 0 to 0.5.
func Rounded(by float64, corners ...Point) Curve {
	var out Curve
	n := len(corners)
	at := func(a, b Point, k float64) Point { return Point{a.X + k*(b.X-a.X), a.Y + k*(b.Y-a.Y)} }
	for i, p := range corners {
		before, after := corners[(i+n-1)%n], corners[(i+1)%n]
		a, b := math.Hypot(before.X-p.X, before.Y-p.Y), math.Hypot(after.X-p.X, after.Y-p.Y)
		r := by * min(a, b)
		from, to := at(p, before, r/a), at(p, after, r/b)
		if i == 0 {
			out = From(from)
		} else {
			out = out.Line(from)
		}
		out = out.Toward(p, to)
	}
	return out
}

// smoothSides is in how many straight sides a smooth outline goes from one place to the next.
const smoothSides = 12

// Smooth is the closed outline that bends evenly through all of some places (a Catmull–Rom spline,
// 1974, on the square root of their distances, so that it makes no loops: Yuksel, Schaefer and Keyser 2011).
func Smooth(through []Point) []Point {
	n := len(through)
	if n < 3 {
		return through
	}
	var out []Point
	for i := range n {
		p0, p1, p2, p3 := through[(i+n-1)%n], through[i], through[(i+1)%n], through[(i+2)%n]
		t := [4]float64{}
		for k, pair := range [][2]Point{{p0, p1}, {p1, p2}, {p2, p3}} {
			t[k+1] = t[k] + math.Max(1e-6, math.Sqrt(math.Hypot(pair[1].X-pair[0].X, pair[1].Y-pair[0].Y)))
		}
		mix := func(a, b Point, ta, tb, at float64) Point {
			u := (at - ta) / (tb - ta)
			return Point{a.X + u*(b.X-a.X), a.Y + u*(b.Y-a.Y)}
		}
		for k := range smoothSides {
			at := t[1] + (t[2]-t[1])*float64(k)/smoothSides
			a, b, c := mix(p0, p1, t[0], t[1], at), mix(p1, p2, t[1], t[2], at), mix(p2, p3, t[2], t[3], at)
			out = append(out, mix(mix(a, b, t[0], t[2], at), mix(b, c, t[1], t[3], at), t[1], t[2], at))
		}
	}
	return out
}

// Stroke is the outline of a line through some places, so many mm wide, its corners mitred and its ends
// square. Where it turns back sharply a corner is cut off at twice the width.
func Stroke(through []Point, wide float64) []Point {
	var line []Point
	for _, p := range through { // places that lie on one another make no side
		if len(line) == 0 || math.Hypot(p.X-line[len(line)-1].X, p.Y-line[len(line)-1].Y) > 1e-9 {
			line = append(line, p)
		}
	}
	if len(line) < 2 {
		return nil
	}
	half := wide / 2
	normal := func(a, b Point) Point {
		l := math.Hypot(b.X-a.X, b.Y-a.Y)
		return Point{-(b.Y - a.Y) / l, (b.X - a.X) / l}
	}
	var left, right []Point
	for i, p := range line {
		n := Point{}
		switch {
		case i == 0:
			n = normal(p, line[1])
		case i == len(line)-1:
			n = normal(line[i-1], p)
		default:
			a, b := normal(line[i-1], p), normal(p, line[i+1])
			sum := Point{a.X + b.X, a.Y + b.Y}
			l2 := (sum.X*sum.X + sum.Y*sum.Y) / 2 // 1 + cos of the turn
			k := 1 / math.Max(l2, .25)
			n = Point{sum.X * k, sum.Y * k}
		}
		left, right = append(left, Point{p.X + half*n.X, p.Y + half*n.Y}), append(right, Point{p.X - half*n.X, p.Y - half*n.Y})
	}
	for i := len(right) - 1; i >= 0; i-- {
		left = append(left, right[i])
	}
	return left
}
