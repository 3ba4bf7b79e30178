// Package other is every craft that has no room of its own, and the maker's own
// drawing, which any craft can take.
package other

import (
	"lampfern/core/material"
	"lampfern/core/note"
	"lampfern/core/piece"
	"lampfern/core/words"
)

// Craft is any other craft.
func Craft() piece.Craft {
	return piece.Craft{Name: "other", Kinds: material.Kinds(), From: 3, To: 5, Patterns: []piece.Pattern{drawnPattern},
		Tones: true, Asks: asks, Needs: needs, Work: work}
}

// Drawn is what a maker puts into a drawn piece: the drawing.
type Drawn struct {
	Drawing *Drawing `json:"drawing,omitempty"`
}

func (in *Drawn) Check() error {
	if in.Drawing == nil {
		return nil
	}
	return in.Drawing.Check()
}

// Draws is the drawing, a new one where none was put in.
func (in *Drawn) Draws() *Drawing {
	if in.Drawing == nil {
		return NewDrawing(usualSide, usualSide)
	}
	return in.Drawing
}

// Show implements piece.Pictured: a photo under the drawing is let go of with its
// place there.
func (in *Drawn) Show(f func(hash string) bool) {
	if in.Drawing == nil {
		return
	}
	d := *in.Drawing
	d.Unders = nil
	for _, u := range in.Drawing.Unders {
		if f(u.Photo) {
			d.Unders = append(d.Unders, u)
		}
	}
	in.Drawing = &d
}

// covered tells of parts of which nothing is seen.
func covered(p piece.Piece, _ piece.Values, _ *Drawn) []note.Note {
	var out []note.Note
	for i, share := range p.Shares() {
		if share == 0 {
			out = append(out, note.Note{ID: "unseen:" + p.Parts[i].Key, Grade: note.Fix, About: words.Capital("the " + p.Parts[i].Name),
				Words: " is hidden by other parts. Move it up in the drawing, or remove it."})
		}
	}
	return out
}
