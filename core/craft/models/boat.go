package models

import "lampfern/core/piece"

var boatPattern = piece.Pattern{Key: "boat", Name: "Model boat",
	Words:    "a small sailing boat from the side: hull, waterline, deck, cabin, windows, mast and sails",
	Settings: []piece.Setting{piece.MM("length", "length", 60, 1200, 320), piece.MM("mast", "mast", 60, 1500, 300), piece.MM("line", "waterline stripe", 1, 40, 6), piece.Whole("windows", "windows", 1, 6, 3)},
	Make:     piece.Plain(boat)}

func boat(v piece.Values) piece.Piece {
	const hull, bottom, line, deck, cabin, windows, mast, mainsail, jib = 0, 1, 2, 3, 4, 5, 6, 7, 8
	l, m := v["length"], v["mast"]
	high, rail, house := .22*l, .02*l, .1*l
	p := piece.Piece{Width: l, Height: m + house + rail + high,
		Parts: piece.Parts("hull", "hull", "bottom", "bottom", "line", "waterline", "deck", "deck", "cabin", "cabin", "windows", "windows", "mast", "mast", "mainsail", "mainsail", "jib", "foresail")}
	y := m + house + rail // of the sheer
	// The stem rakes by a seventh of the length over the hull's height.
	slope := func(at float64) float64 { return l - .14*l*at/high }
	stern := func(at float64) float64 { return .05 * l * at / high }
	slice := func(part int, from, to float64) {
		p.Shape(part, piece.At(stern(from), y+from), piece.At(slope(from), y+from), piece.At(slope(to), y+to), piece.At(stern(to), y+to))
	}
	stripe := min(v["line"], .3*high)
	slice(hull, 0, .55*high)
	slice(line, .55*high, .55*high+stripe)
	slice(bottom, .55*high+stripe, high)
	p.Rect(deck, 0, y-rail, l, rail)
	x0, w := .2*l, .34*l
	each := w / v["windows"]
	for i := range int(v["windows"]) {
		x := x0 + each*float64(i)
		p.Disc(windows, cabin, x, m, each, house, piece.At(x+each/2, m+house/2), .3*min(each, house))
	}
	pole := max(.015*l, 1)
	mx := x0 + w
	p.Rect(mast, mx, 0, pole, m+house)
	p.Shape(mainsail, piece.At(mx, .04*m), piece.At(mx, .96*m), piece.At(.06*l, .96*m))
	p.Shape(jib, piece.At(mx+pole, .1*m), piece.At(.96*l, m+house), piece.At(mx+pole, m+house))
	return p
}
