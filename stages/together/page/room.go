// Package page is the pages of a set of pieces.
package page

import (
	"embed"

	stage "lampfern/stages/together"
	"lampfern/web"
)

//go:embed *.html *.css
var files embed.FS

type pages struct{ *web.Server }

func Room(s *web.Server) web.Room {
	p := pages{s}
	return web.Room{Stage: "proportion", Dir: "stages/together/page", Files: files,
		Ribbon: []web.RibbonTab{{Key: "fewer", Name: "Fewer colours", Order: 4, Wide: "together?fewer=1", Nothing: "Three cards or more can do with fewer.", Fill: p.inFewer}},
		Pages: []web.StagePage{{Key: stage.Key, Name: "Together", Show: p.together},
			{Key: "media", Name: "One palette in several kinds", Show: p.media}}}
}
