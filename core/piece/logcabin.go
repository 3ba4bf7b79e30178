package piece

var logCabinTemplate = Template{"logcabin", "Log cabin", Quilt, "logs laid round a small heart, two sides light and two dark, with a binding",
	[]Setting{whole("columns", "blocks across", 2, 12, 4), whole("rows", "blocks down", 2, 12, 6), whole("rounds", "rounds of logs", 2, 8, 4), mm("log", "log width", 5, 80, 25), mm("heart", "heart", 10, 160, 50),
		choice("setting", "set", "all one way", "in zigzags", "with the darks meeting in fours"), mm("binding", "binding", 2, 60, 10)}, plain(logCabin)}

// turns gives for each setting the quarter turns of the blocks in a group of
// two by two.
var turns = [][4]int{{0, 0, 0, 0}, {0, 0, 1, 1}, {0, 1, 3, 2}}

func logCabin(v map[string]float64) Piece {
	const heart, binding = 0, 5
	cols, rows, rounds, w, b := int(v["columns"]), int(v["rows"]), int(v["rounds"]), v["log"], v["binding"]
	side := v["heart"] + 2*w*float64(rounds)
	p := Piece{Width: side*float64(cols) + 2*b, Height: side*float64(rows) + 2*b,
		Parts: []Part{{"heart", "hearts"}, {"light1", "first light logs"}, {"light2", "second light logs"}, {"dark1", "first dark logs"}, {"dark2", "second dark logs"}, {"binding", "binding"}}}
	for r := range rows {
		for c := range cols {
			x, y := b+side*float64(c), b+side*float64(r)
			turn := turns[int(v["setting"])][r%2*2+c%2]
			lay := func(part int, lx, ly, lw, lh float64) {
				out := rect(part, lx, ly, lw, lh)
				for i, q := range out.Outline {
					for range turn {
						q.X, q.Y = side-q.Y, q.X
					}
					out.Outline[i] = Point{x + q.X, y + q.Y}
				}
				p.Regions = append(p.Regions, out)
			}
			at, s := w*float64(rounds), v["heart"]
			lay(heart, at, at, s, s)
			for k := range rounds {
				light, dark := 1+k%2, 3+k%2
				lay(light, at, at-w, s, w)
				lay(light, at+s, at-w, w, s+w)
				lay(dark, at, at+s, s+w, w)
				lay(dark, at-w, at-w, w, s+2*w)
				at, s = at-w, s+2*w
			}
		}
	}
	p.frame(binding, 0, 0, p.Width, p.Height, b)
	return p
}
