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
	p.Sub = "Colours torn from photos or pasted, with your own names and the nearest cards on the shelf"
	p.Body = stage.ScrapPage(p.Plan)
	return nil
}
