package garment

import "lampfern/core/piece"

var dressPattern = piece.Pattern{Key: "dress", Name: "Striped dress",
	Words:    "a plain top, a belt, and a skirt of wide and narrow stripes down to the hem band",
	Settings: []piece.Setting{piece.MM("waist", "waist, laid flat", 150, 700, 360), piece.MM("hem", "hem, laid flat", 200, 1500, 820), piece.MM("skirt", "skirt length", 200, 1200, 640), piece.Whole("stripes", "wide stripes", 2, 12, 5), piece.MM("narrow", "narrow stripe", 3, 50, 22), piece.MM("band", "hem band", 5, 120, 50)},
	Make:     piece.Plain(dress)}

// dress is drawn from the front, laid flat. The skirt is a straight-sided
// flare; its wide stripes share the length that the narrow ones leave.
func dress(v piece.Values) piece.Piece {
	const top, sleeves, collar, belt, wide, narrow, band = 0, 1, 2, 3, 4, 5, 6
	waist, hem, skirt := v["waist"], v["hem"], v["skirt"]
	shoulder, torso, beltHigh, arm := 1.1*waist, 1.05*waist, .12*waist, .5*waist
	full := max(hem, shoulder+2*arm)
	p := piece.Piece{Width: full, Height: torso + beltHigh + skirt,
		Parts: piece.Parts("top", "top", "sleeves", "sleeves", "collar", "collar", "belt", "belt", "wide", "wide stripes", "narrow", "narrow stripes", "band", "hem band")}
	m := full / 2
	neck, drop, cuff := .2*waist, .16*waist, .45*waist
	p.Shape(collar, piece.At(m-neck, 0), piece.At(m+neck, 0), piece.At(m, drop))
	p.Shape(top, piece.At(m-shoulder/2, 0), piece.At(m-neck, 0), piece.At(m, drop), piece.At(m+neck, 0), piece.At(m+shoulder/2, 0),
		piece.At(m+shoulder/2, cuff), piece.At(m+waist/2, torso), piece.At(m-waist/2, torso), piece.At(m-shoulder/2, cuff))
	for _, side := range []float64{-1, 1} {
		p.Shape(sleeves, piece.At(m+side*shoulder/2, 0), piece.At(m+side*(shoulder/2+arm), .7*cuff), piece.At(m+side*(shoulder/2+.8*arm), 1.3*cuff), piece.At(m+side*shoulder/2, cuff))
	}
	p.Rect(belt, m-waist/2, torso, waist, beltHigh)
	n, y0 := v["stripes"], torso+beltHigh
	slice := func(part int, from, to float64) {
		half := func(at float64) float64 { return (waist + (hem-waist)*at/skirt) / 2 }
		p.Shape(part, piece.At(m-half(from), y0+from), piece.At(m+half(from), y0+from), piece.At(m+half(to), y0+to), piece.At(m-half(to), y0+to))
	}
	// The narrow stripes and the band never take more than six tenths.
	k := min(1, .6*skirt/(n*v["narrow"]+v["band"]))
	thin, foot := k*v["narrow"], k*v["band"]
	each, at := (skirt-foot-n*thin)/n, 0.0
	for range int(n) {
		slice(wide, at, at+each)
		slice(narrow, at+each, at+each+thin)
		at += each + thin
	}
	slice(band, skirt-foot, skirt)
	return p
}
