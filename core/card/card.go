// Package card holds the swatch card's shape, how cards lie on paper, and how a
// few cards laid edge to edge read as a set. All sizes are millimetres, x to the
// right, y down.
//
// What is written on a card, and how it is drawn, belongs to draw.
package card

import (
	"fmt"
	"math"
)

// Size is a swatch card: a name tab on top, cut on a slant at its right, over a
// field of colour that runs off the left, right and bottom edges.
type Size struct {
	Key, Name     string
	Width, Height float64
	Tab           float64 // height of the name tab
	Slant         float64 // how far the tab's right end leans in
	Notch         float64 // clear width right of the slant, at the tab's foot
}

// Sizes lists the cards offered; the first is the usual one.
func Sizes() []Size {
	return []Size{
		{"usual", "Usual, 54 × 86 mm", 54, 86, 20, 8, 6},
		{"small", "Small, 40 × 60 mm", 40, 60, 17, 6, 4},
		{"large", "Large, 85 × 120 mm", 85, 120, 24, 11, 9},
		{"slip", "Slip, 36 × 120 mm", 36, 120, 20, 5, 4},
	}
}

// Bounds of a card of the maker's own measures.
const (
	LeastSide = 30.0
	MostSide  = 400.0
)

// Custom is a card of the maker's own measures, with a tab to match.
func Custom(width, height float64) (Size, error) {
	if !(width >= LeastSide && width <= MostSide && height >= LeastSide && height <= MostSide) {
		return Size{}, fmt.Errorf("a card of %g × %g mm is not possible: each side is %g to %g mm", width, height, LeastSide, MostSide)
	}
	tab := math.Min(24, math.Max(15, 0.23*height))
	return Size{"own", fmt.Sprintf("%g × %g mm", width, height), width, height, tab, math.Min(11, 0.15*width), math.Min(9, 0.11*width)}, nil
}

// FindSize returns the size with the given key, the usual one when it is empty.
func FindSize(key string) (Size, error) {
	for _, s := range Sizes() {
		if s.Key == key || key == "" {
			return s, nil
		}
	}
	return Size{}, fmt.Errorf("there is no card size called %q: choose one from the list", key)
}

// GreyPatch is the L* of the grey patch on a blank card, that of a photographer's grey
// card.
const GreyPatch = 49.5

// Field is where a blank card is painted, and where its grey patch lies, in mm from its
// top left corner.
type Field struct {
	Top  float64 // of what is painted; it runs to the card's other edges
	Grey Point
	Side float64 // of the grey patch
}

// The grey patch's side, and how far it lies from the card's edges, in mm.
const (
	patchSide  = 12.0
	patchIn    = 3.0
	patchWords = 3.0 // below it
)

// FieldOf is the field of a blank card.
func FieldOf(z Size) Field {
	side := min(patchSide, z.Width/3)
	return Field{Top: z.Tab, Grey: Point{z.Width - side - patchIn, z.Height - side - patchIn - patchWords}, Side: side}
}

// Paper is a sheet to print on.
type Paper struct {
	Key, Name     string
	Width, Height float64
}

// Turned is the paper the other way up.
func (p Paper) Turned() Paper { p.Width, p.Height = p.Height, p.Width; return p }

// Papers lists the sheets offered, upright.
func Papers() []Paper {
	return []Paper{
		{"a4", "A4", 210, 297},
		{"letter", "US Letter", 215.9, 279.4},
	}
}

// FindPaper returns the paper with the given key, A4 when it is empty.
func FindPaper(key string) (Paper, error) {
	for _, p := range Papers() {
		if p.Key == key || key == "" {
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
	Size          Size
	Columns, Rows int
	Origin        Point
}

// Lay centres as many cards as the paper holds, upright or lying down,
// whichever holds more. A card larger than the paper is an error in plain words.
func Lay(p Paper, s Size) (Layout, error) {
	best := Layout{}
	for _, paper := range []Paper{p, p.Turned()} {
		l := Layout{Paper: paper, Size: s, Columns: int((paper.Width - 2*markRoom) / s.Width), Rows: int((paper.Height - 2*markRoom) / s.Height)}
		l.Origin = Point{(paper.Width - float64(l.Columns)*s.Width) / 2, (paper.Height - float64(l.Rows)*s.Height) / 2}
		if l.PerSheet() > best.PerSheet() {
			best = l
		}
	}
	if best.PerSheet() == 0 {
		return best, fmt.Errorf("a card of %g × %g mm is larger than %s with its crop marks: choose a smaller card", s.Width, s.Height, p.Name)
	}
	return best, nil
}

// PerSheet is the number of cards one sheet holds.
func (l Layout) PerSheet() int { return l.Columns * l.Rows }

// Sheets is the number of sheets that n cards need; an empty deck needs none.
func (l Layout) Sheets(n int) int { return (n + l.PerSheet() - 1) / l.PerSheet() }

// At is the top left corner of the i-th card on its sheet, filled row by row.
func (l Layout) At(i int) Point {
	i %= l.PerSheet()
	return Point{l.Origin.X + float64(i%l.Columns)*l.Size.Width, l.Origin.Y + float64(i/l.Columns)*l.Size.Height}
}

// Block is the rectangle that all cards of a sheet lie in, between the outermost crop
// marks.
func (l Layout) Block() (at Point, width, height float64) {
	return l.Origin, float64(l.Columns) * l.Size.Width, float64(l.Rows) * l.Size.Height
}

// Back is the top left corner of the back of the i-th card, for a sheet turned
// over along its upright edge.
func (l Layout) Back(i int) Point {
	at := l.At(i)
	at.X = l.Paper.Width - at.X - l.Size.Width
	return at
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
	right, bottom := left+float64(l.Columns)*l.Size.Width, top+float64(l.Rows)*l.Size.Height
	for c := range l.Columns + 1 {
		x := left + float64(c)*l.Size.Width
		marks = append(marks,
			Mark{Point{x, top - markGap - markLength}, Point{x, top - markGap}},
			Mark{Point{x, bottom + markGap}, Point{x, bottom + markGap + markLength}})
	}
	for r := range l.Rows + 1 {
		y := top + float64(r)*l.Size.Height
		marks = append(marks,
			Mark{Point{left - markGap - markLength, y}, Point{left - markGap, y}},
			Mark{Point{right + markGap, y}, Point{right + markGap + markLength, y}})
	}
	return marks
}
