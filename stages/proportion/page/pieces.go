package page

import (
	"html/template"
	"slices"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/piece"
	"lampfern/draw"
	"lampfern/plan"
	stage "lampfern/stages/proportion"
	"lampfern/web"
)

// pieceCraft is the pieces of one craft in the gallery.
type pieceCraft struct {
	Name   piece.Craft
	Pieces []pieceOnShow
}

// pieceOnShow is a template as a small picture, in the tray's colours.
type pieceOnShow struct {
	templateChoice
	Shape  template.HTML
	Box    string
	Paints template.CSS
	Size   string
}

type piecesBody struct{ Crafts []pieceCraft }

func (s pages) piecesStage(_ *gin.Context, p *web.Page) error {
	p.Sub = "Choose the thing itself; its sizes are set under the picture"
	crafts, err := gallery(s.Desk, p)
	p.Body = piecesBody{crafts}
	return err
}

// gallery is all pieces, those of the plan's craft first: each as its usual
// settings make it, coloured by the tray in order, the one in use as it is.
func gallery(k *plan.Desk, p *web.Page) ([]pieceCraft, error) {
	var out []pieceCraft
	var fill []int
	if p.Plan.Piece != nil {
		fill = stage.Proportion(p.Plan).Fill
	}
	for _, ch := range templateChoices(p.Plan) {
		built, err := k.Piece(ch.Key, ch.Values, p.Plan.Own())
		if err != nil {
			return nil, err
		}
		made := built.Piece
		labs := make([]*colour.Lab, len(made.Parts))
		for i := range labs {
			at := i
			if ch.On {
				at = fill[i]
			}
			if n := len(p.Plan.Tray); n > 0 && at >= 0 {
				labs[i] = &p.Plan.Tray[at%n].Colour
			}
		}
		shape, box, err := draw.PieceShape(made, "shape-"+ch.Key, web.UnderPictures(p, made))
		if err != nil {
			return nil, err
		}
		show := pieceOnShow{templateChoice: ch, Shape: template.HTML(shape), Paints: paints(p.View, labs),
			Box: box, Size: web.SizeWords(made)}
		at := slices.IndexFunc(out, func(c pieceCraft) bool { return c.Name == ch.Craft })
		if at < 0 {
			at = len(out)
			out = append(out, pieceCraft{Name: ch.Craft})
		}
		out[at].Pieces = append(out[at].Pieces, show)
	}
	slices.SortStableFunc(out, func(a, b pieceCraft) int {
		return own(b.Name, p.Plan.Craft) - own(a.Name, p.Plan.Craft)
	})
	return out, nil
}

func own(c piece.Craft, craft string) int {
	if string(c) == craft {
		return 1
	}
	return 0
}
