package mix

import (
	"context"
	"errors"

	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/plan"
)

// SetDose says on the shelf how much of a colourant its colour was tried with, and how
// much its supplier allows. Nothing written is not known.
type SetDose struct {
	Material   uint    `form:"material"`
	Tried      float64 `form:"tried,optional"`
	TriedBasis string  `form:"tried_basis,optional"`
	Limit      float64 `form:"limit,optional"`
	LimitBasis string  `form:"limit_basis,optional"`
}

func (e SetDose) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	c, err := p.Shelf.Card(e.Material)
	if err != nil || c.Removed {
		return "", words.Refuse("That colourant is no longer on the shelf.")
	}
	m := c.Material
	m.Dose = material.Dose{Tried: e.Tried, TriedBasis: e.TriedBasis, Limit: e.Limit, LimitBasis: e.LimitBasis}
	_, err = k.SaveMaterial(ctx, c.ID, c.Revision, m)
	if problems := (material.Problems{}); errors.As(err, &problems) {
		return "", words.Refuse("%s", problems.Error())
	}
	return c.Name + ": rates saved on the shelf.", err
}

// Doses are the colourants whose doses are asked for: those that are chosen, in a base.
func (v *MixView) Doses() (out []PaintView) {
	for _, p := range v.Paints {
		if p.On && v.Step > 0 {
			out = append(out, p)
		}
	}
	return out
}
