package shelf

import (
	"context"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
	"sync/atomic"

	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/exchange"
	"lampfern/store"
)

// Preview is what a list of materials would bring onto the shelf. Lines whose
// name is on the shelf already can update it where they tell something else, and are
// among the bad ones where they do not.
type Preview struct {
	ID      uint
	Name    string   // of the file
	Lost    []string // photos that are damaged in the file and stay out
	Updates []Update
	exchange.List
}

// Update is what a line of a list would change in a material of the shelf.
type Update struct {
	Line  int
	Card  *Card
	Now   material.Material
	Words string // what becomes different
}

// Came is how much a list brought in.
type Came struct{ Added, Updated, Mixes int }

// Upload reads a list and keeps the file until it is confirmed. A file that
// cannot be read at all is refused and not kept.
func (s *Keeper) Upload(ctx context.Context, name string, data []byte) (uint, error) {
	if _, err := s.readList(ctx, data); err != nil {
		return 0, err
	}
	u := store.Upload{Name: name, Content: data}
	err := s.Store.Write(ctx, func(tx store.Tx) error { return tx.PutUpload(&u) })
	return u.ID, err
}

// readList reads a list when it is its turn.
func (s *Keeper) readList(ctx context.Context, data []byte) (list exchange.List, err error) {
	err = Heavy(ctx, func(ctx context.Context) error {
		if list, err = exchange.ReadList(ctx, data); err != nil {
			return words.Refuse("Not imported: %s.", err)
		}
		return nil
	})
	return list, err
}

var errDamagedPhoto = errors.New("it is not the photo named in its list")

// mostStaged bounds the photos of one shelf, unpacked, in bytes.
const mostStaged = 2 << 30

// UploadShelf reads the zip of a whole shelf: its photos are staged and its materials wait to
// be confirmed.
func (s *Keeper) UploadShelf(ctx context.Context, name string, r io.ReaderAt, size int64) (uint, error) {
	var shelf exchange.Shelf
	err := Heavy(ctx, func(ctx context.Context) (err error) {
		if shelf, err = exchange.ReadShelf(ctx, r, size); err != nil {
			return words.Refuse("Not imported: %s.", err)
		}
		return nil
	})
	if err != nil {
		return 0, err
	}
	unpacked := 0
	for _, p := range shelf.Photos {
		if err := ctx.Err(); err != nil {
			return 0, err
		}
		data, err := shelf.Photo(ctx, p)
		if err == nil {
			_, err = exchange.CheckPhoto(data)
		}
		if err == nil && PhotoHash(data) != p.Hash {
			err = errDamagedPhoto
		}
		if unpacked += len(data); unpacked > mostStaged {
			return 0, words.Refuse("Not imported: its photos are larger than %d GB together. Save the shelf in two parts.", mostStaged>>30)
		}
		if err != nil {
			continue // the preview names it among those that stay out
		}
		if _, err := s.Store.PhotoFile(p.Hash); err == nil {
			continue // it is here
		}
		if err := s.Store.StagePhotoFile(p.Hash, data); err != nil {
			return 0, err
		}
	}
	return s.Upload(ctx, name, shelf.Record())
}

// ExportShelf writes the zip of the whole shelf with its photos.
func (s *Keeper) ExportShelf(ctx context.Context, w io.Writer) error {
	sh, err := s.Shelf(ctx)
	if err != nil {
		return err
	}
	rows, err := s.SoundPhotos(ctx)
	if err != nil {
		return err
	}
	photos := []exchange.ShelfPhoto{}
	for _, p := range rows {
		photos = append(photos, exchange.ShelfPhoto{Hash: p.Hash, Name: p.Name, File: "photos/" + p.Hash + "." + p.Kind})
	}
	mixes, err := s.Store.Read(ctx).Mixes()
	if err != nil {
		return fmt.Errorf("reading the records of mixes: %w", err)
	}
	return exchange.WriteShelf(w, sh.Materials(), mixesOut(sh, mixes), photos,
		func(p exchange.ShelfPhoto) ([]byte, error) { return s.Store.PhotoFile(p.Hash) })
}

