package plan

import (
	"slices"

	"lampfern/core/balance"
	"lampfern/shelf"
)

// Competing is a pair of the tray that fights for the eye, and the least change
// of the lesser card that stops it.
type Competing struct {
	Lesser, Other TrayCard
	balance.Remedy
	Near []shelf.Near // on the shelf, nearest to the remedy, that do not compete either
}

// Competing lists the pairs of the tray that compete. The lesser is the one
// with less room, else the less bold.
func (p *Plan) Competing() []Competing {
	const nearShown, looked = 3, 24
	var out []Competing
	bold := balance.Boldness(p.Labs())
	for i, a := range p.Tray {
		for j := i + 1; j < len(p.Tray); j++ {
			b := p.Tray[j]
			if !balance.Compete(a.Colour, b.Colour, a.Share, b.Share) {
				continue
			}
			c := Competing{Lesser: a, Other: b}
			if a.Share > b.Share || a.Share == b.Share && bold[i] > bold[j] {
				c.Lesser, c.Other = b, a
			}
			if !c.Lesser.Movable() { // it stays, so the other gives way
				c.Lesser, c.Other = c.Other, c.Lesser
			}
			if !c.Lesser.Movable() {
				continue
			}
			remedies := balance.Soften(c.Lesser.Colour, c.Other.Colour)
			if len(remedies) == 0 {
				continue
			}
			c.Remedy = remedies[0]
			for _, n := range p.Offers().Nearest(c.Remedy.Colour, looked, c.Lesser.ID) {
				if len(c.Near) < nearShown && !balance.Compete(n.Card.Colour, c.Other.Colour, 0, 0) && !p.Holds(n.ID) {
					c.Near = append(c.Near, n)
				}
			}
			out = append(out, c)
		}
	}
	return out
}

// Holds reports whether a material lies in the tray.
func (p *Plan) Holds(material uint) bool {
	return slices.ContainsFunc(p.Tray, func(t TrayCard) bool { return t.ID == material && material != 0 })
}
