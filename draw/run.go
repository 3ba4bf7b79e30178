package draw

import (
	"fmt"
	"math"
	"sort"

	"lampfern/core/colour"
)

// RunCard is one colour of a run, drawn at its own value. Off is how far it
// stands off the line to the right, in Lab units; Words is said of a stray.
type RunCard struct {
	Token string
	Name  string
	Lab   colour.Lab
	Off   float64
	Words string // empty when it belongs
}

// RunPicture is a run on the value scale. Cards come dark to light.
type RunPicture struct {
	Light  Light
	Cards  []RunCard
	Line   bool         // a curve was fitted
	Sides  [2]string    // what lies left and right of the line, empty for nothing
	Gaps   [][2]float64 // values between which something is missing
	Crowds [][2]int     // cards that are too near, by number
	Wanted []colour.Lab // colours wanted in gaps, drawn as outlines
	Narrow bool         // names are drawn a second time, of class "for-narrow", as large as a narrow window needs them
}

// Sizes of the value scale, in pixels of its own picture.
const (
	scaleWidth, scaleHeight = 820.0, 590.0
	scaleTop, scaleBottom   = 46.0, 566.0
	scaleLeft               = 92.0
	runCentre               = 352.0
	runCardWide             = 120.0
	runCardMost             = 42.0 // high
	runCardLeast            = 12.0
	runUnit                 = 8.0   // pixels a Lab unit stands off the line
	runFarthest             = 146.0 // and no more than that
	runColumn               = 582.0 // where names stand that have no room beside their card
	runLabel                = 14.0
	runLabelNarrow          = 29.0 // 12 px where the picture is 340 px wide
)

func valueAt(v float64) float64 { return scaleBottom - v*(scaleBottom-scaleTop)/10 }

// Run draws a run: each card at the height of its own value on a scale from 0
// to 10, sideways as far off the fitted line as it leans, gaps in brackets and
// crowds joined.
func Run(r RunPicture) Scene {
	s := Scene{Width: scaleWidth, Height: scaleHeight, ID: "values", Label: "The gradient on the value scale, dark at the foot"}
	for v := range 11 {
		rgb, _ := colour.Lab{L: 10 * float64(v)}.RGB()
		top := math.Max(valueAt(float64(v)+0.5), valueAt(10))
		s.Add(Shape{Path: Box(16, top, 36, math.Min(valueAt(float64(v)-0.5), valueAt(0))-top), Style: Style{Fill: Solid(rgb)}})
		s.Add(Text{At: Point{scaleLeft - 18, valueAt(float64(v)) + 4}, Words: fmt.Sprint(v), Size: 14, Anchor: End, Paint: Ink})
		s.Add(Shape{Path: Line(Point{scaleLeft - 12, valueAt(float64(v))}, Point{scaleWidth - 6, valueAt(float64(v))}),
			Style: Style{Stroke: Ink, Width: 0.5, Class: "rule"}})
	}
	if len(r.Cards) == 0 {
		return s
	}
	for side, words := range r.Sides {
		if words != "" {
			s.Add(Text{At: Point{runCentre + float64(2*side-1)*160, scaleTop - 22}, Words: "leans " + words, Size: 14, Anchor: Middle, Paint: Ink,
				Class: "over-lines"})
		}
	}
	if r.Line {
		low, high := valueAt(r.Cards[0].Lab.L/10), valueAt(r.Cards[len(r.Cards)-1].Lab.L/10)
		s.Add(Shape{Path: Line(Point{runCentre, low + 24}, Point{runCentre, high - 24}),
			Style: Style{Stroke: Ink, Width: 1.2, Dash: []float64{5, 4}}})
	}
	high := cardHeight(r.Cards)
	for _, g := range r.Gaps {
		s.Add(bracket(valueAt(g[0])-high/2, valueAt(g[1])+high/2, g[1]-g[0]))
	}
	for _, w := range r.Wanted {
		rgb, _ := r.Light.Show(w)
		s.Add(Shape{Path: Box(runCentre-runCardWide/2, valueAt(w.L/10)-high/2, runCardWide, high),
			Style: Style{Fill: None, Stroke: Solid(rgb), Width: 2.5, Dash: []float64{7, 5}},
			Title: fmt.Sprintf("Target: value %.1f", w.Value())})
	}
	places := runPlaces(r.Cards, high)
	all := [][]runName{runNames(r.Cards, places, high, runLabel, "for-wide")}
	if r.Narrow {
		all = append(all, runNames(r.Cards, places, high, runLabelNarrow, "for-narrow"))
	}
	for _, names := range all {
		for i, c := range r.Cards { // under every card and name, so that none is struck through
			y, right := valueAt(c.Lab.L/10), places[i]+runCardWide/2
			if n := names[i]; !n.none && (n.at.Y != y || n.at.X > right+11) {
				s.Add(Shape{Path: Line(Point{right, y}, Point{n.at.X - 3, n.at.Y}), Style: Style{Stroke: Ink, Width: 0.6, Class: "rule " + n.class}})
			}
		}
	}
	for i, c := range r.Cards {
		g := runCard(r.Light, c, places[i], high)
		for _, names := range all {
			if n := names[i]; !n.none {
				g.Nodes = append(g.Nodes, Text{At: Point{n.at.X, n.at.Y + 0.36*n.size}, Words: fit(n.words, n.size, c.Words != "", scaleWidth-4-n.at.X),
					Size: n.size, Bold: c.Words != "", Paint: Ink, Class: "over-lines " + n.class})
			}
		}
		s.Add(g)
	}
	for _, c := range r.Crowds {
		s.Add(joined(r.Cards[c[0]], places[c[0]], r.Cards[c[1]], places[c[1]]))
	}
	return s
}

