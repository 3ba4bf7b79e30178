package page

import (
	"net/http"

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
	p := s.Page(c, "home", "Workroom")
	p.Sub = "Everything on the shelf, hung on the painters' pigment wheel"
	picture := web.WheelPicture(p.View.Light, sh.Fronds(wheel.Pigment), nil, brief.Free())
	picture.Still = true
	p.Body = homeBody{Wheel: draw.Wheel(picture), Plans: kept(plans), Materials: len(sh.Cards)}
	s.Render(c, http.StatusOK, p)
}

type homeBody struct {
	Wheel     draw.Scene
	Plans     []plan.Summary
	Materials int
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
