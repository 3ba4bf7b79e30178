package shelf

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/store"
)

// SaveMaterial adds a material (id 0) or writes over one that was read at the
// given revision. Troubles of the fields come as material.Problems.
func (s *Keeper) SaveMaterial(ctx context.Context, id uint, revision int64, m material.Material) (uint, error) {
	if p := m.Tidy(); p != nil {
		return 0, p
	}
	rows := make([]store.Material, 1)
	err := s.changeShelf(ctx, nil, func(_ store.Tx, sh *Shelf) (string, []store.Material, error) {
		label := "add " + m.Name
		rows[0] = store.Material{}
		if id != 0 {
			c, err := sh.Card(id)
			if err != nil {
				return "", nil, err
			}
			if c.Revision != revision {
				return "", nil, ErrConflict
			}
			rows[0], label = c.row, "change "+c.Name
		}
		toStore(&rows[0], m)
		rows[0].Removed = false
		return label, rows, nil
	})
	if errors.Is(err, store.ErrTaken) {
		return 0, material.Problems{"name": fmt.Sprintf("%q is already on the shelf. Choose another name.", m.Name)}
	}
	return rows[0].ID, err
}

// TakeOff takes a material that was read at the given revision off the shelf; plans that use it
// keep it.
func (s *Keeper) TakeOff(ctx context.Context, id uint, revision int64) error {
	return s.changeShelf(ctx, nil, func(_ store.Tx, sh *Shelf) (string, []store.Material, error) {
		c, err := sh.Card(id)
		if err != nil {
			return "", nil, err
		}
		if c.Revision != revision {
			return "", nil, ErrConflict
		}
		row := c.row
		row.Removed = true
		return "take " + c.Name + " off the shelf", []store.Material{row}, nil
	})
}

// writtenAtOnce is how many materials are written between two looks at whether
// the maker still wants them.
const writtenAtOnce = 250

// changeShelf writes rows, whose IDs it fills in, as one undoable step. watch,
// when given, is told how many of them are written; then is done within the same
// transaction.
func (s *Keeper) changeShelf(ctx context.Context, watch func(done, of int),
	change func(store.Tx, *Shelf) (label string, rows []store.Material, err error), then ...func(store.Tx) error) error {
	return s.WriteShelf(ctx, func(tx store.Tx, sh *Shelf) ([]store.Material, error) {
		label, rows, err := change(tx, sh)
		if err != nil {
			return nil, err
		}
		before := make([]store.Material, len(rows))
		for i, r := range rows {
			before[i] = r
			if c := sh.known(r.ID); c != nil {
				before[i] = c.row
			} else {
				before[i].Removed = true // undoing an addition takes it off
			}
		}
		done := 0
		for part := range slices.Chunk(rows, writtenAtOnce) {
			if err := tx.PutMaterials(part); err != nil {
				return nil, err
			}
			if done += len(part); watch != nil {
				watch(done, len(rows))
			}
		}
		for i := range rows {
			before[i].ID = rows[i].ID
		}
		if len(rows) > 0 {
			if err := Journal(tx, shelfScope, label, before, rows); err != nil {
				return nil, err
			}
		}
		for _, do := range then {
			if err := do(tx); err != nil {
				return nil, err
			}
		}
		return rows, nil
	})
}

// ChangeMaterials changes materials of the shelf as one undoable step, and does then
// within the same transaction. change is given each material in turn.
func (s *Keeper) ChangeMaterials(ctx context.Context, label string, ids []uint, change func(m *material.Material) error,
	then func(store.Tx) error) error {
	return s.changeShelf(ctx, nil, func(_ store.Tx, sh *Shelf) (string, []store.Material, error) {
		var rows []store.Material
		for _, id := range ids {
			c, err := sh.Card(id)
			if err != nil {
				return "", nil, err
			}
			m := c.Material
			m.Lots = slices.Clone(m.Lots)
			if err := change(&m); err != nil {
				return "", nil, err
			}
			if p := m.Tidy(); p != nil {
				return "", nil, words.Refuse("%s", p.Error())
			}
			row := c.row
			toStore(&row, m)
			rows = append(rows, row)
		}
		return label, rows, nil
	}, then)
}

// WriteShelf runs a change of the shelf as one transaction and takes the rows
// it wrote into the remembered shelf, so that it need not be read again.
func (s *Keeper) WriteShelf(ctx context.Context, change func(store.Tx, *Shelf) ([]store.Material, error)) error {
	if _, err := s.Shelf(ctx); err != nil { // what is slow is done before others wait
		return err
	}
	var next *Shelf
	err := s.Store.Write(ctx, func(tx store.Tx) error {
		sh, err := s.Within(tx)
		if err != nil {
			return err
		}
		rows, err := change(tx, sh)
		if err != nil {
			return err
		}
		version, err := tx.ShelfVersion()
		if err != nil {
			return err
		}
		next = sh.with(version, rows)
		return nil
	})
	if err == nil {
		s.remember(next)
	}
	return err
}

// StepShelf undoes or redoes the last change of the shelf as it was read at a version, and says
// which. ErrConflict tells that it was changed since: the last change is another one then.
func (s *Keeper) StepShelf(ctx context.Context, version int64, undo bool) (label string, err error) {
	err = s.WriteShelf(ctx, func(tx store.Tx, sh *Shelf) (rows []store.Material, err error) {
		if sh.version != version {
			return nil, ErrConflict
		}
		label, err = StepBack(tx, shelfScope, undo, func(state []byte) error {
			if err := json.Unmarshal(state, &rows); err != nil {
				return fmt.Errorf("reading a kept state of the shelf: %w", err)
			}
			for i := range rows {
				if c := sh.known(rows[i].ID); c != nil {
					rows[i].Revision = c.Revision
				}
			}
			return tx.PutMaterials(rows)
		})
		return rows, err
	})
	if errors.Is(err, store.ErrTaken) {
		return "", words.Refuse("%q cannot be restored: another material now has that name. Rename that one first.", label)
	}
	return label, err
}

// ShelfSteps says what undo and redo would do on the shelf as it is at a version, empty when
// nothing.
func (s *Keeper) ShelfSteps(ctx context.Context) (undo, redo string, version int64, err error) {
	err = s.Store.View(ctx, func(tx store.Tx) error {
		if version, err = tx.ShelfVersion(); err != nil {
			return err
		}
		undo, redo, err = tx.Labels(shelfScope)
		return err
	})
	return undo, redo, version, err
}

// Row is a material as a new row of the store.
func Row(m material.Material) (row store.Material) {
	toStore(&row, m)
	return row
}

// toStore writes the maker's fields of m over row.
func toStore(row *store.Material, m material.Material) {
	row.Name, row.Kind, row.Reference, row.Supplier, row.Lot = m.Name, m.Kind, m.Reference, m.Supplier, m.Lot
	row.Finish, row.L, row.A, row.B = m.Finish, m.Colour.L, m.Colour.A, m.Colour.B
	row.Source, row.Uncertainty, row.Discontinued, row.Remark = m.Source, m.Uncertainty, m.Discontinued, m.Remark
	row.Pack, row.Size, row.Repeat = m.Pack, m.Size, m.Repeat
	row.Dose = store.Dose(m.Dose)
	row.Lots, row.Further, row.Spectrum = nil, nil, nil
	if m.Spectrum != (colour.Spectrum{}) {
		row.Spectrum = m.Spectrum[:]
	}
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
		Pack: r.Pack, Size: r.Size, Repeat: r.Repeat, Dose: material.Dose(r.Dose)}
	copy(m.Spectrum[:], r.Spectrum)
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
