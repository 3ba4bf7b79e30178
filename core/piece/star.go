package piece

var starTemplate = Template{"star", "Saw-tooth star", Quilt, "eight-pointed stars in square blocks, with sashing, a small square where sashes cross, and a binding",
	[]Setting{whole("columns", "blocks across", 1, 10, 4), whole("rows", "blocks down", 1, 10, 5), mm("block", "block", 60, 600, 240), mm("sash", "sashing", 5, 200, 40), mm("binding", "binding", 2, 60, 10)}, plain(star)}

func star(v map[string]float64) Piece {
	const centre, points, ground, sashing, crossing, binding = 0, 1, 2, 3, 4, 5
	cols, rows, block, s, b := int(v["columns"]), int(v["rows"]), v["block"], v["sash"], v["binding"]
	u := block / 4
	p := Piece{Width: float64(cols)*(block+s) + s + 2*b, Height: float64(rows)*(block+s) + s + 2*b,
		Parts: []Part{{"centre", "star centres"}, {"points", "star points"}, {"ground", "ground"}, {"sashing", "sashing"}, {"crossing", "crossings"}, {"binding", "binding"}}}
	for r := range rows + 1 {
		for c := range cols + 1 {
			x, y := b+float64(c)*(block+s), b+float64(r)*(block+s)
			p.rect(crossing, x, y, s, s)
			if c < cols {
				p.rect(sashing, x+s, y, block, s)
			}
			if r < rows {
				p.rect(sashing, x, y+s, s, block)
			}
			if r == rows || c == cols {
				continue
			}
			at := func(i, j float64) Point { return Point{x + s + i*u, y + s + j*u} }
			p.rect(centre, x+s+u, y+s+u, 2*u, 2*u)
			for turn := range 4 {
				q := func(i, j float64) Point {
					for range turn {
						i, j = 4-j, i
					}
					return at(i, j)
				}
				p.shape(ground, q(0, 0), q(1, 0), q(1, 1), q(0, 1))
				p.shape(ground, q(1, 0), q(3, 0), q(2, 1))
				p.shape(points, q(1, 0), q(2, 1), q(1, 1))
				p.shape(points, q(3, 0), q(3, 1), q(2, 1))
			}
		}
	}
	p.frame(binding, 0, 0, p.Width, p.Height, b)
	return p
}
