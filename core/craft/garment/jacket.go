package garment

import "lampfern/core/piece"

var jacketPattern = piece.Pattern{Key: "jacket", Name: "Jacket",
	Words: "a buttoned jacket laid flat: body, sleeves, collar, pockets, binding and buttons",
	Settings: []piece.Setting{piece.MM("chest", "chest, laid flat", 200, 900, 520), piece.MM("length", "length", 250, 1100, 640),
		piece.MM("binding", "binding", 5, 40, 18), piece.Whole("buttons", "buttons", 1, 9, 5), piece.MM("button", "button", 8, 40, 22),
		piece.Choice("collar", "collar", "round", "pointed", "band"), piece.Choice("sleeve", "sleeves", "straight", "wide"),
		piece.Choice("hem", "front corners", "square", "rounded")},
	Face: []string{"collar", "body"},
	Make: piece.Plain(jacket)}

func jacket(v piece.Values) piece.Piece {
	const body, sleeves, collar, pockets, binding, buttons = 0, 1, 2, 3, 4, 5
	w, h, b, n := v["chest"], v["length"], v["binding"], v["buttons"]
	arm := .42 * w
	p := piece.Piece{Width: w + 2*arm, Height: h,
		Parts: piece.Parts("body", "body", "sleeves", "sleeves", "collar", "collar", "pockets", "pockets", "binding", "binding", "buttons",
			"buttons")}
	m, neck, drop := p.Width/2, .15*w, .1*h
	at := func(x, y float64) piece.Point { return piece.At(m+x*w, y*h) }
	var all []piece.Outline
	both := func(o piece.Outline) { all = append(all, o, o.Mirrored(m)) }
	// A sleeve hangs from the shoulder; its cuff is bound.
	open := [2]float64{0, .1}[int(v["sleeve"])]
	cuff := b / h
	both(piece.From(at(.4, .035)).Bend(at(.62, .06), at(.74, .3), at(.92, .84-cuff)).Line(at(.69-open, .9-cuff)).Bend(at(.62-open, .66),
		at(.56, .46), at(.42, .34)).Of(sleeves))
	both(piece.From(at(.92, .84-cuff)).Line(at(.92, .84), at(.69-open, .9), at(.69-open, .9-cuff)).Of(binding))
	// The front, over a band of binding that the hem ends in.
	round := .0
	if v["hem"] == 1 {
		round = min(.16*w, .2*h)
	}
	front := func(part int, foot float64) {
		o := piece.From(piece.At(m, drop)).Line(piece.At(m+neck, 0)).Bend(at(.26, .01), at(.36, .03), at(.46, .05)).Bend(at(.42, .16),
			at(.42, .27), at(.5, .35)).
			Bend(at(.485, .55), at(.49, .75), at(.5, foot))
		if round > 0 {
			o = o.Line(piece.At(m+round, foot*h)).Toward(piece.At(m, foot*h), piece.At(m, foot*h-round))
		} else {
			o = o.Line(piece.At(m, foot*h))
		}
		both(o.Of(part))
	}
	front(binding, 1)
	front(body, 1-b/h)
	// The band down the front holds the buttons, each in its own length of it.
	band := max(2*b, 1.3*v["button"])
	last := h - b - round
	all = append(all, piece.Lay(binding, piece.At(m-band/2, drop), piece.At(m+band/2, drop), piece.At(m+band/2, h-max(b, round)),
		piece.At(m-band/2, h-max(b, round))))
	each := (last - 1.3*drop) / n
	for i := range int(n) {
		all = append(all, piece.Lay(buttons, piece.Disc(piece.At(m, 1.3*drop+each*(float64(i)+.5)), min(v["button"], .9*each)/2)...))
	}
	both(piece.Rounded(.2, at(.14, .62), at(.38, .62), at(.38, .79), at(.14, .79)).Of(pockets))
	switch v["collar"] {
	case 0:
		both(piece.From(piece.At(m, .8*drop)).Line(piece.At(m+.7*neck, 0), piece.At(m+neck, 0)).Bend(at(.24, .03), at(.25, .15),
			at(.16, .17)).Bend(at(.1, .18), at(.04, .14), piece.At(m, 1.15*drop)).Of(collar))
	case 1:
		both(piece.From(piece.At(m, .8*drop)).Line(piece.At(m+.7*neck, 0), piece.At(m+neck, 0)).Bend(at(.2, .05), at(.21, .1),
			at(.22, .2)).Line(piece.At(m, 1.2*drop)).Of(collar))
	default:
		both(piece.From(piece.At(m, .62*drop)).Bend(at(.05, .06), at(.09, .03),
			piece.At(m+.8*neck, 0)).Line(piece.At(m+1.1*neck, 0)).Bend(at(.14, .05), at(.08, .1), piece.At(m, 1.25*drop)).Of(collar))
	}
	p.Over(all)
	return p
}
