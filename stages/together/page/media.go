package page

import (
	"slices"

	"github.com/gin-gonic/gin"

	"lampfern/core/material"
	stage "lampfern/stages/together"
	"lampfern/web"
)

type mediaBody struct {
	stage.MediaView
	All []pieceKinds
}

// pieceKinds is a piece with every kind that it could be made of.
type pieceKinds struct {
	stage.PieceMade
	Choices []web.Choice
}

// media shows the palette with each of its places in each kind that the pieces are made of.
func (s pages) media(_ *gin.Context, p *web.Page) error {
	p.Sub = "Choose what each piece is made of, then one material of each type for every colour"
	if _, err := s.Desk.SharesOverSet(p.Plan); err != nil {
		return err
	}
	b := mediaBody{MediaView: stage.Media(p.Plan)}
	for _, m := range b.Pieces {
		one := pieceKinds{PieceMade: m}
		for _, k := range material.Kinds() {
			one.Choices = append(one.Choices, web.Choice{Key: k, Name: k, On: slices.Contains(m.Kinds, k)})
		}
		b.All = append(b.All, one)
	}
	p.Body = b
	return nil
}
