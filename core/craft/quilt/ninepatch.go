package quilt

import "lampfern/core/piece"

var ninePatchPattern = piece.Pattern{Key: "ninepatch", Name: "Nine-patch",
	Words: "blocks of nine squares, five of one and four of another, in turn with plain blocks, within a border and a binding",
	Settings: []piece.Setting{piece.Whole("columns", "blocks across", 2, 15, 5), piece.Whole("rows", "blocks down", 2, 15, 7),
		piece.MM("square", "square", 10, 200, 60), piece.MM("border", "border", 5, 300, 60), piece.MM("binding", "binding", 2, 60, 10)},
	Make: piece.Plain(sewn(ninePatch))}

func ninePatch(v piece.Values) piece.Piece {
	const five, four, plain, border, binding = 0, 1, 2, 3, 4
	cols, rows, u := int(v["columns"]), int(v["rows"]), v["square"]
	edge := v["border"] + v["binding"]
	p := piece.Piece{Width: 3*u*float64(cols) + 2*edge, Height: 3*u*float64(rows) + 2*edge,
		Parts: piece.Parts("five", "squares in fives", "four", "squares in fours", "plain", "plain blocks", "border", "border", "binding",
			"binding")}
	for r := range rows {
		for c := range cols {
			x, y := edge+3*u*float64(c), edge+3*u*float64(r)
			if (r+c)%2 == 1 {
				p.Rect(plain, x, y, 3*u, 3*u)
				continue
			}
			for i := range 9 {
				p.Rect([]int{five, four}[i%2], x+u*float64(i%3), y+u*float64(i/3), u, u)
			}
		}
	}
	p.Edges(border, binding, v["border"], v["binding"])
	return p
}
