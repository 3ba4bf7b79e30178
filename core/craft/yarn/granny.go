package yarn

import (
	"fmt"

	"lampfern/core/piece"
)

var grannyPattern = piece.Pattern{Key: "granny", Name: "Granny rounds",
	Words: "squares worked from the middle out, one colour per round, joined with another",
	Settings: []piece.Setting{piece.Whole("across", "squares across", 1, 12, 4), piece.Whole("down", "squares down", 1, 12, 5),
		piece.Whole("rounds", "rounds", 2, 7, 4), piece.MM("round", "round width", 5, 60, 18), piece.MM("joining", "joining", 2, 40, 9),
		piece.Choice("order", "squares", "all alike", "every second one inside out")},
	Make: piece.Plain(granny)}

func granny(v piece.Values) piece.Piece {
	across, down, rounds, w, j := int(v["across"]), int(v["down"]), int(v["rounds"]), v["round"], v["joining"]
	side := 2 * w * float64(rounds)
	p := piece.Piece{Width: float64(across)*(side+j) + j, Height: float64(down)*(side+j) + j, Parts: piece.Parts("round1", "middles"),
		Stitch: piece.At(usualStitch, usualRow)}
	for i := 1; i < rounds; i++ {
		p.Parts = append(p.Parts, piece.Named(fmt.Sprintf("round%d", i+1), fmt.Sprintf("round %d", i+1)))
	}
	joining := len(p.Parts)
	p.Parts = append(p.Parts, piece.Named("joining", "joining"))
	for r := range down {
		y := float64(r) * (side + j)
		p.Rect(joining, 0, y, p.Width, j)
		for c := range across {
			x := float64(c) * (side + j)
			p.Rect(joining, x, y+j, j, side)
			for i := range rounds {
				part, in := i, w*float64(rounds-1-i)
				if v["order"] == 1 && (r+c)%2 == 1 {
					part = rounds - 1 - i
				}
				if i == 0 {
					p.Rect(part, x+j+in, y+j+in, 2*w, 2*w)
				} else {
					p.Frame(part, x+j+in, y+j+in, side-2*in, side-2*in, w)
				}
			}
		}
		p.Rect(joining, p.Width-j, y+j, j, side)
	}
	p.Rect(joining, 0, p.Height-j, p.Width, j)
	return p
}
