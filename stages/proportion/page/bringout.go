package page

import (
	"html/template"

	"github.com/gin-gonic/gin"

	"lampfern/core/piece"
	"lampfern/draw"
	stage "lampfern/stages/proportion"
	"lampfern/web"
)

type bringOutBody struct {
	*stage.BringOutView
	Shape   template.HTML // the piece as a symbol, shared by the small pictures
	Box     string        // its view box
	Parts   []piece.Part
	Paints  []template.CSS // a card each
	Problem string
}

// bringOut shows the cards that could take one part, each on the piece.
func (s pages) bringOut(c *gin.Context, p *web.Page) error {
	p.Sub = "One part tried in every card you own; best for the focal point first"
	b := bringOutBody{}
	v, err := stage.BringOut(s.Desk, p.Plan, c.Query("part"))
	if b.Problem, err = web.Problem(err); err != nil {
		return err
	}
	b.BringOutView = v
	if pc := p.Plan.Piece; pc != nil {
		b.Parts = pc.Parts
		shape, box, err := draw.PieceShape(pc.Piece, "piece-shape", web.UnderPictures(p, pc.Piece), p.HasFinishes())
		if err != nil {
			return err
		}
		b.Shape, b.Box = template.HTML(shape), box
	}
	if v != nil {
		for _, one := range v.Cards {
			b.Paints = append(b.Paints, p.Paints(one.Labs))
		}
		p.Path += "?part=" + v.Part
	}
	p.Body = b
	return nil
}
