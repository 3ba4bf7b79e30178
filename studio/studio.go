// Package studio is what a maker does: keep a shelf, make plans, pull cards,
// change and undo. It loads from the store, asks the core, and saves; it draws
// nothing and knows no web.
package studio

import (
	"context"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"sync"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/mesh"
	"lampfern/core/piece"
	"lampfern/store"
)

// Errors that callers tell apart; everything else that is not a Refusal is a
// fault of the program or the machine.
var (
	ErrNotFound = store.ErrNotFound
	ErrConflict = store.ErrConflict // somebody else saved since the maker's page was made
)

// Refusal is a request that cannot be done, as one sentence that says what to
// do instead. Nothing was changed.
type Refusal string

func (r Refusal) Error() string { return string(r) }

func refuse(format string, args ...any) error { return Refusal(fmt.Sprintf(format, args...)) }

// Studio works on one data folder and may be used from many goroutines.
type Studio struct {
	ReaderAddress string // of a colour reader; empty when there is none

	store *store.Store

	mu        sync.Mutex
	shelf     *Shelf
	pieces    map[[sha256.Size]byte]*Piece // by what they are made from
	photos    map[string]*Photo
	templates map[bareKey]*image.Gray
	meshes    map[string]*mesh.Mesh // by file
	jobs      map[uint]*job         // imports under way, by upload
}

// New returns a studio that works on s.
func New(s *store.Store) *Studio {
	return &Studio{store: s, pieces: map[[sha256.Size]byte]*Piece{}, photos: map[string]*Photo{}, meshes: map[string]*mesh.Mesh{}, templates: map[bareKey]*image.Gray{}, jobs: map[uint]*job{}}
}

// Check reports whether the data can be read.
func (s *Studio) Check(ctx context.Context) error {
	_, err := s.store.Read(ctx).ShelfVersion()
	return err
}

// Piece is a built piece with what is costly to work out. It is shared and
// must not be changed.
type Piece struct {
	piece.Piece
	Key     string // of its outlines: another when they may differ
	Shares  []float64
	Borders [][]float64
	Thin    []bool // parts made only of narrow shapes
}

// thinBelow is the mean width, as a share of the piece's shorter side, under
// which a part counts as thin.
const thinBelow = 0.02

// piecesKept bounds the pieces remembered at once.
const piecesKept = 64

