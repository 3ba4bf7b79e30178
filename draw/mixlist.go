package draw

import (
	"fmt"

	"lampfern/core/card"
	"lampfern/core/colour"
)

// MixRow is one wanted colour of a list to carry, with what is mixed for it.
type MixRow struct {
	Name   string
	Wanted colour.Lab
	Mixed  *colour.Lab // nil where nothing reaches it
	Lines  []string
}

// MixList draws a list to carry: wanted colours with their recipes, then lines of what is
// to be taken along and looked for.
func MixList(p card.Paper, title string, rows []MixRow, lines []string) []Scene {
	const margin, high, swatch, words = 14.0, 15.0, 22.0, 50.0
	var out []Scene
	var s *Scene
	y := 0.0
	room := func(need float64) {
		if s != nil && y+need <= p.Height-14 {
			return
		}
		out = append(out, Scene{Width: p.Width, Height: p.Height, Millimetres: true, Label: fmt.Sprintf("%s, sheet %d", title, len(out)+1)})
		s = &out[len(out)-1]
		s.Add(Text{At: Point{margin, 19}, Words: fit(title, 6, true, p.Width-2*margin), Size: 6, Bold: true, Paint: Ink})
		foot(s, margin, p.Width-2*margin, "Left: the target colour. Right: the mix for it, in daylight · "+paperGuide)
		y = 27
	}
	for _, r := range rows {
		room(high)
		rgb, _ := r.Wanted.RGB()
		s.Add(Shape{Path: Box(margin, y, swatch/2, high-3), Style: Style{Fill: Solid(rgb)}, Title: r.Name})
		if r.Mixed != nil {
			rgb, _ := r.Mixed.RGB()
			s.Add(Shape{Path: Box(margin+swatch/2, y, swatch/2, high-3), Style: Style{Fill: Solid(rgb)}, Title: r.Name + " as mixed"})
		} else {
			s.Add(Shape{Path: Box(margin+swatch/2, y, swatch/2, high-3), Style: Style{Stroke: Ink, Width: .15}})
		}
		at := y + 3.6
		s.Add(Text{At: Point{margin + swatch + 4, at}, Words: fit(r.Name, 3.8, true, p.Width-2*margin-swatch-4), Size: 3.8, Bold: true,
			Paint: Ink})
		for _, line := range r.Lines {
			at += 4
			s.Add(Text{At: Point{margin + swatch + 4, at}, Words: fit(line, 3.2, false, p.Width-2*margin-swatch-4), Size: 3.2, Paint: Ink})
		}
		y += high
	}
	y += 3
	for _, line := range lines {
		for _, part := range wrap(line, 3.6, false, p.Width-2*margin, 6) {
			room(6)
			s.Add(Text{At: Point{margin, y + 3}, Words: part, Size: 3.6, Paint: Ink})
			y += 5.4
		}
		y += 1.6
	}
	return out
}
