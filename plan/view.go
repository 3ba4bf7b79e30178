package plan

import (
	"fmt"
	"slices"

	"lampfern/core/balance"
	"lampfern/core/brief"
	"lampfern/core/colour"
	"lampfern/core/note"
	"lampfern/core/words"
	"lampfern/shelf"
)

// Outside says why a card lies outside the brief, in a few words; empty when
// it does not.
func (p *Plan) Outside(c *shelf.Card) string {
	return Outside(p.Limits(), c)
}

// Outside says why a card lies outside limits, in a few words; empty when it
// does not.
func Outside(l brief.Limits, c *shelf.Card) string {
	if !l.Ask() {
		return ""
	}
	return l.OutsideAs(c.Colour, c.Clearness, c.Family)
}

// Fill gives, for each part of the piece, the index of its card in the tray,
// or −1.
func (p *Plan) Fill() []int {
	at := map[int]int{}
	for i, t := range p.Tray {
		at[t.Key] = i
	}
	fill := make([]int, len(p.Piece.Parts))
	for i, part := range p.Piece.Parts {
		fill[i] = -1
		for _, f := range p.Fills {
			if f.Part != part.Key {
				continue
			}
			if card, there := at[f.EntryKey]; there {
				fill[i] = card
			}
		}
	}
	return fill
}

// Layout is what the cards of the tray take of the piece and how long they touch.
func (p *Plan) Layout() balance.Layout {
	return p.Piece.Layout().Merge(p.Fill(), len(p.Tray))
}

// Labs are the colours of the tray, in its order.
func (p *Plan) Labs() []colour.Lab {
	labs := make([]colour.Lab, len(p.Tray))
	for i, t := range p.Tray {
		labs[i] = t.Colour
	}
	return labs
}

// AlikeInTray notes cards of the tray that will read as one.
func AlikeInTray(p *Plan) []note.Note {
	l, c := EmptyLayout(len(p.Tray)), p.Colours()
	return balance.Grouped(slices.DeleteFunc(balance.Notes(l, c), func(n note.Note) bool { return n.Aside < 0 }), l, c)
}

// EmptyLayout is a layout in which n colours have no room.
func EmptyLayout(n int) balance.Layout {
	l := balance.Layout{Share: make([]float64, n), Border: make([][]float64, n)}
	for i := range l.Border {
		l.Border[i] = make([]float64, n)
	}
	return l
}

// Colours are the cards of the tray as balance reads them.
func (p *Plan) Colours() []balance.Colour { return ColoursOf(p.Tray) }

// ColoursOf are cards as balance reads them.
func ColoursOf(tray []TrayCard) []balance.Colour {
	out := make([]balance.Colour, len(tray))
	for i, t := range tray {
		out[i] = ColourOf(t.Card)
		out[i].Key, out[i].Parts = fmt.Sprint(t.Key), words.List(t.Parts)
	}
	return out
}

// ColourOf is a card of the shelf as balance reads it.
func ColourOf(c *shelf.Card) balance.Colour {
	out := balance.Colour{Name: c.Name, Lab: c.Colour}
	for _, f := range c.Printed() {
		out.Faces = append(out.Faces, balance.Face{Lab: f.Colour, Share: f.Share})
	}
	return out
}

// Visible leaves out the notes that the maker hid.
func (p *Plan) Visible(notes []note.Note) []note.Note {
	return slices.DeleteFunc(notes, func(n note.Note) bool { return slices.Contains(p.Dismissed, n.ID) })
}

// HiddenNote is a note that the maker hid, with the reason given.
type HiddenNote struct {
	note.Note
	Remark string
}
