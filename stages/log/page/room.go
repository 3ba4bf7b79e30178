// Package page is the pages of the log.
package page

import (
	"embed"

	"github.com/gin-gonic/gin"

	stage "lampfern/stages/log"
	"lampfern/web"
)

//go:embed *.html
var files embed.FS

// Room is this room of a server.
func Room(*web.Server) web.Room {
	return web.Room{Stage: stage.Key, Dir: "stages/log/page", Files: files, Pages: []web.StagePage{{Key: stage.Key, Show: show}}}
}

func show(_ *gin.Context, p *web.Page) error {
	p.Sub = "What was really made, beside what was planned, will live here."
	return nil
}
