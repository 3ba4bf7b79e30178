package quilt

import (
	"fmt"

	"lampfern/core/piece"
)

var stripsPattern = piece.Pattern{Key: "strips", Name: "Strip gradient",
	Run:   "strip",
	Words: "upright strips side by side within a binding, for a run from dark to light",
	Settings: []piece.Setting{piece.Whole("strips", "strips", 3, 12, 5), piece.MM("width", "strip width", 10, 400, 120),
		piece.MM("length", "strip length", 50, 2500, 420), piece.MM("binding", "binding", 2, 60, 10)},
	Make: piece.Plain(sewn(strips))}

func strips(v piece.Values) piece.Piece {
	n, w, l, b := int(v["strips"]), v["width"], v["length"], v["binding"]
	p := piece.Piece{Width: float64(n)*w + 2*b, Height: l + 2*b}
	for i := range n {
		p.Parts = append(p.Parts, piece.Named(fmt.Sprintf("strip%d", i+1), fmt.Sprintf("strip %d", i+1)))
		p.Rect(i, b+float64(i)*w, b, w, l)
	}
	p.Parts = append(p.Parts, piece.Named("binding", "binding"))
	p.Rect(n, 0, 0, p.Width, b)
	p.Rect(n, 0, p.Height-b, p.Width, b)
	p.Rect(n, 0, b, b, l)
	p.Rect(n, p.Width-b, b, b, l)
	return p
}
