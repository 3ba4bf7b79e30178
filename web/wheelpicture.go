package web

import (
	"fmt"
	"slices"

	"github.com/gin-gonic/gin"

	"lampfern/core/brief"
	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/shelf"
)

// wheelKey names the fronds as a page shows them.
func wheelKey(p *Page, l brief.Limits) string {
	lead := uint(0)
	if p.Plan.Lead != nil {
		lead = p.Plan.Lead.ID
	}
	return fmt.Sprintf("%s.%s.%s.%d.%v", p.Plan.Offers().Shelf().Key(), p.View.Cookie(), p.Plan.OnWheel().Key, lead, l)
}

// PlanWheel hands a plan's wheel to draw, without a light; fronds that the asking
// page shows already are left out.
func PlanWheel(c *gin.Context, p *Page, fronds [wheel.Places]shelf.Frond) draw.WheelPicture {
	limits := p.Plan.Limits()
	key := wheelKey(p, limits)
	var w draw.WheelPicture
	if Has(c, key) {
		w = draw.WheelPicture{Light: p.View.Light, Same: true}
	} else {
		w = WheelPicture(p.View.Light, fronds, p.Plan.Lead, limits)
	}
	w.Key = key
	if lead := p.Plan.Lead; lead != nil {
		w.Lead, w.LeadName = &lead.Colour, lead.Name
	}
	return w
}

// WheelPicture hangs fronds for draw; lead is nil where no colour leads.
func WheelPicture(light draw.Light, fronds [wheel.Places]shelf.Frond, lead *shelf.Card, limits brief.Limits) draw.WheelPicture {
	w := draw.WheelPicture{Light: light, LeadFrond: -1, LeadLeaf: -1}
	for i, f := range fronds {
		wf := draw.WheelFrond{Name: f.Name}
		for j, l := range f.Leaflets {
			leaf := leaflet(f.Name, l, limits)
			for _, cd := range l.Cards {
				if lead != nil && lead.ID != 0 && cd.ID == lead.ID {
					leaf.Owned, leaf.Title = &cd.Colour, leafTitle(cd, len(l.Cards))
					w.LeadFrond, w.LeadLeaf = i, j
				}
			}
			wf.Leaflets = append(wf.Leaflets, leaf)
		}
		w.Fronds = append(w.Fronds, wf)
	}
	return w
}

// leaflet shows a material within the brief where there is one, any other else,
// and the colour wanted where there is none.
func leaflet(frond string, l shelf.Leaflet, limits brief.Limits) draw.WheelLeaflet {
	side := "muted"
	if l.Clear {
		side = "clear"
	}
	leaf := draw.WheelLeaflet{Ideal: l.Ideal, Title: fmt.Sprintf("%s, %s, %s: nothing on the shelf", words.Capital(frond),
		shelf.StepNames[l.Step], side)}
	asks := limits.Ask()
	why := ""
	if asks {
		why = limits.OutsideAs(l.Ideal, l.Clearness, l.Family)
	}
	if len(l.Cards) > 0 {
		shown := l.Cards[0]
		if asks {
			within := slices.IndexFunc(l.Cards, func(cd *shelf.Card) bool { return limits.OutsideAs(cd.Colour, cd.Clearness, cd.Family) == "" })
			if within >= 0 {
				shown = l.Cards[within]
			}
			why = limits.OutsideAs(shown.Colour, shown.Clearness, shown.Family)
		}
		leaf.Owned, leaf.Title = &shown.Colour, leafTitle(shown, len(l.Cards))
	}
	if why != "" {
		leaf.Shaded = true
		leaf.Title += " (outside the brief: " + why + ")"
	}
	return leaf
}

func leafTitle(c *shelf.Card, all int) string {
	if all > 1 {
		return fmt.Sprintf("%s and %d more", c.Name, all-1)
	}
	return c.Name
}
