// Package care is the page of backups and health of the workroom.
package care

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
	return web.Room{Dir: "workroom/care", Files: files,
		// A backup is not held in memory.
		MaxBody: map[string]int64{"/care/bring": 4 << 30},
		Routes: func(r gin.IRoutes) {
			r.GET("/care", p.care)
			r.POST("/care/check", p.checkNow)
			r.POST("/care/backup", p.backUp)
			r.GET("/care/backups/:name", p.backupFile)
			r.GET("/care/figures", p.figures)
			r.GET("/care/figures.json", p.figures)
			r.POST("/care/sealed", p.sealed)
			r.POST("/care/bring", p.bringBackup)
			r.POST("/care/next", p.restoreNext)
			r.POST("/care/not-next", p.notNext)
			r.POST("/care/let-go", p.letGo)
			r.POST("/care/take-back", p.takeBack)
			r.POST("/care/salvage", p.salvage)
		}}
}
