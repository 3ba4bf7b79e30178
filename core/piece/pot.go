package piece

import "fmt"

var potTemplate = Template{"pot", "Lidded pot", Print, "a pot printed in parts: knob, lid, rim, rings of the body and a foot",
	[]Setting{mm("width", "width", 20, 300, 110), mm("height", "height of the body", 20, 300, 120), whole("rings", "rings", 1, 9, 4), mm("rim", "rim", 2, 30, 6)}, plain(pot)}

// pot narrows from the rim to three quarters at the foot.
func pot(v map[string]float64) Piece {
	w, h, rings, rim := v["width"], v["height"], int(v["rings"]), v["rim"]
	knob, lid, foot := .16*w, .18*w, .08*w
	p := Piece{Width: w, Height: knob + lid + rim + h + foot, Parts: []Part{{"knob", "knob"}, {"lid", "lid"}, {"rim", "rim"}}}
	m, y := w/2, 0.0
	slice := func(part int, from, to, high float64) {
		p.shape(part, Point{m - from/2, y}, Point{m + from/2, y}, Point{m + to/2, y + high}, Point{m - to/2, y + high})
		y += high
	}
	slice(0, .16*w, .1*w, knob)
	slice(1, .3*w, .94*w, lid)
	slice(2, w, w, rim)
	at := func(k int) float64 { return w * (.94 - .24*float64(k)/float64(rings)) }
	for k := range rings {
		p.Parts = append(p.Parts, Part{fmt.Sprintf("ring%d", k+1), fmt.Sprintf("ring %d", k+1)})
		slice(3+k, at(k), at(k+1), h/float64(rings))
	}
	p.Parts = append(p.Parts, Part{"foot", "foot"})
	slice(3+rings, .7*w, .8*w, foot)
	return p
}
