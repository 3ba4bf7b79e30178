package quilt

import "lampfern/core/piece"

var trianglesPattern = piece.Pattern{Key: "triangles", Name: "Half-square triangles",
	Words: "squares cut corner to corner, two bold triangles in turn against a quiet one, within a border and a binding",
	Settings: []piece.Setting{piece.Whole("columns", "squares across", 2, 24, 8), piece.Whole("rows", "squares down", 3, 24, 10),
		piece.MM("square", "square", 20, 300, 100),
		piece.Choice("setting", "set", "in diagonal rows", "in zigzags", "as pinwheels", "as diamonds"),
		piece.MM("border", "border", 5, 300, 60), piece.MM("binding", "binding", 2, 60, 10)},
	Make: piece.Plain(sewn(triangles))}

// corners gives for each setting the corner that the bold triangle fills in a
// group of two by two squares: 0 top left, then clockwise.
var corners = [][4]int{{0, 0, 0, 0}, {0, 0, 3, 3}, {1, 2, 0, 3}, {2, 3, 1, 0}}

func triangles(v piece.Values) piece.Piece {
	const first, second, quiet, border, binding = 0, 1, 2, 3, 4
	cols, rows, u := int(v["columns"]), int(v["rows"]), v["square"]
	edge := v["border"] + v["binding"]
	p := piece.Piece{Width: u*float64(cols) + 2*edge, Height: u*float64(rows) + 2*edge,
		Parts: piece.Parts("first", "first triangles", "second", "second triangles", "quiet", "quiet triangles", "border", "border", "binding",
			"binding")}
	for r := range rows {
		for c := range cols {
			x, y := edge+u*float64(c), edge+u*float64(r)
			at := []piece.Point{piece.At(x, y), piece.At(x+u, y), piece.At(x+u, y+u), piece.At(x, y+u)}
			k := corners[int(v["setting"])][r%2*2+c%2]
			bold := []int{first, second}[(r/2+c/2)%2]
			p.Shape(bold, at[(k+3)%4], at[k], at[(k+1)%4])
			p.Shape(quiet, at[(k+1)%4], at[(k+2)%4], at[(k+3)%4])
		}
	}
	p.Edges(border, binding, v["border"], v["binding"])
	return p
}
