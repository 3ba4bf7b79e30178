package page

import (
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/draw"
	stage "lampfern/stages/proportion"
	"lampfern/web"
)

// away is the distance asked for, in metres; 0 when none is or it is no
// distance.
func away(c *gin.Context) float64 {
	far, err := strconv.ParseFloat(c.Query("far"), 64)
	if err != nil || !(far >= 0 && far <= stage.MostAway) {
		return 0
	}
	return far
}

// grounds are the surrounds as colours, for pictures that blend into them.
var grounds = map[string]colour.RGB{"bench": {R: 155. / 255, G: 155. / 255, B: 155. / 255}, "white": {R: 1, G: 1, B: 1},
	"dark": {R: 43. / 255, G: 43. / 255, B: 43. / 255}}

// across sends the piece as it is seen from afar.
func (s pages) across(c *gin.Context) {
	plan, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
	if s.Trouble(c, err, web.NoSuchPlan) {
		return
	}
	if plan.Piece == nil {
		s.Fail(c, http.StatusUnprocessableEntity, "There is no piece yet. Choose one on Proportion first.")
		return
	}
	look := web.ViewOn(c.Request, plan.Shelf)
	fill := stage.Proportion(plan).Fill
	labs := make([]*colour.Lab, len(fill))
	for i, at := range fill {
		if at >= 0 {
			labs[i] = &plan.Tray[at].Colour
		}
	}
	b, err := draw.Across(look.Light, plan.Piece.Piece, labs, grounds[look.Surround], away(c))
	if s.Trouble(c, err, web.NoSuchPlan) {
		return
	}
	c.Header("Cache-Control", "no-store")
	c.Data(http.StatusOK, "image/png", b)
}
