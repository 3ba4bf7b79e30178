package piece

import "math"

// At is a place in mm.
func At(x, y float64) Point { return Point{x, y} }

// Rect adds an upright rectangle to a part, its upper left corner at x, y.
func (p *Piece) Rect(part int, x, y, w, h float64) {
	p.Shape(part, At(x, y), At(x+w, y), At(x+w, y+h), At(x, y+h))
}

// Shape adds a region to a part.
func (p *Piece) Shape(part int, outline ...Point) {
	p.Regions = append(p.Regions, Region{part, outline})
}

// Frame adds the four sides of a frame of the given width, its outside at x, y.
func (p *Piece) Frame(part int, x, y, w, h, wide float64) {
	p.Rect(part, x, y, w, wide)
	p.Rect(part, x, y+h-wide, w, wide)
	p.Rect(part, x, y+wide, wide, h-2*wide)
	p.Rect(part, x+w-wide, y+wide, wide, h-2*wide)
}

// Edges adds a border of the given width and a binding outside it, which
// together end the piece.
func (p *Piece) Edges(border, binding int, wide, bound float64) {
	p.Frame(border, bound, bound, p.Width-2*bound, p.Height-2*bound, wide)
	p.Frame(binding, 0, 0, p.Width, p.Height, bound)
}

// discSides is the number of corners a disc is drawn with.
const discSides = 32

// Disc is the outline of a disc of radius r, in mm, with 32 corners. They lie so far out, by a
// third of a per cent, that the area is the circle's, πr².
func Disc(centre Point, r float64) []Point {
	var out []Point
	r *= math.Sqrt(2 * math.Pi / (discSides * math.Sin(2*math.Pi/discSides)))
	for i := range discSides {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / discSides)
		out = append(out, Point{centre.X + r*cos, centre.Y + r*sin})
	}
	return out
}

// Disc adds a disc and the rectangle around it, which is led round the disc
// along a slit so that it stays one outline.
func (p *Piece) Disc(disc, around int, x, y, w, h float64, centre Point, r float64) {
	out := Disc(centre, r)
	p.Shape(disc, out...)
	slit := []Point{{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}, {x, y}, out[0]}
	for i := discSides - 1; i >= 0; i-- {
		slit = append(slit, out[i])
	}
	p.Shape(around, slit...)
}

// Named is a part by its key and name.
func Named(key, name string) Part { return Part{key, name} }

// Lay is an outline of a part, to be laid over others.
func Lay(part int, corners ...Point) Outline { return Outline{part, corners} }
