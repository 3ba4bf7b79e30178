// Package page is the pages of the threads and the draft of a cloth.
package page

import (
	"embed"

	"github.com/gin-gonic/gin"

	stage "lampfern/stages/draft"
	"lampfern/web"
)

//go:embed *.html *.js *.css
var files embed.FS

type pages struct{ *web.Server }

func Room(s *web.Server) web.Room {
	p := pages{s}
	return web.Room{Stage: "proportion", Dir: "stages/draft/page", Files: files,
		Pages: []web.StagePage{{Key: stage.Key, Name: "Threads and draft", Show: draftStage},
			{Key: "wefts", Name: "Wefts over the warp", Show: weftsStage}},
		Routes: func(r gin.IRoutes) { r.GET("/plans/:id/draft.wif", p.saveWIF) }}
}