func (s *Studio) piece(template string, settings map[string]float64, own piece.Own) (*Piece, error) {
	made, err := json.Marshal([]any{template, settings, own})
	if err != nil {
		return nil, fmt.Errorf("naming a piece: %w", err)
	}
	key := sha256.Sum256(made)
	s.mu.Lock()
	p, ok := s.pieces[key]
	s.mu.Unlock()
	if ok {
		return p, nil
	}
	if template == "solid" && own.Solid != nil && own.Solid.Mesh == nil {
		with := *own.Solid
		if with.Mesh, err = s.mesh(with); err != nil {
			return nil, err
		}
		own.Solid = &with
	}
	built, err := piece.Build(template, settings, own)
	if err != nil {
		return nil, refuse("The piece cannot be made: %s.", err)
	}
	p = &Piece{Piece: built, Key: fmt.Sprintf("%x", key[:8]), Shares: built.Shares(), Borders: built.Borders()}
	shorter := min(built.Width, built.Height)
	for _, w := range built.Widths(p.Borders) {
		p.Thin = append(p.Thin, w < thinBelow*shorter)
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if len(s.pieces) >= piecesKept {
		clear(s.pieces)
	}
	s.pieces[key] = p
	return p, nil
}

// journal writes one undoable step into tx.
func journal(tx store.Tx, scope, label string, before, after any) error {
	b, err := json.Marshal(before)
	if err != nil {
		return fmt.Errorf("keeping what was before %q: %w", label, err)
	}
	a, err := json.Marshal(after)
	if err != nil {
		return fmt.Errorf("keeping what is after %q: %w", label, err)
	}
	return tx.Record(&store.Step{Scope: scope, Label: label, Before: b, After: a})
}

// stepBack undoes (or redoes) the next step of a scope: restore is given the
// state to bring back. It reports what was done.
func (s *Studio) stepBack(ctx context.Context, scope string, undo bool, restore func(store.Tx, []byte) error) (label string, err error) {
	err = s.store.Write(ctx, func(tx store.Tx) error {
		next, word := tx.Undoable, "undo"
		if !undo {
			next, word = tx.Redoable, "redo"
		}
		step, err := next(scope)
		if errors.Is(err, store.ErrNotFound) {
			return refuse("There is nothing to %s.", word)
		}
		if err != nil {
			return err
		}
		state := step.Before
		if !undo {
			state = step.After
		}
		label = step.Label
		if err := restore(tx, state); err != nil {
			return err
		}
		return tx.MarkUndone(step.ID, undo)
	})
	return label, err
}

// toStore writes the maker's fields of m over row.
func toStore(row *store.Material, m material.Material) {
	row.Name, row.Kind, row.Reference, row.Supplier, row.Lot = m.Name, m.Kind, m.Reference, m.Supplier, m.Lot
	row.Finish, row.L, row.A, row.B = m.Finish, m.Colour.L, m.Colour.A, m.Colour.B
	row.Source, row.Uncertainty, row.Discontinued, row.Remark = m.Source, m.Uncertainty, m.Discontinued, m.Remark
	row.Pack, row.Size, row.Repeat = m.Pack, m.Size, m.Repeat
	row.Lots, row.Further = nil, nil
	row.Photo, row.PhotoX, row.PhotoY, row.PhotoW, row.PhotoH, row.PhotoWide = nil, 0, 0, 0, 0, 0
	if p := m.Picture; p != nil {
		hash := p.Photo
		row.Photo, row.PhotoX, row.PhotoY, row.PhotoW, row.PhotoH, row.PhotoWide = &hash, p.X, p.Y, p.W, p.H, p.Wide
	}
	for _, l := range m.Lots {
		out := store.Lot{Name: l.Name, OnHand: l.OnHand, Unit: l.Unit, Price: l.Price, Place: l.Place, State: l.State}
		if c := l.Colour; c != nil {
			lab := *c
			out.L, out.A, out.B = &lab.L, &lab.A, &lab.B
		}
		row.Lots = append(row.Lots, out)
	}
	for _, f := range m.Further {
		row.Further = append(row.Further, store.Further{Role: f.Role, L: f.Colour.L, A: f.Colour.A, B: f.Colour.B, Coverage: f.Coverage})
	}
}

// fromStore is the maker's record of a row.
func fromStore(r store.Material) material.Material {
	m := material.Material{Name: r.Name, Kind: r.Kind, Reference: r.Reference, Supplier: r.Supplier, Lot: r.Lot, Finish: r.Finish,
		Colour: colour.Lab{L: r.L, A: r.A, B: r.B}, Source: r.Source, Uncertainty: r.Uncertainty, Discontinued: r.Discontinued, Remark: r.Remark,
		Pack: r.Pack, Size: r.Size, Repeat: r.Repeat}
	for _, l := range r.Lots {
		out := material.Lot{Name: l.Name, OnHand: l.OnHand, Unit: l.Unit, Price: l.Price, Place: l.Place, State: l.State}
		if l.L != nil && l.A != nil && l.B != nil {
			out.Colour = &colour.Lab{L: *l.L, A: *l.A, B: *l.B}
		}
		m.Lots = append(m.Lots, out)
	}
	if r.Photo != nil {
		m.Picture = &material.Picture{Photo: *r.Photo, X: r.PhotoX, Y: r.PhotoY, W: r.PhotoW, H: r.PhotoH, Wide: r.PhotoWide}
	}
	for _, f := range r.Further {
		m.Further = append(m.Further, material.Further{Role: f.Role, Colour: colour.Lab{L: f.L, A: f.A, B: f.B}, Coverage: f.Coverage})
	}
	return m
}