// cardHeight makes cards lower where many lie close together.
func cardHeight(cards []RunCard) float64 {
	if len(cards) < 2 {
		return runCardMost
	}
	span := valueAt(cards[0].Lab.L/10) - valueAt(cards[len(cards)-1].Lab.L/10)
	return math.Max(runCardLeast, math.Min(runCardMost, 0.9*span/float64(len(cards)-1)))
}

// runPlaces are how far right each card's middle lies: off the line by its lean,
// ever less the farther, and outward past a card that it would hide.
func runPlaces(cards []RunCard, high float64) []float64 {
	out := make([]float64, len(cards))
	for i, c := range cards {
		side := math.Copysign(1, c.Off)
		x := runCentre + side*runFarthest*(1-math.Exp(-math.Abs(c.Off)*runUnit/runFarthest))
		if c.Words != "" {
			for j := range i {
				if math.Abs(out[j]-x) < runCardWide/2 && math.Abs(valueAt(cards[j].Lab.L/10)-valueAt(c.Lab.L/10)) < 0.7*high {
					x += side * runCardWide / 2
				}
			}
		}
		out[i] = math.Max(runCentre-runFarthest-runCardWide/2, math.Min(runCentre+runFarthest+runCardWide/2, x))
	}
	return out
}

// runName is a card's name and where it begins.
type runName struct {
	words, class string
	size         float64
	at           Point
	none         bool // there is no room for it
}

type box struct{ left, top, right, bottom float64 }

func (a box) meets(b box) bool {
	return a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom
}

// runNames lays the names: beside its card where a name meets no card and no
// other name, else in a column at the right, pushed apart. Strays come first. What is
// said of a card has room only at the usual size.
func runNames(cards []RunCard, places []float64, high, size float64, class string) []runName {
	var taken []box
	for i, c := range cards {
		x, y := places[i], valueAt(c.Lab.L/10)
		taken = append(taken, box{x - runCardWide/2, y - high/2, x + runCardWide/2, y + high/2})
	}
	order := make([]int, len(cards))
	for i := range cards {
		order[i] = i
	}
	sort.SliceStable(order, func(a, b int) bool { return cards[order[a]].Words != "" && cards[order[b]].Words == "" })
	out := make([]runName, len(cards))
	for _, i := range order {
		c := cards[i]
		words := c.said()
		if size > runLabel {
			words = c.Name
		}
		y, wide := valueAt(c.Lab.L/10), math.Min(measure(words, size, c.Words != ""), scaleWidth-runColumn)
		tries := []Point{{places[i] + runCardWide/2 + 10, y}}
		for shift := 0.0; shift < 130; shift += 4 {
			tries = append(tries, Point{runColumn, y - shift}, Point{runColumn, y + shift})
		}
		out[i] = runName{words: words, class: class, size: size, none: true}
		for _, t := range tries {
			b := box{t.X, t.Y - size/2 - 1, t.X + wide, t.Y + size/2 + 1}
			free := b.top > 0 && b.bottom < scaleHeight
			for _, o := range taken {
				free = free && !b.meets(o)
			}
			if free {
				out[i].at, out[i].none = t, false
				taken = append(taken, b)
				break
			}
		}
	}
	return out
}

