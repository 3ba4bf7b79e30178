package soap

import (
	"fmt"
	"math"
	"slices"

	"lampfern/core/piece"
)

var loafPattern = piece.Pattern{Key: "soap", Name: "Soap loaf",
	Words: "a cut bar of a loaf: layers measured in sevenths of the batch, with drops in the top one",
	Settings: []piece.Setting{piece.MM("width", "width", 30, 200, 75), piece.MM("height", "height", 30, 200, 95),
		piece.Choice("pours", "layer heights, in sevenths", "2, 3 and 2", "4, 2 and 1", "1, 2 and 4", "3, 1 and 3", "3 and 4", "2, 1, 1 and 3",
			"seven of 1"), piece.Whole("drops", "drops", 1, 9, 4)},
	Make: piece.Plain(loaf)}

var sevenths = [][]float64{{2, 3, 2}, {4, 2, 1}, {1, 2, 4}, {3, 1, 3}, {3, 4}, {2, 1, 1, 3}, {1, 1, 1, 1, 1, 1, 1}}

func loaf(v piece.Values) piece.Piece {
	p := piece.Piece{Width: v["width"], Height: v["height"]}
	layers := sevenths[int(v["pours"])]
	drops := len(layers)
	y := p.Height // the first pour lies at the foot
	foot := piece.From(piece.At(0, y)).Line(piece.At(p.Width, y))
	for i, sevenths := range layers {
		p.Parts = append(p.Parts, piece.Named(fmt.Sprintf("pour%d", i+1), fmt.Sprintf("pour %d", i+1)))
		high := p.Height * sevenths / 7
		y -= high
		if i < len(layers)-1 {
			top := wave(y, p.Width, settled*p.Height/7)
			p.Shape(i, between(top, foot)...)
			foot = top
			continue
		}
		rest := high - settled*p.Height/7 // above the wave below it
		p.Shape(i, between(piece.From(piece.At(0, rest)).Line(piece.At(p.Width, rest)), foot)...)
		each := p.Width / v["drops"]
		for k := range int(v["drops"]) {
			x := each * float64(k)
			p.Disc(drops, i, x, y, each, rest, piece.At(x+each/2, y+high/2), .3*min(each, high))
		}
	}
	p.Parts = append(p.Parts, piece.Named("drops", "drops"))
	p.Lines = []piece.Line{bevel(p.Width, p.Height)}
	return p
}

// settled is how far a pour lies above and below its level, of a seventh of the height.
const settled = .12

// wave is the top of a pour, level on the whole: what it rises on one side it falls on the other, so that each
// pour keeps its share.
func wave(y, wide, by float64) piece.Curve {
	const sides = 48
	var out piece.Curve
	for i := range sides + 1 {
		t := float64(i) / sides
		out = append(out, piece.At(t*wide, y+by*math.Sin(4*math.Pi*t)))
	}
	return out
}

// between is an outline along a line from left to right and back along another below it.
func between(above, below piece.Curve) []piece.Point {
	out := slices.Clone([]piece.Point(above))
	for _, q := range slices.Backward(below) {
		out = append(out, q)
	}
	return out
}

// bevel is the edge that is taken off a bar.
func bevel(wide, high float64) piece.Line {
	in := .035 * min(wide, high)
	c := piece.Rounded(.12, piece.At(in, in), piece.At(wide-in, in), piece.At(wide-in, high-in), piece.At(in, high-in))
	return piece.Line{Through: append(c, c[0])}
}
