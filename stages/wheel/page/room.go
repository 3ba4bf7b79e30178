// Package page is the pages of the wheel.
package page

import (
	"embed"
	"html/template"

	"github.com/gin-gonic/gin"

	"lampfern/plan"
	stage "lampfern/stages/wheel"
	"lampfern/web"
)

//go:embed *.html *.js *.css
var files embed.FS

type pages struct{ *web.Server }

func Room(s *web.Server) web.Room {
	p := pages{s}
	return web.Room{Stage: stage.Key, Dir: "stages/wheel/page", Files: files,
		Ribbon: []web.RibbonTab{{Key: "palettes", Name: "Palettes", Order: 2, Wide: "combinations", Nothing: "None saved yet. Save a scheme’s cards, or the tray, on the wheel.",
			Count: func(p *plan.Plan) int { return len(stage.Of(p).Combinations) }, Fill: palettes}},
		Pages: []web.StagePage{{Key: stage.Key, Piece: true, Show: wheelStage}, {Key: "nudge", Name: "Nudge", Show: p.nudgeStage},
			{Key: "combinations", Name: "Saved palettes", Show: p.triedStage}},
		Routes: func(r gin.IRoutes) { r.GET("/plans/:id/combinations.pdf", p.triedPDF) },
		Funcs:  template.FuncMap{"kept": stage.Of, "placeOf": placeOf, "replaceBy": web.ReplaceBy, "told": plan.Told, "press": plan.Press, "leaves": freeLeaves}}
}
