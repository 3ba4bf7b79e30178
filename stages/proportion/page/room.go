// Package page is the pages of the piece.
package page

import (
	"embed"
	"html/template"

	"github.com/gin-gonic/gin"

	stage "lampfern/stages/proportion"
	"lampfern/web"
)

//go:embed *.html _*.html *.js *.css
var files embed.FS

type pages struct{ *web.Server }

func Room(s *web.Server) web.Room {
	p := pages{s}
	return web.Room{Stage: stage.Key, Dir: "stages/proportion/page", Files: files,
		Pages: []web.StagePage{
			{Key: stage.Key, Show: p.proportionStage}, {Key: "pieces", Name: "Pieces", Show: p.piecesStage},
			{Key: "ways", Name: "Arrangements and colourways", Show: p.waysStage},
			{Key: "worktable", Name: "Making sheet", Show: p.worktableStage}, {Key: "second", Name: "Second yarn", Show: secondStage},
			{Key: "bringout", Name: "One part in every card", Show: p.bringOut}, {Key: "bars", Name: "Bar to bar", Show: p.bars},
		},
		Ribbon: p.ribbon(),
		Routes: func(r gin.IRoutes) {
			r.GET("/plans/:id/piece.svg", p.pieceSVG)
			r.GET("/plans/:id/set.svg", p.setSVG)
			r.GET("/plans/:id/across.png", p.across)
			for _, format := range web.SheetFormats {
				r.GET("/plans/:id/colourways."+format, p.colourways(format))
				r.GET("/plans/:id/worktable."+format, p.worktable(format))
			}
		},
		Funcs: template.FuncMap{"kept": stage.Of, "setof": setOf}}
}
