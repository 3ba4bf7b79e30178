package models

import "lampfern/core/piece"

var vanPattern = piece.Pattern{Key: "van", Name: "Model van",
	Words: "a delivery van from the side: body, stripe, cab, windows, wheels, hubs, sills and lights",
	Settings: []piece.Setting{piece.MM("length", "length", 20, 1500, 120), piece.MM("stripe", "stripe", .5, 80, 5),
		piece.Choice("cab", "cab", "with a bonnet", "forward control"), piece.Choice("roof", "roof", "flat", "high and round")},
	Make: piece.Plain(van)}

func van(v piece.Values) piece.Piece {
	const body, stripe, cab, windows, sills, tyres, hubs, lights = 0, 1, 2, 3, 4, 5, 6, 7
	l := v["length"]
	h := .52 * l
	p := piece.Piece{Width: l, Height: h,
		Parts: piece.Parts("body", "body", "stripe", "stripe", "cab", "cab", "windows", "windows", "sills", "sills and bumpers", "tyres", "tyres",
			"hubs", "hubs", "lights", "lights")}
	at := func(x, y float64) piece.Point { return piece.At(x*l, y*h) }
	thick := min(v["stripe"], .25*h) / h
	eaves := [2]float64{.03, .12}[int(v["roof"])]
	box := piece.From(at(.02, .8)).Line(at(.02, eaves+.08)).Toward(at(.02, eaves), at(.06, eaves))
	if v["roof"] == 1 {
		box = box.Bend(at(.2, 0), at(.5, 0), at(.66, eaves-.03))
	} else {
		box = box.Line(at(.66, eaves))
	}
	all := []piece.Outline{box.Line(at(.66, .8)).Of(body)}
	all = append(all, piece.Lay(stripe, at(.02, .5-thick/2), at(.66, .5-thick/2), at(.66, .5+thick/2), at(.02, .5+thick/2)))
	lamp := piece.At(.952*l, .57*h)
	if v["cab"] == 0 {
		all = append(all, piece.From(at(.66, .8)).Line(at(.66, .06)).Bend(at(.73, .06), at(.77, .09), at(.79, .15)).Bend(at(.82, .26),
			at(.84, .33), at(.87, .4)).Bend(at(.95, .42), at(.985, .46), at(.985, .6)).Line(at(.985, .8)).Of(cab),
			piece.From(at(.685, .4)).Line(at(.685, .14)).Bend(at(.74, .13), at(.755, .14), at(.77, .19)).Line(at(.83, .4)).Of(windows))
	} else {
		all = append(all, piece.From(at(.66, .8)).Line(at(.66, .06)).Bend(at(.8, .05), at(.9, .07), at(.925, .16)).Bend(at(.96, .3),
			at(.985, .42), at(.985, .6)).Line(at(.985, .8)).Of(cab),
			piece.From(at(.7, .42)).Line(at(.7, .15)).Bend(at(.8, .14), at(.875, .15), at(.89, .2)).Bend(at(.915, .28), at(.93, .35),
				at(.94, .42)).Of(windows))
	}
	all = append(all, piece.Rounded(.4, at(0, .74), at(1, .74), at(1, .84), at(0, .84)).Of(sills))
	all = append(all, piece.Lay(lights, piece.Disc(lamp, .05*h)...), piece.Rounded(.3, at(.02, .54), at(.045, .54), at(.045, .68),
		at(.02, .68)).Of(lights))
	for _, x := range []float64{.2, .8} {
		r := .19 * h
		c := piece.At(x*l, h-1.005*r)
		all = append(all, piece.Lay(tyres, piece.Disc(c, r)...), piece.Lay(hubs, piece.Disc(c, .5*r)...))
	}
	p.Over(all)
	return p
}
