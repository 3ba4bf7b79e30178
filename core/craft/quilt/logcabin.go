package quilt

import "lampfern/core/piece"

var logCabinPattern = piece.Pattern{Key: "logcabin", Name: "Log cabin",
	Words: "logs laid round a small heart, two sides light and two dark, with a binding",
	Settings: []piece.Setting{piece.Whole("columns", "blocks across", 2, 12, 4), piece.Whole("rows", "blocks down", 2, 12, 6),
		piece.Whole("rounds", "rounds of logs", 2, 8, 4), piece.MM("log", "log width", 5, 80, 25), piece.MM("heart", "heart", 10, 160, 50),
		piece.Choice("setting", "set", "all one way", "in zigzags", "with the darks meeting in fours"),
		piece.MM("binding", "binding", 2, 60, 10)},
	Make: piece.Plain(sewn(logCabin))}

// turns gives for each setting the quarter turns of the blocks in a group of
// two by two.
var turns = [][4]int{{0, 0, 0, 0}, {0, 0, 1, 1}, {0, 1, 3, 2}}

func logCabin(v piece.Values) piece.Piece {
	const heart, binding = 0, 5
	cols, rows, rounds, w, b := int(v["columns"]), int(v["rows"]), int(v["rounds"]), v["log"], v["binding"]
	side := v["heart"] + 2*w*float64(rounds)
	p := piece.Piece{Width: side*float64(cols) + 2*b, Height: side*float64(rows) + 2*b,
		Parts: piece.Parts("heart", "hearts", "light1", "first light logs", "light2", "second light logs", "dark1", "first dark logs", "dark2",
			"second dark logs", "binding", "binding")}
	for r := range rows {
		for c := range cols {
			x, y := b+side*float64(c), b+side*float64(r)
			turn := turns[int(v["setting"])][r%2*2+c%2]
			lay := func(part int, lx, ly, lw, lh float64) {
				out := []piece.Point{piece.At(lx, ly), piece.At(lx+lw, ly), piece.At(lx+lw, ly+lh), piece.At(lx, ly+lh)}
				for i, q := range out {
					for range turn {
						q.X, q.Y = side-q.Y, q.X
					}
					out[i] = piece.At(x+q.X, y+q.Y)
				}
				p.Shape(part, out...)
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
	p.Frame(binding, 0, 0, p.Width, p.Height, b)
	return p
}
