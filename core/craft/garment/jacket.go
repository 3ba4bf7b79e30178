package garment

import "lampfern/core/piece"

var jacketPattern = piece.Pattern{Key: "jacket", Name: "Jacket",
	Words:    "a buttoned jacket laid flat: body, sleeves, collar, pockets, binding and buttons",
	Settings: []piece.Setting{piece.MM("chest", "chest, laid flat", 200, 900, 520), piece.MM("length", "length", 250, 1100, 640), piece.MM("binding", "binding", 5, 40, 18), piece.Whole("buttons", "buttons", 1, 9, 5), piece.MM("button", "button", 8, 40, 22)},
	Make:     piece.Plain(jacket)}

func jacket(v piece.Values) piece.Piece {
	const body, sleeves, collar, pockets, binding, buttons = 0, 1, 2, 3, 4, 5
	w, h, b, n := v["chest"], v["length"], v["binding"], v["buttons"]
	arm := .42 * w
	p := piece.Piece{Width: w + 2*arm, Height: h,
		Parts: piece.Parts("body", "body", "sleeves", "sleeves", "collar", "collar", "pockets", "pockets", "binding", "binding", "buttons", "buttons")}
	m, neck, drop := p.Width/2, .14*w, .1*h
	// The band down the front holds the buttons, each in its own length of it.
	band := max(2*b, 1.3*v["button"])
	high := h - drop - b
	for i := range int(n) {
		y, each := drop+high/n*float64(i), high/n
		p.Disc(buttons, binding, m-band/2, y, band, each, piece.At(m, y+each/2), min(v["button"], .9*each)/2)
	}
	for _, side := range []float64{-1, 1} {
		at := func(x, y float64) piece.Point { return piece.At(m+side*x, y) }
		half, hand := w/2, .85*h
		p.Shape(collar, at(0, 0), at(neck, 0), at(neck, drop), at(0, drop))
		// The front, round its pocket by a slit from the side seam.
		px, pw, py, ph := band/2+.16*half, .5*half, .62*h, .16*h
		p.Shape(pockets, at(px, py), at(px+pw, py), at(px+pw, py+ph), at(px, py+ph))
		p.Shape(body, at(neck, 0), at(half, .06*h), at(half, py), at(px+pw, py), at(px, py), at(px, py+ph), at(px+pw, py+ph), at(px+pw, py), at(half, py),
			at(half, h-b), at(band/2, h-b), at(band/2, drop), at(neck, drop))
		p.Shape(binding, at(0, h-b), at(half, h-b), at(half, h), at(0, h))
		p.Shape(sleeves, at(half, .06*h), at(half+.95*arm, hand-b), at(half+.5*arm, hand-b), at(half, .34*h))
		p.Shape(binding, at(half+.95*arm, hand-b), at(half+.95*arm, hand), at(half+.5*arm, hand), at(half+.5*arm, hand-b))
	}
	return p
}
