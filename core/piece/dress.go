package piece

var dressTemplate = Template{"dress", "Striped dress", Garment, "a plain top, a belt, and a skirt of wide and narrow stripes down to the hem band",
	[]Setting{mm("waist", "waist, laid flat", 150, 700, 360), mm("hem", "hem, laid flat", 200, 1500, 820), mm("skirt", "skirt length", 200, 1200, 640), whole("stripes", "wide stripes", 2, 12, 5), mm("narrow", "narrow stripe", 3, 50, 22), mm("band", "hem band", 5, 120, 50)}, plain(dress)}

// dress is drawn from the front, laid flat. The skirt is a straight-sided
// flare; its wide stripes share the length that the narrow ones leave.
func dress(v map[string]float64) Piece {
	const top, sleeves, collar, belt, wide, narrow, band = 0, 1, 2, 3, 4, 5, 6
	waist, hem, skirt := v["waist"], v["hem"], v["skirt"]
	shoulder, torso, beltHigh, arm := 1.1*waist, 1.05*waist, .12*waist, .5*waist
	full := max(hem, shoulder+2*arm)
	p := Piece{Width: full, Height: torso + beltHigh + skirt,
		Parts: []Part{{"top", "top"}, {"sleeves", "sleeves"}, {"collar", "collar"}, {"belt", "belt"}, {"wide", "wide stripes"}, {"narrow", "narrow stripes"}, {"band", "hem band"}}}
	m := full / 2
	neck, drop, cuff := .2*waist, .16*waist, .45*waist
	p.shape(collar, Point{m - neck, 0}, Point{m + neck, 0}, Point{m, drop})
	p.shape(top, Point{m - shoulder/2, 0}, Point{m - neck, 0}, Point{m, drop}, Point{m + neck, 0}, Point{m + shoulder/2, 0},
		Point{m + shoulder/2, cuff}, Point{m + waist/2, torso}, Point{m - waist/2, torso}, Point{m - shoulder/2, cuff})
	for _, side := range []float64{-1, 1} {
		p.shape(sleeves, Point{m + side*shoulder/2, 0}, Point{m + side*(shoulder/2+arm), .7 * cuff}, Point{m + side*(shoulder/2+.8*arm), 1.3 * cuff}, Point{m + side*shoulder/2, cuff})
	}
	p.rect(belt, m-waist/2, torso, waist, beltHigh)
	n, y0 := v["stripes"], torso+beltHigh
	slice := func(part int, from, to float64) {
		half := func(at float64) float64 { return (waist + (hem-waist)*at/skirt) / 2 }
		p.shape(part, Point{m - half(from), y0 + from}, Point{m + half(from), y0 + from}, Point{m + half(to), y0 + to}, Point{m - half(to), y0 + to})
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
