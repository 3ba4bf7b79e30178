package page

import (
	"html/template"
	"slices"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/craft"
	"lampfern/core/piece"
	"lampfern/draw"
	"lampfern/plan"
	stage "lampfern/stages/proportion"
	"lampfern/web"
)

// pieceCraft is the pieces of one craft in the gallery.
type pieceCraft struct {
	Name   string
	Pieces []pieceOnShow
}

// pieceOnShow is a pattern as a small picture, in the tray's colours.
type pieceOnShow struct {
	patternChoice
	Shape  template.HTML
	Box    string
	Paints template.CSS
	Size   string
}

type piecesBody struct {
	Crafts []pieceCraft
	Adding bool // a piece beside the others is chosen
}

func (s pages) piecesStage(c *gin.Context, p *web.Page) error {
	p.Sub = "You can change its size afterwards"
	adding := c.Query("add") != "" && p.Plan.Piece != nil
	if adding {
		p.Sub = "Choose another piece for the set. It uses the same cards"
		p.Path += "?add=1"
	}
	crafts, err := gallery(s.Desk, p)
	p.Body = piecesBody{crafts, adding}
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
	crafts := craft.All()
	slices.SortStableFunc(crafts, func(a, b piece.Craft) int {
		return own(b.Name, p.Plan.Craft) - own(a.Name, p.Plan.Craft)
	})
	for _, c := range crafts {
		row := pieceCraft{Name: c.Name}
		for _, t := range c.Patterns {
			show, err := onShow(k, p, choiceOf(p.Plan, t), fill)
			if err != nil {
				return nil, err
			}
			row.Pieces = append(row.Pieces, show)
		}
		if len(row.Pieces) > 0 {
			out = append(out, row)
		}
	}
	return out, nil
}

func own(name, craft string) int {
	if name == craft {
		return 1
	}
	return 0
}

// onShow draws a pattern; fill is that of the plan's own piece.
func onShow(k *plan.Desk, p *web.Page, ch patternChoice, fill []int) (pieceOnShow, error) {
	built, err := k.Piece(p.Plan, ch.Key, ch.Set)
	if err != nil {
		return pieceOnShow{}, err
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
	shape, box, err := draw.PieceShape(made, "shape-"+ch.Key, web.UnderPictures(p, made), false)
	if err != nil {
		return pieceOnShow{}, err
	}
	return pieceOnShow{patternChoice: ch, Shape: template.HTML(shape), Paints: web.Paints(p.View, labs), Box: box,
		Size: piece.SizeWords(made)}, nil
}
