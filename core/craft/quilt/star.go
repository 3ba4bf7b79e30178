package quilt

import "lampfern/core/piece"

var starPattern = piece.Pattern{Key: "star", Name: "Saw-tooth star",
	Words: "eight-pointed stars in square blocks, with sashing, a small square where sashes cross, and a binding",
	Settings: []piece.Setting{piece.Whole("columns", "blocks across", 1, 10, 4), piece.Whole("rows", "blocks down", 1, 10, 5),
		piece.MM("block", "block", 60, 600, 240), piece.MM("sash", "sashing", 5, 200, 40), piece.MM("binding", "binding", 2, 60, 10)},
	Make: piece.Plain(sewn(star))}

func star(v piece.Values) piece.Piece {
	const centre, points, ground, sashing, crossing, binding = 0, 1, 2, 3, 4, 5
	cols, rows, block, s, b := int(v["columns"]), int(v["rows"]), v["block"], v["sash"], v["binding"]
	u := block / 4
	p := piece.Piece{Width: float64(cols)*(block+s) + s + 2*b, Height: float64(rows)*(block+s) + s + 2*b,
		Parts: piece.Parts("centre", "star centres", "points", "star points", "ground", "ground", "sashing", "sashing", "crossing", "crossings",
			"binding", "binding")}
	for r := range rows + 1 {
		for c := range cols + 1 {
			x, y := b+float64(c)*(block+s), b+float64(r)*(block+s)
			p.Rect(crossing, x, y, s, s)
			if c < cols {
				p.Rect(sashing, x+s, y, block, s)
			}
			if r < rows {
				p.Rect(sashing, x, y+s, s, block)
			}
			if r == rows || c == cols {
				continue
			}
			at := func(i, j float64) piece.Point { return piece.At(x+s+i*u, y+s+j*u) }
			p.Rect(centre, x+s+u, y+s+u, 2*u, 2*u)
			for turn := range 4 {
				q := func(i, j float64) piece.Point {
					for range turn {
						i, j = 4-j, i
					}
					return at(i, j)
				}
				p.Shape(ground, q(0, 0), q(1, 0), q(1, 1), q(0, 1))
				p.Shape(ground, q(1, 0), q(3, 0), q(2, 1))
				p.Shape(points, q(1, 0), q(2, 1), q(1, 1))
				p.Shape(points, q(3, 0), q(3, 1), q(2, 1))
			}
		}
	}
	p.Frame(binding, 0, 0, p.Width, p.Height, b)
	return p
}
