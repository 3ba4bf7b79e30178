package web

import (
	"fmt"
	"html/template"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/plan"
)

// RibbonTab is one tab of the ribbon under the piece: other ways to colour it, to look at and to use. Rooms bring
// theirs. Looking at one changes nothing.
type RibbonTab struct {
	Key, Name string
	Order     int
	Wide      string                  // the page of the plan that it is opened wide on
	Nothing   string                  // what is said where it holds nothing
	Here      func(p *plan.Plan) bool // whether the plan has it; nil for always
	Count     func(p *plan.Plan) int  // shown beside its name; nil for none
	Fill      func(c *gin.Context, p *Page) ([]RibbonPiece, error)
}

// RibbonPiece is one small picture of the ribbon: the piece in these colours, a picture by its address, or colours
// side by side.
type RibbonPiece struct {
	Labs  []*colour.Lab // of the piece's parts, nil for one without a card
	Image string
	Bands []colour.Lab
	Words string
	Now   bool
	Use   string // the change that takes it, empty for none
	Save  string // the change that keeps it
	Look  string // the address that shows it large
}

// Ribbon is the ribbon as a page shows it.
type Ribbon struct {
	Tabs    []Choice
	Key     string
	Wide    string
	Nothing string
	Pieces  []RibbonPiece
	Shape   *OnPiece
}

// Paint is the style of one of its pieces.
func (p *Page) PaintOf(r RibbonPiece) template.CSS { return p.Paints(r.Labs) }

// tabs are the tabs that the rooms bring, in their order.
func tabs(rooms []Room) (out []RibbonTab) {
	for _, r := range rooms {
		out = append(out, r.Ribbon...)
	}
	slices.SortStableFunc(out, func(a, b RibbonTab) int { return a.Order - b.Order })
	return out
}

// Ribbon fills the ribbon of a plan's piece with the tab that the address asks for, the first for none.
func (s *Server) Ribbon(c *gin.Context, p *Page) (*Ribbon, error) {
	out := &Ribbon{}
	var on *RibbonTab
	for _, t := range tabs(s.rooms) {
		if t.Here != nil && !t.Here(p.Plan) {
			continue
		}
		if on == nil || t.Key == c.Query("ribbon") {
			on = &t
		}
		choice := Choice{Key: t.Key, Name: t.Name}
		if t.Count != nil {
			choice.Count = t.Count(p.Plan)
		}
		out.Tabs = append(out.Tabs, choice)
	}
	if on == nil {
		return nil, nil
	}
	for i := range out.Tabs {
		out.Tabs[i].On = out.Tabs[i].Key == on.Key
	}
	if c.Query("ribbon") != "" {
		with := "?"
		if strings.Contains(p.Path, "?") {
			with = "&"
		}
		p.Path += with + "ribbon=" + on.Key
	}
	var err error
	if out.Pieces, err = on.Fill(c, p); err != nil {
		return nil, fmt.Errorf("filling the ribbon's %s: %w", on.Key, err)
	}
	out.Key, out.Wide, out.Nothing = on.Key, on.Wide, on.Nothing
	out.Shape, err = s.onPiece(c, p, false)
	return out, err
}
