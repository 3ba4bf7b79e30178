package draw

// Stop is a place of a sheen, 0 to 1 along it, and how much it lightens there, −1 to 1; less
// than 0 darkens.
type Stop struct{ At, Light float64 }

// finishes are how surfaces are told apart in a drawing: by sheens, which run over the whole piece
// as the light on it would, and by grains. Each lightens about as much as it darkens, so that the
// colour stays. Matte has none.
var finishes = map[string]Pattern{
	"satin": {Stops: []Stop{{0, 0}, {.3, .1}, {.5, .16}, {.7, .1}, {1, -.08}}, Width: 640, Height: 420},
	"gloss": {Stops: []Stop{{0, -.12}, {.44, -.06}, {.47, .42}, {.53, .42}, {.56, 0}, {.62, .16}, {.66, 0}, {1, -.12}}, Width: 560,
		Height: 360},
	"metallic": {Stops: []Stop{{0, -.3}, {.22, .05}, {.38, .42}, {.5, .1}, {.72, -.28}, {.86, .2}, {1, -.3}}, Width: 300, Height: 190},
	"shimmer": grain(26, []float64{4, 5, 1.6, .55, 17, 9, 1.1, .4, 10, 19, 1.8, .5, 22, 22, 1, .4, 13, 3, 1.2, -.18, 3, 14, 1.4, -.18, 20, 15,
		1.2, -.16}),
	"translucent": {Width: 16, Height: 16, Nodes: []Node{
		Shape{Path: Polygon(Point{13, 0}, Point{16, 0}, Point{3, 16}, Point{0, 16}), Style: Style{Fill: Ink, Class: "light"}},
		Shape{Path: Polygon(Point{0, 0}, Point{3, 0}, Point{16, 13}, Point{16, 16}), Style: Style{Fill: Ink, Class: "faint-dark"}}}},
	"fuzzy": hairs(),
}

// grain is a pattern of specks: across, down, radius and how much each lightens.
func grain(side float64, specks []float64) Pattern {
	p := Pattern{Width: side, Height: side}
	for i := 0; i+3 < len(specks); i += 4 {
		p.Nodes = append(p.Nodes, Shape{Path: Circle(Point{specks[i], specks[i+1]}, specks[i+2]),
			Style: Style{Fill: Ink, Class: speck(specks[i+3])}})
	}
	return p
}

// speck is the class of what lightens, or darkens, so much.
func speck(light float64) string {
	switch {
	case light > .3:
		return "bright"
	case light > 0:
		return "light"
	}
	return "dark"
}

// hairs are short fine lines this way and that.
func hairs() Pattern {
	p := Pattern{Width: 30, Height: 30}
	for i, at := range []Point{{3, 4}, {12, 2}, {21, 6}, {7, 13}, {17, 12}, {26, 14}, {3, 22}, {13, 23}, {22, 21}, {8, 28}, {27, 27}} {
		lean := Point{float64(i*7%11) - 5, 5 - float64(i*5%7)}
		class := "dark"
		if i%2 == 0 {
			class = "bright"
		}
		p.Nodes = append(p.Nodes, Shape{Path: Polygon(at, Point{at.X + lean.X, at.Y + lean.Y}, Point{at.X + lean.X + .9, at.Y + lean.Y + .9},
			Point{at.X + .9, at.Y + .9}),
			Style: Style{Fill: Ink, Class: class}})
	}
	return p
}

// finishOf is the texture of a surface, named after it; false for one that has none.
func finishOf(name string) (Pattern, bool) {
	p, known := finishes[name]
	p.ID = "finish-" + name
	return p, known
}
