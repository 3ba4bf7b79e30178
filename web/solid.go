package web

import (
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/studio"
)

// looseHex is the colour of a body whose part has no card yet.
const looseHex = "#b9b9b9"

// solidShown is an assembly as the page's own canvas takes it.
type solidShown struct {
	Address        string // of its corners and triangles
	Parts, Colours string // by part, with spaces between
}

// solidOf is the plan's assembly for the canvas; nil when its piece is none.
func solidOf(p *page, fill []int) *solidShown {
	sol := p.Plan.Own.Solid
	if p.Plan.Template != "solid" || sol == nil {
		return nil
	}
	made, err := json.Marshal(sol)
	if err != nil {
		return nil
	}
	out := &solidShown{Address: fmt.Sprintf("/plans/%d/solid.bin?of=%x", p.Plan.ID, sha256.Sum256(made))[:64]}
	var keys, colours []string
	for i, part := range p.Plan.Piece.Parts {
		hex := looseHex
		if at := fill[i]; at >= 0 {
			rgb, _ := p.View.Show(p.Plan.Tray[at].Colour)
			hex = rgb.Hex()
		}
		keys, colours = append(keys, part.Key), append(colours, hex)
	}
	out.Parts, out.Colours = strings.Join(keys, " "), strings.Join(colours, " ")
	return out
}

type solidBody struct {
	*studio.SolidView
	Problem string
}

// solidStage shows the bodies of an assembly with their measures.
func (s *Server) solidStage(p *page) error {
	p.Sub = "The bodies of a mesh, each in a part; bodies in one part take one card"
	v, err := s.studio.Solid(p.Plan)
	b := solidBody{SolidView: v}
	b.Problem, err = problem(err)
	p.Body = b
	return err
}

// solidFile sends an assembly: for the canvas, or as a 3MF package in its colours.
func (s *Server) solidFile(package3MF bool) gin.HandlerFunc {
	return func(c *gin.Context) {
		plan, err := s.studio.Open(c.Request.Context(), pathID(c))
		if s.trouble(c, err, noSuchPlan) {
			return
		}
		var data []byte
		if package3MF {
			data, err = s.studio.Solid3MF(plan)
		} else {
			data, err = s.studio.SolidData(plan, c.Query("coarse") != "")
		}
		if words, bad := problem(err); words != "" {
			s.fail(c, http.StatusUnprocessableEntity, words)
			return
		} else if s.trouble(c, bad, noSuchPlan) {
			return
		}
		if package3MF {
			download(c, plan.Name+".3mf", "model/3mf", data)
			return
		}
		c.Header("Cache-Control", "private, max-age=31536000, immutable") // its address tells what it is
		c.Data(http.StatusOK, "application/octet-stream", data)
	}
}
