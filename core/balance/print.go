package balance

import (
	"fmt"
	"slices"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/note"
	"lampfern/core/words"
)

// Face is one colour of a print and the share of it that it covers, 0 to 1.
type Face struct {
	Lab   colour.Lab
	Share float64
}

// tiesWithin is the ΔE00 within which a colour of a print holds another.
const tiesWithin = 10.0

// larger are the colours that a card is known by: of a print those that cover enough of it, else its own.
func (c Colour) larger() []colour.Lab {
	var out []colour.Lab
	for _, f := range c.Faces {
		if f.Share >= material.LargerPortion {
			out = append(out, f.Lab)
		}
	}
	if len(out) == 0 {
		return []colour.Lab{c.Lab}
	}
	return out
}

// edge are the colours by which the edge between two cards is seen: those of their larger ones that lie
// furthest apart.
func edge(a, b Colour) (x, y colour.Lab) {
	far := -1.0
	for _, one := range a.larger() {
		for _, two := range b.larger() {
			if d := colour.DeltaE2000(one, two); d > far {
				far, x, y = d, one, two
			}
		}
	}
	return x, y
}

// Tie is a card whose colour a print holds, by index, and the share of the print that holds it.
type Tie struct {
	Card  int
	Share float64
}

// Ties are the cards that a print ties: its colours hold theirs within ΔE00 10. None where p is no print.
func Ties(cs []Colour, p int) (out []Tie) {
	for i, c := range cs {
		if i == p {
			continue
		}
		of := 0.0
		for _, f := range cs[p].Faces {
			if slices.ContainsFunc(c.larger(), func(l colour.Lab) bool { return colour.DeltaE2000(l, f.Lab) <= tiesWithin }) {
				of += f.Share
			}
		}
		if of > 0 {
			out = append(out, Tie{i, of})
		}
	}
	return out
}

// tied reports whether one of two is a print that holds the other.
func tied(cs []Colour, i, j int) bool {
	holds := func(p, c int) bool { return slices.ContainsFunc(Ties(cs, p), func(t Tie) bool { return t.Card == c }) }
	return holds(i, j) || holds(j, i)
}

// known is the one colour that pairs judge a card by: of a print the one that covers most.
func (c Colour) known() colour.Lab {
	if len(c.Faces) == 0 {
		return c.Lab
	}
	most := c.Faces[0]
	for _, f := range c.Faces {
		if f.Share > most.Share {
			most = f
		}
	}
	return most.Lab
}

// Spread is a layout in which every colour of a print has its own share; borders are left out.
func Spread(l Layout, cs []Colour) (Layout, []colour.Lab) {
	var out Layout
	var labs []colour.Lab
	for i, c := range cs {
		if len(c.Faces) == 0 {
			out.Share, labs = append(out.Share, l.Share[i]), append(labs, c.Lab)
		}
		for _, f := range c.Faces {
			out.Share, labs = append(out.Share, l.Share[i]*f.Share), append(labs, f.Lab)
		}
	}
	return out, labs
}

// tieNotes say what each placed print ties.
func tieNotes(l Layout, cs []Colour) (notes []note.Note) {
	for p := range cs {
		if l.Share[p] == 0 || len(cs[p].Faces) == 0 {
			continue
		}
		var said []string
		n := note.Note{Grade: note.Fine, About: cs[p].Name, Cards: []int{p}, Aside: -1}
		for _, t := range Ties(cs, p) {
			if l.Share[t.Card] > 0 {
				said = append(said, fmt.Sprintf("%s (%s of it)", cs[t.Card].Name, words.PerCent(t.Share)))
				n.Cards = append(n.Cards, t.Card)
			}
		}
		n.ID, n.Words = note.ID("ties", cs[p].Key), " shares no colour with the other cards. A card in one of its colours would tie it in."
		if len(said) > 0 {
			n.Words = " contains " + words.All(said) + ", and ties them together."
			if len(said) == 1 {
				n.Words = " contains " + said[0] + ", so they belong together."
			}
		}
		notes = append(notes, n)
	}
	return notes
}
