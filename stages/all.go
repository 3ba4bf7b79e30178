// Package stages lists the stages of a plan, in the order makers work. The rail,
// the routes, the verbs and the plan file are read off the list.
package stages

import (
	"lampfern/plan"
	"lampfern/stages/brief"
	briefpage "lampfern/stages/brief/page"
	"lampfern/stages/buy"
	buypage "lampfern/stages/buy/page"
	"lampfern/stages/cards"
	cardspage "lampfern/stages/cards/page"
	"lampfern/stages/draft"
	draftpage "lampfern/stages/draft/page"
	"lampfern/stages/drawing"
	drawingpage "lampfern/stages/drawing/page"
	"lampfern/stages/gather"
	gatherpage "lampfern/stages/gather/page"
	"lampfern/stages/log"
	logpage "lampfern/stages/log/page"
	"lampfern/stages/mix"
	mixpage "lampfern/stages/mix/page"
	"lampfern/stages/proportion"
	proportionpage "lampfern/stages/proportion/page"
	"lampfern/stages/signoff"
	signoffpage "lampfern/stages/signoff/page"
	"lampfern/stages/solid"
	solidpage "lampfern/stages/solid/page"
	"lampfern/stages/stitches"
	stitchespage "lampfern/stages/stitches/page"
	"lampfern/stages/together"
	togetherpage "lampfern/stages/together/page"
	"lampfern/stages/values"
	valuespage "lampfern/stages/values/page"
	"lampfern/stages/wheel"
	wheelpage "lampfern/stages/wheel/page"
	"lampfern/web"
	"lampfern/workroom/care"
	"lampfern/workroom/guide"
	"lampfern/workroom/photos"
	"lampfern/workroom/plans"
	"lampfern/workroom/reader"
	"lampfern/workroom/shelf"
)

// one is a stage and its pages.
type one struct {
	stage func() plan.Stage
	room  func(*web.Server) web.Room
}

func all() []one {
	return []one{
		{brief.Stage, briefpage.Room},
		{gather.Stage, gatherpage.Room},
		{wheel.Stage, wheelpage.Room},
		{values.Stage, valuespage.Room},
		{cards.Stage, cardspage.Room},
		{proportion.Stage, proportionpage.Room},
		{together.Stage, togetherpage.Room},
		{draft.Stage, draftpage.Room},
		{stitches.Stage, stitchespage.Room},
		{drawing.Stage, drawingpage.Room},
		{solid.Stage, solidpage.Room},
		{mix.Stage, mixpage.Room},
		{signoff.Stage, signoffpage.Room},
		{buy.Stage, buypage.Room},
		{log.Stage, logpage.Room},
	}
}

// All are the stages. Those without a letter lie below another.
func All() []plan.Stage {
	var out []plan.Stage
	for _, o := range all() {
		out = append(out, o.stage())
	}
	return out
}

// Rooms are the pages of the workroom and of every stage.
func Rooms() []func(*web.Server) web.Room {
	out := []func(*web.Server) web.Room{plans.Room, care.Room, shelf.Room, photos.Room, reader.Room, guide.Room}
	for _, o := range all() {
		out = append(out, o.room)
	}
	return out
}
