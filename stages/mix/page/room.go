// Package page is the pages of mixing.
package page

import (
	"embed"
	"html/template"

	"github.com/gin-gonic/gin"

	stage "lampfern/stages/mix"
	"lampfern/web"
)

//go:embed *.html *.css *.js
var files embed.FS

type pages struct{ *web.Server }

func Room(s *web.Server) web.Room {
	p := pages{s}
	return web.Room{Stage: stage.Key, Dir: "stages/mix/page", Files: files,
		Pages: []web.StagePage{{Key: stage.Key, Piece: true, Show: p.mixStage}, {Key: "charts", Name: "Mixing charts", Show: p.chartsStage},
			{Key: "records", Name: "Mix records", Show: p.recordsStage}},
		Routes: func(r gin.IRoutes) {
			r.POST("/plans/:id/mix-read", p.readOne)
			for _, format := range web.SheetFormats {
				r.GET("/plans/:id/charts."+format, p.chartSheets(format))
				r.GET("/plans/:id/mix-list."+format, p.carrySheets(format))
			}
		},
		Funcs: template.FuncMap{"apart": stage.ApartWords}}
}
