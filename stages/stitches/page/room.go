// Package page is the pages of the chart of a knitted piece.
package page

import (
	"embed"
	"html/template"

	stage "lampfern/stages/stitches"
	"lampfern/web"
)

//go:embed *.html *.js *.css
var files embed.FS

func Room(*web.Server) web.Room {
	return web.Room{Stage: "proportion", Dir: "stages/stitches/page", Files: files,
		Pages: []web.StagePage{{Key: stage.Key, Name: "Chart", Show: stitchesStage}},
		Funcs: template.FuncMap{"yarnOf": func(letters string) int { return int(letters[0] - 'A') }}}
}
