// Package photos is the pages of photos: colours taken from them, and prints.
package photos

import (
	"embed"

	"github.com/gin-gonic/gin"

	"lampfern/exchange"
	"lampfern/web"
)

//go:embed *.html *.js
var files embed.FS

type pages struct{ *web.Server }

func Room(s *web.Server) web.Room {
	p := pages{s}
	return web.Room{Dir: "workroom/photos", Files: files,
		MaxBody: map[string]int64{"/photos": exchange.MaxPhotoBytes + web.FormBytes},
		Routes: func(r gin.IRoutes) {
			r.GET("/photos", p.photos)
			r.POST("/photos", p.addPhoto)
			r.GET("/photos/:hash", p.photo)
			r.GET("/photos/:hash/propose", p.propose)
			r.GET("/photos/:hash/view.jpg", p.photoView)
			r.GET("/photos/:hash/piece.jpg", p.photoPiece)
			r.GET("/photos/:hash/print", p.print)
			r.POST("/photos/:hash/print", p.keepPrint)
			r.POST("/photos/:hash/keep", p.keepTaken)
		}}
}
