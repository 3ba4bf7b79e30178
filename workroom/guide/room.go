// Package guide is the guide and its glossary as pages of the program, to read and to search.
package guide

import (
	"embed"
	"sync"

	"github.com/gin-gonic/gin"

	"lampfern/web"
)

//go:embed *.html *.css *.md pictures/*.jpg
var files embed.FS

type pages struct {
	*web.Server
	book func() (*book, error)
}

func Room(s *web.Server) web.Room {
	p := pages{s, sync.OnceValues(read)}
	return web.Room{Dir: "workroom/guide", Files: files,
		Leaves: []web.Leaf{{Key: "guide", Name: "Guide", Letter: "e", Address: "/guide", Order: 2}},
		Routes: func(r gin.IRoutes) {
			r.GET("/guide", p.guide)
			r.GET("/guide/pictures/:name", p.picture)
		}}
}
