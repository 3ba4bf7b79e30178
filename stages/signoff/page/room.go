// Package page is the pages of the sign-off: the maker's, and the client's, which stands
// alone.
package page

import (
	"embed"
	"time"

	"github.com/gin-gonic/gin"

	"lampfern/door"
	stage "lampfern/stages/signoff"
	"lampfern/web"
)

// The client's page has a sheet and a script of its own, which go into no other page.
//
//go:embed *.html *.css agree.style answer.script
var files embed.FS

type pages struct {
	*web.Server
	guesses *door.Slow // of links
}

func Room(s *web.Server) web.Room {
	p := pages{s, door.NewSlow(time.Now)}
	return web.Room{Stage: stage.Key, Dir: "stages/signoff/page", Files: files, Pages: []web.StagePage{{Key: stage.Key, Show: p.signoff}},
		Routes: func(r gin.IRoutes) {
			r.GET("/agree/:token", p.agree)
			r.POST("/agree/:token", p.answer)
			r.GET("/agree/:token/piece.svg", p.agreePiece)
			r.GET("/agree/:token/style.css", p.agreeStyle)
			for _, format := range []string{"pdf", "svg", "png"} {
				r.GET("/plans/:id/sheet."+format, p.paper(format))
			}
			r.GET("/plans/:id/sheet.html", p.file)
			r.POST("/plans/:id/mail", p.mail)
		}}
}
