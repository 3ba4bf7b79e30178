// Package page is the pages of the brief.
package page

import (
	"embed"

	stage "lampfern/stages/brief"
	"lampfern/web"
)

//go:embed *.html *.css
var files embed.FS

type pages struct{ *web.Server }

func Room(s *web.Server) web.Room {
	p := pages{s}
	return web.Room{Stage: stage.Key, Dir: "stages/brief/page", Files: files, Pages: []web.StagePage{{Key: stage.Key, Piece: true, Show: p.briefStage}}}
}
