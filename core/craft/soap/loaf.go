package soap

import (
	"fmt"

	"lampfern/core/piece"
)

var loafPattern = piece.Pattern{Key: "soap", Name: "Soap loaf",
	Words: "the cut face of a loaf: layers poured in sevenths of the batch, with drops in the top one",
	Settings: []piece.Setting{piece.MM("width", "width", 30, 200, 75), piece.MM("height", "height", 30, 200, 95),
		piece.Choice("pours", "pours, in sevenths", "2, 3 and 2", "4, 2 and 1", "1, 2 and 4", "3, 1 and 3", "3 and 4", "2, 1, 1 and 3",
			"seven of 1"), piece.Whole("drops", "drops", 1, 9, 4)},
	Make: piece.Plain(loaf)}

var sevenths = [][]float64{{2, 3, 2}, {4, 2, 1}, {1, 2, 4}, {3, 1, 3}, {3, 4}, {2, 1, 1, 3}, {1, 1, 1, 1, 1, 1, 1}}

func loaf(v piece.Values) piece.Piece {
	p := piece.Piece{Width: v["width"], Height: v["height"]}
	layers := sevenths[int(v["pours"])]
	drops := len(layers)
	y := p.Height // the first pour lies at the foot
	for i, sevenths := range layers {
		p.Parts = append(p.Parts, piece.Named(fmt.Sprintf("pour%d", i+1), fmt.Sprintf("pour %d", i+1)))
		high := p.Height * sevenths / 7
		y -= high
		if i < len(layers)-1 {
			p.Rect(i, 0, y, p.Width, high)
			continue
		}
		each := p.Width / v["drops"]
		for k := range int(v["drops"]) {
			x := each * float64(k)
			p.Disc(drops, i, x, y, each, high, piece.At(x+each/2, y+high/2), .3*min(each, high))
		}
	}
	p.Parts = append(p.Parts, piece.Named("drops", "drops"))
	return p
}
