package exchange

import (
	"bytes"
	"compress/gzip"
	"context"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"math"
	"regexp"
	"slices"
	"sort"
	"strconv"
	"strings"

	"golang.org/x/image/colornames"
	"golang.org/x/text/encoding/htmlindex"

	"lampfern/core/colour"
	"lampfern/core/piece"
)

// MaxSVGBytes is the largest drawing read.
const MaxSVGBytes = 10 << 20

// mostCorners bounds the corners of all shapes, and mostPoints the text of the points of one, in
// bytes.
const (
	mostCorners = 30_000
	mostPoints  = 1 << 20
)

var errCorners = errors.New("too many corners")

// mostDeep bounds how deep groups lie in one another.
const mostDeep = 64

// SVGDrawing is a line drawing as filled shapes, the last on top.
type SVGDrawing struct {
	Width, Height float64 // mm; 0 when the file gives no size of its own
	Shapes        []SVGShape
	LeftOut       []string // what was not taken, in words
}

// SVGShape is one filled shape. Corners are in mm, or in the file's own units when
// it has no size. Group names the nearest layer or group with a name; Fill is nil
// when it is no single colour.
type SVGShape struct {
	Group   string
	Name    string // its own, if it has one
	Fill    *colour.RGB
	Corners []piece.Point
}

// affine is a transform: x' = a·x + c·y + e, y' = b·x + d·y + f.
type affine [6]float64

func (m affine) times(n affine) affine {
	return affine{m[0]*n[0] + m[2]*n[1], m[1]*n[0] + m[3]*n[1], m[0]*n[2] + m[2]*n[3], m[1]*n[2] + m[3]*n[3], m[0]*n[4] + m[2]*n[5] + m[4],
		m[1]*n[4] + m[3]*n[5] + m[5]}
}

func (m affine) on(p piece.Point) piece.Point {
	return piece.Point{X: m[0]*p.X + m[2]*p.Y + m[4], Y: m[1]*p.X + m[3]*p.Y + m[5]}
}

// svgReader walks through the file.
type svgReader struct {
	out     SVGDrawing
	box     [4]float64 // the view box
	left    map[string]int
	styles  []fillRule // of its style sheets, the later ones stronger
	total   int
	flat    int // lines a curve
	corners int
}

// svgState is what an element hands down.
type svgState struct {
	at     affine
	group  string
	fill   string
	hidden bool
}

// ReadSVG reads a line drawing: filled shapes with their colours, groups and
// sizes. Strokes, text, pictures and copies are left out and named. Scripts and
// references outside the file are never followed. The error is a sentence without
// its full stop.
func ReadSVG(ctx context.Context, r io.Reader) (SVGDrawing, error) {
	data, err := io.ReadAll(io.LimitReader(r, MaxSVGBytes+1))
	if err == nil && bytes.HasPrefix(data, []byte("\x1f\x8b")) { // SVGZ
		var packed *gzip.Reader
		if packed, err = gzip.NewReader(bytes.NewReader(data)); err == nil {
			data, err = io.ReadAll(io.LimitReader(packed, MaxSVGBytes+1))
		}
	}
	if err != nil {
		return SVGDrawing{}, fmt.Errorf("the drawing could not be read to its end: %w", err)
	}
	if bytes.HasPrefix(data, []byte("\xff\xfe")) || bytes.HasPrefix(data, []byte("\xfe\xff")) {
		if data, err = decode(data); err != nil {
			return SVGDrawing{}, errors.New("the SVG drawing is incomplete: export it again as plain SVG")
		}
		data = declared.ReplaceAll(data, nil)
	}
	if len(data) > MaxSVGBytes {
		return SVGDrawing{}, fmt.Errorf("the drawing is larger than %d MB: simplify it, or leave pictures out of it", MaxSVGBytes>>20)
	}
	roughest := &svgReader{left: map[string]int{}, styles: fillRules(data), flat: 2}
	for _, flat := range []int{16, 8, 4, 2} {
		if flat == 8 && errors.Is(roughest.read(ctx, data), errCorners) {
			break // no finer drawing of it fits either
		}
		s := &svgReader{left: map[string]int{}, styles: fillRules(data), flat: flat}
		err := s.read(ctx, data)
		if errors.Is(err, errCorners) {
			continue // draw its curves with fewer lines
		}
		if err != nil {
			return SVGDrawing{}, err
		}
		if s.total > piece.MostOutlines {
			return SVGDrawing{},
				fmt.Errorf("the drawing has %d shapes and at most %d can be used: join shapes of one colour, or import a part of it", s.total,
					piece.MostOutlines)
		}
		if len(s.out.Shapes) == 0 {
			return SVGDrawing{}, fmt.Errorf("the drawing holds no filled shape%s: fill the shapes that are to take a colour", s.words(" (only "))
		}
		s.out.LeftOut = s.leftOut()
		return s.out, nil
	}
	return SVGDrawing{}, fmt.Errorf("the drawing has more than %d corners even with its curves drawn roughly: simplify it", mostCorners)
}

