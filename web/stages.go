package web

import (
	"fmt"
	"net/http"
	"slices"

	"github.com/gin-gonic/gin"

	"lampfern/core/balance"
	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/draw"
	"lampfern/studio"
)

func (s *Server) stage(c *gin.Context) {
	s.renderStage(c, http.StatusOK, pathID(c), c.Param("stage"), "")
}

// renderStage shows one stage of a plan with what just happened.
func (s *Server) renderStage(c *gin.Context, status int, id uint, stage, flash string) {
	plan, err := s.studio.Open(c.Request.Context(), id)
	if s.trouble(c, err, noSuchPlan) {
		return
	}
	p := s.planPage(c, plan, stage)
	if flash != "" {
		p.Flash = flash
	}
	switch stage {
	case "gather":
		s.gatherStage(c, p)
	case "scraps":
		p.Sub = "Colours torn from photos, with your own names and the nearest cards on the shelf"
		p.Body = p.Plan.ScrapPage()
	case "wheel":
		err = wheelStage(c, p)
	case "values":
		valuesStage(c, p)
	case "ways":
		err = s.waysStage(c, p)
	case "pieces":
		err = piecesStage(p)
	case "draft":
		err = draftStage(c, p)
	case "stitches":
		err = stitchesStage(p)
	case "drawing":
		err = drawingStage(p)
	case "solid":
		err = s.solidStage(p)
	case "worktable":
		err = s.worktableStage(c, p)
	case "second":
		err = secondStage(c, p)
	case "ramp":
		err = s.rampStage(c, p)
	case "squint":
		err = squintStage(c, p)
	case "cards":
		cardsStage(c, p)
	case "proportion":
		err = s.proportionStage(c, p)
	case "brief":
		err = s.briefStage(c, p)
	case "nudge":
		err = s.nudgeStage(c, p)
	case "combinations":
		triedStage(p)
	case "mix", "signoff", "buy", "log":
		p.Template = "later"
		p.Sub = laterWords[stage]
	default:
		s.fail(c, http.StatusNotFound, fmt.Sprintf("A plan has no stage called %q. The stages are at the left of every plan.", stage))
		return
	}
	if s.trouble(c, err, noSuchPlan) {
		return
	}
	s.render(c, status, p)
}

// laterWords say what will live in the stages that are not built yet.
var laterWords = map[string]string{
	"mix":     "Recipes for a wanted colour from your own paints, dyes and soap colourants will live here.",
	"signoff": "A dated sheet of the plan for a client to agree to before work starts will live here.",
	"buy":     "How much of each material to buy, less what is on hand, will live here.",
	"log":     "What was really made, beside what was planned, will live here.",
}

func (s *Server) gatherStage(c *gin.Context, p *page) {
	b := s.shelfBody(c, p.Plan.Shelf, p.Path)
	b.InTray = map[uint]bool{}
	for _, t := range p.Plan.Tray {
		b.InTray[t.ID] = true
	}
	p.Sub = "Pull cards from the shelf into the tray, or make one the lead colour"
	if q := c.Request.URL.RawQuery; q != "" && c.Request.Method == http.MethodGet {
		p.Path += "?" + q
	}
	p.Body = b
}

type proportionBody struct {
	studio.ProportionView
	Picture   *draw.Scene
	Battens   draw.Scene
	Parts     []partRow
	Templates []templateChoice
	Crafts    []pieceCraft // the gallery, while no piece is chosen
	Size      string
	Look      string             // how the picture from afar is lit, so that it is fetched anew
	Far, Most float64            // metres away the piece is looked at from, and the most
	Across    *studio.AcrossView // what blends there; nil from close by
	Solid     *solidShown        // an assembly to be turned; nil for any other piece
	Flat      bool               // surfaces are left out of the picture
	OwnPage   ownPage            // where what the maker puts in is edited; empty for none
}

// ownPage is the page on which what a maker puts into a piece is edited.
type ownPage struct{ Key, Name string }

// ownPages are those pages, by template.
var ownPages = map[string]ownPage{"cloth": {"draft", "Threads and draft"}, "stranded": {"stitches", "Edit the chart"}, "drawn": {"drawing", "Draw"}, "solid": {"solid", "Bodies and files"}}

