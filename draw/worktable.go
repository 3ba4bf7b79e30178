package draw

import (
	"fmt"
	"image"
	"math"

	"lampfern/core/colour"
	"lampfern/core/piece"
	"lampfern/core/words"
)

// WorkRow is one card of a plan as the worktable sheet lists it.
type WorkRow struct {
	Colour colour.Lab
	Name   string
	Parts  string // that take it
	Source string // what it is, or that it is to be mixed
	Share  float64
}

// Coloured draws a piece at its true size in its colours, each part a group of its
// own name, for other programs to go on with.
func Coloured(p piece.Piece, labs []*colour.Lab) Scene {
	s := Scene{Width: p.Width, Height: p.Height, Millimetres: true, Label: p.Name}
	fades := fadesOf(Light{}, p, 1, labs)
	for i, o := range partOutlines(p, 1) {
		st := Style{Stroke: Ink, Width: 0.1}
		if labs[i] != nil {
			rgb, _ := labs[i].RGB()
			st = Style{Fill: Solid(rgb)}
		}
		s.Add(Group{Attributes: [][2]string{{"id", p.Parts[i].Name}}, Nodes: append([]Node{Shape{Path: o, Style: st, Title: p.Parts[i].Name}},
			fades[i]...)})
	}
	return s
}

// WorktableSheet draws a finished plan on upright A4, to lie beside the work: the
// piece large in its colours, each card with its parts and what it is, and room
// for remarks. unders are the reliefs of the photos the piece was drawn on, surfaces what its parts show beside their colours.
func WorktableSheet(title, purpose string, p piece.Piece, unders []*image.Gray, labs []*colour.Lab, surfaces []Surface,
	rows []WorkRow) (Scene, error) {
	const wide, high, margin = 210.0, 297.0, 14.0
	const rowHigh, mostRows = 11.5, 12
	s := Scene{Width: wide, Height: high, Millimetres: true, Label: title + " making sheet"}
	room := wide - 2*margin
	what := sizeWords(p)
	p = Shown(p)
	s.Add(Text{At: Point{margin, 19}, Words: fit(title, 7, true, room), Size: 7, Bold: true, Paint: Ink},
		Text{At: Point{margin, 25}, Words: fit(what, 3.2, false, room), Size: 3.2, Paint: Ink})
	top := 30.0
	if purpose != "" {
		s.Add(Text{At: Point{margin, 29.5}, Words: fit(purpose, 3.2, false, room), Size: 3.2, Paint: Ink})
		top = 34
	}
	shown := rows[:min(len(rows), mostRows)]
	foots := high - 16 - 30 - rowHigh*float64(len(shown))
	k := math.Min(room/p.Width, (foots-top-6)/p.Height)
	at := Point{(wide - p.Width*k) / 2, top}
	if err := onPaper(&s, p, unders, partOutlines(p, k), WaySheet{Name: title, Labs: labs, Surfaces: surfaces}, at, k); err != nil {
		return s, err
	}
	y := top + p.Height*k + 7
	const swatch, name, source, remark = 20.0, 24.0, 66.0, 152.0
	for _, r := range shown {
		rgb, _ := r.Colour.RGB()
		s.Add(Shape{Path: Box(margin, y, swatch, rowHigh-2), Style: Style{Fill: Solid(rgb)}, Title: r.Name},
			Text{At: Point{margin + name, y + 4}, Words: fit(r.Name, 3.8, true, source-name-2), Size: 3.8, Bold: true, Paint: Ink},
			Text{At: Point{margin + name, y + 8.4}, Words: fit(r.Parts, 3, false, source-name-2), Size: 3, Paint: Ink},
			Text{At: Point{margin + source, y + 4}, Words: fit(r.Source, 3, false, remark-source-margin-2), Size: 3, Paint: Ink},
			Text{At: Point{margin + source, y + 8.4}, Words: words.PerCent(r.Share) + " of the piece", Size: 3, Paint: Ink},
			Shape{Path: Line(Point{remark, y + rowHigh - 2.6}, Point{wide - margin, y + rowHigh - 2.6}), Style: Style{Stroke: Ink, Width: 0.15}})
		y += rowHigh
	}
	if left := len(rows) - len(shown); left > 0 {
		s.Add(Text{At: Point{margin, y + 4}, Words: fmt.Sprintf("and %d more", left), Size: 3, Paint: Ink})
		y += 6
	}
	s.Add(Text{At: Point{margin, y + 6}, Words: "Remarks", Size: 3.4, Bold: true, Paint: Ink})
	for y += 14; y < high-14; y += 8 {
		s.Add(Shape{Path: Line(Point{margin, y}, Point{wide - margin, y}), Style: Style{Stroke: Ink, Width: 0.15}})
	}
	foot(&s, margin, room, "Colours from your shelf, in daylight · "+paperGuide)
	return s, nil
}