// said is a card's name with what is said of it.
func (c RunCard) said() string {
	if c.Words != "" {
		return c.Name + " · " + c.Words
	}
	return c.Name
}

func runCard(light Light, c RunCard, x, high float64) Group {
	y := valueAt(c.Lab.L / 10)
	rgb, _ := light.Show(c.Lab)
	said := fmt.Sprintf("%s, value %.1f", c.Name, c.Lab.Value())
	if c.Words != "" {
		said += ", " + c.Words
	}
	g := Group{Class: "run-card", Attributes: [][2]string{{"data-token", c.Token}, {"tabindex", "0"}, {"role", "button"},
		{"aria-label", said + ". Set it aside from the gradient."}}}
	if c.Words != "" {
		g.Nodes = append(g.Nodes, Shape{Path: Line(Point{runCentre, y}, Point{x, y}), Style: Style{Stroke: Ink, Width: 1.5}})
	}
	g.Nodes = append(g.Nodes, Shape{Path: Box(x-runCardWide/2, y-high/2, runCardWide, high), Style: Style{Fill: Solid(rgb)}, Title: said})
	return g
}

// bracket marks a gap beside the scale.
func bracket(low, high, by float64) Group {
	const x, arm = scaleLeft + 6, 10.0
	p := (&Path{}).MoveTo(Point{x + arm, low}).LineTo(Point{x, low}).LineTo(Point{x, high}).LineTo(Point{x + arm, high})
	return Group{Class: "gap", Nodes: []Node{Shape{Path: p, Style: Style{Stroke: Ink, Width: 1.6}},
		Text{At: Point{x + arm, (low+high)/2 + 5}, Words: fmt.Sprintf("gap of %.1f", by), Size: runLabel, Paint: Ink, Class: "over-lines"}}}
}

// joined links two cards that crowd, at their left.
func joined(a RunCard, xa float64, b RunCard, xb float64) Shape {
	const out = 12.0
	xa, xb = xa-runCardWide/2, xb-runCardWide/2
	x := math.Min(xa, xb) - out
	p := (&Path{}).MoveTo(Point{xa, valueAt(a.Lab.L / 10)}).LineTo(Point{x, valueAt(a.Lab.L / 10)}).LineTo(Point{x,
		valueAt(b.Lab.L / 10)}).LineTo(Point{xb, valueAt(b.Lab.L / 10)})
	return Shape{Path: p, Style: Style{Stroke: Ink, Width: 3}, Title: a.Name + " and " + b.Name + " crowd"}
}

// Strip is a colour of a strip to print or to keep. Source says how it was found.
type Strip struct {
	Name   string
	Lab    colour.Lab
	Source string
}

// Sizes of a strip, in millimetres.
const (
	stripWide, stripHigh = 25.0, 60.0
	stripMargin          = 12.0
	stripNames           = 14.0
	stripType            = 2.6
	stripPerRow          = 10
)

