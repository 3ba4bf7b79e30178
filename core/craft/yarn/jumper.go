package yarn

import (
	"fmt"
	"math"

	"lampfern/core/piece"
)

var jumperPattern = piece.Pattern{Key: "jumper", Name: "Plain jumper",
	Words: "a dropped-shoulder jumper by chest size, with ribs, and bands across the chest",
	Settings: []piece.Setting{cm("chest", "chest it is for", 40, 200, 96), cm("ease", "room in it", -20, 60, 10), cm("long", "length from the shoulder", 20, 120, 62),
		cm("arm", "sleeve from the armhole", 5, 80, 46), cm("rib", "ribs", 1, 20, 6), piece.Whole("bands", "bands across the chest", 0, 6, 3)},
	Face: []string{"neck", "body"}, Make: piece.Plain(jumper)}

// cm is a setting that is a length in centimetres, as a garment is measured.
func cm(key, name string, from, to, usual float64) piece.Setting {
	return piece.Setting{Key: key, Name: name, Unit: "cm", Min: from, Max: to, Default: usual}
}

// jumperSides are the sides of a jumper, of which one is drawn: the back is as large as the front, and a sleeve lies double.
const jumperSides = 2

// How a jumper is cut, by its chest without the room in it.
const (
	armhole   = .23 // depth
	cuffWide  = .11 // laid flat
	neckWide  = .2  // of half the width that it has
	neckDeep  = .08
	neckBand  = .025
	shoulders = .035 // that they fall
	hang      = .95  // radians that a sleeve hangs below the level
)

// jumper is drawn from the front, laid flat. The area of a sleeve is that of the sleeve as it is knitted.
func jumper(v piece.Values) piece.Piece {
	const body, sleeves, hem, cuffs, neck, band = 0, 1, 2, 3, 4, 5
	p := piece.Piece{Parts: piece.Parts("body", "body", "sleeves", "sleeves", "hem", "hem", "cuffs", "cuffs", "neck", "neckband"),
		Stitch: piece.At(usualStitch, usualRow)}
	chest, long, rib := 10*v["chest"], 10*v["long"], 10*v["rib"]
	half := max(chest+10*v["ease"], chest/2) / 4
	hole, cuff, fall := min(armhole*chest, .5*long), cuffWide*chest, shoulders*chest
	rib = min(rib, .3*(long-hole), 5*v["arm"])
	// The sleeve as knitted has the armhole at one end, the cuff at the other, and its length between; drawn it hangs, and
	// reaches so far that its area stays the same.
	down, out := math.Sin(hang), math.Cos(hang)
	reach := 10 * v["arm"] * (cuff + hole) / (cuff + hole*out)
	p.Width = 2 * (half + reach*out + cuff/2*down)
	p.Height = max(long, fall+hole/2+reach*down+cuff/2*out)
	m := p.Width / 2
	var all []piece.Outline
	side := func(part int, from, to float64) { // of the sleeve, from the armhole at 0 to its end at 1
		edge := func(t float64) (upper, lower piece.Point) {
			x, y := m+half+t*reach*out, fall+hole/2+t*reach*down
			dx, dy := t*cuff/2*down, -(1-t)*hole/2-t*cuff/2*out
			return piece.At(x+dx, y+dy), piece.At(x-dx, y-dy)
		}
		a, d := edge(from)
		b, c := edge(to)
		o := piece.Lay(part, a, b, c, d)
		all = append(all, o, o.Mirrored(m))
	}
	from := 1 - rib/(10*v["arm"])
	side(sleeves, 0, from)
	side(cuffs, from, 1)
	wide, deep := neckWide*2*half, neckDeep*chest
	all = append(all, piece.From(piece.At(m-wide, 0)).Toward(piece.At(m-wide, deep), piece.At(m, deep)).Toward(piece.At(m+wide, deep), piece.At(m+wide, 0)).
		Line(piece.At(m+half, fall), piece.At(m+half, long-rib), piece.At(m-half, long-rib), piece.At(m-half, fall)).Of(body),
		piece.Lay(hem, piece.At(m-half, long-rib), piece.At(m+half, long-rib), piece.At(m+half, long), piece.At(m-half, long)))
	ring := neckBand * chest
	all = append(all, piece.From(piece.At(m-wide, 0)).Toward(piece.At(m-wide, deep), piece.At(m, deep)).Toward(piece.At(m+wide, deep), piece.At(m+wide, 0)).
		Line(piece.At(m+wide+ring, ring*fall/half)).Toward(piece.At(m+wide+ring, deep+ring), piece.At(m, deep+ring)).
		Toward(piece.At(m-wide-ring, deep+ring), piece.At(m-wide-ring, ring*fall/half)).Of(neck))
	n := int(v["bands"])
	top, foot := deep+2*ring, max(deep+3*ring, hole+fall)
	for i := range n {
		p.Parts = append(p.Parts, piece.Named(fmt.Sprintf("band%d", i+1), fmt.Sprintf("band %d", i+1)))
		y0, y1 := top+(foot-top)*float64(i)/float64(n), top+(foot-top)*float64(i+1)/float64(n)
		all = append(all, piece.Lay(band+i, piece.At(m-half, y0), piece.At(m+half, y0), piece.At(m+half, y1), piece.At(m-half, y1)))
	}
	p.Over(all)
	return p
}
