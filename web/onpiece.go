package web

import (
	"encoding/json"
	"fmt"
	"html/template"
	"net/http"
	"strings"

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
	Parts  []partHere
	Empty  bool // no part has a card
}

// partHere is a part by its key, and the key of its card, 0 for none.
type partHere struct {
	Key  string `json:"key"`
	Card int    `json:"card"`
}

// Pressed are the parts as the page's module reads them, as JSON.
func (o *OnPiece) Pressed() (string, error) {
	all, err := json.Marshal(o.Parts)
	return string(all), err
}

// shape is a piece as a symbol of the page, and its view box.
type shape struct{ svg, box string }

// onPiece draws the plan's piece for beside a stage, in greys where they are what is looked at; nil where the plan has none.
func (s *Server) onPiece(c *gin.Context, p *Page, grey bool) (*OnPiece, error) {
	pc := p.Plan.Piece
	if pc == nil {
		return nil, nil
	}
	finishes := p.HasFinishes()
	out := &OnPiece{Name: pc.Name, Drawn: fmt.Sprintf("on-%d-%s-%t", p.Plan.ID, pc.Key, finishes), Empty: true}
	made, err := plan.Recall(s.Desk, "on the piece "+out.Drawn, func() (m shape, err error) {
		m.svg, m.box, err = draw.PieceShape(pc.Piece, "on-piece-shape", UnderPictures(p, pc.Piece), finishes)
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
		here := partHere{Key: pc.Parts[i].Key}
		if at >= 0 {
			labs[i], out.Empty, here.Card = &p.Plan.Tray[at].Colour, false, p.Plan.Tray[at].Key
		}
		out.Parts = append(out.Parts, here)
	}
	look := p.View
	look.ValuesOnly = look.ValuesOnly || grey
	out.Paints = p.paintsIn(look, labs)
	return out, nil
}

// PieceIn is the plan's piece in other colours of its parts; nil where the plan has none.
func (s *Server) PieceIn(c *gin.Context, p *Page, labs []*colour.Lab) (*OnPiece, error) {
	out, err := s.onPiece(c, p, false)
	if out != nil {
		out.Paints = p.Paints(labs)
	}
	return out, err
}

// smallPiece sends a plan's piece in its colours as a small picture, or its cards side by side where it has none.
// The address names the revision and the light, so that it may be kept.
func (s *Server) smallPiece(c *gin.Context) {
	of, err := s.Desk.Open(c.Request.Context(), PathID(c))
	if s.Trouble(c, err, NoSuchPlan) {
		return
	}
	p := &Page{Plan: of, View: ViewOn(c.Request, of.Shelf)}
	on, err := s.onPiece(c, p, false)
	if s.Trouble(c, err, NoSuchPlan) {
		return
	}
	c.Header("Cache-Control", "private, max-age=31536000, immutable")
	if on != nil && !on.Empty {
		c.Data(http.StatusOK, "image/svg+xml", fmt.Appendf(nil, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="%s" style="%s">%s%s<use href="#on-piece-shape"/></svg>`,
			on.Box, on.Paints, Defs(s.SmallPrints(c, p, true)+p.smallFinishes()), on.Shape))
		return
	}
	cards := ""
	for i, t := range of.Tray {
		cards += fmt.Sprintf(`<rect x="%d" width="1" height="1" style="%s"/>`, i, strings.Replace(string(p.View.Paint(t.Colour)), "background", "fill", 1))
	}
	c.Data(http.StatusOK, "image/svg+xml", fmt.Appendf(nil, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %d 1" preserveAspectRatio="none">%s</svg>`,
		max(1, len(of.Tray)), cards))
}
