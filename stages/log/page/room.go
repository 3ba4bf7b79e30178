// Package page is the pages of the log, and what is looked for over all plans: the diary
// and what worked.
package page

import (
	"embed"
	"html/template"

	"github.com/gin-gonic/gin"

	"lampfern/core/words"
	"lampfern/plan/work"
	stage "lampfern/stages/log"
	"lampfern/web"
)

//go:embed *.html *.css
var files embed.FS

type pages struct{ *web.Server }

func Room(s *web.Server) web.Room {
	p := pages{s}
	return web.Room{Stage: stage.Key, Dir: "stages/log/page", Files: files,
		Pages: []web.StagePage{{Key: stage.Key, Piece: true, Show: p.log}, {Key: "diary", Name: "Diary", Show: p.diary},
			{Key: "made", Name: "Planned and finished", Show: p.made}},
		Leaves:  []web.Leaf{{Key: "worked", Name: "Past verdicts", Letter: "k", Address: "/worked", Order: 5}},
		MaxBody: map[string]int64{"/plans/:id/diary": mostPhotoBytes + web.FormBytes},
		Routes: func(r gin.IRoutes) {
			r.POST("/plans/:id/diary", p.write)
			r.GET("/plans/:id/calendar.ics", p.calendar)
			r.GET("/calendar.ics", p.calendar)
			r.GET("/worked", p.worked)
			r.GET("/search", p.search)
		},
		Funcs: template.FuncMap{
			"hundred": func(v float64) float64 { return 100 * v },
			"pair":    func(p *web.Page, r stage.Row) stepOn { return stepOn{p, r} }, "agains": work.Agains, "hows": work.Hows,
			"ordinal":   words.Ordinal,
			"minutesOf": func(st work.Step) string { return words.Minutes(st.Work()) }, "waitOf": waitOf,
			"choice": func(name, label string, all []string, now string) choice { return choice{name, label, all, now} }}}
}

// stepOn is a step with the page that shows it.
type stepOn struct {
	Page *web.Page
	Row  stage.Row
}

// choice is a choice among what judged plans have in common.
type choice struct {
	Name, Label string
	All         []string
	Now         string
}

// waitOf is a step's wait as it is written into its field.
func waitOf(st work.Step) string {
	if st.Wait == 0 {
		return ""
	}
	return words.Wait(float64(st.Wait))
}