func (s *svgReader) leftOut() []string {
	var out []string
	for what, n := range s.left {
		out = append(out, fmt.Sprintf("%d × %s", n, what))
	}
	sort.Strings(out)
	return out
}

func (s *svgReader) words(before string) string {
	if all := s.leftOut(); len(all) > 0 {
		return before + strings.Join(all, ", ") + ")"
	}
	return ""
}

// declared is the declaration of an encoding that a text no longer has.
var declared = regexp.MustCompile(`encoding\s*=\s*("[^"]*"|'[^']*')`)

// fillRule is the fill that a style sheet gives to what has an element's name, a class or an id;
// each is empty where it may be any.
type fillRule struct{ element, class, id, fill string }

var (
	sheetRule  = regexp.MustCompile(`([^{}<;]+)\{([^}]*)\}`)
	remark     = regexp.MustCompile(`(?s)/\*.*?\*/`)
	fillOf     = regexp.MustCompile(`(?:^|;)\s*fill\s*:\s*([^;]+)`)
	plainMatch = regexp.MustCompile(`^([A-Za-z]+|\*)?(?:\.([A-Za-z_][\w-]*))?(?:#([A-Za-z_][\w-]*))?$`)
	mostRules  = 5000
)

// fillRules reads the fills of the style sheets of a drawing, by plain selectors and lists of
// them; the weaker kinds of selectors come first.
func fillRules(data []byte) (out []fillRule) {
	for _, m := range sheetRule.FindAllStringSubmatch(remark.ReplaceAllString(string(data), ""), mostRules) {
		fill := fillOf.FindStringSubmatch(m[2])
		if fill == nil {
			continue
		}
		value, _, _ := strings.Cut(fill[1], "!")
		for _, selector := range strings.Split(m[1], ",") {
			words := strings.Fields(strings.ReplaceAll(selector, ">", " "))
			if len(words) == 0 {
				continue
			}
			if s := plainMatch.FindStringSubmatch(words[len(words)-1]); s != nil && len(out) < mostRules {
				out = append(out, fillRule{strings.TrimPrefix(s[1], "*"), s[2], s[3], strings.TrimSpace(value)})
			}
		}
	}
	weight := func(r fillRule) int { return 2*min(len(r.id), 1) + min(len(r.class), 1) }
	slices.SortStableFunc(out, func(a, b fillRule) int { return weight(a) - weight(b) })
	return out
}

// gives reports whether the rule is for an element.
func (r fillRule) gives(element, id string, classes []string) bool {
	return (r.element == "" || r.element == element) && (r.id == "" || r.id == id) && (r.class == "" || slices.Contains(classes, r.class))
}

// never are elements whose content is no part of the drawing.
var never = map[string]bool{"defs": true, "clipPath": true, "mask": true, "symbol": true, "pattern": true, "marker": true, "metadata": true,
	"title": true, "desc": true, "style": true, "linearGradient": true, "radialGradient": true, "filter": true, "namedview": true}

// named are elements that are left out and told.
var named = map[string]string{"text": "text", "image": "picture", "use": "copy of another shape", "script": "script",
	"foreignObject": "foreign content", "line": "line without a fill", "a": "link"}

