package piece

var geeseTemplate = Template{"geese", "Flying geese", Quilt, "upright rows of geese, each twice as wide as high, two colours in turn against the sky, with sashing between and a binding",
	[]Setting{whole("columns", "rows of geese", 2, 12, 5), whole("rows", "geese in a row", 2, 40, 14), mm("goose", "goose width", 20, 400, 160), mm("sash", "sashing", 5, 200, 60), mm("binding", "binding", 2, 60, 10)}, plain(geese)}

func geese(v map[string]float64) Piece {
	const first, second, sky, sashing, binding = 0, 1, 2, 3, 4
	cols, rows, w, s, b := int(v["columns"]), int(v["rows"]), v["goose"], v["sash"], v["binding"]
	h := w / 2
	p := Piece{Width: float64(cols)*(w+s) + s + 2*b, Height: float64(rows)*h + 2*b,
		Parts: []Part{{"first", "first geese"}, {"second", "second geese"}, {"sky", "sky"}, {"sashing", "sashing"}, {"binding", "binding"}}}
	for c := range cols {
		x := b + s + float64(c)*(w+s)
		p.rect(sashing, x-s, b, s, p.Height-2*b)
		for r := range rows {
			y := b + float64(r)*h
			tip, left, right := Point{x + h, y}, Point{x, y + h}, Point{x + w, y + h}
			p.shape([]int{first, second}[(r+c)%2], left, tip, right)
			p.shape(sky, Point{x, y}, tip, left)
			p.shape(sky, tip, Point{x + w, y}, right)
		}
	}
	p.rect(sashing, p.Width-b-s, b, s, p.Height-2*b)
	p.frame(binding, 0, 0, p.Width, p.Height, b)
	return p
}
