// Package page is the pages of the bodies of an assembly.
package page

import (
	"embed"

	"github.com/gin-gonic/gin"

	"lampfern/exchange"
	stage "lampfern/stages/solid"
	"lampfern/web"
)

//go:embed *.html *.js *.css
var files embed.FS

type pages struct{ *web.Server }

func Room(s *web.Server) web.Room {
	p := pages{s}
	return web.Room{Stage: "proportion", Dir: "stages/solid/page", Files: files,
		Pages:   []web.StagePage{{Key: stage.Key, Name: "Your 3D model", Show: p.solidStage}},
		MaxBody: map[string]int64{"/plans/:id/bring": exchange.MaxMeshBytes + web.FormBytes},
		Routes: func(r gin.IRoutes) {
			r.GET("/plans/:id/solid.bin", p.solidFile(false))
			r.GET("/plans/:id/solid.3mf", p.solidFile(true))
		}}
}