func (s *svgReader) read(ctx context.Context, data []byte) error {
	d := xml.NewDecoder(within(ctx, bytes.NewReader(data)))
	d.CharsetReader = func(label string, in io.Reader) (io.Reader, error) {
		if of, err := htmlindex.Get(label); err == nil {
			return of.NewDecoder().Reader(in), nil
		}
		return in, nil
	}
	stack := []svgState{{at: affine{1, 0, 0, 1, 0, 0}, fill: "black"}}
	begun := false
	for {
		t, err := d.Token()
		if err == io.EOF {
			break
		}
		if err != nil {
			return errors.New("the SVG drawing is incomplete: export it again as plain SVG")
		}
		switch t := t.(type) {
		case xml.Directive:
			if strings.Contains(strings.ToUpper(string(t)), "ENTITY") {
				return errors.New("the drawing uses entities, which are not read: export it as plain SVG")
			}
		case xml.EndElement:
			if len(stack) > 1 {
				stack = stack[:len(stack)-1]
			}
		case xml.StartElement:
			if !begun {
				if t.Name.Local != "svg" {
					return errors.New("the file is not an SVG drawing: it does not begin with an svg element")
				}
				begun = true
				if err := s.head(t, &stack[0]); err != nil {
					return err
				}
			}
			if len(stack) > mostDeep {
				return fmt.Errorf("the drawing's groups are nested more than %d deep: ungroup some", mostDeep)
			}
			if never[t.Name.Local] {
				if err := d.Skip(); err != nil {
					return errors.New("the SVG drawing is incomplete: export it again as plain SVG")
				}
				continue
			}
			if what, is := named[t.Name.Local]; is && t.Name.Local != "a" {
				s.left[what]++
				if err := d.Skip(); err != nil {
					return errors.New("the SVG drawing is incomplete: export it again as plain SVG")
				}
				continue
			}
			st, err := s.enter(t, stack[len(stack)-1])
			if err != nil {
				return err
			}
			stack = append(stack, st)
		}
	}
	if !begun {
		return errors.New("the file is not an SVG drawing: it does not begin with an svg element")
	}
	return nil
}

// units are mm for each unit of length; a px is a 96th of an inch.
var units = map[string]float64{"mm": 1, "cm": 10, "in": 25.4, "pt": 25.4 / 72, "pc": 25.4 / 6, "px": 25.4 / 96, "q": .25, "": 25.4 / 96}

// length is a length in mm, 0 when it is none.
func length(text string) float64 {
	text = strings.TrimSpace(strings.ToLower(text))
	end := len(text)
	for end > 0 && (text[end-1] < '0' || text[end-1] > '9') && text[end-1] != '.' {
		end--
	}
	v, err := strconv.ParseFloat(text[:end], 64)
	k, known := units[text[end:]]
	if err != nil || !known || !(v > 0) || math.IsInf(v, 0) {
		return 0
	}
	return v * k
}

// head reads the size and the view box.
func (s *svgReader) head(t xml.StartElement, st *svgState) error {
	w, h := length(attr(t, "width")), length(attr(t, "height"))
	if box := numbersOf(attr(t, "viewBox")); len(box) == 4 && box[2] > 0 && box[3] > 0 {
		copy(s.box[:], box)
		switch {
		case w > 0 && h <= 0:
			h = w * box[3] / box[2]
		case h > 0 && w <= 0:
			w = h * box[2] / box[3]
		}
		k := 1.0
		if w > 0 {
			k = math.Min(w/box[2], h/box[3])
			s.out.Width, s.out.Height = k*box[2], k*box[3]
		}
		st.at = affine{k, 0, 0, k, -k * box[0], -k * box[1]}
		if w <= 0 {
			s.out.Width, s.out.Height = 0, 0
		}
		return nil
	}
	if w <= 0 || h <= 0 {
		return nil
	}
	k := units[""]
	s.box = [4]float64{0, 0, w / k, h / k}
	s.out.Width, s.out.Height = w, h
	st.at = affine{k, 0, 0, k, 0, 0}
	return nil
}

