package quilt

import "lampfern/core/piece"

var curtainPattern = piece.Pattern{Key: "curtain", Name: "Triangle curtain",
	Words: "two pieced blocks in turn, with sashing between: a peak with a spark in it, and an hourglass",
	Settings: []piece.Setting{piece.Whole("columns", "blocks across", 2, 12, 7), piece.Whole("rows", "blocks down", 2, 12, 5),
		piece.MM("block", "block", 40, 600, 200), piece.MM("sash", "sashing", 2, 60, 12)},
	Make: piece.Plain(sewn(curtain))}

// curtain alternates two square blocks. The peak block: a triangle as wide as
// the block and nine tenths as high, a smaller one of 48 % standing in its
// foot, ground behind. The hourglass block: left and right quarters in their
// own part, top and bottom quarters in ground.
func curtain(v piece.Values) piece.Piece {
	const ground, peak, hourglass, spark, sashing = 0, 1, 2, 3, 4
	const peakHigh, sparkSize = 0.9, 0.48
	cols, rows, b, s := int(v["columns"]), int(v["rows"]), v["block"], v["sash"]
	p := piece.Piece{
		Width:  float64(cols)*b + float64(cols+1)*s,
		Height: float64(rows)*b + float64(rows+1)*s,
		Parts:  piece.Parts("ground", "ground", "peak", "peaks", "hourglass", "hourglasses", "spark", "sparks", "sashing", "sashing"),
	}
	for r := range rows {
		p.Rect(sashing, 0, float64(r)*(b+s), p.Width, s)
		y := float64(r)*(b+s) + s
		for c := range cols {
			x := float64(c)*(b+s) + s
			p.Rect(sashing, x-s, y, s, b)
			at := func(u, w float64) piece.Point { return piece.At(x+u*b, y+w*b) }
			add := func(part int, outline ...piece.Point) { p.Shape(part, outline...) }
			if (r+c)%2 == 0 {
				top, tip, half := 1-peakHigh, 1-peakHigh*sparkSize, sparkSize/2
				add(ground, at(0, 0), at(1, 0), at(1, 1), at(.5, top), at(0, 1))
				add(peak, at(0, 1), at(.5, top), at(1, 1), at(.5+half, 1), at(.5, tip), at(.5-half, 1))
				add(spark, at(.5-half, 1), at(.5, tip), at(.5+half, 1))
			} else {
				add(ground, at(0, 0), at(1, 0), at(.5, .5))
				add(ground, at(0, 1), at(1, 1), at(.5, .5))
				add(hourglass, at(0, 0), at(.5, .5), at(0, 1))
				add(hourglass, at(1, 0), at(.5, .5), at(1, 1))
			}
		}
		p.Rect(sashing, p.Width-s, y, s, b)
	}
	p.Rect(sashing, 0, p.Height-s, p.Width, s)
	return p
}
