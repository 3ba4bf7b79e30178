package web

import (
	"bytes"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/brief"
	"lampfern/exchange"
	"lampfern/studio"
)

const noSuchPlan = "There is no such plan here. The list of plans shows those that are kept."

type plansBody struct {
	Kept    []studio.PlanSummary
	Away    []studio.PlanSummary
	Crafts  []string
	Name    string
	Problem string
}

func (s *Server) renderPlans(c *gin.Context, status int, name, problem string) {
	all, err := s.studio.Plans(c.Request.Context())
	if s.trouble(c, err, "") {
		return
	}
	p := s.page(c, "plans", "Plans")
	p.Path = "/plans"
	b := plansBody{Crafts: studio.Crafts(), Name: name, Problem: problem}
	for _, pl := range all {
		if pl.PutAway {
			b.Away = append(b.Away, pl)
		} else {
			b.Kept = append(b.Kept, pl)
		}
	}
	p.Sub = plural(len(b.Kept), "plan", "plans") + ", the one worked on last first"
	p.Body = b
	s.render(c, status, p)
}

func (s *Server) plans(c *gin.Context) { s.renderPlans(c, http.StatusOK, "", "") }

func (s *Server) newPlan(c *gin.Context) {
	id, err := s.studio.NewPlan(c.Request.Context(), c.PostForm("name"), c.PostForm("craft"))
	var refused studio.Refusal
	if errors.As(err, &refused) {
		s.renderPlans(c, http.StatusUnprocessableEntity, c.PostForm("name"), string(refused))
		return
	}
	if s.trouble(c, err, "") {
		return
	}
	goTo(c, fmt.Sprintf("/plans/%d/gather", id), "A new plan. Pull cards into the tray, or make one the lead colour.")
}

func (s *Server) importPlan(c *gin.Context) {
	_, data, err := uploaded(c)
	if err != nil {
		s.renderPlans(c, http.StatusUnprocessableEntity, "", "Choose a plan file first; it must be smaller than 5 MB.")
		return
	}
	plan, err := exchange.ReadPlan(bytes.NewReader(data))
	if err != nil {
		s.renderPlans(c, http.StatusUnprocessableEntity, "", capital(err.Error())+".")
		return
	}
	id, err := s.studio.ImportPlan(c.Request.Context(), plan)
	var refused studio.Refusal
	if errors.As(err, &refused) {
		s.renderPlans(c, http.StatusUnprocessableEntity, "", string(refused))
		return
	}
	if s.trouble(c, err, "") {
		return
	}
	goTo(c, fmt.Sprintf("/plans/%d/wheel", id), plan.Name+" is brought in with its materials.")
}

func (s *Server) planFile(c *gin.Context) {
	plan, err := s.studio.ExportPlan(c.Request.Context(), pathID(c))
	if s.trouble(c, err, noSuchPlan) {
		return
	}
	var b bytes.Buffer
	if s.trouble(c, exchange.WritePlan(&b, plan), "") {
		return
	}
	download(c, plan.Name+".json", "application/json", b.Bytes())
}

// form reads the numbers of a change; the first that is none is remembered.
type form struct {
	c   *gin.Context
	bad error
}

func (f *form) int(field string) int {
	n, err := strconv.Atoi(strings.TrimSpace(f.c.PostForm(field)))
	if err != nil && f.bad == nil {
		f.bad = studio.Refusal(fmt.Sprintf("%s must be a whole number.", capital(field)))
	}
	return n
}

func (f *form) id(field string) uint { return uint(max(0, f.int(field))) }

