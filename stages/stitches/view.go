package stitches

import (
	"slices"
	"strings"

	"lampfern/core/craft"
	"lampfern/core/craft/yarn"
	"lampfern/core/piece"
	"lampfern/core/weave"
	"lampfern/core/words"
	"lampfern/plan"
)

// ChartView is a stranded chart as it is edited.
type ChartView struct {
	Chart        yarn.Chart
	Across, Down int
	Wide, High   float64 // of a stitch, mm
	Yarns        []plan.YarnView
	Unused       string // letters that could be added
	Float, Row   int    // the longest float, and the row it lies in
	Piece        piece.Piece
	Fill         []int // for each part of Piece the index of its card in the tray, or −1
}

// Stranded is the plan's chart, one repeat of it.
func Stranded(p *plan.Plan) (*ChartView, error) {
	if p.Piece == nil || p.Pattern != "stranded" {
		return nil, words.Refuse("Choose a stranded chart on Proportion first. Its stitches appear here.")
	}
	in, settings := plan.Input[yarn.Stranded](p), p.Values()
	c := in.Stitches()
	settings["across"], settings["up"] = 1, 1
	t, err := craft.Pattern(p.Pattern)
	if err != nil {
		return nil, err
	}
	one, err := t.Build(settings, &in)
	if err != nil {
		return nil, err
	}
	v := &ChartView{Chart: c, Across: len(c[0]), Down: len(c), Wide: one.Cells.Wide, High: one.Cells.High, Yarns: p.Yarns(), Piece: one,
		Fill: p.Fill()}
	for i, y := range v.Yarns {
		for _, row := range c {
			v.Yarns[i].Count += strings.Count(row, y.Letter)
		}
	}
	for _, letter := range strings.Split(weave.Letters(), "") {
		if !slices.ContainsFunc(v.Yarns, func(y plan.YarnView) bool { return y.Letter == letter }) {
			v.Unused += letter
		}
	}
	v.Float, v.Row = c.LongestFloat()
	return v, nil
}
