// Package page is the pages of the deck.
package page

import (
	"embed"
	"html/template"

	"github.com/gin-gonic/gin"

	stage "lampfern/stages/cards"
	"lampfern/web"
)

//go:embed *.html *.js *.css
var files embed.FS

type pages struct{ *web.Server }

func Room(s *web.Server) web.Room {
	p := pages{s}
	return web.Room{Stage: stage.Key, Dir: "stages/cards/page", Files: files,
		Pages: []web.StagePage{{Key: stage.Key, Piece: true, Show: p.cardsStage}},
		Routes: func(r gin.IRoutes) {
			r.GET("/plans/:id/deck.json", p.deckJSON)
			for _, format := range web.SheetFormats {
				r.GET("/plans/:id/print."+format, p.printAs(format))
			}
			for _, format := range append([]string{"html"}, web.StripFormats...) {
				r.GET("/plans/:id/palette."+format, p.sharePalette(format))
			}
		},
		Funcs: template.FuncMap{"kept": stage.Of, "tryCard": tryCard}}
}
