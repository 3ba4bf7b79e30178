package gather

import (
	"lampfern/core/colour"
	"lampfern/plan"
	"lampfern/shelf"
)

// ScrapView is a scrap with the materials nearest to it.
type ScrapView struct {
	plan.Scrap
	Colour colour.Lab
	Near   []shelf.NearLayer
}

// ScrapPage lists a plan's scraps with three nearest materials each.
func ScrapPage(p *plan.Plan) []ScrapView {
	var out []ScrapView
	for _, sc := range p.Scraps {
		v := ScrapView{Scrap: sc, Colour: colour.Lab{L: sc.L, A: sc.A, B: sc.B}}
		v.Near = p.Offers().NearestInLayers(v.Colour, shelf.NearestShown)
		out = append(out, v)
	}
	return out
}

// AsideCard is a card that was set aside, and why.
type AsideCard struct {
	*shelf.Card
	Reason string
}

// SetAside lists what was set aside in a plan and is still on the shelf, the newest first.
func SetAside(p *plan.Plan) (out []AsideCard) {
	for _, a := range p.Aside {
		if c, err := p.Shelf.Card(a.MaterialID); err == nil && !c.Removed && !p.Holds(c.ID) {
			out = append(out, AsideCard{c, a.Reason})
		}
	}
	return out
}
