package piece

var curtainTemplate = Template{"curtain", "Triangle curtain", Quilt, "two pieced blocks in turn, with sashing between: a peak with a spark in it, and an hourglass",
	[]Setting{whole("columns", "blocks across", 2, 12, 7), whole("rows", "blocks down", 2, 12, 5), mm("block", "block", 40, 600, 200), mm("sash", "sashing", 2, 60, 12)}, plain(curtain)}

// curtain alternates two square blocks. The peak block: a triangle as wide as
// the block and nine tenths as high, a smaller one of 48 % standing in its
// foot, ground behind. The hourglass block: left and right quarters in their
// own part, top and bottom quarters in ground.
func curtain(v map[string]float64) Piece {
	const ground, peak, hourglass, spark, sashing = 0, 1, 2, 3, 4
	const peakHigh, sparkSize = 0.9, 0.48
	cols, rows, b, s := int(v["columns"]), int(v["rows"]), v["block"], v["sash"]
	p := Piece{
		Width:  float64(cols)*b + float64(cols+1)*s,
		Height: float64(rows)*b + float64(rows+1)*s,
		Parts: []Part{{"ground", "ground"}, {"peak", "peaks"}, {"hourglass", "hourglasses"},
			{"spark", "sparks"}, {"sashing", "sashing"}},
	}
	for r := range rows {
		p.Regions = append(p.Regions, rect(sashing, 0, float64(r)*(b+s), p.Width, s))
		y := float64(r)*(b+s) + s
		for c := range cols {
			x := float64(c)*(b+s) + s
			p.Regions = append(p.Regions, rect(sashing, x-s, y, s, b))
			at := func(u, w float64) Point { return Point{x + u*b, y + w*b} }
			add := func(part int, outline ...Point) { p.Regions = append(p.Regions, Region{part, outline}) }
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
		p.Regions = append(p.Regions, rect(sashing, p.Width-s, y, s, b))
	}
	p.Regions = append(p.Regions, rect(sashing, 0, p.Height-s, p.Width, s))
	return p
}
