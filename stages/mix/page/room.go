// Package page is the pages of mixing.
package page

import (
	"embed"

	"github.com/gin-gonic/gin"

	stage "lampfern/stages/mix"
	"lampfern/web"
)

//go:embed *.html
var files embed.FS

// Room is this room of a server.
func Room(*web.Server) web.Room {
	return web.Room{Stage: stage.Key, Dir: "stages/mix/page", Files: files, Pages: []web.StagePage{{Key: stage.Key, Show: show}}}
}

func show(_ *gin.Context, p *web.Page) error {
	p.Sub = "Recipes for a wanted colour from your own paints, dyes and soap colourants will live here."
	return nil
}
