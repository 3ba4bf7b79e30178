package page

import (
	"net/http"
	"slices"

	"github.com/gin-gonic/gin"

	"lampfern/core/brief"
	"lampfern/core/wheel"
	"lampfern/draw"
	"lampfern/plan"
	"lampfern/web"
)

// home shows the workroom: the whole shelf on the wheel, and the plans.
func (s pages) home(c *gin.Context) {
	sh, err := s.Desk.Shelf(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	plans, err := s.Desk.Plans(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	news, err := s.Desk.News(c.Request.Context())
	if s.Trouble(c, err, "") {
		return
	}
	p := s.Page(c, "home", "Workroom")
	p.Sub = "Everything on the shelf, hung on the painters' pigment wheel"
	picture := web.WheelPicture(p.View.Light, sh.Fronds(wheel.Pigment), nil, brief.Free())
	picture.Still = true
	b := homeBody{Wheel: draw.Wheel(picture), Plans: kept(plans), Materials: len(sh.Cards)}
	for _, n := range news[:min(len(news), mostNews)] {
		at := slices.IndexFunc(plans, func(p plan.Summary) bool { return p.ID == n.PlanID })
		if at >= 0 {
			b.News = append(b.News, answered{n.PlanID, plans[at].Name, n.Name, n.Number, n.Agreed})
		}
	}
	p.Body = b
	s.Render(c, http.StatusOK, p)
}

type homeBody struct {
	Wheel     draw.Scene
	Plans     []plan.Summary
	Materials int
	News      []answered
}

// mostNews bounds the answers that the workroom shows.
const mostNews = 5

// answered is what a client said to a sheet.
type answered struct {
	PlanID     uint
	Plan, Name string
	Number     int
	Agreed     bool
}

func kept(plans []plan.Summary) []plan.Summary {
	var out []plan.Summary
	for _, p := range plans {
		if !p.PutAway {
			out = append(out, p)
		}
	}
	return out
}
