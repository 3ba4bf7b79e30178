package page

import (
	"net/url"
	"strconv"

	"github.com/gin-gonic/gin"

	"lampfern/core/piece"
	stage "lampfern/stages/proportion"
	"lampfern/web"
)

type barsBody struct {
	*stage.BarsView
	Pattern string
	Problem string
}

// bars compares what the bars have of each batter, by the ways of pouring.
func (s pages) bars(c *gin.Context, p *web.Page) error {
	p.Sub = "The least and most of each colour in any bar, by way of pouring"
	v, err := stage.Pours(s.Desk, p.Plan)
	b := barsBody{BarsView: v, Pattern: p.Plan.Pattern}
	b.Problem, err = web.Problem(err)
	p.Body = b
	return err
}

// setOf writes settings as the form of a piece does.
func setOf(v piece.Values) string {
	q := url.Values{}
	for key, x := range v {
		q.Set("set-"+key, strconv.FormatFloat(x, 'g', -1, 64))
	}
	return q.Encode()
}
