package piece

import "fmt"

var soapTemplate = Template{"soap", "Soap loaf", Soap, "the cut face of a loaf: layers poured in sevenths of the batch, with drops in the top one",
	[]Setting{mm("width", "width", 30, 200, 75), mm("height", "height", 30, 200, 95),
		choice("pours", "pours, in sevenths", "2, 3 and 2", "4, 2 and 1", "1, 2 and 4", "3, 1 and 3", "3 and 4", "2, 1, 1 and 3", "seven of 1"), whole("drops", "drops", 1, 9, 4)}, plain(soap)}

var pours = [][]float64{{2, 3, 2}, {4, 2, 1}, {1, 2, 4}, {3, 1, 3}, {3, 4}, {2, 1, 1, 3}, {1, 1, 1, 1, 1, 1, 1}}

func soap(v map[string]float64) Piece {
	p := Piece{Width: v["width"], Height: v["height"]}
	layers := pours[int(v["pours"])]
	drops := len(layers)
	y := p.Height // the first pour lies at the foot
	for i, sevenths := range layers {
		p.Parts = append(p.Parts, Part{fmt.Sprintf("pour%d", i+1), fmt.Sprintf("pour %d", i+1)})
		high := p.Height * sevenths / 7
		y -= high
		if i < len(layers)-1 {
			p.rect(i, 0, y, p.Width, high)
			continue
		}
		each := p.Width / v["drops"]
		for k := range int(v["drops"]) {
			x := each * float64(k)
			p.disc(drops, i, x, y, each, high, Point{x + each/2, y + high/2}, .3*min(each, high))
		}
	}
	p.Parts = append(p.Parts, Part{"drops", "drops"})
	return p
}
