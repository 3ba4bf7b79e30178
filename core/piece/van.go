package piece

var vanTemplate = Template{"van", "Model van", Model, "a delivery van from the side: body, stripe, cab, windows, wheels, hubs, sills and lights",
	[]Setting{mm("length", "length", 20, 1500, 120), mm("stripe", "stripe", .5, 80, 5)}, plain(van)}

func van(v map[string]float64) Piece {
	const body, stripe, cab, windows, sills, tyres, hubs, lights = 0, 1, 2, 3, 4, 5, 6, 7
	l := v["length"]
	h := .52 * l
	p := Piece{Width: l, Height: h,
		Parts: []Part{{"body", "body"}, {"stripe", "stripe"}, {"cab", "cab"}, {"windows", "windows"}, {"sills", "sills and bumpers"}, {"tyres", "tyres"}, {"hubs", "hubs"}, {"lights", "lights"}}}
	at := func(x, y float64) Point { return Point{x * l, y * h} }
	thick := min(v["stripe"], .25*h) / h
	all := []Outline{
		{body, []Point{at(.02, .04), at(.05, 0), at(.66, 0), at(.66, .8), at(.02, .8)}},
		{stripe, []Point{at(.02, .5-thick/2), at(.66, .5-thick/2), at(.66, .5+thick/2), at(.02, .5+thick/2)}},
		{cab, []Point{at(.66, .03), at(.76, .05), at(.87, .4), at(.97, .48), at(.985, .8), at(.66, .8)}},
		{windows, []Point{at(.69, .12), at(.75, .12), at(.83, .4), at(.69, .4)}},
		{sills, []Point{at(0, .74), at(1, .74), at(1, .84), at(0, .84)}},
		{lights, []Point{at(.93, .5), at(.974, .53), at(.978, .62), at(.93, .62)}},
		{lights, []Point{at(.02, .52), at(.045, .52), at(.045, .66), at(.02, .66)}},
	}
	for _, x := range []float64{.2, .8} {
		r := .19 * h
		c := Point{x * l, h - r}
		all = append(all, Outline{tyres, Disc(c, r)}, Outline{hubs, Disc(c, .5*r)})
	}
	p.over(all)
	return p
}
