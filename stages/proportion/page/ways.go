package page

import (
	"cmp"
	"context"
	"fmt"
	"html/template"
	"net/http"
	"slices"
	"sort"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/plan"
	stage "lampfern/stages/proportion"
	"lampfern/web"
)

// waysWithin bounds a search; the best found by then are shown.
const waysWithin = 2 * time.Second

type waysBody struct {
	Shape      template.HTML // the piece as a symbol, shared by the small pictures
	Box        string        // its view box
	Parts      []wayPart
	Ways       []smallPiece
	Colourways []smallPiece
	Beside     []smallPiece // the piece as it is and its colourways, to be shown large side by side; nil when not asked for
	Problem    string
	Words      string // how many ways there are
	Wanted     string // the amounts that the scrap page asks for, in words; empty for none
	Much       bool   // ways are ranked by them
}

// wayPart is a part that can be focus, quiet or pinned.
type wayPart struct {
	Key, Name            string
	Focus, Quiet, Pinned bool
	Filled               bool
}

// smallPiece is a way or a colourway as a small picture.
type smallPiece struct {
	Paints template.CSS // the colours of the parts as custom properties
	Words  string
	Fills  string // part=card, to take it
	Form   web.ColourwayForm
	Moods  string // which moods a colourway meets, and what keeps it from others
	Now    bool
	Kept   *plan.ColourwayView // nil for a way
}

func (s pages) waysStage(c *gin.Context, p *web.Page) error {
	p.Sub = "Every arrangement of these cards. Choose a focal point, a background and what to pin"
	q := c.Request.URL.Query()
	b := waysBody{}
	pc := p.Plan.Piece
	if pc == nil {
		b.Problem = "Choose a piece on Proportion first."
		p.Body = b
		return nil
	}
	shape, box, err := draw.PieceShape(pc.Piece, "piece-shape", web.UnderPictures(p, pc.Piece), p.HasFinishes())
	if err != nil {
		return err
	}
	b.Shape, b.Box = template.HTML(shape), box
	moods, err := plan.Moods(c.Request.Context(), s.Desk)
	if err != nil {
		return err
	}
	for _, k := range p.Plan.ColourwayViews() {
		b.Colourways = append(b.Colourways, smallPiece{Paints: p.Paints(k.Labs), Words: k.Name, Fills: fillsOut(k.Fills), Now: k.Now,
			Kept:  &k,
			Moods: p.Plan.MoodWords(k.Tray, stage.LayoutOf(p.Plan, k.Fill, len(k.Tray)), k.Mood, moods), Form: web.FormOf(p, k.Colourway, moods)})
	}
	if q.Get("beside") != "" && len(b.Colourways) > 0 {
		p.Sub, p.Path = "All at one size", p.Path+"?beside=1"
		b.Beside = beside(p, b.Colourways)
		p.Body = b
		return nil
	}
	asked := stage.WaysAsked{Focus: q.Get("focus"), Quiet: q["quiet"], Much: q.Get("amounts") != "any"}
	b.Wanted, b.Much = wanted(p.Plan), asked.Much
	filled := map[string]bool{}
	for _, f := range p.Plan.Fills {
		filled[f.Part] = true
	}
	for i, part := range pc.Parts {
		if p.Plan.Piece.Covered(i) {
			continue
		}
		b.Parts = append(b.Parts, wayPart{Key: part.Key, Name: part.Name, Focus: part.Key == asked.Focus,
			Quiet:  slices.Contains(asked.Quiet, part.Key),
			Pinned: slices.Contains(p.Plan.Pinned, part.Key), Filled: filled[part.Key]})
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), waysWithin)
	defer cancel()
	ways, err := stage.Ways(ctx, s.Desk, p.Plan, asked)
	b.Words = ways.Words
	if b.Problem, err = web.Problem(err); err != nil {
		return err
	}
	for _, w := range ways.Ways {
		b.Ways = append(b.Ways, smallPiece{Paints: p.Paints(w.Labs), Words: w.Words, Fills: fillsOut(w.Fills), Now: w.Now})
	}
	if len(q) > 0 {
		p.Path += "?" + q.Encode()
	}
	p.Body = b
	return nil
}

