package draw

import (
	"fmt"
	"math"

	"lampfern/core/colour"
	"lampfern/core/piece"
)

// ValueCard is one card of the value scale.
type ValueCard struct {
	Key  int
	Name string
	Lab  colour.Lab
}

// Sizes of the value scale, in pixels of its own picture.
const (
	scaleWidth, scaleHeight = 820.0, 590.0
	scaleTop, scaleBottom   = 46.0, 556.0
	scaleLeft               = 92.0
	valueTab, valueColour   = 24.0, 48.0
	valueCardMost           = 128.0
)

// Values draws cards, given dark to light, each at the height of its own
// value on a scale from 0 to 10.
func Values(light Light, cards []ValueCard) Scene {
	s := Scene{Width: scaleWidth, Height: scaleHeight, ID: "values", Label: "Cards of the tray at their values, dark to light"}
	y := func(v float64) float64 { return scaleBottom - v*(scaleBottom-scaleTop)/10 }
	for v := range 11 {
		rgb, _ := colour.Lab{L: 10 * float64(v)}.RGB()
		top := math.Max(y(float64(v)+0.5), y(10))
		s.Add(Shape{Path: Box(16, top, 36, math.Min(y(float64(v)-0.5), y(0))-top), Style: Style{Fill: Solid(rgb)}})
		s.Add(Text{At: Point{scaleLeft - 18, y(float64(v)) + 4}, Words: fmt.Sprint(v), Size: 14, Anchor: End, Paint: Ink})
		s.Add(Shape{Path: Line(Point{scaleLeft - 12, y(float64(v))}, Point{scaleWidth - 6, y(float64(v))}), Style: Style{Stroke: Ink, Width: 0.5, Class: "rule"}})
	}
	if len(cards) == 0 {
		return s
	}
	pitch := (scaleWidth - 10 - scaleLeft) / float64(len(cards))
	wide := math.Min(valueCardMost, pitch-6)
	if pitch > valueCardMost+20 {
		pitch = valueCardMost + 20
	}
	line := &Path{}
	var drawn []Node
	for i, c := range cards {
		x, mid := scaleLeft+pitch*float64(i), y(c.Lab.L/10)
		if i == 0 {
			line.MoveTo(Point{x + wide/2, mid})
		} else {
			line.LineTo(Point{x + wide/2, mid})
		}
		rgb, _ := light.Show(c.Lab)
		drawn = append(drawn, tabCard(x, mid, wide, rgb, c))
	}
	s.Add(Shape{Path: line, Style: Style{Stroke: Ink, Width: 1.2, Dash: []float64{5, 4}}})
	s.Add(drawn...)
	return s
}

// tabCard is an index-tab card whose colour field is centred on height mid.
func tabCard(x, mid, wide float64, rgb colour.RGB, c ValueCard) Group {
	top := mid - valueColour/2
	value := fmt.Sprintf("%.1f", c.Lab.Value())
	slant := math.Min(12, wide/6)
	room := wide - slant - 10
	g := Group{Class: "value-card", Attributes: [][2]string{{"data-key", fmt.Sprint(c.Key)}}}
	g.Nodes = append(g.Nodes,
		Shape{Path: Polygon(Point{x, top - valueTab}, Point{x + wide - slant - 4, top - valueTab}, Point{x + wide - 4, top}, Point{x, top}),
			Style: Style{Fill: Solid(colour.RGB{R: 0.965, G: 0.965, B: 0.965})}, Title: c.Name},
		Shape{Path: Box(x, top, wide, valueColour), Style: Style{Fill: Solid(rgb)}, Title: fmt.Sprintf("%s, value %s", c.Name, value)})
	words := value
	if name := fit(c.Name, 13.5, false, room-measure(value+" ", 13.5, false)); len([]rune(name)) > 3 {
		words = value + " " + name
	}
	g.Nodes = append(g.Nodes, Text{At: Point{x + 5, top - 7}, Words: words, Size: 13.5, Class: "tab-text"})
	return g
}

// PiecePart is how one part of a piece is shown.
type PiecePart struct {
	Key, Name string
	Card      string // name of the card it takes, empty when none
	Lab       *colour.Lab
}

// Piece draws a piece with its parts, each a group that can be chosen.
func Piece(light Light, p piece.Piece, parts []PiecePart) Scene {
	const longest = 1000.0
	k := longest / math.Max(p.Width, p.Height)
	s := Scene{Width: p.Width * k, Height: p.Height * k, ID: "piece", Label: p.Name}
	outlines := make([]*Path, len(parts))
	for i := range outlines {
		outlines[i] = &Path{}
	}
	for _, r := range p.Regions {
		for i, q := range r.Outline {
			pt := Point{q.X * k, q.Y * k}
			if i == 0 {
				outlines[r.Part].MoveTo(pt)
			} else {
				outlines[r.Part].LineTo(pt)
			}
		}
		outlines[r.Part].Close()
	}
	for i, part := range parts {
		st := Style{Fill: Clear, Stroke: Ink, Width: 1, Dash: []float64{6, 5}, Class: "part-empty"}
		card := "no card yet"
		if part.Lab != nil {
			rgb, _ := light.Show(*part.Lab)
			// Stroked in its own colour, so that no seam shows between parts.
			st = Style{Fill: Solid(rgb), Stroke: Solid(rgb), Width: 0.8}
			card = part.Card
		}
		s.Add(Group{Class: "part", Attributes: [][2]string{{"data-part", part.Key}, {"id", "part-" + part.Key}, {"tabindex", "0"}, {"role", "button"},
			{"aria-label", fmt.Sprintf("%s: %s. Give it the chosen card.", part.Name, card)}},
			Nodes: []Node{Shape{Path: outlines[i], Style: st, Title: part.Name + ": " + card}}})
	}
	return s
}

// Batten is one card's share of the whole.
type Batten struct {
	Name  string
	Share float64
	Lab   colour.Lab
}

// Battens draws shares as one bar of butting lengths.
func Battens(light Light, all []Batten) Scene {
	const width, height = 1000.0, 54.0
	s := Scene{Width: width, Height: height, Stretch: true, ID: "battens", Label: "Shares of the piece"}
	total, x := 0.0, 0.0
	for _, b := range all {
		total += b.Share
	}
	for _, b := range all {
		w := width * b.Share / total
		rgb, _ := light.Show(b.Lab)
		s.Add(Shape{Path: Box(x, 0, w, height), Style: Style{Fill: Solid(rgb)}, Title: fmt.Sprintf("%s: %.1f%%", b.Name, 100*b.Share)})
		x += w
	}
	return s
}
