package plan

import "lampfern/core/balance"

// Whole is each piece of the set that is not left out, with how often it is made.
type Whole struct {
	Member
	Plan   *Plan // as if it were worked on
	Layout balance.Layout
}

// Set reads every piece of the plan that is not left out and has a pattern.
func (k *Desk) Set(p *Plan) ([]Whole, error) {
	var out []Whole
	for _, m := range p.Members() {
		if m.Out {
			continue
		}
		of, err := k.As(p, m)
		if err != nil {
			return nil, err
		}
		if of.Piece != nil {
			out = append(out, Whole{m, of, of.Layout()})
		}
	}
	return out, nil
}

// SharesOverSet gives the tray's cards the shares and roles that they have over all pieces of a set of
// several, and returns these pieces.
func (k *Desk) SharesOverSet(p *Plan) ([]Whole, error) {
	pieces, err := k.Set(p)
	if err == nil {
		p.ShareOver(pieces)
	}
	return pieces, err
}

// ShareOver gives the tray's cards the shares and roles that they have over pieces of a set of several.
func (p *Plan) ShareOver(pieces []Whole) {
	if len(pieces) == 0 || len(p.Pieces) < 2 {
		return
	}
	thin := make([]bool, len(p.Tray))
	for i := range thin {
		thin[i] = true
	}
	var fill [][]int
	for _, w := range pieces {
		of := w.Plan.Fill()
		fill = append(fill, of)
		for part, at := range of {
			if at >= 0 {
				thin[at] = thin[at] && w.Plan.Piece.Thin[part]
			}
		}
	}
	l := Over(pieces, fill, len(p.Tray))
	for i, r := range balance.Roles(l, p.Labs(), thin) {
		p.Tray[i].Role, p.Tray[i].Share = r, l.Share[i]
	}
}

// Over is the layout of cards over all pieces, as often as they are made: areas and edges add up,
// and nothing touches from one piece to another. fill holds for each piece the card of each part.
func Over(pieces []Whole, fill [][]int, cards int) balance.Layout {
	out := EmptyLayout(cards)
	for k, w := range pieces {
		pc := w.Plan.Piece
		of, times := pc.Layout().Merge(fill[k], cards), float64(w.Made())
		for i := range of.Share {
			out.Share[i] += of.Share[i] * of.Area * times
			for j, b := range of.Border[i] {
				out.Border[i][j] += b * times
			}
		}
		out.Area += of.Area * times
	}
	for i := range out.Share {
		if out.Area > 0 {
			out.Share[i] /= out.Area
		}
	}
	return out
}
