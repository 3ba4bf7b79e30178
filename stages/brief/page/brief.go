package page

import (
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"lampfern/core/colour"
	"lampfern/core/craft"
	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/draw"
	"lampfern/plan"
	"lampfern/plan/work"
	stage "lampfern/stages/brief"
	"lampfern/web"
)

// briefBody is what the brief stage shows beside the plan's own fields.
type briefBody struct {
	stage.BriefView
	Picture  draw.Scene
	Crafts   []string
	Kinds    []web.Choice
	MadeOf   string
	Lamps    []web.Choice
	Families []web.Choice
	Moods    []moodChoice
	Parts    []string      // of the piece, offered as focus and as quiet
	UndoMood string        // what would be taken back of the own moods
	Telling  []work.Worked // earlier plans that were judged and are like this one
}

type moodChoice struct {
	plan.MoodChoice
	On bool
}

func (s pages) briefStage(c *gin.Context, p *web.Page) error {
	b := briefBody{BriefView: stage.View(p.Plan), Crafts: craft.Names()}
	var err error
	if b.Telling, err = work.Telling(c.Request.Context(), s.Desk, p.Plan); err != nil {
		return err
	}
	moods, err := plan.Moods(c.Request.Context(), s.Desk)
	if err != nil {
		return err
	}
	for _, m := range moods {
		b.Moods = append(b.Moods, moodChoice{m, strings.EqualFold(m.Name, stage.Of(p.Plan).Brief.Mood)})
	}
	if b.UndoMood, _, err = stage.MoodSteps(c.Request.Context(), s.Desk); err != nil {
		return err
	}
	for _, k := range material.Kinds() {
		b.Kinds = append(b.Kinds, web.Choice{Key: k, Name: k, On: slices.Contains(p.Plan.UsualKinds(), k)})
	}
	if b.MadeOf = words.List(p.Plan.UsualKinds()); len(p.Plan.UsualKinds()) == len(b.Kinds) {
		b.MadeOf = "anything"
	}
	for _, l := range colour.Lamps() {
		b.Lamps = append(b.Lamps, web.Choice{Key: l.Key, Name: l.Name, On: l.Key == stage.Of(p.Plan).Brief.Lamp})
	}
	for _, f := range colour.Families() {
		b.Families = append(b.Families, web.Choice{Key: string(f), Name: string(f), On: slices.Contains(b.Limits.Out, f)})
	}
	if p.Plan.Piece != nil {
		for i, part := range p.Plan.Piece.Parts {
			if p.Plan.Piece.Covered(i) {
				continue
			}
			b.Parts = append(b.Parts, part.Name)
		}
	}
	picture := web.PlanWheel(c, p, b.Fronds)
	picture.Still = true
	b.Picture = draw.Wheel(picture)
	p.Notes, p.Body = b.Notes, b
	return nil
}
