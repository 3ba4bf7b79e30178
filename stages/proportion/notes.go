package proportion

import (
	"fmt"
	"slices"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/craft"
	"lampfern/core/material"
	"lampfern/core/note"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
)

// care is what can hurt in the craft's steps and in the kinds used, shown until it is hidden.
func care(p *plan.Plan) []note.Note {
	said, _ := p.Care()
	if said == "" {
		return nil
	}
	return []note.Note{{ID: "caution:" + p.Craft, Grade: note.Fine, Aside: -1, About: "Safety",
		Words: ": " + said + " Follow the supplier’s data sheet and local rules."}}
}

// cautions are what the pattern says of the piece as it is.
func cautions(p *plan.Plan) []note.Note {
	t, err := craft.Pattern(p.Pattern)
	if err != nil || t.Cautions == nil {
		return nil
	}
	return t.Cautions(p.Piece.Piece, p.Values(), p.Put())
}

// pieceNotes say what the piece itself makes of the tray: what its pattern
// warns of, and cards without a part.
func pieceNotes(p *plan.Plan) []note.Note {
	var notes []note.Note
	add := func(id string, g note.Grade, about, words string) {
		notes = append(notes, note.Note{ID: id, Grade: g, Aside: -1, About: about, Words: words})
	}
	if in, is := p.Put().(piece.Meshed); is && p.Piece.Missing {
		add("nomesh", note.Fix, "The model "+in.Model().Name,
			" is missing, so its pieces are drawn as boxes. Import it again; names and colours are kept.")
	}
	for _, c := range cautions(p) {
		add(c.ID, c.Grade, c.About, c.Words)
	}
	if len(p.Piece.Parts) == 1 {
		add("onepart", note.Fine, "The piece has one part", ", so there is nothing to compare it with.")
	}
	var idle []string
	placed := 0
	for _, t := range p.Tray {
		if len(t.Parts) == 0 && !t.Movable() {
			continue
		}
		if len(t.Parts) == 0 {
			idle = append(idle, t.Name)
		} else {
			placed++
		}
	}
	if n := len(idle); n > 0 && len(p.Fills) > 0 {
		are := "s are"
		if n == 1 {
			are = " is"
		}
		add("idle:"+fmt.Sprint(n), note.Fine, words.Capital(words.Count(n))+" card"+are, fmt.Sprintf(" not used yet (%s).", words.List(idle)))
	}
	filled := 0
	for _, at := range p.Fill() {
		if at >= 0 {
			filled++
		}
	}
	if placed == 1 && filled > 1 {
		add("shared", note.Fine, words.Capital(words.Count(filled))+" parts", " have the same colour, so no edge shows between them. Add another card.")
	}
	notes = append(notes, stockNotes(p)...)
	notes = append(notes, faceNotes(p)...)
	for i, t := range p.Tray {
		if t.Share > 0 && t.Unsized() {
			notes = append(notes, note.Note{ID: fmt.Sprintf("printsize:%d", t.Key), Grade: note.Consider, Aside: -1, About: t.Name,
				Words: " is a print of unknown size, so it is drawn as stripes. Give the real width of its photo, or its repeat.", Cards: []int{i}})
		}
	}
	if lost, at := lostParts(p); len(lost) > 0 && placed > 1 {
		said := " is the same colour as the part beside it, so it disappears. Change it, or group them if you meant that."
		if len(lost) > 1 || words.Many(lost[0]) {
			said = " are the same colour as the parts beside them, so they disappear. Change them, or group them if you meant that."
		}
		about := words.Capital(words.List(lost))
		if len(lost) > lostNamed {
			about = words.Capital(words.All(append(slices.Clone(lost[:lostNamed]), words.Count(len(lost)-lostNamed)+" more")))
		}
		add(note.ID("lostparts", lost...), note.Consider, about, said)
		notes[len(notes)-1].Parts = at
	}
	return notes
}

