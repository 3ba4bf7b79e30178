package page

import (
	"fmt"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/plan"
	stage "lampfern/stages/proportion"
	"lampfern/web"
)

type worktableBody struct {
	Picture *draw.Scene
	Rows    []draw.WorkRow
	Problem string
}

// worktableSheet is the finished plan as one page; it is refused while there is
// nothing to show.
func (s pages) worktableSheet(c *gin.Context, plan *plan.Plan) (draw.Scene, []draw.WorkRow, error) {
	if plan.Piece == nil {
		return draw.Scene{}, nil, words.Refusal("Choose a piece on Proportion first; the finished plan is then shown here.")
	}
	labs := stage.PartColours(plan)
	var rows []draw.WorkRow
	for _, w := range stage.Worked(plan) {
		rows = append(rows, draw.WorkRow{Colour: w.Colour, Name: w.Name, Parts: strings.Join(w.Parts, ", "), Source: w.Source, Share: w.Share})
	}
	if len(rows) == 0 {
		return draw.Scene{}, nil, words.Refusal("No part of the piece has a card yet: give its parts cards on Proportion.")
	}
	unders, err := s.Desk.Unders(c.Request.Context(), plan)
	if err != nil {
		return draw.Scene{}, nil, err
	}
	scene, err := draw.WorktableSheet(plan.Name, plan.Purpose(), plan.Piece.Piece, unders, labs, rows)
	return scene, rows, err
}

// pieceSVG sends the coloured piece at its true size, to go on with elsewhere.
func (s pages) pieceSVG(c *gin.Context) {
	plan, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
	if s.Trouble(c, err, web.NoSuchPlan) {
		return
	}
	if plan.Piece == nil || plan.Piece.Cells != nil {
		s.Fail(c, http.StatusUnprocessableEntity, "This piece is made of threads, stitches or views and has no outlines to draw: save its picture at the worktable.")
		return
	}
	labs := stage.PartColours(plan)
	web.Download(c, plan.Name+".svg", "image/svg+xml", []byte(draw.Coloured(plan.Piece.Piece, labs).SVG()))
}

func (s pages) worktableStage(c *gin.Context, p *web.Page) error {
	p.Sub = "The finished plan on one page, to lie beside the work"
	scene, rows, err := s.worktableSheet(c, p.Plan)
	b := worktableBody{Rows: rows}
	if b.Problem, err = web.Problem(err); err == nil && b.Problem == "" {
		b.Picture = &scene
	}
	p.Body = b
	return err
}

// worktable sends the finished plan as a file.
func (s pages) worktable(format string) gin.HandlerFunc {
	return func(c *gin.Context) {
		plan, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
		if s.Trouble(c, err, web.NoSuchPlan) {
			return
		}
		scene, _, err := s.worktableSheet(c, plan)
		if words, bad := web.Problem(err); words != "" {
			s.Fail(c, http.StatusUnprocessableEntity, words)
			return
		} else if s.Trouble(c, bad, web.NoSuchPlan) {
			return
		}
		s.SendPages(c, fmt.Sprintf("%s at the worktable", plan.Name), []draw.Scene{scene}, format)
	}
}
