package garment

import "lampfern/core/piece"

var waistcoatPattern = piece.Pattern{Key: "waistcoat", Name: "Waistcoat",
	Words: "a waistcoat laid flat: fronts, the back seen in the neck, binding, welt pockets and buttons",
	Settings: []piece.Setting{piece.MM("chest", "chest, laid flat", 120, 900, 500), piece.MM("length", "length", 150, 1000, 580),
		piece.MM("binding", "binding", 4, 40, 16), piece.Whole("buttons", "buttons", 1, 9, 5), piece.MM("button", "button", 6, 40, 18),
		piece.Choice("neck", "neckline", "V", "round"), piece.Choice("hem", "hem", "two points", "straight", "rounded")},
	Make: piece.Plain(waistcoat)}

func waistcoat(v piece.Values) piece.Piece {
	const fronts, back, binding, pockets, buttons = 0, 1, 2, 3, 4
	w, h, b := v["chest"], v["length"], v["binding"]
	m, n := w/2, v["buttons"]
	p := piece.Piece{Width: w, Height: h,
		Parts: piece.Parts("fronts", "fronts", "back", "back", "binding", "binding", "pockets", "pockets", "buttons", "buttons")}
	at := func(x, y float64) piece.Point { return piece.At(m+x*w, y*h) }
	var all []piece.Outline
	both := func(o piece.Outline) { all = append(all, o, o.Mirrored(m)) }
	all = append(all, piece.From(at(-.17, 0)).Bend(at(-.08, .035), at(.08, .035), at(.17, 0)).Line(at(.12, .47), at(-.12, .47)).Of(back))
	// The neckline from the shoulder to the first button, so far out at the shoulder and down.
	neck := func(o piece.Curve, out, down float64) piece.Curve {
		if v["neck"] == 1 {
			return o.Bend(at(.13+out, .16), at(.1+out, .44+down), at(0, .44+down))
		}
		return o.Bend(at(.13+out, .1), at(.05+out, .3+down), at(0, .44+down))
	}
	upNeck := func(o piece.Curve, out, down float64) piece.Curve {
		if v["neck"] == 1 {
			return o.Bend(at(.1+out, .44+down), at(.13+out, .16), at(.14+out, 0))
		}
		return o.Bend(at(.05+out, .3+down), at(.13+out, .1), at(.14+out, 0))
	}
	// The front down to its hem, each as high as so much of the length.
	front := func(part int, up float64) {
		o := upNeck(piece.From(at(0, .44)), 0, 0).Bend(at(.22, .01), at(.29, .02), at(.35, .035)).Bend(at(.3, .14), at(.3, .34),
			at(.5, .42)).Bend(at(.47, .56), at(.475, .74), at(.49, .9-up))
		switch v["hem"] {
		case 0:
			o = o.Bend(at(.4, .905-up), at(.3, .91-up), at(.22, .92-up)).Line(at(.11, 1-up)).Bend(at(.07, .96-up), at(.03, .92-up), at(0, .88-up))
		case 1:
			o = o.Line(at(0, .9-up))
		default:
			o = o.Bend(at(.36, .91-up), at(.24, .95-up), at(.17, .96-up)).Bend(at(.08, .97-up), at(.01, .93-up), at(0, .84-up))
		}
		both(o.Of(part))
	}
	front(binding, 0)
	front(fronts, 1.1*b/h)
	// Bound along the neck too.
	wide := 1.1 * b / w
	o := upNeck(piece.From(at(0, .44)), 0, 0)
	o = neck(o.Line(at(.14+wide, 0)), wide, 1.3*b/h)
	both(o.Of(binding))
	both(piece.Lay(pockets, at(.14, .66), at(.36, .64), at(.36, .68), at(.14, .7)))
	for i := range int(n) {
		each := .34 * h / n
		all = append(all, piece.Lay(buttons, piece.Disc(piece.At(m, .48*h+each*(float64(i)+.5)), min(v["button"], .9*each)/2)...))
	}
	p.Over(all)
	return p
}