// partRow is one part of the piece in the list of parts.
type partRow struct {
	piece.Part
	Share   float64
	Card    *studio.TrayCard
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
func templateChoices(plan *studio.Plan) []templateChoice {
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

func (s *Server) proportionStage(c *gin.Context, p *page) (err error) {
	b := proportionBody{Most: studio.MostAway}
	b.Templates = templateChoices(p.Plan)
	p.Sub = "Choose the piece to try the colours on"
	if pc := p.Plan.Piece; pc == nil {
		b.Crafts, err = gallery(p)
	} else {
		b.ProportionView = p.Plan.Proportion()
		p.Notes, p.Hidden = b.Notes, b.ProportionView.Hidden
		b.Size = size(pc.Piece)
		if size, is := s.studio.SolidSize(p.Plan); is {
			b.Size = fmt.Sprintf("%.0f × %.0f × %.0f mm", size[0], size[1], size[2])
		}
		if far := away(c); far > 0 {
			across := p.Plan.Across(far)
			b.Far, b.Across, b.Look = far, &across, p.View.cookie()
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
		parts, look := pieceParts(p.Plan, b.Fill), draw.PieceLook{Key: pc.Key}
		if b.Flat = c.Query("flat") != ""; !b.Flat {
			look.Stitch = p.Plan.Stitch()
			s.surfaces(c, p, parts, b.Fill)
		}
		if c.GetHeader(partHeader) != "" {
			look.Have = c.GetHeader(haveHeader)
		}
		scene, err := draw.Piece(p.View.Light, pc.Piece, parts, look)
		if err != nil {
			return err
		}
		if len(pc.Unders) > 0 {
			scene = draw.Traced(p.View.Light, pc.Piece, parts, shines(p, b.Fill, b.Flat), underPictures(p, pc.Piece))
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

// pieceParts are the parts of a plan's piece with the cards they take.
func pieceParts(plan *studio.Plan, fill []int) []draw.PiecePart {
	var parts []draw.PiecePart
	for i, part := range plan.Piece.Parts {
		dp := draw.PiecePart{Key: part.Key, Name: part.Name}
		if at := fill[i]; at >= 0 {
			t := &plan.Tray[at]
			dp.Card, dp.Lab = t.Name, &t.Colour
		}
		parts = append(parts, dp)
	}
	return parts
}

// surfaces puts onto the parts what their cards show beside a flat colour: a
// print's picture in plain daylight, a flash, stitches.
func (s *Server) surfaces(c *gin.Context, p *page, parts []draw.PiecePart, fill []int) {
	for i, at := range fill {
		if at < 0 {
			continue
		}
		t, f := p.Plan.Tray[at], &parts[i].Surface
		f.Stitch = t.Kind == "yarn"
		if pic := t.Picture; pic != nil && pic.Wide > 0 && p.View.plainDaylight() {
			f.Picture = fmt.Sprintf("/photos/%s/piece.jpg?box=%.4f,%.4f,%.4f,%.4f", pic.Photo, pic.X, pic.Y, pic.W, pic.H)
			f.Wide, f.High = pic.Wide, s.studio.PictureHigh(c.Request.Context(), *pic)
		}
		for _, other := range t.Further {
			if other.Role == material.Flash {
				f.Flash = &other.Colour
			}
		}
	}
}

// Shape is how a note's severity is drawn: a full, half or open disc.
func (p *page) Shape(n balance.Note) string {
	return map[balance.Severity]string{balance.Fix: "full", balance.Consider: "half", balance.Fine: "open"}[n.Severity]
}

// SwapKeys are the tray keys of the two cards a note offers to swap, as the
// change takes them; empty for none.
func (p *page) SwapKeys(n balance.Note) string {
	if len(n.Swap) != 2 || p.Plan == nil {
		return ""
	}
	return fmt.Sprintf("key=%d&with=%d", p.Plan.Tray[n.Swap[0]].Key, p.Plan.Tray[n.Swap[1]].Key)
}

// AsideKey is the tray key of the card a note offers to set aside, 0 for none.
func (p *page) AsideKey(n balance.Note) int {
	if n.Aside < 0 || p.Plan == nil || n.Aside >= len(p.Plan.Tray) {
		return 0
	}
	return p.Plan.Tray[n.Aside].Key
}
