package models

import "lampfern/core/piece"

var figurePattern = piece.Pattern{Key: "figure", Name: "Standing figure",
	Words: "a small traveller to be painted: hat, face and hands, cloak, tunic, belt, trousers, boots, staff and base",
	Settings: []piece.Setting{piece.MM("height", "height with base", 15, 400, 75), piece.Choice("side", "seen from", "the front", "the back"),
		piece.Choice("hat", "hat", "pointed", "brimmed"), piece.Choice("hair", "hair", "under the hat", "to the shoulders")},
	Make: piece.Plain(figure)}

func figure(v piece.Values) piece.Piece {
	const hat, skin, cloak, tunic, belt, trousers, boots, staff, base = 0, 1, 2, 3, 4, 5, 6, 7, 8
	h := v["height"]
	w := .56 * h
	p := piece.Piece{Width: w, Height: h,
		Parts: piece.Parts("hat", "hat", "skin", "face and hands", "cloak", "cloak", "tunic", "tunic", "belt", "belt", "trousers", "trousers",
			"boots", "boots", "staff", "staff", "base", "base")}
	const hair = 9
	long := v["hair"] == 1
	if long {
		p.Parts = append(p.Parts, piece.Named("hair", "hair"))
	}
	at := func(x, y float64) piece.Point { return piece.At(w/2+x*h, y*h) }
	var all []piece.Outline
	lay := func(o ...piece.Outline) { all = append(all, o...) }
	both := func(o piece.Outline) { lay(o, o.Mirrored(w/2)) }
	disc := func(part int, x, y, r float64) { lay(piece.Lay(part, piece.Disc(at(x, y), r*h)...)) }
	drape := func(to float64) piece.Outline { // a cloak, its foot in folds
		return piece.From(at(-.06, .2)).Line(at(.06, .2)).Bend(at(.13, .21), at(.16, .25), at(.18, .36)).Bend(at(.2, .5), at(.215, .68),
			at(.22, to)).
			Bend(at(.17, to+.03), at(.12, to+.02), at(.07, to-.005)).Bend(at(.03, to+.025), at(-.03, to+.025),
			at(-.07, to-.005)).Bend(at(-.12, to+.02), at(-.17, to+.03), at(-.22, to)).
			Bend(at(-.215, .68), at(-.2, .5), at(-.18, .36)).Bend(at(-.16, .25), at(-.13, .21), at(-.06, .2)).Of(cloak)
	}
	lay(piece.From(at(-.25, .965)).Toward(at(-.25, .93), at(0, .93)).Toward(at(.25, .93), at(.25, .965)).Toward(at(.25, 1),
		at(0, 1)).Toward(at(-.25, 1), at(-.25, .965)).Of(base),
		piece.From(at(.222, .09)).Toward(at(.222, .075), at(.234, .075)).Toward(at(.246, .075), at(.246, .09)).Line(at(.252, .945),
			at(.236, .945)).Of(staff))
	if v["side"] == 0 {
		lay(drape(.81))
	}
	both(piece.From(at(0, .57)).Line(at(.11, .57)).Bend(at(.115, .68), at(.11, .76), at(.1, .84)).Line(at(.03, .84)).Bend(at(.03, .76),
		at(.02, .7), at(.008, .65)).Line(at(0, .65)).Of(trousers))
	both(piece.From(at(.024, .8)).Bend(at(.05, .79), at(.08, .79), at(.107, .8)).Bend(at(.102, .85), at(.105, .88),
		at(.125, .905)).Bend(at(.145, .92), at(.15, .945), at(.14, .952)).Line(at(.024, .952)).Bend(at(.03, .9), at(.03, .86),
		at(.024, .8)).Of(boots))
	// The tunic flares below its belt.
	lay(piece.From(at(-.05, .215)).Line(at(.05, .215)).Bend(at(.09, .22), at(.115, .24), at(.12, .3)).Bend(at(.115, .38), at(.112, .42),
		at(.115, .46)).Bend(at(.13, .52), at(.14, .57), at(.145, .635)).
		Bend(at(.05, .655), at(-.05, .655), at(-.145, .635)).Bend(at(-.14, .57), at(-.13, .52), at(-.115, .46)).Bend(at(-.112, .42),
		at(-.115, .38), at(-.12, .3)).Bend(at(-.115, .24), at(-.09, .22), at(-.05, .215)).Of(tunic))
	// One arm reaches for the staff, the other hangs.
	lay(piece.From(at(.08, .225)).Bend(at(.13, .23), at(.16, .27), at(.185, .34)).Bend(at(.2, .38), at(.22, .41),
		at(.235, .435)).Line(at(.205, .47)).Bend(at(.17, .44), at(.14, .4), at(.105, .34)).Of(tunic),
		piece.From(at(-.08, .225)).Bend(at(-.14, .23), at(-.165, .28), at(-.17, .36)).Bend(at(-.172, .42), at(-.168, .46),
			at(-.162, .5)).Line(at(-.122, .5)).Bend(at(-.12, .44), at(-.118, .4), at(-.1, .34)).Of(tunic))
	disc(skin, .234, .462, .026)
	disc(skin, -.142, .517, .026)
	lay(piece.Lay(belt, at(-.122, .45), at(.122, .45), at(.123, .48), at(-.123, .48)))
	if long && v["side"] == 0 { // beside the face
		both(piece.From(at(.03, .095)).Bend(at(.08, .105), at(.092, .16), at(.088, .225)).Bend(at(.07, .245), at(.05, .243),
			at(.03, .23)).Of(hair))
	}
	if v["side"] == 0 {
		lay(piece.Rounded(.3, at(-.032, .17), at(.032, .17), at(.036, .235), at(-.036, .235)).Of(skin))
		disc(skin, 0, .14, .06)
		// over the shoulders
		both(piece.From(at(.02, .205)).Bend(at(.06, .2), at(.11, .21), at(.14, .25)).Bend(at(.1, .26), at(.05, .26), at(.012, .25)).Of(cloak))
	} else {
		disc(skin, 0, .14, .06)
		// From behind the cloak hangs over one shoulder and leaves half of the belt to be seen.
		lay(piece.From(at(.1, .21)).Bend(at(.06, .3), at(.02, .46), at(.03, .8)).Bend(at(-.02, .83), at(-.07, .8),
			at(-.11, .815)).Bend(at(-.15, .83), at(-.2, .82), at(-.22, .8)).
			Bend(at(-.215, .66), at(-.2, .46), at(-.175, .34)).Bend(at(-.16, .25), at(-.12, .2), at(-.05, .195)).Bend(at(0, .19), at(.05, .195),
			at(.1, .21)).Of(cloak))
		if long {
			lay(piece.From(at(-.06, .095)).Bend(at(-.09, .15), at(-.09, .2), at(-.08, .265)).Bend(at(-.03, .285), at(.03, .285),
				at(.08, .265)).Bend(at(.09, .2), at(.09, .15), at(.06, .095)).Of(hair))
		}
	}
	if v["hat"] == 0 {
		lay(piece.From(at(-.135, .118)).Bend(at(-.1, .1), at(-.075, .1), at(-.062, .09)).Bend(at(-.05, .05), at(-.04, .02),
			at(.02, 0)).Bend(at(.01, .03), at(.05, .06), at(.06, .09)).
			Bend(at(.075, .1), at(.1, .1), at(.135, .118)).Bend(at(.07, .145), at(-.07, .145), at(-.135, .118)).Of(hat))
	} else {
		lay(piece.From(at(-.15, .115)).Bend(at(-.1, .105), at(-.08, .1), at(-.062, .095)).Bend(at(-.06, .03), at(-.05, 0),
			at(0, 0)).Bend(at(.05, 0), at(.06, .03), at(.062, .095)).
			Bend(at(.08, .1), at(.1, .105), at(.15, .115)).Bend(at(.08, .15), at(-.08, .15), at(-.15, .115)).Of(hat))
	}
	p.Over(all)
	return p
}
