package page

import (
	"net/http"

	"github.com/gin-gonic/gin"

	stage "lampfern/stages/solid"
	"lampfern/web"
)

type solidBody struct {
	*stage.SolidView
	Problem string
	Several bool // pieces of the set are assemblies
}

// solidStage shows the bodies of an assembly with their measures.
func (s pages) solidStage(_ *gin.Context, p *web.Page) error {
	p.Sub = "Name the pieces of your model. Pieces with the same name are coloured together"
	v, err := stage.Solid(s.Desk, p.Plan)
	b := solidBody{SolidView: v}
	b.Several = stage.Assemblies(s.Desk, p.Plan) > 1
	b.Problem, err = web.Problem(err)
	p.Body = b
	return err
}

// solidFile sends an assembly: for the canvas, or as a 3MF package in its colours.
func (s pages) solidFile(package3MF bool) gin.HandlerFunc {
	return func(c *gin.Context) {
		plan, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
		if s.Trouble(c, err, web.NoSuchPlan) {
			return
		}
		var data []byte
		if package3MF && c.Query("set") != "" {
			data, err = stage.Set3MF(s.Desk, plan)
		} else if package3MF {
			data, err = stage.Solid3MF(s.Desk, plan, c.Query("plated") != "")
		} else {
			data, err = stage.SolidData(s.Desk, plan, c.Query("coarse") != "")
		}
		if words, bad := web.Problem(err); words != "" {
			s.Fail(c, http.StatusUnprocessableEntity, words)
			return
		} else if s.Trouble(c, bad, web.NoSuchPlan) {
			return
		}
		if package3MF {
			web.Download(c, plan.Name+".3mf", "model/3mf", data)
			return
		}
		c.Header("Cache-Control", "private, max-age=31536000, immutable") // its address tells what it is
		c.Data(http.StatusOK, "application/octet-stream", data)
	}
}
