package page

import (
	"html/template"
	"net/http"

	"github.com/gin-gonic/gin"

	"lampfern/shelf"
	stage "lampfern/stages/gather"
	"lampfern/web"
)

func (s pages) gatherStage(c *gin.Context, p *web.Page) error {
	b := s.Finder(c, p.Plan.Shelf, p.Path)
	b.InTray = map[uint]bool{}
	for _, t := range p.Plan.Tray {
		b.InTray[t.ID] = true
	}
	p.Sub = "Pull cards from the shelf into the tray, or make one the lead colour"
	if q := c.Request.URL.RawQuery; q != "" && c.Request.Method == http.MethodGet {
		p.Path += "?" + q
	}
	p.Body = b
	return nil
}

func scrapCrop(v stage.ScrapView) template.CSS {
	return web.Crop(*v.Photo, shelf.Box{X: v.X, Y: v.Y, W: v.W, H: v.H})
}
