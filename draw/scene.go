// Package draw turns what the core worked out into pictures: one list of
// drawing commands, written as SVG for the page and as PDF for paper. It is
// given colours, numbers and words and decides nothing about them.
package draw

import (
	"lampfern/core/colour"
)

// Light is how coloured things are shown: under a lamp, perhaps as an eye with
// a colour-vision deficiency sees them, perhaps as values only. The zero value
// is daylight in full colour.
type Light struct {
	Lamp       colour.Lamp
	Eye        *colour.Deficiency // nil for full colour vision
	ValuesOnly bool
	Spectra    colour.Spectra // of materials that were measured with one; nil for none
}

// Show returns the colour to draw for a material's colour; inGamut is false
// when a screen cannot show it as it is.
func (l Light) Show(c colour.Lab) (rgb colour.RGB, inGamut bool) {
	if l.Lamp.White != (colour.XYZ{}) {
		if s, measured := l.Spectra[c]; measured {
			c = l.Lamp.SeeSpectrum(s, colour.LampAdaptation)
		} else {
			c = l.Lamp.See(c, colour.LampAdaptation)
		}
	}
	if l.ValuesOnly {
		c = colour.Lab{L: c.L}
	}
	rgb, inGamut = c.RGB()
	if l.Eye != nil {
		rgb = colour.Simulate(rgb, *l.Eye, 1)
	}
	return rgb, inGamut
}

// Paint fills or strokes a shape.
type Paint struct {
	kind  paintKind
	rgb   colour.RGB
	id    string  // of a pattern
	light float64 // how much it lightens, −1 to 1; less than 0 darkens
}

type paintKind int

const (
	paintNone paintKind = iota
	paintInk
	paintSolid
	paintClear
	paintPattern
	paintLight
)

// Paints without a colour of their own: none, the ink of the surround, and an
// invisible one that still takes the pointer.
var (
	None  = Paint{}
	Ink   = Paint{kind: paintInk}
	Clear = Paint{kind: paintClear}
)

// Solid paints one colour.
func Solid(c colour.RGB) Paint { return Paint{kind: paintSolid, rgb: c} }

// Patterned paints with a pattern of the scene; what knows no patterns paints c.
func Patterned(id string, c colour.RGB) Paint { return Paint{kind: paintPattern, rgb: c, id: id} }

// Lighten paints what lightens the colours under it by so much, −1 to 1; less than 0 darkens them.
func Lighten(by float64) Paint { return Paint{kind: paintLight, light: by} }

// Style is how a shape looks. Width is in the scene's units. Class names a rule
// of the page's style sheet that may override the paints; paper ignores it.
type Style struct {
	Fill, Stroke Paint
	Width        float64
	Dash         []float64
	Class        string
	Inherit      bool // as the group around it, on a page
}

// Point is a place in a scene.
type Point struct{ X, Y float64 }

// Path is an outline of straight and curved pieces.
type Path struct{ segments []segment }

type segment struct {
	op byte // M, L, C or Z
	p  [3]Point
}

// MoveTo starts a new outline.
func (p *Path) MoveTo(a Point) *Path { return p.add('M', a) }

// LineTo draws a straight line.
func (p *Path) LineTo(a Point) *Path { return p.add('L', a) }

// CurveTo draws a cubic Bézier curve with two control points.
func (p *Path) CurveTo(c1, c2, to Point) *Path { return p.add('C', c1, c2, to) }

// Close ends the outline where it began.
func (p *Path) Close() *Path { return p.add('Z') }

func (p *Path) add(op byte, pts ...Point) *Path {
	s := segment{op: op}
	copy(s.p[:], pts)
	p.segments = append(p.segments, s)
	return p
}

// Polygon is a closed outline of straight lines.
func Polygon(pts ...Point) *Path {
	p := &Path{}
	for i, q := range pts {
		if i == 0 {
			p.MoveTo(q)
		} else {
			p.LineTo(q)
		}
	}
	return p.Close()
}

// Box is an upright rectangle.
func Box(x, y, w, h float64) *Path {
	return Polygon(Point{x, y}, Point{x + w, y}, Point{x + w, y + h}, Point{x, y + h})
}

// Line is a straight line.
func Line(a, b Point) *Path { return (&Path{}).MoveTo(a).LineTo(b) }

// circleControl is the control length that makes a quarter circle of a cubic
// Bézier curve.
const circleControl = 0.5522847498307936

// Circle is a whole circle.
func Circle(c Point, r float64) *Path {
	k := r * circleControl
	p := &Path{}
	p.MoveTo(Point{c.X + r, c.Y})
	p.CurveTo(Point{c.X + r, c.Y + k}, Point{c.X + k, c.Y + r}, Point{c.X, c.Y + r})
	p.CurveTo(Point{c.X - k, c.Y + r}, Point{c.X - r, c.Y + k}, Point{c.X - r, c.Y})
	p.CurveTo(Point{c.X - r, c.Y - k}, Point{c.X - k, c.Y - r}, Point{c.X, c.Y - r})
	p.CurveTo(Point{c.X + k, c.Y - r}, Point{c.X + r, c.Y - k}, Point{c.X + r, c.Y})
	return p.Close()
}

// Shape is a painted path. Title is what a pointer resting on it tells.
type Shape struct {
	Path  *Path
	Style Style
	Title string
}

// Anchor says which end of a text stands at its point.
type Anchor int

// The anchors.
const (
	Start Anchor = iota
	Middle
	End
)

// Text is one line of words. Size is the font size in the scene's units.
type Text struct {
	At     Point
	Words  string
	Size   float64
	Bold   bool
	Anchor Anchor
	Paint  Paint
	Class  string
}

// Group holds nodes together. Attributes are written into the SVG only, to let
// a page find the group, reach it by keyboard and name it.
type Group struct {
	Class      string
	Style      *Style // for nodes that inherit, nil for none
	Attributes [][2]string
	Nodes      []Node
}

// Bitmap is a picture stretched over a box: the PNG itself, or on a page the
// address of one. Sharp keeps its pixels apart when they are enlarged.
type Bitmap struct {
	X, Y, Width, Height float64
	PNG                 []byte
	Address             string
	Sharp               bool
}

// Pattern is a tile that paints shapes of a page, named by ID; Sheen makes it
// pass from one colour to another and back instead, over the tile's width. Tiles
// lie at the scene's units, Scale times as large where that is not 0.
type Pattern struct {
	ID            string
	Width, Height float64
	Scale         float64
	Nodes         []Node
	Sheen         []colour.RGB // two colours, or none
	Stops         []Stop       // a sheen that lightens and darkens what it lies on; none for nodes
}

// Mask lets groups of a page that name it show only where its nodes are opaque.
type Mask struct {
	ID    string
	Nodes []Node
}

// Node is a Shape, a Text, a Bitmap, a Pattern, a Mask or a Group.
type Node interface{ node() }

func (Shape) node()   {}
func (Text) node()    {}
func (Group) node()   {}
func (Bitmap) node()  {}
func (Pattern) node() {}
func (Mask) node()    {}

// Scene is a drawing of the given size, in pixels for a page or millimetres
// for paper. Label names it for those who cannot see it.
type Scene struct {
	Width, Height float64
	Millimetres   bool
	Stretch       bool // fills its box, whatever the box's shape
	ID, Label     string
	Key           string // changes with what a page need not be sent twice
	Nodes         []Node
}

// Add appends nodes.
func (s *Scene) Add(n ...Node) { s.Nodes = append(s.Nodes, n...) }
