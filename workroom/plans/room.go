// Package plans is the pages that show plans from outside: the workroom and the
// list of plans.
package plans

import (
	"embed"
	"net/http"

	"github.com/gin-gonic/gin"

	"lampfern/exchange"
	"lampfern/plan"
	"lampfern/web"
)

//go:embed *.html *.css *.js
var files embed.FS

type pages struct{ *web.Server }

func Room(s *web.Server) web.Room {
	p := pages{s}
	return web.Room{Dir: "workroom/plans", Files: files,
		Leaves: []web.Leaf{{Key: "home", Name: "Workroom", Letter: "h", Address: "/"},
			{Key: "plans", Name: "Plans", Letter: "t", Address: "/plans", Order: 1}},
		Within:  map[string]string{"start": "home"},
		MaxBody: map[string]int64{"/plans/import": plan.MaxFileBytes + web.FormBytes, "/begin": exchange.MaxMeshBytes + exchange.MaxPhotoBytes + web.FormBytes},
		Routes: func(r gin.IRoutes) {
			r.GET("/", p.home)
			r.GET("/plans", p.plans)
			r.GET("/portrait", p.portrait)
			r.GET("/start", p.start)
			r.POST("/begin", p.begin)
			r.GET("/things/:file", p.thing)
			r.POST("/portrait", p.keepTaste)
			r.POST("/plans", p.newPlan)
			r.POST("/plans/import", p.importPlan)
			r.GET("/plans/:id", func(c *gin.Context) { c.Redirect(http.StatusSeeOther, c.Request.URL.Path+"/wheel") })
			r.GET("/plans/:id/plan.zip", p.planFile)
		}}
}
