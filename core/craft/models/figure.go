package models

import "lampfern/core/piece"

var figurePattern = piece.Pattern{Key: "figure", Name: "Standing figure",
	Words:    "a small traveller to be painted: hat, face and hands, cloak, tunic, belt, trousers, boots, staff and base",
	Settings: []piece.Setting{piece.MM("height", "height with base", 15, 400, 75)},
	Make:     piece.Plain(figure)}

func figure(v piece.Values) piece.Piece {
	const hat, skin, cloak, tunic, belt, trousers, boots, staff, base = 0, 1, 2, 3, 4, 5, 6, 7, 8
	h := v["height"]
	w := .56 * h
	p := piece.Piece{Width: w, Height: h,
		Parts: piece.Parts("hat", "hat", "skin", "face and hands", "cloak", "cloak", "tunic", "tunic", "belt", "belt", "trousers", "trousers", "boots", "boots", "staff", "staff", "base", "base")}
	at := func(x, y float64) piece.Point { return piece.At(w/2+x*h, y*h) }
	both := func(part int, pts ...[2]float64) (out []piece.Outline) {
		for _, side := range []float64{-1, 1} {
			var o []piece.Point
			for _, q := range pts {
				o = append(o, at(side*q[0], q[1]))
			}
			out = append(out, piece.Lay(part, o...))
		}
		return out
	}
	all := []piece.Outline{
		piece.Lay(base, at(-.2, .93), at(.2, .93), at(.26, .96), at(.24, 1), at(-.24, 1), at(-.26, .96)),
		piece.Lay(staff, at(.225, .08), at(.245, .08), at(.255, .94), at(.235, .94)),
		piece.Lay(cloak, at(-.07, .2), at(.07, .2), at(.15, .25), at(.2, .55), at(.21, .82), at(-.21, .82), at(-.2, .55), at(-.15, .25)),
	}
	all = append(all, both(trousers, [2]float64{0, .58}, [2]float64{.1, .58}, [2]float64{.105, .82}, [2]float64{.03, .82}, [2]float64{.012, .64}, [2]float64{0, .64})...)
	all = append(all, both(boots, [2]float64{.02, .8}, [2]float64{.11, .8}, [2]float64{.115, .9}, [2]float64{.14, .94}, [2]float64{.02, .94})...)
	all = append(all, piece.Lay(tunic, at(-.11, .22), at(.11, .22), at(.12, .4), at(.125, .62), at(-.125, .62), at(-.12, .4)))
	all = append(all, piece.Lay(tunic, at(.1, .23), at(.16, .28), at(.22, .44), at(.19, .47), at(.11, .36)), piece.Lay(tunic, at(-.1, .23), at(-.16, .28), at(-.15, .5), at(-.115, .5), at(-.1, .36)))
	all = append(all, piece.Lay(skin, piece.Disc(at(.225, .465), .028*h)...), piece.Lay(skin, piece.Disc(at(-.133, .52), .026*h)...), piece.Lay(skin, piece.Disc(at(0, .14), .062*h)...), piece.Lay(skin, at(-.03, .18), at(.03, .18), at(.035, .23), at(-.035, .23)))
	all = append(all, piece.Lay(belt, at(-.122, .45), at(.122, .45), at(.123, .48), at(-.123, .48)))
	all = append(all, piece.Lay(hat, at(-.13, .12), at(-.06, .095), at(-.05, .02), at(.02, 0), at(.06, .095), at(.13, .12), at(.06, .13), at(-.06, .13)))
	p.Over(all)
	return p
}
