package plan

import (
	"fmt"

	"lampfern/core/colour"
	"lampfern/core/piece"
	"lampfern/core/weave"
)

// ClothOrders are the orders of a plan's cloth, its own or the usual ones.
func ClothOrders(own piece.Own) (warp, weft []weave.Stripe) {
	warp, weft = piece.UsualCloth()
	if own.Warp != nil {
		warp = own.Warp
	}
	if own.Weft != nil {
		weft = own.Weft
	}
	return warp, weft
}

// Chart is the plan's chart, its own or the usual one.
func Chart(own piece.Own) piece.Chart {
	if own.Chart == nil {
		return piece.UsualChart()
	}
	return own.Chart
}

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

// Threads are the settings of the plan's cloth, its draft, and the yarn of every
// end and pick.
func (p *Plan) Threads() (set map[string]float64, d weave.Draft, warp, weft []int16, err error) {
	t, err := piece.Find("cloth")
	if err == nil {
		set, err = t.Values(p.Settings)
	}
	if err == nil {
		d, warp, weft, err = piece.ClothDraft(set, p.Own())
	}
	return set, d, warp, weft, err
}
