// Package reader is the page of the colour reader.
package reader

import (
	"embed"

	"github.com/gin-gonic/gin"

	"lampfern/web"
)

//go:embed *.html
var files embed.FS

type pages struct{ *web.Server }

func Room(s *web.Server) web.Room {
	p := pages{s}
	return web.Room{Dir: "workroom/reader", Files: files,
		Routes: func(r gin.IRoutes) {
			r.GET("/reader", p.reader)
			r.POST("/reader", p.readerAct)
			r.POST("/reader/keep", p.keepMeasured)
		}}
}
