package piece

var trianglesTemplate = Template{"triangles", "Half-square triangles", Quilt, "squares cut corner to corner, two bold triangles in turn against a quiet one, within a border and a binding",
	[]Setting{whole("columns", "squares across", 2, 24, 8), whole("rows", "squares down", 3, 24, 10), mm("square", "square", 20, 300, 100),
		choice("setting", "set", "in diagonal rows", "in zigzags", "as pinwheels", "as diamonds"),
		mm("border", "border", 5, 300, 60), mm("binding", "binding", 2, 60, 10)}, plain(triangles)}

// corners gives for each setting the corner that the bold triangle fills in a
// group of two by two squares: 0 top left, then clockwise.
var corners = [][4]int{{0, 0, 0, 0}, {0, 0, 3, 3}, {1, 2, 0, 3}, {2, 3, 1, 0}}

func triangles(v map[string]float64) Piece {
	const first, second, quiet, border, binding = 0, 1, 2, 3, 4
	cols, rows, u := int(v["columns"]), int(v["rows"]), v["square"]
	edge := v["border"] + v["binding"]
	p := Piece{Width: u*float64(cols) + 2*edge, Height: u*float64(rows) + 2*edge,
		Parts: []Part{{"first", "first triangles"}, {"second", "second triangles"}, {"quiet", "quiet triangles"}, {"border", "border"}, {"binding", "binding"}}}
	for r := range rows {
		for c := range cols {
			x, y := edge+u*float64(c), edge+u*float64(r)
			at := []Point{{x, y}, {x + u, y}, {x + u, y + u}, {x, y + u}}
			k := corners[int(v["setting"])][r%2*2+c%2]
			bold := []int{first, second}[(r/2+c/2)%2]
			p.shape(bold, at[(k+3)%4], at[k], at[(k+1)%4])
			p.shape(quiet, at[(k+1)%4], at[(k+2)%4], at[(k+3)%4])
		}
	}
	p.edges(border, binding, v["border"], v["binding"])
	return p
}
