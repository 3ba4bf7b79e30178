package models

import "lampfern/core/piece"

var boatPattern = piece.Pattern{Key: "boat", Name: "Model boat",
	Words: "a small sailing boat from the side: hull, waterline, deck, cabin, windows, mast and sails",
	Settings: []piece.Setting{piece.MM("length", "length", 60, 1200, 320), piece.MM("mast", "mast", 60, 1500, 300),
		piece.MM("line", "waterline stripe", 1, 40, 6), piece.Whole("windows", "windows", 1, 6, 3),
		piece.Choice("hull", "hull", "raked stem", "double-ended", "barge")},
	Make: piece.Plain(boat)}

// boat has a sheer that rises to both ends; what it is painted in lies within one outline of the
// hull, parted by level lines.
func boat(v piece.Values) piece.Piece {
	const hull, bottom, line, deck, cabin, windows, mast, mainsail, jib = 0, 1, 2, 3, 4, 5, 6, 7, 8
	l, m := v["length"], v["mast"]
	high, rail, house := .2*l, .025*l, .1*l
	sheer := .03 * l // by which the ends stand above the middle
	p := piece.Piece{Width: l, Height: m + house + rail + high,
		Parts: piece.Parts("hull", "hull", "bottom", "bottom", "line", "waterline", "deck", "deck", "cabin", "cabin", "windows", "windows",
			"mast", "mast", "mainsail", "mainsail", "jib", "foresail")}
	y := m + house + rail // of the sheer amidships
	at := piece.At
	// stem and stern at a height below the sheer, and the outline between two heights.
	edge := func(t float64) (left, right float64) {
		switch v["hull"] {
		case 1:
			left, right = .22*l*t*t, l-.24*l*t*t
		case 2:
			left, right = .02*l*t, l-.05*l*t
			if t > .6 {
				left, right = left+.1*l*(t-.6)*(t-.6)/.16, right-.12*l*(t-.6)*(t-.6)/.16
			}
		default:
			left, right = .03*l*t+.05*l*t*t*t, l-.1*l*t-.14*l*t*t*t
		}
		return left, right
	}
	sides := func(part int, from, to float64) piece.Outline {
		const steps = 8
		var o []piece.Point
		for i := range steps + 1 {
			t := from + (to-from)*float64(i)/steps
			_, right := edge(t)
			o = append(o, at(right, y+high*t))
		}
		for i := range steps + 1 {
			t := to + (from-to)*float64(i)/steps
			left, _ := edge(t)
			o = append(o, at(left, y+high*t))
		}
		return piece.Outline{Part: part, Corners: o}
	}
	// The mast, cabin and sails stand behind the rail.
	x0, w := .2*l, .34*l
	mx, pole := x0+w, max(.016*l, 1)
	all := []piece.Outline{piece.Lay(mast, at(mx, 0), at(mx+pole, 0), at(mx+pole, y), at(mx, y)),
		piece.From(at(mx, .04*m)).Line(at(mx, .96*m)).Bend(at(.4*l, .985*m), at(.2*l, .985*m), at(.05*l, .95*m)).Bend(at(.2*l, .72*m),
			at(.44*l, .38*m), at(mx, .04*m)).Of(mainsail),
		piece.From(at(mx+pole, .1*m)).Bend(at(.7*l, .34*m), at(.86*l, .68*m), at(.97*l, y-sheer)).Bend(at(.85*l, y-sheer-.03*m), at(.7*l, .97*m),
			at(mx+pole, .95*m)).Of(jib),
		piece.From(at(x0, y)).Line(at(x0, m+.3*house)).Toward(at(x0, m), at(x0+.3*house, m)).Line(at(mx-.5*house, m)).Bend(at(mx-.2*house, m),
			at(mx-.1*house, m+.3*house), at(mx, y)).Of(cabin)}
	each := (w - .5*house) / v["windows"]
	for i := range int(v["windows"]) {
		all = append(all, piece.Lay(windows, piece.Disc(at(x0+each*(float64(i)+.5), m+.52*house), .3*min(each, house))...))
	}
	all = append(all, piece.From(at(0, y)).Line(at(0, y-sheer)).Bend(at(.2*l, y-rail+.2*sheer), at(.7*l, y-rail+.3*sheer),
		at(l, y-sheer-rail)).Line(at(l, y)).Of(deck))
	stripe := min(v["line"], .3*high) / high
	all = append(all, sides(hull, 0, 1), sides(bottom, .55+stripe, 1), sides(line, .55, .55+stripe))
	// Above its sheer line the hull rises to the ends, under the rail.
	all = append(all, piece.From(at(0, y)).Line(at(0, y-.7*sheer)).Bend(at(.2*l, y), at(.3*l, y), at(.4*l, y)).Of(hull),
		piece.From(at(.55*l, y)).Bend(at(.7*l, y), at(.86*l, y-.3*sheer), at(l, y-sheer)).Line(at(l, y)).Of(hull))
	p.Over(all)
	for _, t := range []float64{.13, .27, .41} { // the planks, and the stays
		left, right := edge(t)
		p.Lines = append(p.Lines, piece.Line{Through: piece.From(at(left, y+high*t-.6*sheer)).Bend(at(.3*l, y+high*t+.2*sheer),
			at(.7*l, y+high*t+.2*sheer), at(right, y+high*t-.6*sheer))})
	}
	for _, end := range []piece.Point{at(0, y-sheer), at(l, y-sheer)} {
		p.Lines = append(p.Lines, piece.Line{Through: []piece.Point{at(mx+pole/2, 0), end}})
	}
	return p
}
