package piece

import "fmt"

var sceneTemplate = Template{"scene", "Card scene", Card, "a greeting card of cut paper: sky, sun, hills one behind another, and trees in front",
	[]Setting{mm("width", "width", 40, 420, 148), mm("height", "height", 40, 420, 105), whole("hills", "hills", 1, 6, 3), whole("trees", "trees", 1, 12, 4)}, plain(scene)}

func scene(v map[string]float64) Piece {
	const sky, sun = 0, 1
	w, h, hills, n := v["width"], v["height"], int(v["hills"]), int(v["trees"])
	p := Piece{Width: w, Height: h, Parts: []Part{{"sky", "sky"}, {"sun", "sun"}}}
	for i := range hills {
		p.Parts = append(p.Parts, Part{fmt.Sprintf("hill%d", i+1), fmt.Sprintf("hill %d", i+1)})
	}
	trees := len(p.Parts)
	p.Parts = append(p.Parts, Part{"trees", "trees"})
	clear := .42 * h // the sun's part of the sky, straight above the ridges
	p.disc(sun, sky, 0, 0, w, clear, Point{.72 * w, .22 * h}, .11*min(w, h))
	// A ridge rises on one side and falls on the other, turn about.
	ridge := func(k int) []Point {
		y, d := clear+(h-clear)*float64(k)/(float64(hills)+.6)+.05*h, .04*h
		if k%2 == 1 {
			d = -d
		}
		return []Point{{0, y + d}, {.3 * w, y - d}, {.65 * w, y + d}, {w, y - d}}
	}
	between := func(part int, above, below []Point) {
		out := append([]Point{}, above...)
		for i := len(below) - 1; i >= 0; i-- {
			out = append(out, below[i])
		}
		p.shape(part, out...)
	}
	last := []Point{{0, clear}, {w, clear}}
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
	out := append(last, Point{w, h})
	for i := n - 1; i >= 0; i-- {
		x := each * (float64(i) + .5)
		l, t, r := Point{x - .3*each, h}, Point{x, h - .85*room}, Point{x + .3*each, h}
		out = append(out, r, t, l)
		p.shape(trees, l, t, r)
	}
	p.shape(trees-1, append(out, Point{0, h})...)
	return p
}
