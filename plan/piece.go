package plan

import (
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"lampfern/core/balance"
	"lampfern/core/craft"
	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/core/words"
)

// Piece is a built piece with what is costly to work out. It is shared and
// must not be changed.
type Piece struct {
	piece.Piece
	Key     string // of its outlines: another when they may differ
	Shares  []float64
	Borders [][]float64
	Lies    []string // where each part lies, in words
	Thin    []bool   // parts made only of narrow shapes
	Missing bool     // its mesh is not kept here, and boxes stand in for it

	areas   []float64
	outside []float64 // the length of each part's edge that touches nothing, in mm
	area    float64
}

// Areas is the area of each part in mm², worked out once.
func (p *Piece) Areas() []float64 { return p.areas }

// Area is the area of all parts in mm².
func (p *Piece) Area() float64 { return p.area }

// thinBelow is the mean width, as a share of the piece's shorter side, under
// which a part counts as thin.
const thinBelow = 0.02

// pieceKey names what a piece is made from.
type pieceKey [sha256.Size]byte

// pieceOf is the plan's chosen piece, its parts divided.
func (k *Desk) pieceOf(p *Plan) (*Piece, error) {
	return k.divided(p, p.Pattern, p.Settings, p.Splits)
}

// Piece is the piece of a pattern with what the plan has put into it, built or
// remembered. What was put in is only read when the piece must be built.
func (k *Desk) Piece(of *Plan, pattern string, settings piece.Values) (*Piece, error) {
	return k.divided(of, pattern, settings, nil)
}

func (k *Desk) divided(of *Plan, pattern string, settings piece.Values, splits []piece.Split) (*Piece, error) {
	set, err := json.Marshal([]any{settings, splits})
	if err != nil {
		return nil, fmt.Errorf("naming a piece: %w", err)
	}
	doc, sum := of.docSum(), sha256.New()
	for _, part := range [][]byte{[]byte(pattern), set, doc[:]} {
		fmt.Fprintf(sum, "%d:", len(part))
		sum.Write(part)
	}
	key := pieceKey(sum.Sum(nil))
	if p, known := k.pieces.Get(key); known {
		return p, nil
	}
	t, err := craft.Pattern(pattern)
	if err != nil {
		return nil, words.Refuse("The piece is not possible: %s.", err)
	}
	in, missing, err := k.InputOf(of, t)
	if err != nil {
		return nil, err
	}
	built, err := t.Divided(splits).Build(settings, in)
	if err != nil {
		return nil, words.Refuse("The piece is not possible: %s.", err)
	}
	p := &Piece{Piece: built, Key: fmt.Sprintf("%x", key[:8]), Shares: built.Shares(), Lies: built.Lies(),
		areas: built.Areas(), area: built.Area()}
	if p.Borders, p.outside = built.Borders(); built.Box != [3]float64{} {
		p.outside = nil // where a solid turns away from the eye is no edge of a part
	}
	p.soften()
	shorter := min(built.Width, built.Height)
	for _, w := range built.Widths(p.Borders, p.outside) {
		p.Thin = append(p.Thin, w < thinBelow*shorter)
	}
	if p.Missing = missing; !missing { // it may be brought in
		k.pieces.Add(key, p)
	}
	return p, nil
}

// Layout is what the parts of the piece are to one another.
func (p *Piece) Layout() balance.Layout {
	return balance.Layout{Share: p.Shares, Border: p.Borders, Outside: p.outside, Area: p.area}
}

// soften takes the edges between the tones of one part away: they are laid into one another.
func (p *Piece) soften() {
	for i, part := range p.Parts {
		base, kind := piece.SplitOff(part.Key)
		if !slices.Contains(piece.Tones, kind) {
			continue
		}
		for j, other := range p.Parts {
			if of, kind := piece.SplitOff(other.Key); of == base && (kind == "" || slices.Contains(piece.Tones, kind)) {
				p.Borders[i][j], p.Borders[j][i] = 0, 0
			}
		}
	}
}

// InputOf is what a plan has put into a pattern, nil for one that takes nothing, with
// its mesh; missing tells that the mesh is not kept here.
func (k *Desk) InputOf(p *Plan, t piece.Pattern) (in piece.Input, missing bool, err error) {
	in = p.inputOf(t)
	if m, is := in.(piece.Meshed); is && m.Model().File != "" {
		return k.meshed(m)
	}
	return in, false, nil
}

// Covered reports whether nothing is seen of a part.
func (p *Piece) Covered(part int) bool { return part < len(p.Shares) && p.Shares[part] == 0 }

// KindsUsed are the kinds of material that the piece is made of as it is coloured now, and those that
// its mixes hold.
func (p *Plan) KindsUsed() (out []string) {
	for i, t := range p.Tray {
		if t.Share == 0 || t.Given {
			continue
		}
		if t.ID != 0 {
			out = append(out, t.Kind)
		}
		for _, part := range p.Entries[i].Mix {
			if c, err := p.Shelf.Card(part.MaterialID); err == nil {
				out = append(out, c.Kind)
			}
		}
	}
	return out
}

// Care is what can hurt, in a few sentences, and what is read before one begins: of the craft's steps,
// and of the kinds that are used, in any craft.
func (p *Plan) Care() (said string, cautions []string) {
	of, _ := craft.Named(p.Craft)
	words, more := material.CareOf(p.KindsUsed())
	if of.Care != "" {
		words = append([]string{of.Care}, words...)
	}
	return strings.Join(words, " "), slices.Concat(of.Cautions, more)
}
