// Package page is the pages that show plans from outside: the workroom and the
// list of plans.
package page

import (
	"embed"
	"net/http"

	"github.com/gin-gonic/gin"

	"lampfern/plan"
	"lampfern/web"
)

//go:embed *.html *.css
var files embed.FS

// pages are the pages of this room on a server.
type pages struct{ *web.Server }

// Room is this room of a server.
func Room(s *web.Server) web.Room {
	p := pages{s}
	return web.Room{Dir: "plan/page", Files: files,
		Leaves: []web.Leaf{{Key: "home", Name: "Workroom", Letter: "h", Address: "/"}, {Key: "plans", Name: "Plans", Letter: "t", Address: "/plans", Order: 1}},
		// A backup is not held in memory.
		MaxBody: map[string]int64{"/care/bring": 4 << 30, "/plans/import": plan.MaxFileBytes + web.FormBytes},
		Routes: func(r gin.IRoutes) {
			r.GET("/", p.home)
			r.GET("/plans", p.plans)
			r.GET("/portrait", p.portrait)
			r.GET("/care", p.care)
			r.POST("/care/check", p.checkNow)
			r.POST("/care/backup", p.backUp)
			r.GET("/care/backups/:name", p.backupFile)
			r.POST("/care/bring", p.bringBackup)
			r.POST("/care/next", p.restoreNext)
			r.POST("/care/not-next", p.notNext)
			r.POST("/care/let-go", p.letGo)
			r.POST("/care/take-back", p.takeBack)
			r.POST("/care/salvage", p.salvage)
			r.POST("/begin", p.begin)
			r.POST("/portrait", p.keepTaste)
			r.POST("/plans", p.newPlan)
			r.POST("/plans/import", p.importPlan)
			r.GET("/plans/:id", func(c *gin.Context) { c.Redirect(http.StatusSeeOther, c.Request.URL.Path+"/wheel") })
			r.GET("/plans/:id/plan.zip", p.planFile)
		}}
}