// faceNotes say what the part that touches a face does to the skin, hair and eyes that are there already.
func faceNotes(p *plan.Plan) (notes []note.Note) {
	at := p.AtFace()
	if at < 0 || p.Fill()[at] < 0 {
		return nil
	}
	card, part := p.Tray[p.Fill()[at]], p.Piece.Parts[at]
	var good, bad []string
	for _, r := range p.AgainstFace(card.Colour) {
		if r.Bad() {
			bad = append(bad, r.Words)
		} else {
			good = append(good, r.Words)
		}
	}
	if len(bad) > 0 {
		notes = append(notes, note.Note{ID: "face:" + part.Key, Grade: note.Consider, Aside: -1, About: card.Name,
			Words: fmt.Sprintf(" on %s %s.", words.The(part.Name), words.All(bad)), Parts: []int{at}})
	}
	if len(good) > 0 {
		notes = append(notes, note.Note{ID: "atface:" + part.Key, Grade: note.Fine, Aside: -1, About: card.Name,
			Words: fmt.Sprintf(" on %s %s.", words.The(part.Name), words.All(good))})
	}
	if said := p.StandOut(part.Name, card.Colour); said != "" {
		notes = append(notes, note.Note{ID: "standout:" + part.Key, Grade: note.Fine, Aside: -1,
			About: words.Capital(words.The(part.Name)), Words: " " + said})
	}
	return notes
}

// lotsApart is from how far apart two lots of one card are told, in ΔE00.
const lotsApart = 2.0

// stockNotes say which placed cards are no longer made, and of which two lots were measured
// apart.
func stockNotes(p *plan.Plan) (notes []note.Note) {
	var gone []string
	var keys []string
	for _, t := range p.Tray {
		if t.Share == 0 || t.ID == 0 {
			continue
		}
		if t.Discontinued {
			gone, keys = append(gone, t.Name), append(keys, fmt.Sprint(t.Key))
		}
		var a, b material.Lot
		far := lotsApart
		for i, l := range t.Lots {
			for _, o := range t.Lots[:i] {
				if l.Colour == nil || o.Colour == nil || l.State == material.UsedUp || o.State == material.UsedUp {
					continue
				}
				if d := colour.DeltaE2000(*l.Colour, *o.Colour); d >= far {
					far, a, b = d, o, l
				}
			}
		}
		if a.Colour != nil {
			notes = append(notes, note.Note{ID: fmt.Sprintf("lots:%d", t.Key), Grade: note.Consider, Aside: -1, About: t.Name,
				Words: fmt.Sprintf(" is in lots that differ: %s and %s (ΔE %.0f). Keep each part to one lot, and parts that touch to the same lot.", lotName(a), lotName(b), far)})
		}
	}
	if len(gone) > 0 {
		verb := "is"
		if len(gone) > 1 {
			verb = "are"
		}
		notes = append(notes, note.Note{ID: note.ID("nolonger", keys...), Grade: note.Consider, Aside: -1, About: words.List(gone),
			Words: fmt.Sprintf(" %s discontinued. Make sure you have enough; Buy shows how much.", verb)})
	}
	return notes
}

func lotName(l material.Lot) string {
	if l.Name == "" {
		return "an unnamed lot"
	}
	return "lot " + l.Name
}

// lostNamed is how many parts that are no longer seen are named.
const lostNamed = 3

// lostParts are the parts, by name and index, that touch a larger one of the same card along enough of their
// edge, unless the two are grouped on purpose.
func lostParts(p *plan.Plan) (names []string, at []int) {
	fill, borders, shares := p.Fill(), p.Piece.Borders, p.Piece.Shares
	together := func(a, b string) bool {
		for _, g := range p.Groups {
			if slices.Contains(g, a) && slices.Contains(g, b) {
				return true
			}
		}
		return false
	}
	for i, part := range p.Piece.Parts {
		round := 0.0
		for _, b := range borders[i] {
			round += b
		}
		for j, other := range p.Piece.Parts {
			larger := shares[j] > shares[i] || shares[j] == shares[i] && j < i
			if i != j && fill[i] >= 0 && fill[i] == fill[j] && larger && borders[i][j] > balance.EdgeMatters*round &&
				!together(part.Key, other.Key) {
				names, at = append(names, part.Name), append(at, i)
				break
			}
		}
	}
	return names, at
}
