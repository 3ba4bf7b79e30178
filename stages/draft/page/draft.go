package page

import (
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"lampfern/draw"
	stage "lampfern/stages/draft"
	"lampfern/web"
)

// saveWIF sends the plan's cloth as a weaving draft.
func (s pages) saveWIF(c *gin.Context) {
	plan, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
	if s.Trouble(c, err, web.NoSuchPlan) {
		return
	}
	data, err := stage.WIF(plan)
	if words, bad := web.Problem(err); words != "" {
		s.Fail(c, http.StatusUnprocessableEntity, words)
		return
	} else if s.Trouble(c, bad, "") {
		return
	}
	web.Download(c, plan.Name+".wif", "text/plain; charset=utf-8", data)
}

// spareShafts are shown empty in a draft, so that an end can be put there.
const spareShafts = 1

type draftBody struct {
	*stage.ClothView
	Picture *draw.Scene
	Problem string
	Float   int  // floats over more threads are marked, 0 for none
	Back    bool // the other side is shown
}

// draftStage shows the threads and the draft of a cloth.
func draftStage(c *gin.Context, p *web.Page) error {
	b := draftBody{}
	p.Sub = "Threading and weave structure. Click a square to mark it"
	v, err := stage.Cloth(p.Plan)
	if b.Problem, err = web.Problem(err); err != nil || b.Problem != "" {
		p.Body = b
		return err
	}
	b.ClothView = v
	if n, err := strconv.Atoi(c.Query("float")); err == nil && n >= 0 && n <= 100 {
		b.Float = n
	}
	b.Back = c.Query("side") == "back"
	if q := c.Request.URL.Query(); len(q) > 0 {
		p.Path += "?" + q.Encode()
	}
	warp := v.WarpColours[:min(len(v.WarpColours), draw.MostDraft)]
	weft := v.WeftColours[:min(len(v.WeftColours), max(len(v.Draft.Treadling), draw.MostDraft*2/3), draw.MostDraft)]
	scene, err := draw.Draft(p.View.Light, v.Draft, warp, weft, spareShafts, b.Float, b.Back)
	b.Picture = &scene
	p.Body = b
	return err
}
