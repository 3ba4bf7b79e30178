package printed

import (
	"fmt"

	"lampfern/core/piece"
)

var potPattern = piece.Pattern{Key: "pot", Name: "Lidded pot",
	Words: "a pot printed in parts: knob, lid, rim, rings of the body and a foot",
	Settings: []piece.Setting{piece.MM("width", "width", 20, 300, 110), piece.MM("height", "height of the body", 20, 300, 120),
		piece.Whole("rings", "rings", 1, 9, 4), piece.MM("rim", "rim", 2, 30, 6)},
	Make: piece.Plain(pot)}

// pot narrows from the rim to three quarters at the foot.
func pot(v piece.Values) piece.Piece {
	w, h, rings, rim := v["width"], v["height"], int(v["rings"]), v["rim"]
	knob, lid, foot := .16*w, .18*w, .08*w
	p := piece.Piece{Width: w, Height: knob + lid + rim + h + foot, Parts: piece.Parts("knob", "knob", "lid", "lid", "rim", "rim")}
	m, y := w/2, 0.0
	slice := func(part int, from, to, high float64) {
		p.Shape(part, piece.At(m-from/2, y), piece.At(m+from/2, y), piece.At(m+to/2, y+high), piece.At(m-to/2, y+high))
		y += high
	}
	slice(0, .16*w, .1*w, knob)
	slice(1, .3*w, .94*w, lid)
	slice(2, w, w, rim)
	at := func(k int) float64 { return w * (.94 - .24*float64(k)/float64(rings)) }
	for k := range rings {
		p.Parts = append(p.Parts, piece.Named(fmt.Sprintf("ring%d", k+1), fmt.Sprintf("ring %d", k+1)))
		slice(3+k, at(k), at(k+1), h/float64(rings))
	}
	p.Parts = append(p.Parts, piece.Named("foot", "foot"))
	slice(3+rings, .7*w, .8*w, foot)
	return p
}
