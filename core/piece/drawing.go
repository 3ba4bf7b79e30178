package piece

import (
	"fmt"
	"math"

	"lampfern/core/surface"
)

// Drawing is a piece that the maker draws: outlines laid one over another, the
// later on top, each in a part. Repeat sets it side by side, as blocks of a
// quilt.
type Drawing struct {
	Width    float64   `json:"width"` // mm
	Height   float64   `json:"height"`
	Across   int       `json:"across"` // repeats
	Down     int       `json:"down"`
	Parts    []Part    `json:"parts"`
	Outlines []Outline `json:"outlines"`
	Unders   []Under   `json:"unders,omitempty"`
}

// Under is a photo that lies under a drawing, as a template: its light and shade
// show through the colours. X, Y, Width and Height are in mm.
type Under struct {
	Photo  string       `json:"photo"` // by its hash
	X      float64      `json:"x"`
	Y      float64      `json:"y"`
	Width  float64      `json:"width"`
	Height float64      `json:"height"`
	Bare   surface.Bare `json:"bare"`
}

// Outline is one closed shape of a drawing: its corners in mm, even-odd where it
// crosses itself.
type Outline struct {
	Part    int     `json:"part"`
	Corners []Point `json:"corners"`
}

// Limits of a drawing.
const (
	leastSide    = 1.0 // mm
	mostSide     = 20_000.0
	MostOutlines = 4000
	mostCorners  = 40_000 // of all outlines together
	MostParts    = 60
	MostUnders   = 4
	mostRepeats  = 24
	maxPartName  = 40
)

// NewDrawing is an empty drawing: a ground that fills it.
func NewDrawing(width, height float64) *Drawing {
	return &Drawing{Width: width, Height: height, Across: 1, Down: 1, Parts: []Part{{"part1", "ground"}},
		Outlines: []Outline{{0, []Point{{0, 0}, {width, 0}, {width, height}, {0, height}}}}}
}

// CheckSheet says in one sentence what keeps a drawing from being of a size, in mm,
// and set so many times side by side.
func CheckSheet(width, height float64, across, down int) error {
	for _, side := range []float64{width, height} {
		if !(side >= leastSide && side <= mostSide) {
			return fmt.Errorf("a drawing is from %g mm to %g m wide and high: choose a size between, not %g mm", leastSide, mostSide/1000, side)
		}
	}
	if across < 1 || down < 1 || across > mostRepeats || down > mostRepeats {
		return fmt.Errorf("a drawing is repeated from 1 to %d times each way: choose between, not %d × %d", mostRepeats, across, down)
	}
	return nil
}

// Check says in one sentence what keeps the drawing from being made.
func (d Drawing) Check() error {
	if err := CheckSheet(d.Width, d.Height, d.Across, d.Down); err != nil {
		return err
	}
	switch {
	case len(d.Parts) == 0 && len(d.Unders) == 0 || len(d.Parts) > MostParts:
		return fmt.Errorf("a drawing has from 1 to %d parts: this one has %d", MostParts, len(d.Parts))
	case len(d.Outlines) > MostOutlines:
		return fmt.Errorf("a drawing has at most %d outlines: this one has %d", MostOutlines, len(d.Outlines))
	}
	if len(d.Unders) > MostUnders || len(d.Unders) > 0 && (d.Across > 1 || d.Down > 1) {
		return fmt.Errorf("a drawing has at most %d photos under it, and is not set side by side then", MostUnders)
	}
	for _, u := range d.Unders {
		if !(u.X >= 0 && u.Y >= 0 && u.Width >= leastSide && u.Height >= leastSide && u.X+u.Width <= d.Width*(1+1e-9) && u.Y+u.Height <= d.Height*(1+1e-9)) {
			return fmt.Errorf("a photo of %.4g × %.4g mm does not lie within the drawing: make the drawing larger", u.Width, u.Height)
		}
		if err := u.Bare.Check(); err != nil {
			return err
		}
	}
	keys := map[string]bool{}
	for _, p := range d.Parts {
		if p.Key == "" || keys[p.Key] || p.Name == "" || len([]rune(p.Name)) > maxPartName {
			return fmt.Errorf("each part of a drawing has a name of its own of at most %d characters", maxPartName)
		}
		keys[p.Key] = true
	}
	corners := 0
	for i, o := range d.Outlines {
		if o.Part < 0 || o.Part >= len(d.Parts) {
			return fmt.Errorf("outline %d belongs to no part", i+1)
		}
		if len(o.Corners) < 3 {
			return fmt.Errorf("an outline needs three corners or more: this one has %d", len(o.Corners))
		}
		for _, c := range o.Corners {
			if !(c.X >= 0 && c.X <= d.Width && c.Y >= 0 && c.Y <= d.Height) {
				return fmt.Errorf("a corner at %.4g, %.4g mm lies outside the drawing of %g × %g mm: keep to it", c.X, c.Y, d.Width, d.Height)
			}
		}
		if corners += len(o.Corners); corners > mostCorners {
			return fmt.Errorf("a drawing has at most %d corners: simplify it", mostCorners)
		}
	}
	return nil
}

var drawnTemplate = Template{"drawn", "Your own drawing", Other, "outlines that you draw at their true size, one over another, set side by side if you like", nil, drawn}

// drawn lays the outlines over one another and keeps what is seen of each. A
// part of which nothing is seen stays, with no area.
func drawn(_ map[string]float64, own Own) (Piece, error) {
	d := own.Drawing
	if d == nil {
		d = NewDrawing(300, 300)
	}
	if err := d.Check(); err != nil {
		return Piece{}, err
	}
	one := Overlay(d.Outlines)
	if len(one) == 0 && len(d.Unders) == 0 {
		return Piece{}, fmt.Errorf("the drawing holds nothing that can be seen: draw an outline of three corners or more")
	}
	p := Piece{Width: d.Width * float64(d.Across), Height: d.Height * float64(d.Down), Parts: d.Parts, Sliced: true, Unders: d.Unders}
	for down := range d.Down {
		for across := range d.Across {
			dx, dy := d.Width*float64(across), d.Height*float64(down)
			for _, r := range one {
				moved := Region{r.Part, make([]Point, len(r.Outline))}
				for i, q := range r.Outline {
					moved.Outline[i] = Point{q.X + dx, q.Y + dy}
				}
				p.Regions = append(p.Regions, moved)
			}
		}
	}
	return p, nil
}

// Held are corners moved to the nearest places within the drawing.
func (d Drawing) Held(corners []Point) []Point {
	out := make([]Point, len(corners))
	for i, c := range corners {
		out[i] = Point{math.Max(0, math.Min(d.Width, c.X)), math.Max(0, math.Min(d.Height, c.Y))}
	}
	return out
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