// StripPages draws a run as swatches of 25 × 60 mm that butt, on A4 lying down,
// at true size, with name and value under each.
func StripPages(title string, all []Strip) []Scene {
	const wide, high = 297.0, 210.0
	const rows = 2
	var out []Scene
	n := (len(all) + rows*stripPerRow - 1) / (rows * stripPerRow)
	for page := range n {
		s := Scene{Width: wide, Height: high, Millimetres: true, Label: fmt.Sprintf("%s, sheet %d of %d", title, page+1, n)}
		s.Add(Text{At: Point{stripMargin, 15}, Words: fit(title, 4.4, true, wide-2*stripMargin), Size: 4.4, Bold: true, Paint: Ink})
		part := all[page*rows*stripPerRow : min(len(all), (page+1)*rows*stripPerRow)]
		for i, c := range part {
			s.Add(swatch(Point{stripMargin + float64(i%stripPerRow)*stripWide, 22 + float64(i/stripPerRow)*(stripHigh+stripNames+6)}, c))
		}
		s.Add(Text{At: Point{stripMargin, high - 6},
			Words: fmt.Sprintf("Print at 100 %%: a swatch measures %g × %g mm · daylight · paper is a guide: trust the material",
				stripWide, stripHigh), Size: footSize, Paint: Ink})
		out = append(out, s)
	}
	return out
}

// StripScene is a run as one row of swatches, in millimetres.
func StripScene(title string, all []Strip) Scene {
	s := Scene{Width: stripWide * float64(max(1, len(all))), Height: stripHigh + stripNames, Millimetres: true, Label: title}
	for i, c := range all {
		s.Add(swatch(Point{float64(i) * stripWide, 0}, c))
	}
	return s
}

func swatch(at Point, c Strip) Group {
	rgb, _ := c.Lab.RGB()
	g := Group{Class: "swatch", Nodes: []Node{Shape{Path: Box(at.X, at.Y, stripWide, stripHigh), Style: Style{Fill: Solid(rgb)},
		Title: c.Name}}}
	y := at.Y + stripHigh + stripType + 1
	for _, line := range append(wrap(c.Name, stripType, false, stripWide-2, 2), fmt.Sprintf("value %.1f · %s", c.Lab.Value(), rgb.Hex()),
		c.Source) {
		g.Nodes = append(g.Nodes, Text{At: Point{at.X + 0.5, y}, Words: fit(line, stripType, false, stripWide-1), Size: stripType, Paint: Ink})
		y += stripType + 0.8
	}
	return g
}

// ChitCard is what to look for in a shop, as it is printed.
type ChitCard struct {
	Lab   colour.Lab
	Title string
	Lines []string
}

// ChitPages draws chits on upright A4, two by three: the wanted colour as a
// field beside what must be watched for.
func ChitPages(title string, all []ChitCard) []Scene {
	const wide, high, margin = 210.0, 297.0, 12.0
	const columns, rows = 2, 3
	w, h := (wide-2*margin)/columns, 84.0
	var out []Scene
	n := (len(all) + columns*rows - 1) / (columns * rows)
	for page := range n {
		s := Scene{Width: wide, Height: high, Millimetres: true, Label: fmt.Sprintf("What to look for, sheet %d of %d", page+1, n)}
		s.Add(Text{At: Point{margin, 16}, Words: fit(title, 4.4, true, wide-2*margin), Size: 4.4, Bold: true, Paint: Ink})
		for i, c := range all[page*columns*rows : min(len(all), (page+1)*columns*rows)] {
			at := Point{margin + float64(i%columns)*w, 22 + float64(i/columns)*h}
			rgb, _ := c.Lab.RGB()
			s.Add(Shape{Path: Box(at.X, at.Y, w, h), Style: Style{Stroke: Ink, Width: 0.15, Dash: []float64{1, 1}}})
			s.Add(Shape{Path: Box(at.X+4, at.Y+4, w-8, 40), Style: Style{Fill: Solid(rgb)}, Title: c.Title})
			y := at.Y + 51
			s.Add(Text{At: Point{at.X + 4, y}, Words: fit(c.Title, 3.8, true, w-8), Size: 3.8, Bold: true, Paint: Ink})
			for _, l := range c.Lines {
				for _, part := range wrap(l, 2.9, false, w-8, 2) {
					y += 4.4
					s.Add(Text{At: Point{at.X + 4, y}, Words: fit(part, 2.9, false, w-8), Size: 2.9, Paint: Ink})
				}
			}
		}
		s.Add(Text{At: Point{margin, high - 8},
			Words: "Calculated from the gradient, in daylight · paper is a guide: hold your own cards beside what you find", Size: footSize, Paint: Ink})
		out = append(out, s)
	}
	return out
}
