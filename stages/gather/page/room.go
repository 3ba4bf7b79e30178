// Package page is the pages of gathering.
package page

import (
	"embed"
	"html/template"

	"github.com/gin-gonic/gin"

	stage "lampfern/stages/gather"
	"lampfern/web"
)

//go:embed *.html *.css
var files embed.FS

type pages struct{ *web.Server }

func Room(s *web.Server) web.Room {
	p := pages{s}
	return web.Room{Stage: stage.Key, Dir: "stages/gather/page", Files: files,
		Pages: []web.StagePage{{Key: stage.Key, Piece: true, Show: p.gatherStage}, {Key: "scraps", Piece: true, Name: "Scrap page", Show: scrapsStage}},
		Funcs: template.FuncMap{"scrapCrop": scrapCrop, "pullLayered": web.PullLayered}}
}

func scrapsStage(_ *gin.Context, p *web.Page) error {
	p.Sub = "Colours from photos or pasted in, with the nearest cards you own"
	p.Body = stage.ScrapPage(p.Plan)
	return nil
}
