package models

import "lampfern/core/piece"

var vanPattern = piece.Pattern{Key: "van", Name: "Model van",
	Words:    "a delivery van from the side: body, stripe, cab, windows, wheels, hubs, sills and lights",
	Settings: []piece.Setting{piece.MM("length", "length", 20, 1500, 120), piece.MM("stripe", "stripe", .5, 80, 5)},
	Make:     piece.Plain(van)}

func van(v piece.Values) piece.Piece {
	const body, stripe, cab, windows, sills, tyres, hubs, lights = 0, 1, 2, 3, 4, 5, 6, 7
	l := v["length"]
	h := .52 * l
	p := piece.Piece{Width: l, Height: h,
		Parts: piece.Parts("body", "body", "stripe", "stripe", "cab", "cab", "windows", "windows", "sills", "sills and bumpers", "tyres", "tyres", "hubs", "hubs", "lights", "lights")}
	at := func(x, y float64) piece.Point { return piece.At(x*l, y*h) }
	thick := min(v["stripe"], .25*h) / h
	all := []piece.Outline{
		piece.Lay(body, at(.02, .04), at(.05, 0), at(.66, 0), at(.66, .8), at(.02, .8)),
		piece.Lay(stripe, at(.02, .5-thick/2), at(.66, .5-thick/2), at(.66, .5+thick/2), at(.02, .5+thick/2)),
		piece.Lay(cab, at(.66, .03), at(.76, .05), at(.87, .4), at(.97, .48), at(.985, .8), at(.66, .8)),
		piece.Lay(windows, at(.69, .12), at(.75, .12), at(.83, .4), at(.69, .4)),
		piece.Lay(sills, at(0, .74), at(1, .74), at(1, .84), at(0, .84)),
		piece.Lay(lights, at(.93, .5), at(.974, .53), at(.978, .62), at(.93, .62)),
		piece.Lay(lights, at(.02, .52), at(.045, .52), at(.045, .66), at(.02, .66)),
	}
	for _, x := range []float64{.2, .8} {
		r := .19 * h
		c := piece.At(x*l, h-r)
		all = append(all, piece.Lay(tyres, piece.Disc(c, r)...), piece.Lay(hubs, piece.Disc(c, .5*r)...))
	}
	p.Over(all)
	return p
}
