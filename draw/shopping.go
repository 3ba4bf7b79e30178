package draw

import (
	"fmt"

	"lampfern/core/card"
	"lampfern/core/colour"
)

// ShoppingRow is a line of a shopping list, or the heading of those below it.
type ShoppingRow struct {
	Heading string
	Name    string
	Buy     string
	Price   string
	Colour  *colour.Lab // nil for what has none
	Done    bool
}

// ShoppingList draws a shopping list with boxes to tick.
func ShoppingList(p card.Paper, title string, rows []ShoppingRow) []Scene {
	const margin, high, box, swatch = 16.0, 9.0, 4.5, 12.0
	var out []Scene
	var s *Scene
	y := p.Height
	for _, r := range rows {
		if y+high > p.Height-14 {
			out = append(out, Scene{Width: p.Width, Height: p.Height, Millimetres: true, Label: fmt.Sprintf("%s, sheet %d", title, len(out)+1)})
			s = &out[len(out)-1]
			s.Add(Text{At: Point{margin, 19}, Words: fit(title, 6, true, p.Width-2*margin), Size: 6, Bold: true, Paint: Ink})
			foot(s, margin, p.Width-2*margin, "Colours in daylight · "+paperGuide)
			y = 26
		}
		if r.Heading != "" {
			s.Add(Text{At: Point{margin, y + 6}, Words: fit(r.Heading, 4, true, p.Width-2*margin), Size: 4, Bold: true, Paint: Ink})
			y += high
			continue
		}
		s.Add(Shape{Path: Box(margin, y+1.5, box, box), Style: Style{Stroke: Ink, Width: .25}})
		if r.Done {
			s.Add(Shape{Path: Line(Point{margin, y + 1.5}, Point{margin + box, y + 1.5 + box}), Style: Style{Stroke: Ink, Width: .4}})
		}
		if r.Colour != nil {
			rgb, _ := r.Colour.RGB()
			s.Add(Shape{Path: Box(margin+box+3, y+.8, swatch, 6), Style: Style{Fill: Solid(rgb)}, Title: r.Name})
		}
		left := margin + box + swatch + 7
		s.Add(Text{At: Point{left, y + 5.3}, Words: fit(r.Name, 3.8, false, p.Width-margin-70-left), Size: 3.8, Paint: Ink},
			Text{At: Point{p.Width - margin - 68, y + 5.3}, Words: fit(r.Buy, 3.8, true, 48), Size: 3.8, Bold: true, Paint: Ink},
			Text{At: Point{p.Width - margin, y + 5.3}, Words: r.Price, Size: 3.8, Anchor: End, Paint: Ink})
		y += high
	}
	return out
}
