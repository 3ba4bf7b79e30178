// Package page is the pages of the sign-off.
package page

import (
	"embed"

	"github.com/gin-gonic/gin"

	stage "lampfern/stages/signoff"
	"lampfern/web"
)

//go:embed *.html
var files embed.FS

// Room is this room of a server.
func Room(*web.Server) web.Room {
	return web.Room{Stage: stage.Key, Dir: "stages/signoff/page", Files: files, Pages: []web.StagePage{{Key: stage.Key, Show: show}}}
}

func show(_ *gin.Context, p *web.Page) error {
	p.Sub = "A dated sheet of the plan for a client to agree to before work starts will live here."
	return nil
}
