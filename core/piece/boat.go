package piece

var boatTemplate = Template{"boat", "Model boat", Model, "a small sailing boat from the side: hull, waterline, deck, cabin, windows, mast and sails",
	[]Setting{mm("length", "length", 60, 1200, 320), mm("mast", "mast", 60, 1500, 300), mm("line", "waterline stripe", 1, 40, 6), whole("windows", "windows", 1, 6, 3)}, plain(boat)}

func boat(v map[string]float64) Piece {
	const hull, bottom, line, deck, cabin, windows, mast, mainsail, jib = 0, 1, 2, 3, 4, 5, 6, 7, 8
	l, m := v["length"], v["mast"]
	high, rail, house := .22*l, .02*l, .1*l
	p := Piece{Width: l, Height: m + house + rail + high,
		Parts: []Part{{"hull", "hull"}, {"bottom", "bottom"}, {"line", "waterline"}, {"deck", "deck"}, {"cabin", "cabin"}, {"windows", "windows"}, {"mast", "mast"}, {"mainsail", "mainsail"}, {"jib", "foresail"}}}
	y := m + house + rail // of the sheer
	// The stem rakes by a seventh of the length over the hull's height.
	slope := func(at float64) float64 { return l - .14*l*at/high }
	stern := func(at float64) float64 { return .05 * l * at / high }
	slice := func(part int, from, to float64) {
		p.shape(part, Point{stern(from), y + from}, Point{slope(from), y + from}, Point{slope(to), y + to}, Point{stern(to), y + to})
	}
	stripe := min(v["line"], .3*high)
	slice(hull, 0, .55*high)
	slice(line, .55*high, .55*high+stripe)
	slice(bottom, .55*high+stripe, high)
	p.rect(deck, 0, y-rail, l, rail)
	x0, w := .2*l, .34*l
	each := w / v["windows"]
	for i := range int(v["windows"]) {
		x := x0 + each*float64(i)
		p.disc(windows, cabin, x, m, each, house, Point{x + each/2, m + house/2}, .3*min(each, house))
	}
	pole := max(.015*l, 1)
	mx := x0 + w
	p.rect(mast, mx, 0, pole, m+house)
	p.shape(mainsail, Point{mx, .04 * m}, Point{mx, .96 * m}, Point{.06 * l, .96 * m})
	p.shape(jib, Point{mx + pole, .1 * m}, Point{.96 * l, m + house}, Point{mx + pole, m + house})
	return p
}
