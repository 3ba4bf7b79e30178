package page

import (
	"fmt"
	"slices"

	"github.com/gin-gonic/gin"

	"lampfern/core/piece"
	"lampfern/draw"
	"lampfern/plan"
	stage "lampfern/stages/proportion"
	"lampfern/web"
)

type proportionBody struct {
	stage.ProportionView
	Picture   *draw.Scene
	Battens   draw.Scene
	Parts     []partRow
	Templates []templateChoice
	Crafts    []pieceCraft // the gallery, while no piece is chosen
	Size      string
	Look      string            // how the picture from afar is lit, so that it is fetched anew
	Far, Most float64           // metres away the piece is looked at from, and the most
	Across    *stage.AcrossView // what blends there; nil from close by
	Solid     *solidShown       // an assembly to be turned; nil for any other piece
	Flat      bool              // surfaces are left out of the picture
	OwnPage   ownPage           // where what the maker puts in is edited; empty for none
}

// ownPage is the page on which what a maker puts into a piece is edited.
type ownPage struct{ Key, Name string }

// ownPages are those pages, by template.
var ownPages = map[string]ownPage{"cloth": {"draft", "Threads and draft"}, "stranded": {"stitches", "Edit the chart"}, "drawn": {"drawing", "Draw"}, "solid": {"solid", "Bodies and files"}}

// partRow is one part of the piece in the list of parts.
type partRow struct {
	piece.Part
	Share   float64
	Card    *plan.TrayCard
	Pinned  bool // it keeps its card
	Grouped bool // it takes a card together with others
}

type templateChoice struct {
	piece.Template
	On     bool
	Values map[string]float64
}

// templateChoices are all templates with their usual settings, the one in use
// with the plan's.
func templateChoices(plan *plan.Plan) []templateChoice {
	var out []templateChoice
	for _, t := range piece.Templates() {
		ch := templateChoice{t, t.Key == plan.Template, map[string]float64{}}
		for _, set := range t.Settings {
			ch.Values[set.Key] = set.Default
			if v, given := plan.Settings[set.Key]; given && ch.On {
				ch.Values[set.Key] = v
			}
		}
		out = append(out, ch)
	}
	return out
}

func (s pages) proportionStage(c *gin.Context, p *web.Page) (err error) {
	b := proportionBody{Most: stage.MostAway}
	b.Templates = templateChoices(p.Plan)
	p.Sub = "Choose the piece to try the colours on"
	if pc := p.Plan.Piece; pc == nil {
		b.Crafts, err = gallery(s.Desk, p)
	} else {
		b.ProportionView = stage.Proportion(p.Plan)
		p.Notes, p.Hidden, p.Mends = b.Notes, b.ProportionView.Hidden, mends(p)
		b.Size = web.SizeWords(pc.Piece)
		if size, is := s.Desk.SolidSize(p.Plan); is {
			b.Size = fmt.Sprintf("%.0f × %.0f × %.0f mm", size[0], size[1], size[2])
		}
		if far := away(c); far > 0 {
			across := stage.Across(p.Plan, far)
			b.Far, b.Across, b.Look = far, &across, p.View.Cookie()
			p.Path += fmt.Sprintf("?far=%g", far)
		}
		if c.Query("flat") != "" {
			p.Path += map[bool]string{true: "&", false: "?"}[b.Far > 0] + "flat=1"
		}
		b.OwnPage = ownPages[p.Plan.Template]
		p.Sub = fmt.Sprintf("%s, %s · choose a card of the tray, then the part that takes it", pc.Name, b.Size)
		for i, part := range pc.Parts {
			row := partRow{Part: part, Share: pc.Shares[i], Pinned: slices.Contains(p.Plan.Pinned, part.Key)}
			for _, g := range p.Plan.Groups {
				row.Grouped = row.Grouped || slices.Contains(g, part.Key)
			}
			if at := b.Fill[i]; at >= 0 {
				row.Card = &p.Plan.Tray[at]
			}
			b.Parts = append(b.Parts, row)
		}
		parts, look := web.PieceParts(p.Plan, b.Fill), draw.PieceLook{Key: pc.Key}
		if b.Flat = c.Query("flat") != ""; !b.Flat {
			look.Stitch = stage.Stitch(p.Plan)
			s.Surfaces(c, p, parts, b.Fill)
		}
		if c.GetHeader(web.PartHeader) != "" {
			look.Have = c.GetHeader(web.HaveHeader)
		}
		scene, err := draw.Piece(p.View.Light, pc.Piece, parts, look)
		if err != nil {
			return err
		}
		if len(pc.Unders) > 0 {
			scene = draw.Traced(p.View.Light, pc.Piece, parts, web.Shines(p, b.Fill, b.Flat), web.UnderPictures(p, pc.Piece))
		}
		b.Picture = &scene
		if !b.Flat {
			b.Solid = solidOf(p, b.Fill)
		}
		var bat []draw.Batten
		for _, t := range p.Plan.Tray {
			if t.Share > 0 {
				bat = append(bat, draw.Batten{Key: t.Key, Name: t.Name, Share: t.Share, Lab: t.Colour})
			}
		}
		b.Battens = draw.Battens(p.View.Light, bat)
	}
	p.Body = b
	return err
}
