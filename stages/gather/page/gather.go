package page

import (
	"html/template"
	"net/http"

	"github.com/gin-gonic/gin"

	"lampfern/plan"
	"lampfern/shelf"
	stage "lampfern/stages/gather"
	"lampfern/web"
)

func (s pages) gatherStage(c *gin.Context, p *web.Page) error {
	b := s.Finder(c, p.Plan.Offers().Shelf(), p.Path)
	b.InTray = map[uint]bool{}
	for _, t := range p.Plan.Tray {
		b.InTray[t.ID] = true
	}
	if q := c.Request.URL.RawQuery; q != "" && c.Request.Method == http.MethodGet {
		p.Path += "?" + q
	}
	trays, err := s.Desk.Trays(c.Request.Context())
	if err != nil {
		return err
	}
	p.Body = gatherBody{Finder: b, Aside: stage.SetAside(p.Plan), Left: p.Plan.Leftovers(trays, leftShown)}
	return nil
}

type gatherBody struct {
	web.Finder
	Aside []stage.AsideCard
	Left  []plan.LeftCard // of other plans
}

// leftShown is the most cards of other plans that are offered.
const leftShown = 6

func scrapCrop(v stage.ScrapView) template.CSS {
	return web.Crop(*v.Photo, shelf.Box{X: v.X, Y: v.Y, W: v.W, H: v.H})
}
