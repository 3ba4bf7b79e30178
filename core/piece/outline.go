package piece

import "lampfern/core/surface"

// Outline is one closed shape of a drawing: its corners in mm, even-odd where it
// crosses itself.
type Outline struct {
	Part    int     `json:"part"`
	Corners []Point `json:"corners"`
}

// Split cuts an outline along the line from a through b: what lies to the left of
// it, seen that way, and to the right; nil where nothing does (Sutherland and
// Hodgman, 1974: parts of one side stay joined along the line).
func (o Outline) Split(a, b Point) (left, right []Point) {
	side := func(p Point) float64 { return (b.X-a.X)*(p.Y-a.Y) - (b.Y-a.Y)*(p.X-a.X) }
	cut := func(sign float64) []Point {
		var out []Point
		for i, p := range o.Corners {
			q := o.Corners[(i+1)%len(o.Corners)]
			s, t := sign*side(p), sign*side(q)
			if s >= 0 {
				out = append(out, p)
			}
			if s*t < 0 {
				u := s / (s - t)
				out = append(out, Point{p.X + u*(q.X-p.X), p.Y + u*(q.Y-p.Y)})
			}
		}
		if len(out) < 3 || (Region{Outline: out}).Area() < thinnest {
			return nil
		}
		return out
	}
	return cut(-1), cut(1)
}

// Under is a photo that lies under a drawing, as a relief: its light and shade
// show through the colours. X, Y, Width and Height are in mm.
type Under struct {
	Photo  string       `json:"photo"` // by its hash
	X      float64      `json:"x"`
	Y      float64      `json:"y"`
	Width  float64      `json:"width"`
	Height float64      `json:"height"`
	Bare   surface.Bare `json:"bare"`
}

// Limits of what makers draw and name.
const (
	MostOutlines = 4000
	MaxPartName  = 40 // characters
)