// edit makes the edit that a form asks for.
func (f *form) edit() (studio.Edit, error) {
	var e studio.Edit
	switch do := f.c.PostForm("do"); do {
	case "pull":
		e = studio.Pull(f.id("material"))
	case "aside":
		e = studio.SetAside(f.int("key"))
	case "move":
		e = studio.Move(f.int("key"), f.int("to"))
	case "swap":
		e = studio.Swap(f.int("key"), f.int("with"))
	case "lead":
		if f.c.PostForm("key") != "" {
			e = studio.LeadWithCard(f.int("key"))
		} else {
			e = studio.LeadWith(f.id("material"))
		}
	case "turn":
		e = studio.TurnTo(f.int("places"))
	case "fill":
		e = studio.Fill(f.c.PostForm("part"), f.int("key"))
	case "fill-rest":
		e = studio.FillRest()
	case "reverse":
		e = studio.ReverseFills()
	case "piece":
		settings, err := f.settings()
		if err != nil {
			return nil, err
		}
		e = studio.ChoosePiece(f.c.PostForm("template"), settings)
	case "dismiss":
		e = studio.Dismiss(f.c.PostForm("note"), f.c.PostForm("remark"))
	case "show-note":
		e = studio.ShowNote(f.c.PostForm("note"))
	case "show-notes":
		e = studio.ShowNotes()
	case "name-scrap":
		e = studio.RenameScrap(f.int("key"), f.c.PostForm("name"))
	case "drop-scrap":
		e = studio.DropScrap(f.int("key"))
	case "brief":
		e = f.brief()
	case "away":
		e = studio.PutAway(f.c.PostForm("away") == "1")
	default:
		if e = f.wheelEdit(do); e == nil {
			e = f.runEdit(do)
		}
		if e == nil {
			e = f.deckEdit(do)
		}
		if e == nil {
			e = f.wayEdit(do)
		}
		if e == nil {
			e = f.ownEdit(do)
		}
		if e == nil {
			return nil, studio.Refusal("This change is not known here. Load the page again.")
		}
	}
	return e, f.bad
}

// settings reads the fields named set-KEY.
func (f *form) settings() (map[string]float64, error) {
	out := map[string]float64{}
	if err := f.c.Request.ParseForm(); err != nil {
		return nil, fmt.Errorf("reading the form: %w", err)
	}
	for name := range f.c.Request.PostForm {
		key, ok := strings.CutPrefix(name, "set-")
		if !ok {
			continue
		}
		v, err := strconv.ParseFloat(strings.Replace(strings.TrimSpace(f.c.PostForm(name)), ",", ".", 1), 64)
		if err != nil {
			return nil, studio.Refusal(fmt.Sprintf("%q is not a number: write the %s in figures.", f.c.PostForm(name), key))
		}
		out[key] = v
	}
	return out, nil
}

// change applies one change to a plan and answers with the stage it was made
// on: as a part for a script, by a redirect for a plain form.
func (s *Server) change(c *gin.Context) {
	id, ctx := pathID(c), c.Request.Context()
	revision, err := strconv.ParseInt(c.PostForm("revision"), 10, 64)
	if err != nil {
		revision = -1
	}
	if act, bad := url.ParseQuery(c.PostForm("act")); bad == nil {
		for name, values := range act { // a button carries its whole change
			c.Request.PostForm[name] = values
		}
	}
	stage := c.PostForm("stage")
	words, status := "", http.StatusOK
	switch do := c.PostForm("do"); do {
	case "undo", "redo":
		words, err = s.studio.StepPlan(ctx, id, revision, do == "undo")
		if err == nil {
			words = map[string]string{"undo": "Undone: ", "redo": "Done again: "}[do] + words + "."
		}
	case "batten":
		f := form{c: c}
		key, share := f.int("key"), f.number("share", 0)
		if err = f.bad; err == nil {
			words, err = s.studio.TakeShare(ctx, id, revision, key, share/100)
		}
		if words != "" {
			words += "."
		}
	case "mood":
		var mood brief.Mood
		if mood, err = s.studio.Mood(ctx, c.PostForm("mood")); err == nil {
			err = s.studio.Change(ctx, id, revision, studio.SetMood(mood))
		}
	default:
		var done bool
		if words, done, err = s.changeMoods(c, id); done {
			break
		}
		if words, done, err = s.changeRamp(c, id, revision); done {
			break
		}
		if words, done, err = s.changeOnPhoto(c, id, revision); done {
			break
		}
		var edit studio.Edit
		f := form{c: c}
		if edit, err = f.edit(); err == nil {
			err = s.studio.Change(ctx, id, revision, edit)
		}
	}
	var refused studio.Refusal
	switch {
	case errors.Is(err, studio.ErrConflict):
		status = http.StatusConflict
		words = "This plan was changed in another tab. Your last change was not saved and nothing was overwritten; the page now shows the newer plan. Make the change again."
	case errors.As(err, &refused):
		status, words = http.StatusUnprocessableEntity, string(refused)
	case s.trouble(c, err, noSuchPlan):
		return
	}
	if c.PostForm("do") == "away" && status == http.StatusOK && c.PostForm("away") == "1" && c.GetHeader(partHeader) == "" {
		goTo(c, "/plans", "The plan is put away. It can be brought back from the foot of this page.")
		return
	}
	if c.GetHeader(partHeader) == "" {
		goTo(c, fmt.Sprintf("/plans/%d/%s", id, url.PathEscape(stage)), words)
		return
	}
	s.renderStage(c, status, id, stage, words)
}
