package page

import (
	"cmp"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/craft"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/plan"
	"lampfern/plan/work"
	stage "lampfern/stages/proportion"
	"lampfern/web"
)

type worktableBody struct {
	Picture *draw.Scene
	Rows    []draw.WorkRow
	Problem string
	Order   []stage.WorkedCard // in which colours are taken up; nil for any
	Why     string
	Steps   []atWork
	Today   string
}

// atWork is a step that can be done now, or is at work.
type atWork struct {
	work.Step
	When string
}

// mostAtWork is how many steps lie making sheet.
const mostAtWork = 4

// stepsOf are the next steps of a plan, those at work first.
func (s pages) stepsOf(c *gin.Context, id uint) (out []atWork, err error) {
	a, err := work.Schedule(c.Request.Context(), s.Desk, time.Now())
	if err != nil {
		return nil, err
	}
	p := a.Of(id)
	if p == nil || p.Result.Err != nil {
		return nil, nil
	}
	type at struct{ i, start int }
	var all []at
	for i, st := range p.Steps {
		if !st.Left && !p.Job.Steps[i].Ended {
			all = append(all, at{i, p.Result.Steps[i].Start})
		}
	}
	slices.SortStableFunc(all, func(x, y at) int {
		begun := func(i int) int {
			if p.Steps[i].Begun != nil {
				return 0
			}
			return 1
		}
		return cmp.Or(cmp.Compare(begun(x.i), begun(y.i)), cmp.Compare(x.start, y.start))
	})
	for _, one := range all[:min(len(all), mostAtWork)] {
		out = append(out, atWork{p.Steps[one.i], words.Day(a.Moment(one.start))})
	}
	return out, nil
}

// worktableSheets are the sheets of every piece of a set that has a card, each with its name; of a
// plan of one piece that.
func (s pages) worktableSheets(c *gin.Context, p *plan.Plan) (out []draw.Scene, err error) {
	if len(p.Pieces) < 2 {
		one, _, err := s.worktableSheet(c, p, p.Name)
		return []draw.Scene{one}, err
	}
	pieces, err := s.Desk.Set(p)
	if err != nil {
		return nil, err
	}
	var none error
	for _, w := range pieces {
		one, _, err := s.worktableSheet(c, w.Plan, titleOf(p, w.Member))
		if said, bad := web.Problem(err); bad != nil {
			return nil, bad
		} else if said != "" {
			none = err
			continue
		}
		out = append(out, one)
	}
	if len(out) == 0 {
		if none == nil {
			none = words.Refusal("Every piece of the set is hidden. Show one under Set.")
		}
		return nil, none
	}
	return out, nil
}

// titleOf is what a sheet of one piece of a set is called.
func titleOf(p *plan.Plan, m plan.Member) string {
	if m.Made() > 1 {
		return fmt.Sprintf("%s: %s × %d", p.Name, m.Name, m.Made())
	}
	return p.Name + ": " + m.Name
}

// here is what the sheet of the piece that is worked on is called.
func here(p *plan.Plan) string {
	for _, m := range p.Pieces {
		if m.Key == p.At && len(p.Pieces) > 1 {
			return titleOf(p, m)
		}
	}
	return p.Name
}

// worktableSheet is a finished piece as one page; it is refused while there is
// nothing to show.
func (s pages) worktableSheet(c *gin.Context, plan *plan.Plan, title string) (draw.Scene, []draw.WorkRow, error) {
	if plan.Piece == nil {
		return draw.Scene{}, nil, words.Refusal("Choose a piece on Proportion first.")
	}
	labs := stage.PartColours(plan)
	var rows []draw.WorkRow
	for _, w := range stage.Worked(plan) {
		rows = append(rows, draw.WorkRow{Colour: w.Colour, Name: w.Name, Parts: strings.Join(w.Parts, ", "), Source: w.Source, Share: w.Share})
	}
	if len(rows) == 0 {
		return draw.Scene{}, nil, words.Refusal("No part of the piece has a colour yet. Add some on Proportion.")
	}
	unders, err := s.Desk.Unders(c.Request.Context(), plan)
	if err != nil {
		return draw.Scene{}, nil, err
	}
	scene, err := draw.WorktableSheet(title, plan.Purpose(), plan.Piece.Piece, unders, labs,
		s.PaperSurfaces(c, plan.Tray, plan.Fill()), rows)
	return scene, rows, err
}

