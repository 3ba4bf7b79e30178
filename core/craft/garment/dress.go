package garment

import (
	"slices"

	"lampfern/core/piece"
)

var dressPattern = piece.Pattern{Key: "dress", Name: "Striped dress",
	Words: "a plain top, a belt, and a skirt of wide and narrow stripes down to the hem band",
	Settings: []piece.Setting{piece.MM("waist", "waist, laid flat", 150, 700, 360), piece.MM("hem", "hem, laid flat", 200, 1500, 820),
		piece.MM("skirt", "skirt length", 200, 1200, 640), piece.Whole("stripes", "wide stripes", 2, 12, 5),
		piece.MM("narrow", "narrow stripe", 3, 50, 22), piece.MM("band", "hem band", 5, 120, 50),
		piece.Choice("neck", "neckline", "V", "round", "boat"), piece.Choice("sleeve", "sleeves", "short", "cap", "long"),
		piece.Choice("flare", "skirt", "flared", "bell"), piece.Choice("hemline", "hemline", "curved", "straight")},
	Face: []string{"collar", "top"}, Make: piece.Plain(dress)}

// dress is drawn from the front, laid flat. The skirt's wide stripes share the length in the middle
// that the narrow ones leave; a curved hem is shorter at the sides, as a flare laid flat is.
func dress(v piece.Values) piece.Piece {
	const top, sleeves, collar, belt, wide, narrow, band = 0, 1, 2, 3, 4, 5, 6
	w, hem, skirt := v["waist"], v["hem"], v["skirt"]
	shoulder, torso, beltHigh := .56*w, 1.05*w, .12*w
	arm := [3]float64{.42, .2, .5}[int(v["sleeve"])] * w // how far sleeves reach beyond the shoulder
	p := piece.Piece{Width: max(hem, 2*(shoulder+arm)), Height: torso + beltHigh + skirt,
		Parts: piece.Parts("top", "top", "sleeves", "sleeves", "collar", "neckline", "belt", "belt", "wide", "wide stripes", "narrow",
			"narrow stripes", "band", "hem band")}
	m := p.Width / 2
	at := func(x, y float64) piece.Point { return piece.At(m+x*w, y*w) }
	var all []piece.Outline
	both := func(o piece.Outline) { all = append(all, o, o.Mirrored(m)) }
	switch v["sleeve"] {
	case 0:
		both(piece.From(at(.47, .055)).Bend(at(.66, .08), at(.86, .24), at(.98, .5)).Line(at(.74, .62)).Bend(at(.66, .54), at(.58, .48),
			at(.48, .46)).Of(sleeves))
	case 1:
		both(piece.From(at(.47, .055)).Bend(at(.62, .06), at(.72, .14), at(.76, .27)).Bend(at(.68, .33), at(.6, .35), at(.48, .34)).Of(sleeves))
	default:
		both(piece.From(at(.47, .055)).Bend(at(.72, .1), at(.86, .46), at(1.06, 1.14)).Line(at(.9, 1.2)).Bend(at(.78, .84), at(.68, .56),
			at(.48, .46)).Of(sleeves))
	}
	// The bodice: sloping shoulders, rounded armholes, sides that run in to the waist.
	side := func(o piece.Curve) piece.Curve {
		return o.Line(at(.56, .07)).Bend(at(.5, .2), at(.5, .36), at(.56, .46)).Bend(at(.53, .68), at(.5, .86), at(.5, 1.05)).
			Line(at(-.5, 1.05)).Bend(at(-.5, .86), at(-.53, .68), at(-.56, .46)).Bend(at(-.5, .36), at(-.5, .2), at(-.56, .07))
	}
	neck := func(wide, deep float64) {
		from := piece.From(at(-wide, 0))
		switch v["neck"] {
		case 0:
			from = from.Bend(at(-.7*wide, .3*deep), at(-.3*wide, .7*deep), at(0, deep)).Bend(at(.3*wide, .7*deep), at(.7*wide, .3*deep), at(wide, 0))
		case 1:
			from = from.Toward(at(-wide, deep), at(0, deep)).Toward(at(wide, deep), at(wide, 0))
		default:
			from = from.Bend(at(-.6*wide, deep), at(.6*wide, deep), at(wide, 0))
		}
		all = append(all, side(from).Of(top))
	}
	deep, across := [3]float64{.3, .22, .1}[int(v["neck"])], [3]float64{.2, .2, .34}[int(v["neck"])]
	neck(across, deep)
	// The collar is a band along the neckline, over the top.
	half := func(wide, deep float64) piece.Curve {
		from := piece.From(at(0, deep))
		switch v["neck"] {
		case 0:
			return from.Bend(at(.3*wide, .7*deep), at(.7*wide, .3*deep), at(wide, 0))
		case 1:
			return from.Toward(at(wide, deep), at(wide, 0))
		}
		return from.Bend(at(.33*wide, .96*deep), at(.78*wide, .4*deep), at(wide, 0))
	}
	inner := deep
	if v["neck"] == 2 {
		inner = .75 * deep // where the bend of both sides is lowest
	}
	under := half(across+.09, inner+.1)
	slices.Reverse(under)
	both(append(half(across, inner), under...).Of(collar))
	all = append(all, piece.Lay(belt, at(-.5, 1.05), at(.5, 1.05), at(.5, 1.17), at(-.5, 1.17)))
	// Each edge of a stripe is drawn in so many steps from side to side.
	const steps = 12
	sag := 0.0
	if v["hemline"] == 0 {
		sag = .09 * min(skirt, hem)
	}
	reach := func(t float64) float64 {
		if v["flare"] == 1 {
			t = 1.5*t - .5*t*t*t // wide soon, then straight down
		}
		return (w + (hem-w)*t) / 2
	}
	y0 := torso + beltHigh
	on := func(t, u float64) piece.Point { return piece.At(m+u*reach(t), y0+skirt*t-sag*t*u*u) }
	slice := func(part int, from, to float64) {
		var o []piece.Point
		for i := range steps + 1 {
			o = append(o, on(from, 2*float64(i)/steps-1))
		}
		const down = 3
		for i := 1; i < down; i++ {
			o = append(o, on(from+(to-from)*float64(i)/down, 1))
		}
		for i := range steps + 1 {
			o = append(o, on(to, 1-2*float64(i)/steps))
		}
		for i := 1; i < down; i++ {
			o = append(o, on(to+(from-to)*float64(i)/down, -1))
		}
		all = append(all, piece.Outline{Part: part, Corners: o})
	}
	// The narrow stripes and the band never take more than six tenths.
	n := v["stripes"]
	k := min(1, .6*skirt/(n*v["narrow"]+v["band"]))
	thin, foot := k*v["narrow"]/skirt, k*v["band"]/skirt
	each, from := (1-foot-n*thin)/n, 0.0
	for range int(n) {
		slice(wide, from, from+each)
		slice(narrow, from+each, from+each+thin)
		from += each + thin
	}
	slice(band, 1-foot, 1)
	p.Over(all)
	return p
}
