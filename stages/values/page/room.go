// Package page is the pages of the run of values.
package page

import (
	"embed"
	"html/template"

	"github.com/gin-gonic/gin"

	stage "lampfern/stages/values"
	"lampfern/web"
)

//go:embed *.html *.js *.css
var files embed.FS

type pages struct{ *web.Server }

func Room(s *web.Server) web.Room {
	p := pages{s}
	return web.Room{Stage: stage.Key, Dir: "stages/values/page", Files: files,
		Pages: []web.StagePage{{Key: stage.Key, Piece: true, Grey: true, Show: valuesStage}, {Key: "ramp", Piece: true, Name: "Ramps", Show: p.rampStage},
			{Key: "squint", Name: "Squint", Show: squintStage}},
		Routes: func(r gin.IRoutes) {
			r.GET("/plans/:id/chits.pdf", p.chitsPDF)
			for _, format := range web.StripFormats {
				r.GET("/plans/:id/run."+format, p.saveStrip(format))
			}
		},
		Funcs: template.FuncMap{"kept": stage.Of, "rampSide": rampSide, "tints": tints, "noteIn": noteIn}}
}