// Preview reads a kept list again, against the shelf as it is now.
func (s *Keeper) Preview(ctx context.Context, id uint) (Preview, error) {
	u, err := s.Store.Read(ctx).Upload(id)
	if err != nil {
		return Preview{}, err
	}
	sh, err := s.Shelf(ctx)
	if err != nil {
		return Preview{}, err
	}
	list, err := s.readList(ctx, u.Content)
	if err != nil {
		return Preview{}, err
	}
	p := preview(u, list, sh)
	p.Photos = slices.DeleteFunc(slices.Clone(list.Photos), func(photo exchange.ShelfPhoto) bool {
		if _, err := s.Store.StagedFile(photo.Hash); err == nil || s.HasPhotoFile(photo.Hash) {
			return false
		}
		p.Lost = append(p.Lost, photo.Name)
		return true
	})
	return p, nil
}

func preview(u store.Upload, list exchange.List, sh *Shelf) Preview {
	onShelf := map[string]*Card{}
	for _, c := range sh.Cards {
		onShelf[strings.ToLower(c.Name)] = c
	}
	p := Preview{ID: u.ID, Name: u.Name, List: exchange.List{Bad: list.Bad, Unused: list.Unused, Photos: list.Photos, Mixes: list.Mixes,
		Note: list.Note}}
	out := func(g exchange.Line, reason string) {
		p.Bad = append(p.Bad, exchange.BadLine{Line: g.Line, Text: g.Material.Name, Reason: strings.TrimSuffix(reason, ".")})
	}
	for _, g := range slices.Concat(list.Good, list.Stock) {
		c := onShelf[strings.ToLower(g.Material.Name)]
		if c == nil && g.Gives.Colour {
			p.Good = append(p.Good, g)
			continue
		}
		if c == nil {
			out(g, "it has no colour, and no material on the shelf has this name")
			continue
		}
		now, said := c.Material.Updated(g.Material, g.Gives)
		if problems := now.Tidy(); problems != nil {
			out(g, problems.Error())
		} else if len(said) == 0 {
			out(g, "it is on the shelf already, unchanged")
		} else {
			p.Updates = append(p.Updates, Update{Line: g.Line, Card: c, Now: now, Words: strings.Join(said, "; ")})
		}
	}
	slices.SortStableFunc(p.Updates, func(a, b Update) int { return a.Line - b.Line })
	slices.SortStableFunc(p.Bad, func(a, b exchange.BadLine) int { return a.Line - b.Line })
	return p
}

// job is an import under way.
type job struct {
	done, of atomic.Int64
	stop     context.CancelFunc
}

// Progress says how many materials of a kept list are written and how many
// there are; running is false when it is not being brought in.
func (s *Keeper) Progress(id uint) (done, of int, running bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	j := s.jobs[id]
	if j == nil {
		return 0, 0, false
	}
	return int(j.done.Load()), int(j.of.Load()), true
}

// StopImport stops an import under way, which then leaves nothing behind.
func (s *Keeper) StopImport(id uint) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if j := s.jobs[id]; j != nil {
		j.stop()
	}
}

// Confirm brings the good lines of a kept list onto the shelf as one step, updates what is there
// by the lines that update is true of (nil for none), takes the records of mixes with them, and lets
// go of the file. Progress tells how far it is, and StopImport stops it.
func (s *Keeper) Confirm(ctx context.Context, id uint, update func(line int) bool) (came Came, err error) {
	u, err := s.Store.Read(ctx).Upload(id)
	if errors.Is(err, ErrNotFound) {
		return Came{}, words.Refuse("This list was imported already, or has expired. Choose the file again.")
	}
	if err != nil {
		return Came{}, err
	}
	j := &job{}
	ctx, j.stop = context.WithCancel(ctx)
	defer j.stop()
	s.mu.Lock()
	busy := s.jobs[id] != nil
	if !busy {
		s.jobs[id] = j
	}
	s.mu.Unlock()
	if busy {
		return Came{}, words.Refuse("This list is being imported already.")
	}
	defer func() {
		s.mu.Lock()
		defer s.mu.Unlock()
		delete(s.jobs, id)
	}()
	list, err := s.readList(ctx, u.Content)
	if err != nil {
		return Came{}, err
	}
	watch := func(done, of int) { j.done.Store(int64(done)); j.of.Store(int64(of)) }
	var rows []store.Material // the new ones first
	var with *Shelf
	err = s.changeShelf(ctx, watch, func(tx store.Tx, sh *Shelf) (string, []store.Material, error) {
		p := preview(u, list, sh)
		with = sh
		p.Updates = slices.DeleteFunc(p.Updates, func(up Update) bool { return update == nil || !update(up.Line) })
		if len(p.Good)+len(p.Updates)+len(p.Mixes) == 0 {
			return "", nil, words.Refuse("No line of %s can be imported. Correct the list and choose it again.", u.Name)
		}
		known, err := s.TakePhotos(tx, p.Photos)
		if err != nil {
			return "", nil, err
		}
		rows = make([]store.Material, len(p.Good))
		for i, g := range p.Good {
			if c := g.Material.Picture; c != nil && !known[c.Photo] {
				g.Material.Picture = nil // its photo did not come along
			}
			toStore(&rows[i], g.Material)
		}
		came = Came{Added: len(p.Good), Updated: len(p.Updates)}
		for _, up := range p.Updates {
			row := up.Card.row
			toStore(&row, up.Now)
			rows = append(rows, row)
		}
		watch(0, len(rows))
		return came.label(u.Name), rows, tx.DropUpload(id)
	}, func(tx store.Tx) (err error) {
		came.Mixes, err = takeMixes(tx, with, list.Mixes, rows[:came.Added], u.Name)
		if err == nil && came == (Came{}) {
			err = words.Refuse("Everything in %s is here already, or cannot be imported.", u.Name)
		}
		return err
	})
	if err != nil && ctx.Err() != nil { // the database only says that it was interrupted
		return Came{}, words.Refuse("Cancelled. The list is still here.")
	}
	if err != nil {
		return Came{}, err
	}
	return came, nil
}

