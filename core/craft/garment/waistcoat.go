package garment

import "lampfern/core/piece"

var waistcoatPattern = piece.Pattern{Key: "waistcoat", Name: "Waistcoat",
	Words:    "a waistcoat laid flat: fronts, the back seen in the neck, binding, welt pockets and buttons",
	Settings: []piece.Setting{piece.MM("chest", "chest, laid flat", 120, 900, 500), piece.MM("length", "length", 150, 1000, 580), piece.MM("binding", "binding", 4, 40, 16), piece.Whole("buttons", "buttons", 1, 9, 5), piece.MM("button", "button", 6, 40, 18)},
	Make:     piece.Plain(waistcoat)}

func waistcoat(v piece.Values) piece.Piece {
	const fronts, back, binding, pockets, buttons = 0, 1, 2, 3, 4
	w, h, b := v["chest"], v["length"], v["binding"]
	m, n := w/2, v["buttons"]
	p := piece.Piece{Width: w, Height: h,
		Parts: piece.Parts("fronts", "fronts", "back", "back", "binding", "binding", "pockets", "pockets", "buttons", "buttons")}
	all := []piece.Outline{piece.Lay(back, piece.At(m-.16*w, 0), piece.At(m+.16*w, 0), piece.At(m+.1*w, .47*h), piece.At(m-.1*w, .47*h))}
	for _, side := range []float64{-1, 1} {
		at := func(x, y float64) piece.Point { return piece.At(m+side*x*w, y*h) }
		all = append(all,
			piece.Lay(fronts, at(.12, 0), at(.33, .03), at(.3, .17), at(.33, .31), at(.5, .42), at(.48, .88), at(.24, .9), at(.12, 1), at(0, .88), at(0, .46)),
			// Bound along the neck, and along the hem.
			piece.Lay(binding, at(.12, 0), at(.12+1.1*b/w, 0), at(.9*b/w, .46), at(0, .46)),
			piece.Lay(binding, at(.48, .88), at(.24, .9), at(.12, 1), at(0, .88), at(0, .88-1.1*b/h), at(.12, 1-1.1*b/h), at(.235, .9-b/h), at(.48, .88-b/h)),
			piece.Lay(pockets, at(.14, .66), at(.36, .64), at(.36, .68), at(.14, .7)))
	}
	for i := range int(n) {
		each := .36 * h / n
		all = append(all, piece.Lay(buttons, piece.Disc(piece.At(m, .48*h+each*(float64(i)+.5)), min(v["button"], .9*each)/2)...))
	}
	p.Over(all)
	return p
}
