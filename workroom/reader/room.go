// Package reader is the page of the colour reader.
package reader

import (
	"embed"

	"github.com/gin-gonic/gin"

	"lampfern/web"
)

//go:embed *.html
var files embed.FS

// pages are the pages of this room on a server.
type pages struct{ *web.Server }

// Room is this room of a server.
func Room(s *web.Server) web.Room {
	p := pages{s}
	return web.Room{Dir: "workroom/reader", Files: files,
		Leaves: []web.Leaf{{Key: "reader", Name: "Reader", Letter: "r", Address: "/reader"}},
		Routes: func(r gin.IRoutes) {
			r.GET("/reader", p.reader)
			r.POST("/reader", p.readerAct)
			r.POST("/reader/keep", p.keepMeasured)
		}}
}
