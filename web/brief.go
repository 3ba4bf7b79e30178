package web

import (
	"math"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/brief"
	"lampfern/core/colour"
	"lampfern/draw"
	"lampfern/studio"
)

// briefBody is what the brief stage shows beside the plan's own fields.
type briefBody struct {
	studio.BriefView
	Picture  draw.Scene
	Crafts   []string
	Lamps    []choice
	Families []choice
	Moods    []moodChoice
	Parts    []string // of the piece, offered as focus and as quiet
	UndoMood string   // what would be taken back of the own moods
}

type moodChoice struct {
	studio.MoodChoice
	On bool
}

func (s *Server) briefStage(c *gin.Context, p *page) error {
	p.Sub = "What the thing is and what it asks of its colours. All of it may stay empty"
	b := briefBody{BriefView: p.Plan.BriefView(), Crafts: studio.Crafts()}
	moods, err := s.studio.Moods(c.Request.Context())
	if err != nil {
		return err
	}
	for _, m := range moods {
		b.Moods = append(b.Moods, moodChoice{m, strings.EqualFold(m.Name, p.Plan.Brief.Mood)})
	}
	if b.UndoMood, _, err = s.studio.MoodSteps(c.Request.Context()); err != nil {
		return err
	}
	for _, l := range colour.Lamps() {
		b.Lamps = append(b.Lamps, choice{Key: l.Key, Name: l.Name, On: l.Key == p.Plan.Brief.Lamp})
	}
	for _, f := range colour.Families() {
		b.Families = append(b.Families, choice{Key: string(f), Name: string(f), On: slices.Contains(b.Limits.Out, f)})
	}
	if p.Plan.Piece != nil {
		for _, part := range p.Plan.Piece.Parts {
			b.Parts = append(b.Parts, part.Name)
		}
	}
	picture := planWheel(c, p, b.Fronds, nil)
	picture.Still = true
	b.Picture = draw.Wheel(picture)
	p.Notes, p.Body = b.Notes, b
	return nil
}

// number reads a decimal number; empty is what it is otherwise. The first that
// is none is remembered.
func (f *form) number(field string, otherwise float64) float64 {
	words := strings.TrimSpace(f.c.PostForm(field))
	if words == "" {
		return otherwise
	}
	v, err := strconv.ParseFloat(strings.Replace(words, ",", ".", 1), 64)
	if (err != nil || math.IsInf(v, 0) || math.IsNaN(v)) && f.bad == nil {
		f.bad = studio.Refusal("“" + words + "” is not a number: write the " + strings.ReplaceAll(field, "_", " ") + " in figures.")
	}
	return v
}

// brief reads the brief's form.
func (f *form) brief() studio.Edit {
	free := brief.Free()
	l := brief.Limits{
		ValueFrom: f.number("value_from", free.ValueFrom), ValueTo: f.number("value_to", free.ValueTo),
		ClearFrom: f.number("clearness_from", free.ClearFrom), ClearTo: f.number("clearness_to", free.ClearTo),
		ContrastFrom: f.number("contrast_from", free.ContrastFrom), ContrastTo: f.number("contrast_to", free.ContrastTo),
		Warm: f.c.PostForm("bias") == "warm", Cool: f.c.PostForm("bias") == "cool",
	}
	for _, o := range f.c.PostFormArray("out") {
		l.Out = append(l.Out, colour.FamilyName(o))
	}
	b := brief.Brief{For: f.c.PostForm("for"), Season: f.c.PostForm("season"), Place: f.c.PostForm("place"), Lamp: f.c.PostForm("lamp"),
		Distance: f.number("distance", 0), Focus: f.c.PostForm("focus"), Quiet: f.c.PostForm("quiet"), Budget: f.number("budget", 0)}
	if f.c.PostForm("count") != "" {
		b.Count = f.int("count")
	}
	return studio.SetBrief(f.c.PostForm("name"), f.c.PostForm("craft"), strings.TrimSpace(f.c.PostForm("purpose")), b, l)
}

// changeMoods does what a page asks of the maker's own moods and says what
// happened; done is false when it asks for something else.
func (s *Server) changeMoods(c *gin.Context, id uint) (words string, done bool, err error) {
	ctx := c.Request.Context()
	switch c.PostForm("do") {
	case "save-mood":
		plan, err := s.studio.Open(ctx, id)
		if err != nil {
			return "", true, err
		}
		if err := s.studio.SaveMood(ctx, c.PostForm("mood"), c.PostForm("words"), plan.Limits()); err != nil {
			return "", true, err
		}
		return c.PostForm("mood") + " is kept among your moods.", true, nil
	case "forget-mood":
		err := s.studio.DropMood(ctx, c.PostForm("mood"))
		return c.PostForm("mood") + " is forgotten. It can be brought back below the moods.", true, err
	case "undo-moods":
		label, err := s.studio.StepMoods(ctx, true)
		return "Undone: " + label + ".", true, err
	}
	return "", false, nil
}
