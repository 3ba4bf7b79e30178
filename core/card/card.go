// Package card holds the swatch card's shape and how cards lie on paper. All
// sizes are millimetres, x to the right, y down.
//
// What is written on a card, and how it is drawn, belongs to draw.
package card

import "fmt"

// The swatch card: a name tab on top, cut on a slant at its right, over a
// field of colour that runs off the left, right and bottom edges.
const (
	Width  = 54.0
	Height = 86.0
	Tab    = 20.0 // height of the name tab
	Slant  = 8.0  // how far the tab's right end leans in
	Notch  = 6.0  // clear width right of the slant, at the tab's foot
)

// Paper is a sheet to print on.
type Paper struct {
	Key, Name     string
	Width, Height float64
}

// Papers lists the sheets offered, each in the direction that holds most cards
// with room for crop marks.
func Papers() []Paper {
	return []Paper{
		{"a4", "A4", 297, 210},
		{"letter", "US Letter", 215.9, 279.4},
	}
}

// FindPaper returns the paper with the given key.
func FindPaper(key string) (Paper, error) {
	for _, p := range Papers() {
		if p.Key == key {
			return p, nil
		}
	}
	return Paper{}, fmt.Errorf("there is no paper called %q: choose a4 or letter", key)
}

// Point is a place on the sheet.
type Point struct{ X, Y float64 }

// markRoom is what crop marks need on every side of the block of cards.
const markRoom = 8.0

// Layout is where cards lie on one kind of paper: a block of Columns × Rows
// that butt with nothing between, its top left corner at Origin.
type Layout struct {
	Paper         Paper
	Columns, Rows int
	Origin        Point
}

// Lay centres as many cards as the paper holds.
func Lay(p Paper) Layout {
	l := Layout{Paper: p, Columns: int((p.Width - 2*markRoom) / Width), Rows: int((p.Height - 2*markRoom) / Height)}
	l.Origin = Point{(p.Width - float64(l.Columns)*Width) / 2, (p.Height - float64(l.Rows)*Height) / 2}
	return l
}

// PerSheet is the number of cards one sheet holds.
func (l Layout) PerSheet() int { return l.Columns * l.Rows }

// Sheets is the number of sheets that n cards need; an empty deck needs none.
func (l Layout) Sheets(n int) int { return (n + l.PerSheet() - 1) / l.PerSheet() }

// At is the top left corner of the i-th card on its sheet, filled row by row.
func (l Layout) At(i int) Point {
	i %= l.PerSheet()
	return Point{l.Origin.X + float64(i%l.Columns)*Width, l.Origin.Y + float64(i/l.Columns)*Height}
}

// Mark is one crop mark, a straight line.
type Mark struct{ From, To Point }

// Crop marks start this far from the cards and are this long.
const (
	markGap    = 2.0
	markLength = 5.0
)

// Marks are the crop marks round the block, in line with every cut.
func (l Layout) Marks() []Mark {
	var marks []Mark
	left, top := l.Origin.X, l.Origin.Y
	right, bottom := left+float64(l.Columns)*Width, top+float64(l.Rows)*Height
	for c := range l.Columns + 1 {
		x := left + float64(c)*Width
		marks = append(marks,
			Mark{Point{x, top - markGap - markLength}, Point{x, top - markGap}},
			Mark{Point{x, bottom + markGap}, Point{x, bottom + markGap + markLength}})
	}
	for r := range l.Rows + 1 {
		y := top + float64(r)*Height
		marks = append(marks,
			Mark{Point{left - markGap - markLength, y}, Point{left - markGap, y}},
			Mark{Point{right + markGap, y}, Point{right + markGap + markLength, y}})
	}
	return marks
}
