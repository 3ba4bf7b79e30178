package page

import (
	"strconv"

	"github.com/gin-gonic/gin"

	stage "lampfern/stages/proportion"
	"lampfern/web"
)

type secondBody struct {
	*stage.SecondView
	Problem string
}

// secondStage shows what could go with a first thread.
func secondStage(c *gin.Context, p *web.Page) error {
	b := secondBody{}
	p.Sub = "Three ways to choose, shown worked together"
	first, err := strconv.Atoi(c.Query("first"))
	if err != nil {
		first = 0
	}
	v, err := stage.Seconds(p.Plan, first, c.Query("structure"))
	if b.Problem, err = web.Problem(err); err != nil {
		return err
	}
	b.SecondView = v
	if q := c.Request.URL.Query(); len(q) > 0 {
		p.Path += "?" + q.Encode()
	}
	p.Body = b
	return nil
}
