package piece

var waistcoatTemplate = Template{"waistcoat", "Waistcoat", Garment, "a waistcoat laid flat: fronts, the back seen in the neck, binding, welt pockets and buttons",
	[]Setting{mm("chest", "chest, laid flat", 120, 900, 500), mm("length", "length", 150, 1000, 580), mm("binding", "binding", 4, 40, 16), whole("buttons", "buttons", 1, 9, 5), mm("button", "button", 6, 40, 18)}, plain(waistcoat)}

func waistcoat(v map[string]float64) Piece {
	const fronts, back, binding, pockets, buttons = 0, 1, 2, 3, 4
	w, h, b := v["chest"], v["length"], v["binding"]
	m, n := w/2, v["buttons"]
	p := Piece{Width: w, Height: h,
		Parts: []Part{{"fronts", "fronts"}, {"back", "back"}, {"binding", "binding"}, {"pockets", "pockets"}, {"buttons", "buttons"}}}
	all := []Outline{{back, []Point{{m - .16*w, 0}, {m + .16*w, 0}, {m + .1*w, .47 * h}, {m - .1*w, .47 * h}}}}
	for _, side := range []float64{-1, 1} {
		at := func(x, y float64) Point { return Point{m + side*x*w, y * h} }
		all = append(all,
			Outline{fronts, []Point{at(.12, 0), at(.33, .03), at(.3, .17), at(.33, .31), at(.5, .42), at(.48, .88), at(.24, .9), at(.12, 1), at(0, .88), at(0, .46)}},
			// Bound along the neck, and along the hem.
			Outline{binding, []Point{at(.12, 0), at(.12+1.1*b/w, 0), at(.9*b/w, .46), at(0, .46)}},
			Outline{binding, []Point{at(.48, .88), at(.24, .9), at(.12, 1), at(0, .88), at(0, .88-1.1*b/h), at(.12, 1-1.1*b/h), at(.235, .9-b/h), at(.48, .88-b/h)}},
			Outline{pockets, []Point{at(.14, .66), at(.36, .64), at(.36, .68), at(.14, .7)}})
	}
	for i := range int(n) {
		each := .36 * h / n
		all = append(all, Outline{buttons, Disc(Point{m, .48*h + each*(float64(i)+.5)}, min(v["button"], .9*each)/2)})
	}
	p.over(all)
	return p
}
