// Package page is the pages of buying.
package page

import (
	"embed"

	"github.com/gin-gonic/gin"

	stage "lampfern/stages/buy"
	"lampfern/web"
)

//go:embed *.html
var files embed.FS

// Room is this room of a server.
func Room(*web.Server) web.Room {
	return web.Room{Stage: stage.Key, Dir: "stages/buy/page", Files: files, Pages: []web.StagePage{{Key: stage.Key, Show: show}}}
}

func show(_ *gin.Context, p *web.Page) error {
	p.Sub = "How much of each material to buy, less what is on hand, will live here."
	return nil
}
