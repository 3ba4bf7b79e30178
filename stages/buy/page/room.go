// Package page is the pages of buying.
package page

import (
	"embed"
	"html/template"

	"github.com/gin-gonic/gin"

	stage "lampfern/stages/buy"
	"lampfern/web"
)

//go:embed *.html *.css *.js
var files embed.FS

type pages struct{ *web.Server }

func Room(s *web.Server) web.Room {
	p := pages{s}
	return web.Room{Stage: stage.Key, Dir: "stages/buy/page", Files: files,
		Pages: []web.StagePage{{Key: stage.Key, Piece: true, Show: p.buyStage}, {Key: "list", Name: "Shopping list", Show: p.listStage},
			{Key: "shop", Name: "At the shop", Show: p.shopStage}},
		Routes: func(r gin.IRoutes) {
			for _, format := range listFormats {
				r.GET("/plans/:id/list."+format, p.sendList(format))
			}
		},
		Funcs: template.FuncMap{"bolt": bolt, "lotsOf": lotsOf, "money": money, "unitOf": stage.UnitOf, "levelOf": levelOf, "each": each,
			"bought": bought, "supplierOr": supplierOr, "asksOf": asksOf, "asksOfAll": asksOfAll, "askOf": askOf, "noteIn": noteIn}}
}
