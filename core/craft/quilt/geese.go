package quilt

import "lampfern/core/piece"

var geesePattern = piece.Pattern{Key: "geese", Name: "Flying geese",
	Words: "upright rows of geese, each twice as wide as high, two colours in turn against the sky, with sashing between and a binding",
	Settings: []piece.Setting{piece.Whole("columns", "rows of geese", 2, 12, 5), piece.Whole("rows", "geese in a row", 2, 40, 14),
		piece.MM("goose", "goose width", 20, 400, 160), piece.MM("sash", "sashing", 5, 200, 60), piece.MM("binding", "binding", 2, 60, 10)},
	Make: piece.Plain(sewn(geese))}

func geese(v piece.Values) piece.Piece {
	const first, second, sky, sashing, binding = 0, 1, 2, 3, 4
	cols, rows, w, s, b := int(v["columns"]), int(v["rows"]), v["goose"], v["sash"], v["binding"]
	h := w / 2
	p := piece.Piece{Width: float64(cols)*(w+s) + s + 2*b, Height: float64(rows)*h + 2*b,
		Parts: piece.Parts("first", "first geese", "second", "second geese", "sky", "sky", "sashing", "sashing", "binding", "binding")}
	for c := range cols {
		x := b + s + float64(c)*(w+s)
		p.Rect(sashing, x-s, b, s, p.Height-2*b)
		for r := range rows {
			y := b + float64(r)*h
			tip, left, right := piece.At(x+h, y), piece.At(x, y+h), piece.At(x+w, y+h)
			p.Shape([]int{first, second}[(r+c)%2], left, tip, right)
			p.Shape(sky, piece.At(x, y), tip, left)
			p.Shape(sky, tip, piece.At(x+w, y), right)
		}
	}
	p.Rect(sashing, p.Width-b-s, b, s, p.Height-2*b)
	p.Frame(binding, 0, 0, p.Width, p.Height, b)
	return p
}
