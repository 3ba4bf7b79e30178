package plan

import (
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"

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
	Thin    []bool // parts made only of narrow shapes
	Missing bool   // its mesh is not kept here, and boxes stand in for it
}

// thinBelow is the mean width, as a share of the piece's shorter side, under
// which a part counts as thin.
const thinBelow = 0.02

// pieceKey names what a piece is made from.
type pieceKey [sha256.Size]byte

// pieceOf is the plan's chosen piece. What the maker put into it is only read
// when the piece must be built.
func (k *Desk) pieceOf(p *Plan) (*Piece, error) {
	return k.build(p.Template, p.Settings, p.docSum(), p.Own)
}

// Piece is the piece of a template, built or remembered.
func (k *Desk) Piece(template string, settings map[string]float64, own piece.Own) (*Piece, error) {
	var doc []byte
	if own.Any() {
		var err error
		if doc, err = json.Marshal(own); err != nil {
			return nil, fmt.Errorf("naming a piece: %w", err)
		}
	}
	return k.build(template, settings, docSum(sha256.Sum256(doc)), func() piece.Own { return own })
}

func (k *Desk) build(template string, settings map[string]float64, of docSum, read func() piece.Own) (*Piece, error) {
	set, err := json.Marshal(settings)
	if err != nil {
		return nil, fmt.Errorf("naming a piece: %w", err)
	}
	sum := sha256.New()
	for _, part := range [][]byte{[]byte(template), set, of[:]} {
		fmt.Fprintf(sum, "%d:", len(part))
		sum.Write(part)
	}
	key := pieceKey(sum.Sum(nil))
	if p, known := k.pieces.Get(key); known {
		return p, nil
	}
	own, missing := read(), false
	if template == "solid" && own.Solid != nil && own.Solid.Mesh == nil {
		with := *own.Solid
		with.Mesh, err = k.Mesh(with)
		if missing = errors.Is(err, ErrNoMesh); missing { // the plan can still be looked at
			with.Mesh, err = standIn(with), nil
		}
		if err != nil {
			return nil, err
		}
		own.Solid = &with
	}
	built, err := piece.Build(template, settings, own)
	if err != nil {
		return nil, words.Refuse("The piece cannot be made: %s.", err)
	}
	p := &Piece{Piece: built, Key: fmt.Sprintf("%x", key[:8]), Shares: built.Shares(), Borders: built.Borders()}
	shorter := min(built.Width, built.Height)
	for _, w := range built.Widths(p.Borders) {
		p.Thin = append(p.Thin, w < thinBelow*shorter)
	}
	if p.Missing = missing; !missing { // it may be brought in
		k.pieces.Add(key, p)
	}
	return p, nil
}
