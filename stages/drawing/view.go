package drawing

import (
	"lampfern/core/colour"
	"lampfern/core/craft/other"
	"lampfern/core/words"
	"lampfern/plan"
)

// DrawingView is a drawing as it is edited.
type DrawingView struct {
	other.Drawing
	Seen []bool        // of each part, whether any of it can be seen
	Labs []*colour.Lab // of each part, nil without a card
}

// Drawn is the plan's own drawing.
func Drawn(p *plan.Plan) (*DrawingView, error) {
	if p.Piece == nil || p.Pattern != "drawn" {
		return nil, words.Refuse("Choose your own drawing on Proportion first. Its outlines appear here.")
	}
	in := plan.Input[other.Drawn](p)
	v := &DrawingView{Drawing: *drawing(&in)}
	for i, at := range p.Fill() {
		v.Seen = append(v.Seen, p.Piece.Shares[i] > 0)
		if at < 0 {
			v.Labs = append(v.Labs, nil)
			continue
		}
		v.Labs = append(v.Labs, &p.Tray[at].Colour)
	}
	return v, nil
}
