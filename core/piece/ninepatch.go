package piece

var ninePatchTemplate = Template{"ninepatch", "Nine-patch", Quilt, "blocks of nine squares, five of one and four of another, in turn with plain blocks, within a border and a binding",
	[]Setting{whole("columns", "blocks across", 2, 15, 5), whole("rows", "blocks down", 2, 15, 7), mm("square", "square", 10, 200, 60), mm("border", "border", 5, 300, 60), mm("binding", "binding", 2, 60, 10)}, plain(ninePatch)}

func ninePatch(v map[string]float64) Piece {
	const five, four, plain, border, binding = 0, 1, 2, 3, 4
	cols, rows, u := int(v["columns"]), int(v["rows"]), v["square"]
	edge := v["border"] + v["binding"]
	p := Piece{Width: 3*u*float64(cols) + 2*edge, Height: 3*u*float64(rows) + 2*edge,
		Parts: []Part{{"five", "squares in fives"}, {"four", "squares in fours"}, {"plain", "plain blocks"}, {"border", "border"}, {"binding", "binding"}}}
	for r := range rows {
		for c := range cols {
			x, y := edge+3*u*float64(c), edge+3*u*float64(r)
			if (r+c)%2 == 1 {
				p.rect(plain, x, y, 3*u, 3*u)
				continue
			}
			for i := range 9 {
				p.rect([]int{five, four}[i%2], x+u*float64(i%3), y+u*float64(i/3), u, u)
			}
		}
	}
	p.edges(border, binding, v["border"], v["binding"])
	return p
}