// own is a length of an element in the drawing's own units: a plain number, one with a unit, or
// per cent of the view box (SVG 2, §8.9); 0 when it is none.
func (s *svgReader) own(name, text string) float64 {
	text = strings.TrimSpace(text)
	k := 1.0
	if of, is := strings.CutSuffix(text, "%"); is {
		text = of
		switch name {
		case "x", "width", "cx", "rx":
			k = s.box[2] / 100
		case "y", "height", "cy", "ry":
			k = s.box[3] / 100
		default:
			k = math.Sqrt((s.box[2]*s.box[2]+s.box[3]*s.box[3])/2) / 100
		}
	} else {
		for unit, mm := range units {
			if of, is := strings.CutSuffix(text, unit); is && unit != "" {
				text, k = of, mm/units[""]
				break
			}
		}
	}
	v, err := strconv.ParseFloat(text, 64)
	if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
		return 0
	}
	return v * k
}

func attr(t xml.StartElement, name string) string {
	for _, a := range t.Attr {
		if a.Name.Local == name {
			return a.Value
		}
	}
	return ""
}

// style is a property from the style attribute, else the attribute of its own.
func style(t xml.StartElement, name string) string {
	if own := ownStyle(t, name); own != "" {
		return own
	}
	return strings.TrimSpace(attr(t, name))
}

// ownStyle is a property from the style attribute, empty where it has none.
func ownStyle(t xml.StartElement, name string) string {
	for _, p := range strings.Split(attr(t, "style"), ";") {
		if k, v, ok := strings.Cut(p, ":"); ok && strings.TrimSpace(k) == name {
			return strings.TrimSpace(v)
		}
	}
	return ""
}

func (s *svgReader) enter(t xml.StartElement, from svgState) (svgState, error) {
	st := from
	if m := attr(t, "transform"); m != "" {
		by, err := transform(m)
		if err != nil {
			return st, err
		}
		st.at = st.at.times(by)
	}
	if f := strings.TrimSpace(attr(t, "fill")); f != "" && f != "inherit" {
		st.fill = f
	}
	classes := strings.Fields(attr(t, "class"))
	for _, rule := range s.styles {
		if rule.gives(t.Name.Local, attr(t, "id"), classes) {
			st.fill = rule.fill
		}
	}
	if f := ownStyle(t, "fill"); f != "" && f != "inherit" {
		st.fill = f
	}
	st.hidden = st.hidden || style(t, "display") == "none" || style(t, "visibility") == "hidden"
	name := attr(t, "label")
	if name == "" {
		name = attr(t, "id")
	}
	num := func(k string) float64 {
		return s.own(k, attr(t, k))
	}
	var loops [][]piece.Point
	var err error
	switch t.Name.Local {
	case "g", "svg", "a":
		if name != "" && t.Name.Local == "g" {
			st.group = name
		}
		return st, nil
	case "rect":
		x, y, w, h := num("x"), num("y"), num("width"), num("height")
		loops = [][]piece.Point{{{X: x, Y: y}, {X: x + w, Y: y}, {X: x + w, Y: y + h}, {X: x, Y: y + h}}}
	case "circle", "ellipse":
		rx, ry := num("r"), num("r")
		if t.Name.Local == "ellipse" {
			rx, ry = num("rx"), num("ry")
		}
		var loop []piece.Point
		for i := range 4 * s.flat {
			sin, cos := math.Sincos(2 * math.Pi * float64(i) / float64(4*s.flat))
			loop = append(loop, piece.Point{X: num("cx") + rx*cos, Y: num("cy") + ry*sin})
		}
		loops = [][]piece.Point{loop}
	case "polygon", "polyline":
		text := attr(t, "points")
		if len(text) > mostPoints {
			return st, errCorners
		}
		v := numbersOf(text)
		var loop []piece.Point
		for i := 0; i+1 < len(v); i += 2 {
			loop = append(loop, piece.Point{X: v[i], Y: v[i+1]})
		}
		loops = [][]piece.Point{loop}
	case "path":
		if loops, err = pathLoops(attr(t, "d"), s.flat, mostCorners-s.corners); err != nil {
			return st, err
		}
	default:
		if t.Name.Space == "" || strings.HasSuffix(t.Name.Space, "/svg") {
			s.left[t.Name.Local]++
		}
		st.hidden = true
		return st, nil
	}
	s.shape(st, name, loops)
	if s.corners > mostCorners && s.total <= piece.MostOutlines {
		return st, errCorners
	}
	st.hidden = true // nothing within a shape is drawn
	return st, nil
}

