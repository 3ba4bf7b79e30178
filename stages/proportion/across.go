package proportion

import (
	"fmt"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/note"
	"lampfern/core/words"
	"lampfern/plan"
)

// MostAway is the farthest a piece is looked at from, in metres.
const MostAway = 60.0

// AcrossView is what blends of a piece, from so many metres away.
type AcrossView struct {
	Metres float64
	Blends []AcrossBlend
}

// AcrossBlend is cards that blend, in words, and the colour they read as.
type AcrossBlend struct {
	Key    string // of its cards, stable while they blend
	Words  string
	Colour colour.Lab
}

// Across says what blends from so many metres away; the plan must have a piece.
func Across(p *plan.Plan, metres float64) AcrossView {
	v := AcrossView{Metres: metres}
	for _, b := range balance.Blends(p.Layout(), p.Piece.Area(), p.Labs(), metres) {
		out := AcrossBlend{Colour: b.Lab}
		for _, i := range b.Colours {
			out.Key += fmt.Sprintf(":%d", p.Tray[i].Key)
		}
		if b.Into >= 0 {
			out.Words = fmt.Sprintf("%s is too fine to see and blends into %s.", p.Tray[b.Colours[0]].Name, p.Tray[b.Into].Name)
		} else {
			var names []string
			for _, i := range b.Colours {
				names = append(names, p.Tray[i].Name)
			}
			out.Words = fmt.Sprintf("%s are too fine to tell apart: together they read as %s (%.1f).", words.List(names),
				words.AFamily(colour.Family(b.Lab)), b.Lab.Value())
		}
		v.Blends = append(v.Blends, out)
	}
	return v
}

// farNotes say what blends at the distance the brief names.
func farNotes(p *plan.Plan) []note.Note {
	if p.Asked().Distance == 0 {
		return nil
	}
	var notes []note.Note
	for _, b := range Across(p, p.Asked().Distance).Blends {
		notes = append(notes, note.Note{ID: "brief-far" + b.Key, Grade: note.Consider, Aside: -1,
			About: fmt.Sprintf("From %g m", p.Asked().Distance), Words: ", your viewing distance: " + b.Words})
	}
	return notes
}