// beside are the piece as it is now, where it is none of the colourways, and the colourways, each
// with what it does.
func beside(p *web.Page, kept []smallPiece) (out []smallPiece) {
	fill := p.Plan.Fill()
	if !slices.ContainsFunc(kept, func(k smallPiece) bool { return k.Now }) {
		labs := make([]*colour.Lab, len(fill))
		for i, at := range fill {
			if at >= 0 {
				labs[i] = &p.Plan.Tray[at].Colour
			}
		}
		out = append(out, smallPiece{Paints: p.Paints(labs), Words: stage.Reads(p.Plan, p.Plan.Tray, fill), Now: true})
	}
	for _, k := range kept {
		k.Words = stage.Reads(p.Plan, k.Kept.Tray, k.Kept.Fill)
		if gone := k.Kept.Gone; len(gone) > 0 {
			k.Words += fmt.Sprintf(" With %s, set aside since.", words.List(gone))
		}
		out = append(out, k)
	}
	return out
}

// wanted are the amounts that the scrap page asks for, in words.
func wanted(p *plan.Plan) string {
	var out []string
	for i, share := range p.Amounts() {
		if share > 0 {
			out = append(out, p.Tray[i].Name+" "+words.PerCent(share))
		}
	}
	return words.All(out)
}

// fillsOut writes which part takes which card, as fillsIn reads it.
func fillsOut(fills map[string]int) string {
	var parts []string
	for part, key := range fills {
		parts = append(parts, fmt.Sprintf("%s.%d", part, key))
	}
	sort.Strings(parts)
	return strings.Join(parts, " ")
}

// colourways sends the sheet of colourways.
func (s pages) colourways(format string) gin.HandlerFunc {
	return func(c *gin.Context) {
		plan, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
		if s.Trouble(c, err, web.NoSuchPlan) {
			return
		}
		sheets, err := s.colourwaySheets(c, plan)
		if said, bad := web.Problem(err); said != "" {
			s.Fail(c, http.StatusUnprocessableEntity, said)
			return
		} else if s.Trouble(c, bad, "") {
			return
		}
		s.SendPages(c, plan.Name+" colourways", sheets, format)
	}
}

// colourwaySheets are a sheet of the colourways of each piece that has some, that of the one that is
// worked on first, and one of those of the whole set.
func (s pages) colourwaySheets(c *gin.Context, p *plan.Plan) (out []draw.Scene, err error) {
	pieces, err := s.Desk.Set(p)
	if err != nil {
		return nil, err
	}
	slices.SortStableFunc(pieces, func(a, b plan.Whole) int { return cmp.Compare(aside(a), aside(b)) })
	for _, w := range pieces {
		var all []draw.WaySheet
		for _, k := range w.Plan.ColourwayViews() {
			all = append(all, draw.WaySheet{Name: k.Name, Remark: remarkOf(k.Colourway), Favourite: k.Favourite, Labs: k.Labs,
				Surfaces: s.PaperSurfaces(c, k.Tray, k.Fill)})
		}
		if len(all) == 0 {
			continue
		}
		title := p.Name
		if len(p.Pieces) > 1 {
			title = titleOf(p, w.Member)
		}
		unders, err := s.Desk.Unders(c.Request.Context(), w.Plan)
		if err != nil {
			return nil, err
		}
		sheet, err := draw.ColourwaySheet(title, w.Plan.Piece.Piece, unders, all)
		if err != nil {
			return nil, err
		}
		out = append(out, sheet)
	}
	if set := p.SetColourways(pieces); len(set) > 0 && len(pieces) > 0 {
		var all []draw.WaySheet
		var parts []piece.Piece
		var keys []int
		var names []string
		for _, w := range pieces {
			parts, keys, names = append(parts, w.Plan.Piece.Piece), append(keys, w.Key), append(names, w.Name)
		}
		for _, v := range set {
			one := draw.WaySheet{Name: v.Name, Remark: remarkOf(v.Colourway), Favourite: v.Favourite}
			for i, w := range pieces {
				tray := v.TrayOn(w)
				for _, at := range v.Fill[i] {
					if at < 0 {
						one.Labs = append(one.Labs, nil)
						continue
					}
					one.Labs = append(one.Labs, &tray[at].Colour)
				}
			}
			all = append(all, one)
		}
		sheet, err := draw.ColourwaySheet(p.Name, piece.Abreast(parts, keys, names), nil, all)
		if err != nil {
			return nil, err
		}
		out = append(out, sheet)
	}
	if len(out) == 0 {
		return nil, words.Refusal("No colourways yet, so there is nothing to print. Save one first.")
	}
	return out, nil
}

// aside is 1 for a piece that is not worked on.
func aside(w plan.Whole) int {
	if w.Held == nil {
		return 0
	}
	return 1
}

// remarkOf is what is written of a colourway: for whom, season, mood and remark.
func remarkOf(c plan.Colourway) string {
	var out []string
	for _, s := range []string{c.For, c.Season, c.Mood, c.Remark} {
		if s != "" {
			out = append(out, s)
		}
	}
	return strings.Join(out, " · ")
}