func (s *svgReader) shape(st svgState, name string, loops [][]piece.Point) {
	if st.hidden {
		return
	}
	if st.fill == "none" || st.fill == "transparent" {
		s.left["shape without a fill"]++
		return
	}
	var corners []piece.Point
	for _, loop := range loops {
		if len(loop) < 3 {
			continue
		}
		// Further loops hang on the first by a slit there and back.
		var back *piece.Point
		if len(corners) > 0 {
			back = &corners[0]
			corners = append(corners, *back)
		}
		for _, p := range loop {
			corners = append(corners, st.at.on(p))
		}
		if back != nil {
			corners = append(corners, st.at.on(loop[0]), *back)
		}
	}
	if len(corners) < 3 {
		return
	}
	for _, p := range corners {
		if math.IsNaN(p.X) || math.IsNaN(p.Y) || math.Abs(p.X) > 1e9 || math.Abs(p.Y) > 1e9 {
			s.left["shape with corners that are not numbers"]++
			return
		}
	}
	if s.total++; s.total > piece.MostOutlines {
		return // only counted
	}
	s.corners += len(corners)
	out := SVGShape{Group: st.group, Name: name, Corners: corners}
	if c, ok := paintColour(st.fill); ok {
		out.Fill = &c
	} else {
		s.left["gradient or pattern, taken as one flat part"]++
	}
	s.out.Shapes = append(s.out.Shapes, out)
}

// paintColour reads #rgb, #rrggbb, rgb(…) and the named colours of SVG.
func paintColour(text string) (colour.RGB, bool) {
	text = strings.ToLower(strings.TrimSpace(text))
	if c, err := colour.ParseHex(text); err == nil {
		return c, true
	}
	if c, known := colornames.Map[text]; known {
		return colour.RGB{R: float64(c.R) / 255, G: float64(c.G) / 255, B: float64(c.B) / 255}, true
	}
	if strings.HasPrefix(text, "rgb") {
		k := 255.0
		if strings.Contains(text, "%") {
			k = 100
		}
		v := numbersOf(strings.NewReplacer("rgba", "", "rgb", "", "(", " ", ")", " ", "%", " ").Replace(text))
		if len(v) >= 3 {
			on := func(x float64) float64 { return math.Max(0, math.Min(1, x/k)) }
			return colour.RGB{R: on(v[0]), G: on(v[1]), B: on(v[2])}, true
		}
	}
	return colour.RGB{}, false
}

var number = regexp.MustCompile(`[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?`)

func numbersOf(text string) []float64 {
	var out []float64
	for _, w := range number.FindAllString(text, -1) {
		if v, err := strconv.ParseFloat(w, 64); err == nil {
			out = append(out, v)
		}
	}
	return out
}

var transforms = regexp.MustCompile(`([a-zA-Z]+)\s*\(([^)]*)\)`)

func transform(text string) (affine, error) {
	m := affine{1, 0, 0, 1, 0, 0}
	for _, t := range transforms.FindAllStringSubmatch(text, -1) {
		v := numbersOf(t[2])
		at := func(i int, usual float64) float64 {
			if i < len(v) {
				return v[i]
			}
			return usual
		}
		n := affine{1, 0, 0, 1, 0, 0}
		switch t[1] {
		case "matrix":
			if len(v) != 6 {
				return m, errors.New("a transform of the drawing is incomplete: export it as plain SVG")
			}
			copy(n[:], v)
		case "translate":
			n[4], n[5] = at(0, 0), at(1, 0)
		case "scale":
			n[0], n[3] = at(0, 1), at(1, at(0, 1))
		case "rotate":
			sin, cos := math.Sincos(at(0, 0) * math.Pi / 180)
			cx, cy := at(1, 0), at(2, 0)
			n = affine{1, 0, 0, 1, cx, cy}.times(affine{cos, sin, -sin, cos, 0, 0}).times(affine{1, 0, 0, 1, -cx, -cy})
		case "skewX":
			n[2] = math.Tan(at(0, 0) * math.Pi / 180)
		case "skewY":
			n[1] = math.Tan(at(0, 0) * math.Pi / 180)
		default:
			return m, fmt.Errorf("the drawing has the transform %q, which is not known here: export it as plain SVG", shorten(t[1]))
		}
		m = m.times(n)
	}
	return m, nil
}
