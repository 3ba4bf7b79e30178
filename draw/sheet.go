package draw

import (
	"fmt"
	"strings"

	"lampfern/core/card"
	"lampfern/core/colour"
	"lampfern/core/material"
)

// SheetCard is what is written on one printed swatch card.
type SheetCard struct {
	Name   string
	Lines  []string // up to three short lines under the name
	Colour colour.Lab
	Bands  []material.Band // of what shows more than one colour
}

// Type on a printed card, in millimetres.
const (
	cardName  = 3.6
	cardLine  = 2.3
	cardInset = 3.0
	footSize  = 2.4
)

// Sheets draws swatch cards on as many sheets as they need, at true size with
// crop marks. Cards are always in daylight. title stands in the foot.
func Sheets(l card.Layout, title string, cards []SheetCard) []Scene {
	n := l.Sheets(len(cards))
	var out []Scene
	for page := range n {
		s := Scene{Width: l.Paper.Width, Height: l.Paper.Height, Millimetres: true,
			Label: fmt.Sprintf("Swatch cards, sheet %d of %d", page+1, n)}
		for _, m := range l.Marks() {
			s.Add(Shape{Path: Line(Point(m.From), Point(m.To)), Style: Style{Stroke: Ink, Width: 0.15}})
		}
		for i := page * l.PerSheet(); i < min(len(cards), (page+1)*l.PerSheet()); i++ {
			s.Add(sheetCard(l.At(i), cards[i]))
		}
		foot := fmt.Sprintf("%s · sheet %d of %d · print at 100 %%: a card measures %g × %g mm · paper is a guide, the material is the truth",
			title, page+1, n, card.Width, card.Height)
		s.Add(Text{At: Point{l.Origin.X, l.Paper.Height - 3.2}, Words: fit(foot, footSize, false, l.Paper.Width-2*l.Origin.X), Size: footSize, Paint: Ink})
		out = append(out, s)
	}
	return out
}

func sheetCard(at card.Point, c SheetCard) Group {
	x, y := at.X, at.Y
	right := x + card.Width - card.Notch
	bands := c.Bands
	if len(bands) == 0 {
		bands = []material.Band{{Colour: c.Colour, Share: 1}}
	}
	inGamut := true
	for _, b := range bands {
		_, in := b.Colour.RGB()
		inGamut = inGamut && in
	}
	lines := c.Lines
	if !inGamut {
		lines = append(lines[:len(lines):len(lines)], "printed duller: outside sRGB")
	}
	g := Group{Class: "swatch-card"}
	edge := Style{Stroke: Ink, Width: 0.1}
	g.Nodes = append(g.Nodes,
		Shape{Path: Polygon(Point{x, y}, Point{right - card.Slant, y}, Point{right, y + card.Tab}, Point{x, y + card.Tab}), Style: edge},
	)
	from := x
	for _, b := range bands {
		rgb, _ := b.Colour.RGB()
		wide := b.Share * card.Width
		g.Nodes = append(g.Nodes, Shape{Path: Box(from, y+card.Tab, wide, card.Height-card.Tab), Style: Style{Fill: Solid(rgb)}, Title: c.Name})
		from += wide
	}
	room := func(below float64) float64 { // the tab narrows toward its top
		return right - card.Slant*(1-below/card.Tab) - x - 2*cardInset + 1
	}
	text := func(words string, size float64, bold bool, below float64) {
		g.Nodes = append(g.Nodes, Text{At: Point{x + cardInset, y + below}, Words: fit(words, size, bold, room(below-size)), Size: size, Bold: bold, Paint: Ink})
	}
	below := 5.4
	for _, part := range wrap(c.Name, cardName, true, room(2), 2) {
		text(part, cardName, true, below)
		below += 4
	}
	for _, line := range lines {
		if below > card.Tab-0.6 {
			break
		}
		text(line, cardLine, false, below)
		below += 2.9
	}
	return g
}

// wrap breaks words into at most most lines no wider than width; what is left
// over goes on the last.
func wrap(words string, size float64, bold bool, width float64, most int) []string {
	var lines []string
	current := ""
	for _, w := range strings.Fields(words) {
		next := w
		if current != "" {
			next = current + " " + w
		}
		if current != "" && measure(next, size, bold) > width && len(lines) < most-1 {
			lines = append(lines, current)
			current = w
			continue
		}
		current = next
	}
	return append(lines, current)
}
