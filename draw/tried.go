package draw

import (
	"fmt"
	"strings"

	"lampfern/core/colour"
)

// Tried is one combination of cards as it is printed.
type Tried struct {
	Title  string // its size and scheme
	Names  []string
	Cards  []colour.Lab
	Remark string
}

// Page of combinations on upright A4, in millimetres.
const (
	triedWidth, triedHeight = 210.0, 297.0
	triedMargin             = 15.0
	triedHead               = 26.0 // above the first row
	triedColumns, triedRows = 2, 5
	triedGap                = 8.0
	triedTab                = 4.0
	triedColour             = 25.0
	triedSlant              = 1.6
	triedNotch              = 2.0
	triedType               = 2.7
	triedTitle              = 3.4
	triedPlanName           = 5.6
)

// TriedPages draws combinations as a workbook: ten on a page, each with its
// cards edge to edge, their names and the maker's remark, or a line to write one
// on. Cards are in daylight.
func TriedPages(title string, all []Tried) []Scene {
	const perPage = triedColumns * triedRows
	n := (len(all) + perPage - 1) / perPage
	var out []Scene
	for page := range n {
		s := Scene{Width: triedWidth, Height: triedHeight, Millimetres: true, Label: fmt.Sprintf("Combinations tried, page %d of %d", page+1, n)}
		s.Add(Text{At: Point{triedMargin, 16}, Words: fit(title, triedPlanName, true, triedWidth-2*triedMargin), Size: triedPlanName, Bold: true,
			Paint: Ink},
			Text{At: Point{triedMargin, 21.5}, Words: fmt.Sprintf("Combinations tried · page %d of %d", page+1, n), Size: triedType, Paint: Ink})
		wide := (triedWidth - 2*triedMargin - (triedColumns-1)*triedGap) / triedColumns
		high := (triedHeight - triedHead - triedMargin) / triedRows
		for i, t := range all[page*perPage : min(len(all), (page+1)*perPage)] {
			at := Point{triedMargin + float64(i%triedColumns)*(wide+triedGap), triedHead + float64(i/triedColumns)*high}
			s.Add(tried(at, wide, t))
		}
		s.Add(Text{At: Point{triedMargin, triedHeight - 8},
			Words: "Colours from your shelf, in daylight · paper is a guide: trust the material", Size: footSize, Paint: Ink})
		out = append(out, s)
	}
	return out
}

func tried(at Point, wide float64, t Tried) Group {
	g := Group{Class: "tried"}
	below := at.Y + triedTitle
	text := func(words string, size float64, bold bool) {
		g.Nodes = append(g.Nodes, Text{At: Point{at.X, below}, Words: fit(words, size, bold, wide), Size: size, Bold: bold, Paint: Ink})
	}
	text(t.Title, triedTitle, true)
	below += 1.6
	each := wide / float64(len(t.Cards))
	for i, c := range t.Cards {
		x := at.X + float64(i)*each
		right := x + each - min(triedNotch, each/4)
		rgb, _ := c.RGB()
		g.Nodes = append(g.Nodes,
			Shape{Path: Polygon(Point{x, below}, Point{right - triedSlant, below}, Point{right, below + triedTab}, Point{x, below + triedTab}),
				Style: Style{Stroke: Ink, Width: 0.1}},
			Text{At: Point{x + 1, below + triedTab - 1}, Words: fmt.Sprint(i + 1), Size: triedType, Paint: Ink},
			Shape{Path: Box(x, below+triedTab, each, triedColour), Style: Style{Fill: Solid(rgb)}, Title: t.Names[i]})
	}
	below += triedTab + triedColour + triedType + 1
	var names []string
	for i, n := range t.Names {
		names = append(names, fmt.Sprintf("%d %s", i+1, n))
	}
	for _, line := range wrap(strings.Join(names, " · "), triedType, false, wide, 3) {
		text(line, triedType, false)
		below += triedType + 0.9
	}
	if t.Remark == "" {
		below += 2
		g.Nodes = append(g.Nodes, Shape{Path: Line(Point{at.X, below}, Point{at.X + wide, below}),
			Style: Style{Stroke: Ink, Width: 0.1, Dash: []float64{0.6, 1}}})
		return g
	}
	for _, line := range wrap(t.Remark, triedType, false, wide, 2) {
		text(line, triedType, true)
		below += triedType + 0.9
	}
	return g
}
