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
		Ribbon: []web.RibbonTab{{Key: "fewer", Name: "Fewer colours", Order: 4, Wide: "together?fewer=1", Nothing: "Add at least three cards to try fewer.", Fill: p.inFewer}},
		Pages: []web.StagePage{{Key: stage.Key, Name: "Together", Show: p.together},
			{Key: "media", Name: "Match across materials", Show: p.media}}}
}
