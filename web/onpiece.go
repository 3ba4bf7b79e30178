package web

import (
	"fmt"
	"html/template"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/draw"
	"lampfern/plan"
)

// OnPiece is the plan's piece in its colours, as it stands beside a stage.
type OnPiece struct {
	Name   string
	Drawn  string        // what its outlines depend on
	Shape  template.HTML // its outlines; empty where the page has them
	Box    string
	Paints template.CSS
	Empty  bool // no part has a card
}

// shape is a piece as a symbol of the page, and its view box.
type shape struct{ svg, box string }

// onPiece draws the plan's piece for beside a stage, in greys where they are what is looked at; nil where the plan has none.
func (s *Server) onPiece(c *gin.Context, p *Page, grey bool) (*OnPiece, error) {
	pc := p.Plan.Piece
	if pc == nil {
		return nil, nil
	}
	out := &OnPiece{Name: pc.Name, Drawn: fmt.Sprintf("on-%d-%s", p.Plan.ID, pc.Key), Empty: true}
	made, err := plan.Recall(s.Desk, "on the piece "+out.Drawn, func() (m shape, err error) {
		m.svg, m.box, err = draw.PieceShape(pc.Piece, "on-piece-shape", UnderPictures(p, pc.Piece))
		return m, err
	})
	if err != nil {
		return nil, fmt.Errorf("drawing the piece of plan %d: %w", p.Plan.ID, err)
	}
	if out.Box = made.box; !Has(c, out.Drawn) {
		out.Shape = template.HTML(made.svg)
	}
	labs := make([]*colour.Lab, len(pc.Parts))
	for i, at := range p.Plan.Fill() {
		if at >= 0 {
			labs[i], out.Empty = &p.Plan.Tray[at].Colour, false
		}
	}
	look := p.View
	look.ValuesOnly = look.ValuesOnly || grey
	out.Paints = Paints(look, labs)
	return out, nil
}
