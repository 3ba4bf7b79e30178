// Package page is the pages of the maker's own drawing.
package page

import (
	"embed"
	"html/template"
	"slices"

	"github.com/gin-gonic/gin"

	stage "lampfern/stages/drawing"
	"lampfern/web"
)

//go:embed *.html *.js *.css
var files embed.FS

type pages struct{ *web.Server }

func Room(s *web.Server) web.Room {
	p := pages{s}
	return web.Room{Stage: "proportion", Dir: "stages/drawing/page", Files: files,
		Pages:  []web.StagePage{{Key: stage.Key, Name: "Drawing", Show: drawingStage}},
		Routes: func(r gin.IRoutes) { r.GET("/plans/:id/under/:at/:kind", p.underPicture) },
		Funcs: template.FuncMap{"reverse": func(all []outlineRow) []outlineRow {
			out := slices.Clone(all)
			slices.Reverse(out)
			return out
		}}}
}
