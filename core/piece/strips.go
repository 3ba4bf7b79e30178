package piece

import "fmt"

var stripsTemplate = Template{"strips", "Strip gradient", Quilt, "upright strips side by side within a binding, for a run from dark to light",
	[]Setting{whole("strips", "strips", 3, 12, 5), mm("width", "strip width", 10, 400, 120), mm("length", "strip length", 50, 2500, 420), mm("binding", "binding", 2, 60, 10)}, plain(strips)}

func strips(v map[string]float64) Piece {
	n, w, l, b := int(v["strips"]), v["width"], v["length"], v["binding"]
	p := Piece{Width: float64(n)*w + 2*b, Height: l + 2*b}
	for i := range n {
		p.Parts = append(p.Parts, Part{fmt.Sprintf("strip%d", i+1), fmt.Sprintf("strip %d", i+1)})
		p.Regions = append(p.Regions, rect(i, b+float64(i)*w, b, w, l))
	}
	p.Parts = append(p.Parts, Part{"binding", "binding"})
	p.Regions = append(p.Regions,
		rect(n, 0, 0, p.Width, b), rect(n, 0, p.Height-b, p.Width, b),
		rect(n, 0, b, b, l), rect(n, p.Width-b, b, b, l))
	return p
}
