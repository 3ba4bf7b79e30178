package draw

import (
	"fmt"
	"math"

	"lampfern/core/colour"
	"lampfern/core/piece"
)

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
