package plan

import (
	"fmt"

	"lampfern/core/colour"
	"lampfern/core/weave"
)

// LooseThread is the colour of a thread that has no card yet.
var LooseThread = colour.Lab{L: 74}

// YarnView is one yarn of a cloth or chart: its letter and its card, if it has
// one.
type YarnView struct {
	Yarn   int
	Letter string
	Card   *TrayCard
	Count  int // of its threads, or stitches of one repeat
	Share  float64
}

// Yarns are the piece's yarns with their cards; their order is that of letters.
func (p *Plan) Yarns() []YarnView {
	var out []YarnView
	fill := p.Fill()
	for i, part := range p.Piece.Parts {
		y := 0
		if _, err := fmt.Sscanf(part.Key, "yarn%d", &y); err != nil {
			continue
		}
		v := YarnView{Yarn: y - 1, Letter: weave.Letter(y - 1), Share: p.Piece.Shares[i]}
		if fill[i] >= 0 {
			v.Card = &p.Tray[fill[i]]
		}
		out = append(out, v)
	}
	return out
}
