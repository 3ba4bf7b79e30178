package page

import (
	"context"
	"fmt"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/craft"
	"lampfern/plan"
	stage "lampfern/stages/proportion"
	"lampfern/web"
)

// How many small pieces a tab shows, and how long it may look for arrangements.
const (
	ribbonShown  = 5
	ribbonWithin = 40 * time.Millisecond
)

// fars are the distances in metres from which the ribbon shows the piece.
var fars = []float64{2, 5, 12, 30}

func (s pages) ribbon() []web.RibbonTab {
	return []web.RibbonTab{
		{Key: "arrangements", Name: "Arrangements", Order: 1, Wide: "ways", Nothing: "Add at least two cards to see arrangements.", Fill: s.arrangements},
		{Key: "colourways", Name: "Colourways", Order: 3, Wide: "ways#colourways", Nothing: "None yet. Save an arrangement to keep it here.",
			Count: func(p *plan.Plan) int { return len(p.ColourwayViews()) }, Fill: s.keptColourways},
		{Key: "part", Name: "One part", Order: 5, Wide: "bringout", Nothing: "Colour two parts first, then try cards on a third.", Fill: s.onePart},
		{Key: "yarn", Name: "Second yarn", Order: 6, Wide: "second", Nothing: "Add the first yarn on Gather.", Here: threaded, Fill: secondYarns},
		{Key: "afar", Name: "From afar", Order: 7, Here: flat, Fill: afar},
	}
}

func threaded(p *plan.Plan) bool {
	of, _ := craft.Named(p.Craft)
	return of.Together != nil
}

// flat reports whether the piece is no solid: what is seen of one from afar is its sides side by side.
func flat(p *plan.Plan) bool { return p.Piece != nil && p.Piece.Box == [3]float64{} }

// arrangements are the piece as it is and the best ways round that differ from it.
func (s pages) arrangements(c *gin.Context, p *web.Page) ([]web.RibbonPiece, error) {
	key := fmt.Sprintf("proportion ribbon %d %d %s", p.Plan.ID, p.Plan.Revision, p.Plan.Shelf.Key())
	found, err := plan.Recall(s.Desk, key, func() (stage.WaysView, error) {
		ctx, cancel := context.WithTimeout(c.Request.Context(), ribbonWithin)
		defer cancel()
		return stage.Ways(ctx, s.Desk, p.Plan, stage.WaysAsked{Much: true})
	})
	if problem, err := web.Problem(err); err != nil || problem != "" {
		return nil, err
	}
	out := []web.RibbonPiece{{Labs: stage.PartColours(p.Plan), Words: "As it is now", Now: true}}
	for _, w := range found.Ways {
		if w.Now || len(out) == ribbonShown {
			continue
		}
		fills := fillsOut(w.Fills)
		said, _, _ := strings.Cut(w.Words, ",")
		out = append(out, web.RibbonPiece{Labs: w.Labs, Words: said, Use: "do=way&fills=" + fills, Save: "do=keep-colourway&fills=" + fills})
	}
	return out, nil
}

func (s pages) keptColourways(_ *gin.Context, p *web.Page) (out []web.RibbonPiece, err error) {
	for _, k := range p.Plan.ColourwayViews() {
		one := web.RibbonPiece{Labs: k.Labs, Words: k.Name, Now: k.Now}
		if !k.Now {
			one.Use = fmt.Sprintf("do=take-colourway&key=%d", k.Key)
		}
		out = append(out, one)
	}
	return out, nil
}

// onePart tries other cards on one part: the first that is chosen last, or the first that is seen.
func (s pages) onePart(_ *gin.Context, p *web.Page) (out []web.RibbonPiece, err error) {
	part := ""
	if len(p.Plan.Last) > 0 {
		part = p.Plan.Last[0]
	}
	v, err := stage.BringOut(s.Desk, p.Plan, part)
	if problem, err := web.Problem(err); err != nil || problem != "" {
		return nil, err
	}
	for _, c := range v.Cards[:min(len(v.Cards), ribbonShown)] {
		one := web.RibbonPiece{Labs: c.Labs, Words: fmt.Sprintf("%s on the %s", c.Name, v.Name), Now: c.Now}
		if !c.Now {
			one.Use = fmt.Sprintf("do=take-out&part=%s&material=%d", v.Part, c.ID)
		}
		out = append(out, one)
	}
	return out, nil
}

// secondYarns are the first candidates of each school beside the first yarn, with the face of both.
func secondYarns(_ *gin.Context, p *web.Page) (out []web.RibbonPiece, err error) {
	v, err := stage.Seconds(p.Plan, 0, "")
	if problem, err := web.Problem(err); err != nil || problem != "" {
		return nil, err
	}
	for _, school := range v.Schools {
		for _, f := range school.Found[:min(len(school.Found), 2)] {
			one := web.RibbonPiece{Bands: []colour.Lab{v.First.Colour, f.Face, f.Colour}, Words: fmt.Sprintf("%s with %s", v.First.Name, f.Name)}
			if !f.InTray {
				one.Use = fmt.Sprintf("do=pull&material=%d", f.ID)
			}
			out = append(out, one)
		}
	}
	return out, nil
}

// afar shows the piece from some distances.
func afar(_ *gin.Context, p *web.Page) (out []web.RibbonPiece, err error) {
	for _, far := range fars {
		out = append(out, web.RibbonPiece{Image: fmt.Sprintf("/plans/%d/across.png?far=%g&revision=%d&look=%s", p.Plan.ID, far, p.Plan.Revision, p.View.Cookie()),
			Words: fmt.Sprintf("From %g m", far), Look: fmt.Sprintf("/plans/%d/proportion?far=%g&ribbon=afar", p.Plan.ID, far)})
	}
	return out, nil
}
