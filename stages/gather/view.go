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
