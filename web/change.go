package web

import (
	"errors"
	"fmt"
	"maps"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"github.com/gin-gonic/gin"

	"lampfern/core/form"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

func (s *Server) stage(c *gin.Context) {
	s.RenderStage(c, http.StatusOK, PathID(c), c.Param("stage"), "")
}

// RenderStage shows a page of a plan with what just happened.
func (s *Server) RenderStage(c *gin.Context, status int, id uint, page, flash string) {
	s.renderStage(c, status, id, page, flash, nil)
}

func (s *Server) renderStage(c *gin.Context, status int, id uint, page, flash string, sent *Sent) {
	p, err := s.Desk.Open(c.Request.Context(), id)
	if s.Trouble(c, err, NoSuchPlan) {
		return
	}
	at, known := s.stages[page]
	if !known {
		s.Fail(c, http.StatusNotFound, fmt.Sprintf("A plan has no stage called %q. The stages are at the left of every plan.", page))
		return
	}
	out := s.PlanPage(c, p, page)
	out.Sent = sent
	if flash != "" {
		out.Flash = flash
	}
	if s.Trouble(c, at.Show(c, out), NoSuchPlan) {
		return
	}
	if at.Piece {
		if out.OnPiece, err = s.onPiece(c, out, at.Grey); s.Trouble(c, err, NoSuchPlan) {
			return
		}
	}
	if p.Piece != nil {
		out.Prints = Defs(s.SmallPrints(c, out, false) + out.smallFinishes())
	}
	s.Render(c, status, out)
}

// change makes one change to a plan and answers with the page it was made on: as
// a part for a script, by a redirect for a plain form.
func (s *Server) change(c *gin.Context) {
	id := PathID(c)
	if act, bad := url.ParseQuery(c.PostForm("act")); bad == nil {
		for name, values := range act { // a button carries its whole change
			c.Request.PostForm[name] = values
		}
	}
	said, err := s.do(c, id)
	if err == nil && c.PostForm("do") == "away" && c.PostForm("away") == "1" && c.GetHeader(PartHeader) == "" {
		GoTo(c, "/plans", "The plan is archived. Restore it at the foot of this page.")
		return
	}
	s.answer(c, id, c.PostForm("stage"), said, err)
}

// do makes the change that a form asks for and says what the maker should know.
func (s *Server) do(c *gin.Context, id uint) (said string, err error) {
	ctx, f := c.Request.Context(), form.New(c.Request.PostForm)
	verb, revision := c.PostForm("do"), revisionOf(c)
	if verb == "undo" || verb == "redo" {
		label, err := s.Desk.StepPlan(ctx, id, revision, verb == "undo")
		return map[string]string{"undo": "Undone: ", "redo": "Done again: "}[verb] + label + ".", err
	}
	if make, known := s.edits[verb]; known {
		e := make()
		if err := f.Fill(e); err != nil {
			return "", err
		}
		return s.Desk.Change(ctx, id, revision, e)
	}
	if make, known := s.acts[verb]; known {
		a := make()
		if err := f.Fill(a); err != nil {
			return "", err
		}
		p, err := s.Desk.Open(ctx, id)
		if err != nil {
			return "", err
		}
		return a.Act(ctx, s.Desk, p)
	}
	return "", words.Refuse("This change is not known here. Load the page again.")
}

func revisionOf(c *gin.Context) int64 {
	revision, err := strconv.ParseInt(c.PostForm("revision"), 10, 64)
	if err != nil {
		return -1
	}
	return revision
}

// tour puts the hints of the stages away, or shows them again.
func (s *Server) tour(c *gin.Context) {
	shown := c.PostForm("shown") != ""
	if s.Trouble(c, s.Desk.KeepTour(c.Request.Context(), shown), "") {
		return
	}
	said := "Hints are hidden. Show them again under “Backup and health”."
	if shown {
		said = "Hints are shown again at the right of every stage."
	}
	back := c.PostForm("back")
	if !here(back) {
		back = "/"
	}
	GoTo(c, back, said)
}

// revision says at which revision a plan is, so that a page finds out that another tab changed it.
func (s *Server) revision(c *gin.Context) {
	n, err := s.Desk.Store.Read(c.Request.Context()).Revision(PathID(c))
	if errors.Is(err, shelf.ErrNotFound) {
		c.Status(http.StatusNotFound)
		return
	}
	if s.Trouble(c, err, NoSuchPlan) {
		return
	}
	c.String(http.StatusOK, strconv.FormatInt(n, 10))
}

// Sent is a change that was not made because the plan was changed meanwhile, as a plain form sent
// it: what was typed, and all of it to be sent again.
type Sent struct {
	Typed  []string
	Fields []Field
}

// Field is one field of a form.
type Field struct{ Name, Value string }

// sentOf is the change that a request asked for.
func sentOf(c *gin.Context) *Sent {
	out := &Sent{}
	for _, name := range slices.Sorted(maps.Keys(c.Request.PostForm)) {
		if name == "revision" || name == "act" {
			continue
		}
		for _, v := range c.Request.PostForm[name] {
			out.Fields = append(out.Fields, Field{name, v})
			if name != "do" && name != "stage" && strings.ContainsFunc(v, unicode.IsLetter) { // numbers are of cards and parts
				out.Typed = append(out.Typed, v)
			}
		}
	}
	return out
}

// stale is said when the plan was saved meanwhile.
const stale = "This plan was changed in another tab. Your last change was not made, and nothing was overwritten. The page shows the newer plan with what you typed. Check it, then make the change again."

// answer shows the page a change was made on, with what came of it.
func (s *Server) answer(c *gin.Context, id uint, page, said string, err error) {
	status := http.StatusOK
	var refused words.Refusal
	switch {
	case errors.Is(err, shelf.ErrConflict) && c.GetHeader(PartHeader) == "":
		s.renderStage(c, http.StatusConflict, id, page, stale, sentOf(c))
		return
	case errors.Is(err, shelf.ErrConflict):
		status, said = http.StatusConflict, stale
	case errors.As(err, &refused):
		status, said = http.StatusUnprocessableEntity, string(refused)
	case s.Trouble(c, err, NoSuchPlan):
		return
	}
	if c.GetHeader(PartHeader) == "" {
		address := fmt.Sprintf("/plans/%d/%s", id, url.PathEscape(page))
		if q := c.Request.URL.RawQuery; q != "" { // what was looked at stays
			address += "?" + q
		}
		GoTo(c, address, said)
		return
	}
	s.RenderStage(c, status, id, page, said)
}

// bring takes a maker's own file into a plan.
func (s *Server) bring(c *gin.Context) {
	id := PathID(c)
	name, data, err := Uploaded(c)
	page := c.PostForm("stage")
	if page == "" {
		page = "drawing"
	}
	var said string
	var big *http.MaxBytesError
	make, known := s.brings[c.PostForm("kind")]
	switch {
	case errors.As(err, &big):
		err = words.Refuse("Not imported: the file is larger than %d MB. Save it smaller.", big.Limit>>20)
	case err != nil:
		err = words.Refuse("Choose a file first.")
	case !known:
		err = words.Refuse("This cannot be imported here. Load the page again.")
	default:
		b := make()
		b.Take(plan.File{Name: name, Data: data})
		if err = form.New(c.Request.PostForm).Fill(b); err == nil {
			said, err = s.Desk.Change(c.Request.Context(), id, revisionOf(c), b)
		}
	}
	if err == nil {
		GoTo(c, fmt.Sprintf("/plans/%d/%s", id, url.PathEscape(page)), said)
		return
	}
	const conflict = "Not imported: this plan was changed in another tab. The page now shows the newer plan. Import again."
	var refused words.Refusal
	switch {
	case errors.Is(err, shelf.ErrConflict):
		s.RenderStage(c, http.StatusConflict, id, page, conflict)
	case errors.As(err, &refused):
		s.RenderStage(c, http.StatusUnprocessableEntity, id, page, string(refused))
	default:
		s.Trouble(c, err, NoSuchPlan)
	}
}
