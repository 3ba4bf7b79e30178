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
	p.Disc(sun, sky, 0, 0, w, clear, piece.At(.72*w, .22*h), .11*min(w, h))
	// A ridge rises on one side and falls on the other, turn about.
	ridge := func(k int) []piece.Point {
		y, d := clear+(h-clear)*float64(k)/(float64(hills)+.6)+.05*h, .04*h
		if k%2 == 1 {
			d = -d
		}
		return []piece.Point{piece.At(0, y+d), piece.At(.3*w, y-d), piece.At(.65*w, y+d), piece.At(w, y-d)}
	}
	between := func(part int, above, below []piece.Point) {
		out := append([]piece.Point{}, above...)
		for i := len(below) - 1; i >= 0; i-- {
			out = append(out, below[i])
		}
		p.Shape(part, out...)
	}
	last := []piece.Point{piece.At(0, clear), piece.At(w, clear)}
	for k := range hills {
		part := sky // above the first ridge, then hill by hill
		if k > 0 {
			part = sun + k
		}
		between(part, last, ridge(k))
		last = ridge(k)
	}
	// The nearest hill is led round the trees that stand on the foot.
	each := w / float64(n)
	room := h - max(last[0].Y, last[1].Y, last[2].Y, last[3].Y)
	out := append(last, piece.At(w, h))
	for i := n - 1; i >= 0; i-- {
		x := each * (float64(i) + .5)
		l, t, r := piece.At(x-.3*each, h), piece.At(x, h-.85*room), piece.At(x+.3*each, h)
		out = append(out, r, t, l)
		p.Shape(trees, l, t, r)
	}
	p.Shape(trees-1, append(out, piece.At(0, h))...)
	return p
}
