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
	return c.Bend(Point{from.X + quarter*(corner.X-from.X), from.Y + quarter*(corner.Y-from.Y)}, Point{to.X + quarter*(corner.X-to.X), to.Y + quarter*(corner.Y-to.Y)}, to)
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