// pieceSVG sends the coloured piece at its true size, to go on with elsewhere.
func (s pages) pieceSVG(c *gin.Context) {
	plan, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
	if s.Trouble(c, err, web.NoSuchPlan) {
		return
	}
	if plan.Piece == nil || plan.Piece.Cells != nil {
		s.Fail(c, http.StatusUnprocessableEntity,
			"This piece has no outlines to save. Save its picture on the making sheet.")
		return
	}
	labs := stage.PartColours(plan)
	web.Download(c, plan.Name+".svg", "image/svg+xml", []byte(draw.Coloured(plan.Piece.Piece, labs).SVG()))
}

// setSVG sends all pieces of a set beside one another in their colours, at their true size.
func (s pages) setSVG(c *gin.Context) {
	p, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
	if s.Trouble(c, err, web.NoSuchPlan) {
		return
	}
	pieces, err := s.Desk.Set(p)
	if s.Trouble(c, err, "") {
		return
	}
	if len(pieces) == 0 {
		s.Fail(c, http.StatusUnprocessableEntity, "No piece of the set is shown. Show one under Set, or choose one on Proportion.")
		return
	}
	var all []piece.Piece
	var keys []int
	var names []string
	var labs []*colour.Lab
	for _, w := range pieces {
		all, keys, names, labs = append(all, w.Plan.Piece.Piece), append(keys, w.Key), append(names, w.Name),
			append(labs, stage.PartColours(w.Plan)...)
	}
	web.Download(c, p.Name+" set.svg", "image/svg+xml", []byte(draw.Coloured(piece.Abreast(all, keys, names), labs).SVG()))
}

func (s pages) worktableStage(c *gin.Context, p *web.Page) error {
	p.Sub = "The finished plan on one page, to keep beside your work"
	scene, rows, err := s.worktableSheet(c, p.Plan, here(p.Plan))
	b := worktableBody{Rows: rows, Today: time.Now().Format(time.DateOnly)}
	if p.Plan.Piece != nil {
		b.Order = stage.InOrder(p.Plan, stage.Worked(p.Plan))
		of, _ := craft.Named(p.Plan.Craft)
		b.Why = of.Sitting.Words()
	}
	steps, bad := s.stepsOf(c, p.Plan.ID)
	if bad != nil {
		return bad
	}
	b.Steps = steps
	if b.Problem, err = web.Problem(err); err == nil && b.Problem == "" {
		b.Picture = &scene
	}
	p.Body = b
	return err
}

// worktable sends the finished plan as a file.
func (s pages) worktable(format string) gin.HandlerFunc {
	return func(c *gin.Context) {
		plan, err := s.Desk.Open(c.Request.Context(), web.PathID(c))
		if s.Trouble(c, err, web.NoSuchPlan) {
			return
		}
		var pages []draw.Scene
		if format == "pdf" { // every piece of a set, a page each
			pages, err = s.worktableSheets(c, plan)
		} else {
			var one draw.Scene
			one, _, err = s.worktableSheet(c, plan, here(plan))
			pages = []draw.Scene{one}
		}
		if words, bad := web.Problem(err); words != "" {
			s.Fail(c, http.StatusUnprocessableEntity, words)
			return
		} else if s.Trouble(c, bad, web.NoSuchPlan) {
			return
		}
		s.SendPages(c, fmt.Sprintf("%s making sheet", plan.Name), pages, format)
	}
}