// label says what a step did.
func (c Came) label(file string) string {
	switch {
	case c.Updated == 0:
		return fmt.Sprintf("import %d materials from %s", c.Added, file)
	case c.Added == 0:
		return fmt.Sprintf("update %d materials from %s", c.Updated, file)
	}
	return fmt.Sprintf("import %d materials and update %d from %s", c.Added, c.Updated, file)
}

// TakePhotos writes the records of photos whose files are there and returns
// every photo known then.
func (s *Keeper) TakePhotos(tx store.Tx, photos []exchange.ShelfPhoto) (known map[string]bool, err error) {
	for _, p := range photos {
		if err := s.Store.TakeStaged(p.Hash); err != nil && !errors.Is(err, ErrNotFound) {
			return nil, err
		}
		data, err := s.Store.PhotoFile(p.Hash)
		if errors.Is(err, ErrNotFound) {
			continue
		}
		if err != nil {
			return nil, err
		}
		head, err := exchange.CheckPhoto(data)
		if err != nil {
			continue
		}
		if err := tx.PutPhoto(store.Photo{Hash: p.Hash, Name: p.Name, Kind: head.Kind, Width: head.Width, Height: head.Height}); err != nil {
			return nil, err
		}
	}
	rows, err := tx.Photos()
	known = map[string]bool{}
	for _, r := range rows {
		known[r.Hash] = true
	}
	return known, err
}

// AddMaterials puts materials on an empty shelf, or beside others whose names
// differ, as one step, and does then, which is given their numbers, within the same transaction.
func (s *Keeper) AddMaterials(ctx context.Context, label string, all []material.Material,
	then ...func(tx store.Tx, ids []uint) error) error {
	rows := make([]store.Material, len(all))
	for i, m := range all {
		toStore(&rows[i], m)
	}
	return s.changeShelf(ctx, nil, func(store.Tx, *Shelf) (string, []store.Material, error) { return label, rows, nil },
		func(tx store.Tx) error {
			ids := make([]uint, len(rows))
			for i := range rows {
				ids[i] = rows[i].ID
			}
			for _, do := range then {
				if err := do(tx, ids); err != nil {
					return err
				}
			}
			return nil
		})
}

// FreeName returns name, or name with a remark in brackets, so that it is not
// taken; it never grows beyond what a card holds.
func FreeName(name, remark string, taken func(string) bool) string {
	out := name
	for n := 1; taken(out); n++ {
		tail := " (" + remark + ")"
		if n > 1 {
			tail = fmt.Sprintf(" (%s %d)", remark, n)
		}
		r, t := []rune(name), []rune(tail)
		if len(t) > material.MaxName/2 {
			t = []rune(fmt.Sprintf(" (%d)", n+1))
		}
		out = string(r[:min(len(r), material.MaxName-len(t))]) + string(t)
	}
	return out
}
