package brief

import (
	"fmt"

	"lampfern/core/brief"
	"lampfern/core/craft"
	"lampfern/core/note"
	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

// BriefView is what the brief stage shows.
type BriefView struct {
	Limits   brief.Limits
	Fronds   [wheel.Places]shelf.Frond
	Inside   int // cards of the shelf within the limits
	All      int
	From, To int // a sensible number of colours for the craft
	Notes    []note.Note
}

// View works out the brief stage.
func View(p *plan.Plan) BriefView {
	v := BriefView{Limits: p.Limits(), Fronds: p.Offers().Shelf().Fronds(p.OnWheel()), All: len(p.Offers().Cards())}
	of, _ := craft.Named(p.Craft)
	v.From, v.To = of.From, of.To
	for _, c := range p.Offers().Cards() {
		if plan.Outside(v.Limits, c) == "" {
			v.Inside++
		}
	}
	var notes []note.Note
	if v.Inside == 0 && v.All > 0 {
		notes = append(notes, note.Note{ID: "brief-nothing", Grade: note.Fix, Aside: -1, About: "None of your materials" + p.OfTypes(),
			Words: " fits these limits. " + widen(p, v.Limits)})
	}
	if Of(p).Brief.Count == 0 {
		notes = append(notes, note.Note{ID: "brief-count", Grade: note.Fine, Aside: -1, About: words.Capital(words.Count(v.From)),
			Words: fmt.Sprintf(" to %s colours is a good start (%s).", words.Count(v.To), p.Craft)})
	}
	v.Notes = p.Visible(append(notes, p.BriefNotes()...))
	return v
}

// widen says which one limit, let go, brings back most of the shelf.
func widen(p *plan.Plan, l brief.Limits) string {
	free := brief.Free()
	best, words := 0, "Widen the value range and avoid fewer families."
	for _, try := range []struct {
		name string
		let  func(*brief.Limits)
	}{
		{"the value range", func(l *brief.Limits) { l.ValueFrom, l.ValueTo = free.ValueFrom, free.ValueTo }},
		{"the clearness range", func(l *brief.Limits) { l.ClearFrom, l.ClearTo = free.ClearFrom, free.ClearTo }},
		{"the colours to avoid", func(l *brief.Limits) { l.Out = nil }},
	} {
		wider, n := l, 0
		try.let(&wider)
		for _, c := range p.Offers().Cards() {
			if plan.Outside(wider, c) == "" {
				n++
			}
		}
		if n > best {
			best, words = n, fmt.Sprintf("Without %s there would be %d.", try.name, n)
		}
	}
	return words
}
