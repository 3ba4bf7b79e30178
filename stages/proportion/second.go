package proportion

import (
	"fmt"
	"slices"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/craft"
	"lampfern/core/craft/yarn"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

// Together are the ways two threads come together in the plan's craft, the usual one
// first; in a craft without threads those of knitting.
func Together(p *plan.Plan) []piece.Together {
	in, v := p.Put(), p.Values()
	if of, _ := craft.Named(p.Craft); of.Together != nil {
		return of.Together(in, v)
	}
	return yarn.Craft().Together(in, v)
}

// SecondView is what could go with a first thread.
type SecondView struct {
	First      plan.TrayCard
	Structure  piece.Together
	Structures []piece.Together
	Schools    []SecondSchool
	BlendsFrom float64 // metres from which two threads are not told apart
}

// SecondSchool is the candidates of one school.
type SecondSchool struct {
	Name, Words string
	Found       []SecondThread
}

// SecondThread is a card that could be the second thread, and the face of both.
type SecondThread struct {
	*shelf.Card
	Face   colour.Lab
	Words  string // what the face reads as
	InTray bool
}

// Seconds finds second threads for a card of the tray, by its key (the first
// card for 0), in a structure by its key (the usual one for none).
func Seconds(p *plan.Plan, first int, structure string) (*SecondView, error) {
	if len(p.Tray) == 0 {
		return nil, words.Refuse("Add the first yarn on Gather. Yarns to go with it appear here.")
	}
	at := max(0, slices.IndexFunc(p.Tray, func(t plan.TrayCard) bool { return t.Key == first }))
	v := &SecondView{First: p.Tray[at], Structures: Together(p)}
	v.Structure = v.Structures[0]
	for _, s := range v.Structures {
		if s.Key == structure {
			v.Structure = s
		}
	}
	v.BlendsFrom = balance.BlendsFrom(threadPitch(p))
	// The tray's cards first, then the shelf's yarns that are not in it.
	var cards []*shelf.Card
	var labs []colour.Lab
	var there []bool
	add := func(c *shelf.Card, in bool) {
		cards, labs, there = append(cards, c), append(labs, c.Colour), append(there, in)
	}
	for _, t := range p.Tray {
		add(t.Card, true)
	}
	for _, c := range p.Offers().Cards() {
		if (c.Kind == "yarn" || c.Kind == "thread") && !c.Discontinued && !p.Holds(c.ID) {
			add(c, false)
		}
	}
	for _, school := range []struct {
		key         balance.SecondSchool
		name, words string
	}{
		{balance.Repeated, "Repeat a colour", "Repeating calms and ties the parts together."},
		{balance.OtherLuma, "A lighter or darker version", "A darker or lighter yarn adds depth."},
		{balance.Neighbour, "A wheel neighbour", "A neighbour adds life."},
	} {
		s := SecondSchool{Name: school.name, Words: school.words}
		for _, found := range balance.Seconds(school.key, labs, there, at, v.Structure.Share, p.OnWheel()) {
			c := cards[found.Colour]
			said := fmt.Sprintf("together they read as %s (%.1f)", words.AFamily(colour.Family(found.Face)), found.Face.Value())
			if found.Toward != "" {
				said = "toward " + found.Toward + "; " + said
			}
			s.Found = append(s.Found, SecondThread{Card: c, Face: found.Face, InTray: there[found.Colour], Words: said})
		}
		v.Schools = append(v.Schools, s)
	}
	return v, nil
}

// usualPitch is the distance between threads, in mm, where the piece tells none.
const usualPitch = 3.0

// threadPitch is the distance between the piece's threads or rows in mm.
func threadPitch(p *plan.Plan) float64 {
	if p.Piece == nil {
		return usualPitch
	}
	if s := Stitch(p); s.Y > 0 {
		return s.Y
	}
	return usualPitch
}

// Stitch is the size in mm of the piece's stitches, or of the crossings of its
// threads; zero where it has none.
func Stitch(p *plan.Plan) piece.Point {
	if p.Piece == nil {
		return piece.Point{}
	}
	return p.Piece.Stitch
}
