package cards

import (
	"fmt"

	"lampfern/core/piece"
)

var scenePattern = piece.Pattern{Key: "scene", Name: "Card scene",
	Words: "a greeting card of cut paper: sky, sun, hills one behind another, and trees in front",
	Settings: []piece.Setting{piece.MM("width", "width", 40, 420, 148), piece.MM("height", "height", 40, 420, 105),
		piece.Whole("hills", "hills", 1, 6, 3), piece.Whole("trees", "trees", 1, 12, 4)},
	Make: piece.Plain(scene)}

func scene(v piece.Values) piece.Piece {
	const sky, sun = 0, 1
	w, h, hills, n := v["width"], v["height"], int(v["hills"]), int(v["trees"])
	p := piece.Piece{Width: w, Height: h, Parts: piece.Parts("sky", "sky", "sun", "sun")}
	for i := range hills {
		p.Parts = append(p.Parts, piece.Named(fmt.Sprintf("hill%d", i+1), fmt.Sprintf("hill %d", i+1)))
	}
	trees := len(p.Parts)
	p.Parts = append(p.Parts, piece.Named("trees", "trees"))
	clear := .42 * h // the sun's part of the sky, straight above the ridges
	middle, round := piece.At(.72*w, .22*h), .11*min(w, h)
	p.Disc(sun, sky, 0, 0, w, clear, middle, round)
	p.Lines = []piece.Line{{Through: piece.Disc(middle, round)}}
	// A ridge rises on one side and falls on the other, turn about.
	ridge := func(k int) piece.Curve {
		y, d := clear+(h-clear)*float64(k)/(float64(hills)+1)+.05*h, .045*h
		if k%2 == 1 {
			d = -d
		}
		at := func(x, up float64) piece.Point { return piece.At(x*w, y-up*d) }
		return piece.From(at(0, -1)).Bend(at(.12, -1), at(.18, 1), at(.3, 1)).Bend(at(.42, 1), at(.52, -1), at(.65, -1)).Bend(at(.78, -1), at(.88, 1),
			at(1, 1))
	}
	between := func(part int, above, below []piece.Point) {
		out := append([]piece.Point{}, above...)
		for i := len(below) - 1; i >= 0; i-- {
			out = append(out, below[i])
		}
		p.Shape(part, out...)
	}
	last := piece.From(piece.At(0, clear)).Line(piece.At(w, clear))
	for k := range hills {
		part := sky // above the first ridge, then hill by hill
		if k > 0 {
			part = sun + k
		}
		between(part, last, ridge(k))
		last = ridge(k)
		p.Lines = append(p.Lines, piece.Line{Through: last}) // the edges of the cut paper
	}
	// The nearest hill is led round the trees that stand on the foot.
	each, low := w/float64(n), 0.0
	for _, q := range last {
		low = max(low, q.Y)
	}
	out := append([]piece.Point(last), piece.At(w, h))
	for i := n - 1; i >= 0; i-- {
		tree := fir(piece.At(each*(float64(i)+.5), h), .32*min(each, h-low), .88*(h-low))
		for k := len(tree) - 1; k >= 0; k-- {
			out = append(out, tree[k])
		}
		p.Shape(trees, tree...)
		p.Lines = append(p.Lines, piece.Line{Through: append(tree, tree[0])})
	}
	p.Shape(trees-1, append(out, piece.At(0, h))...)
	return p
}

// fir is a tree of three tiers from its left foot to its right one, so wide to each side and so high.
func fir(foot piece.Point, half, high float64) (out []piece.Point) {
	left := [][2]float64{{.16, 0}, {.16, .14}, {1, .14}, {.42, .44}, {.8, .44}, {.3, .71}, {.56, .71}}
	for _, q := range left {
		out = append(out, piece.At(foot.X-q[0]*half, foot.Y-q[1]*high))
	}
	out = append(out, piece.At(foot.X, foot.Y-high))
	for i := len(left) - 1; i >= 0; i-- {
		out = append(out, piece.At(foot.X+left[i][0]*half, foot.Y-left[i][1]*high))
	}
	return out
}
