package plan

import (
	"maps"
	"slices"

	"lampfern/core/colour"
)

// MaxColourways is the most colourways a plan keeps; a sheet shows twelve.
const MaxColourways = 12

// ColourwayView is a colourway as its piece shows it.
type ColourwayView struct {
	Colourway
	Fill []int         // for each part the index of its card in the tray, −1 where none is left for it
	Labs []*colour.Lab // of each part, nil where no card is left for it
	Now  bool
}

// ColourwayViews lists the plan's colourways, the favourite first.
func (p *Plan) ColourwayViews() []ColourwayView {
	if p.Piece == nil {
		return nil
	}
	now := map[string]int{}
	for _, f := range p.Fills {
		now[f.Part] = f.EntryKey
	}
	var out []ColourwayView
	for _, c := range p.Colourways {
		v := ColourwayView{Colourway: c, Now: maps.Equal(now, c.Fills)}
		for _, part := range p.Piece.Parts {
			at := slices.IndexFunc(p.Tray, func(t TrayCard) bool { return t.Key == c.Fills[part.Key] })
			v.Fill = append(v.Fill, at)
			if at < 0 {
				v.Labs = append(v.Labs, nil)
				continue
			}
			v.Labs = append(v.Labs, &p.Tray[at].Colour)
		}
		out = append(out, v)
	}
	slices.SortStableFunc(out, func(a, b ColourwayView) int {
		switch {
		case a.Favourite && !b.Favourite:
			return -1
		case b.Favourite && !a.Favourite:
			return 1
		}
		return 0
	})
	return out
}

// Colourway is one way of colouring the plan's piece, kept beside others.
type Colourway struct {
	Key       int            `json:"key"`
	Name      string         `json:"name"` // customer, age or season
	Remark    string         `json:"remark"`
	Favourite bool           `json:"favourite"`
	Fills     map[string]int `json:"fills"` // part to the key of its card
}
