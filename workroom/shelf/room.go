// Package shelf is the pages of the shelf: finding, one material, bringing in,
// photos and the colour reader.
package shelf

import (
	"embed"
	"html/template"

	"github.com/gin-gonic/gin"

	"lampfern/core/material"
	"lampfern/exchange"
	"lampfern/shelf"
	"lampfern/web"
)

//go:embed *.html _*.html *.js *.css
var files embed.FS

type pages struct{ *web.Server }

func Room(s *web.Server) web.Room {
	p := pages{s}
	return web.Room{Dir: "workroom/shelf", Files: files, Routes: p.routes,
		MaxBody: map[string]int64{"/shelf/import": exchange.MaxShelfBytes + web.FormBytes},
		Leaves: []web.Leaf{
			{Key: "shelf", Name: "Shelf", Letter: "f", Address: "/shelf"},
			{Key: "photos", Name: "Add materials", Letter: "a", Address: "/photos"},
		},
		Within: map[string]string{"material": "shelf", "beside": "shelf", "new": "photos", "import": "photos", "preview": "photos",
			"photo": "photos", "print": "photos", "reader": "photos", "chart": "shelf"},
		Funcs: template.FuncMap{"stateWords": material.StateWords, "field": fieldOf, "choose": chooseOf, "pair": func(a,
			b *shelf.Card) []*shelf.Card {
			return []*shelf.Card{a, b}
		}}}
}

func (s pages) routes(r gin.IRoutes) {
	r.GET("/shelf", s.shelf)
	r.GET("/shelf/new", s.newMaterial)
	r.GET("/shelf/beside", s.beside)
	r.POST("/shelf/new", s.saveMaterial)
	r.GET("/shelf/list.csv", s.shelfList)
	r.GET("/shelf/measured.txt", s.shelfMeasured)
	r.GET("/shelf/tokens.json", s.shelfTokens)
	r.GET("/shelf/shelf.zip", s.shelfZip)
	r.GET("/shelf/chart", s.chart)
	r.POST("/shelf/chart", s.keepChart)
	r.GET("/shelf/chart.pdf", s.chartPDF)
	r.POST("/shelf/step", s.stepShelf)
	r.GET("/shelf/import", s.importForm)
	r.POST("/shelf/import", s.importUpload)
	r.GET("/shelf/import/:id", s.importPreview)
	r.POST("/shelf/import/:id", s.importConfirm)
	r.GET("/shelf/import/:id/progress", s.importProgress)
	r.POST("/shelf/import/:id/stop", s.importStop)
	r.GET("/shelf/material/:id", s.material)
	r.POST("/shelf/material/:id", s.saveMaterial)
	r.POST("/shelf/material/:id/off", s.takeOff)
	r.POST("/shelf/material/:id/stock", s.saveStock)

}
