package piece

import "fmt"

var grannyTemplate = Template{"granny", "Granny rounds", Yarn, "squares worked from the middle out, a colour a round, joined with one more",
	[]Setting{whole("across", "squares across", 1, 12, 4), whole("down", "squares down", 1, 12, 5), whole("rounds", "rounds", 2, 7, 4), mm("round", "round width", 5, 60, 18), mm("joining", "joining", 2, 40, 9),
		choice("order", "squares", "all alike", "every second one inside out")}, plain(granny)}

func granny(v map[string]float64) Piece {
	across, down, rounds, w, j := int(v["across"]), int(v["down"]), int(v["rounds"]), v["round"], v["joining"]
	side := 2 * w * float64(rounds)
	p := Piece{Width: float64(across)*(side+j) + j, Height: float64(down)*(side+j) + j, Parts: []Part{{"round1", "middles"}}}
	for i := 1; i < rounds; i++ {
		p.Parts = append(p.Parts, Part{fmt.Sprintf("round%d", i+1), fmt.Sprintf("round %d", i+1)})
	}
	joining := len(p.Parts)
	p.Parts = append(p.Parts, Part{"joining", "joining"})
	for r := range down {
		y := float64(r) * (side + j)
		p.rect(joining, 0, y, p.Width, j)
		for c := range across {
			x := float64(c) * (side + j)
			p.rect(joining, x, y+j, j, side)
			for i := range rounds {
				part, in := i, w*float64(rounds-1-i)
				if v["order"] == 1 && (r+c)%2 == 1 {
					part = rounds - 1 - i
				}
				if i == 0 {
					p.rect(part, x+j+in, y+j+in, 2*w, 2*w)
				} else {
					p.frame(part, x+j+in, y+j+in, side-2*in, side-2*in, w)
				}
			}
		}
		p.rect(joining, p.Width-j, y+j, j, side)
	}
	p.rect(joining, 0, p.Height-j, p.Width, j)
	return p
}
