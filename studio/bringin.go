package studio

import (
	"context"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
	"sync/atomic"

	"lampfern/core/brief"
	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/exchange"
	"lampfern/store"
)

// Preview is what a list of materials would bring onto the shelf. Lines whose
// name is on the shelf already are among the bad ones.
type Preview struct {
	ID   uint
	Name string // of the file
	exchange.List
}

// Upload reads a list and keeps the file until it is confirmed. A file that
// cannot be read at all is refused and not kept.
func (s *Studio) Upload(ctx context.Context, name string, data []byte) (uint, error) {
	if _, err := exchange.ReadList(data); err != nil {
		return 0, refuse("Nothing was brought in: %s.", err)
	}
	u := store.Upload{Name: name, Content: data}
	err := s.store.Write(ctx, func(tx store.Tx) error { return tx.PutUpload(&u) })
	return u.ID, err
}

// UploadShelf reads the zip of a whole shelf: its photos are laid into the data
// folder and its materials wait to be confirmed.
func (s *Studio) UploadShelf(ctx context.Context, name string, r io.ReaderAt, size int64) (uint, error) {
	shelf, err := exchange.ReadShelf(r, size)
	if err != nil {
		return 0, refuse("Nothing was brought in: %s.", err)
	}
	for _, p := range shelf.Photos {
		if err := ctx.Err(); err != nil {
			return 0, err
		}
		data, err := shelf.Photo(p)
		if err == nil {
			_, err = exchange.CheckPhoto(data)
		}
		if err == nil && photoHash(data) != p.Hash {
			err = fmt.Errorf("the photo %s in the zip is not the one its list names: save the shelf again", p.Name)
		}
		if err != nil {
			return 0, refuse("Nothing was brought in: %s.", err)
		}
		if err := s.store.PutPhotoFile(p.Hash, data); err != nil {
			return 0, err
		}
	}
	return s.Upload(ctx, name, shelf.Record())
}

// ExportShelf writes the zip of the whole shelf with its photos.
func (s *Studio) ExportShelf(ctx context.Context, w io.Writer) error {
	sh, err := s.Shelf(ctx)
	if err != nil {
		return err
	}
	rows, err := s.Photos(ctx)
	if err != nil {
		return err
	}
	photos := []exchange.ShelfPhoto{}
	for _, p := range rows {
		photos = append(photos, exchange.ShelfPhoto{Hash: p.Hash, Name: p.Name, File: "photos/" + p.Hash + "." + p.Kind})
	}
	return exchange.WriteShelf(w, sh.Materials(), photos, func(p exchange.ShelfPhoto) ([]byte, error) { return s.store.PhotoFile(p.Hash) })
}

// Preview reads a kept list again, against the shelf as it is now.
func (s *Studio) Preview(ctx context.Context, id uint) (Preview, error) {
	u, err := s.store.Read(ctx).Upload(id)
	if err != nil {
		return Preview{}, err
	}
	sh, err := s.Shelf(ctx)
	if err != nil {
		return Preview{}, err
	}
	return preview(u, sh)
}

func preview(u store.Upload, sh *Shelf) (Preview, error) {
	list, err := exchange.ReadList(u.Content)
	if err != nil {
		return Preview{}, refuse("Nothing was brought in: %s.", err)
	}
	onShelf := map[string]bool{}
	for _, c := range sh.Cards {
		onShelf[strings.ToLower(c.Name)] = true
	}
	p := Preview{ID: u.ID, Name: u.Name, List: exchange.List{Bad: list.Bad, Unused: list.Unused, Photos: list.Photos}}
	for _, g := range list.Good {
		if onShelf[strings.ToLower(g.Material.Name)] {
			p.Bad = append(p.Bad, exchange.BadLine{Line: g.Line, Text: g.Material.Name, Reason: "the name is on the shelf already"})
			continue
		}
		p.Good = append(p.Good, g)
	}
	slices.SortStableFunc(p.Bad, func(a, b exchange.BadLine) int { return a.Line - b.Line })
	return p, nil
}

// job is an import under way.
type job struct {
	done, of atomic.Int64
	stop     context.CancelFunc
}

// Progress says how many materials of a kept list are written and how many
// there are; running is false when it is not being brought in.
func (s *Studio) Progress(id uint) (done, of int, running bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	j := s.jobs[id]
	if j == nil {
		return 0, 0, false
	}
	return int(j.done.Load()), int(j.of.Load()), true
}

// StopImport stops an import under way, which then leaves nothing behind.
func (s *Studio) StopImport(id uint) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if j := s.jobs[id]; j != nil {
		j.stop()
	}
}

// Confirm brings the good lines of a kept list onto the shelf as one step and
// lets go of the file. Progress tells how far it is, and StopImport stops it.
func (s *Studio) Confirm(ctx context.Context, id uint) (added int, err error) {
	u, err := s.store.Read(ctx).Upload(id)
	if errors.Is(err, ErrNotFound) {
		return 0, refuse("This list was brought in already, or waited too long. Choose the file again.")
	}
	if err != nil {
		return 0, err
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
		return 0, refuse("This list is being brought in already.")
	}
	defer func() {
		s.mu.Lock()
		defer s.mu.Unlock()
		delete(s.jobs, id)
	}()
	watch := func(done, of int) { j.done.Store(int64(done)); j.of.Store(int64(of)) }
	err = s.changeShelf(ctx, watch, func(tx store.Tx, sh *Shelf) (string, []store.Material, error) {
		p, err := preview(u, sh)
		if err != nil {
			return "", nil, err
		}
		if len(p.Good) == 0 {
			return "", nil, refuse("No line of %s can be brought in. Mend the list and choose it again.", u.Name)
		}
		known, err := s.takePhotos(tx, p.Photos)
		if err != nil {
			return "", nil, err
		}
		rows := make([]store.Material, len(p.Good))
		for i, g := range p.Good {
			if c := g.Material.Picture; c != nil && !known[c.Photo] {
				g.Material.Picture = nil // its photo did not come along
			}
			toStore(&rows[i], g.Material)
		}
		added = len(rows)
		watch(0, added)
		return fmt.Sprintf("bring in %d materials from %s", added, u.Name), rows, tx.DropUpload(id)
	})
	if err != nil && ctx.Err() != nil { // the database only says that it was interrupted
		return 0, refuse("Stopped. Nothing was brought in; the list is still here.")
	}
	if err != nil {
		return 0, err
	}
	return added, nil
}

// takePhotos writes the records of photos whose files are there and returns
// every photo known then.
func (s *Studio) takePhotos(tx store.Tx, photos []exchange.ShelfPhoto) (known map[string]bool, err error) {
	for _, p := range photos {
		data, err := s.store.PhotoFile(p.Hash)
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
// differ, as one step.
func (s *Studio) AddMaterials(ctx context.Context, label string, all []material.Material) error {
	return s.changeShelf(ctx, nil, func(store.Tx, *Shelf) (string, []store.Material, error) {
		rows := make([]store.Material, len(all))
		for i, m := range all {
			toStore(&rows[i], m)
		}
		return label, rows, nil
	})
}

// ExportPlan returns a plan with its materials, complete on its own.
func (s *Studio) ExportPlan(ctx context.Context, id uint) (exchange.Plan, error) {
	p, err := s.Open(ctx, id)
	if err != nil {
		return exchange.Plan{}, err
	}
	out := exchange.Plan{Name: p.Name, Craft: p.Craft, Purpose: p.Purpose, Scheme: p.Scheme, Neighbours: p.Neighbours, OneSided: p.OneSided,
		Centred: p.Centred, Wide: p.Wide, Turn: p.Turn, Piece: p.Template, Settings: p.Settings, Pinned: p.Pinned, Groups: p.Groups, Dismissed: p.Dismissed, Remarks: p.Remarks, Palette: []exchange.PlanCard{},
		Wheel: p.WheelKey, School: p.School, FromBoldest: p.FromBoldest, Nearest: p.Nearest, LeadCard: p.LeadKey}
	if p.Own.Any() {
		own := p.Own
		out.Own = &own
	}
	if p.Brief != (brief.Brief{}) {
		b := p.Brief
		out.Brief = &b
	}
	for _, a := range p.Adjusted {
		out.Adjusted = append(out.Adjusted, exchange.PlanAdjusted(a))
	}
	for _, w := range p.Wishes {
		out.Wishes = append(out.Wishes, exchange.PlanColour{Name: w.Name, L: w.L, A: w.A, B: w.B})
	}
	for _, c := range p.Combinations {
		t := exchange.PlanCombination{Scheme: c.Scheme, Remark: c.Remark}
		for _, k := range c.Cards {
			t.Cards = append(t.Cards, exchange.PlanColour{Name: k.Name, L: k.L, A: k.A, B: k.B})
		}
		out.Combinations = append(out.Combinations, t)
	}
	for _, w := range p.Targets {
		out.Targets = append(out.Targets, exchange.PlanColour{Name: w.Name, L: w.L, A: w.A, B: w.B})
	}
	for _, c := range p.Colourways {
		out.Colourways = append(out.Colourways, exchange.PlanColourway{Name: c.Name, Remark: c.Remark, Favourite: c.Favourite, Fills: c.Fills})
	}
	out.Run, out.Ramps = p.runOut(), p.rampsOut()
	for _, sc := range p.Scraps {
		out.Scraps = append(out.Scraps, exchange.PlanScrap{Name: sc.Name, L: sc.L, A: sc.A, B: sc.B, Uncertainty: sc.Uncertainty})
	}
	used := map[uint]string{}
	use := func(c *Card) string {
		if name, known := used[c.ID]; known {
			return name
		}
		m := c.Material
		// A removed material and its successor can share a name.
		for _, other := range out.Materials {
			if other.Name == m.Name {
				m.Name = freeName(m.Name, "earlier", func(n string) bool { return n == m.Name })
			}
		}
		out.Materials = append(out.Materials, m)
		used[c.ID] = m.Name
		return m.Name
	}
	for _, t := range p.Tray {
		if t.ID == 0 {
			out.Palette = append(out.Palette, exchange.PlanCard{Key: t.Key, Free: &exchange.PlanColour{Name: t.Name, L: t.Colour.L, A: t.Colour.A, B: t.Colour.B}})
			continue
		}
		out.Palette = append(out.Palette, exchange.PlanCard{Key: t.Key, Material: use(t.Card)})
	}
	if p.LeadID != nil {
		out.Lead = use(p.Lead)
	}
	for _, f := range p.Fills {
		if out.Fills == nil {
			out.Fills = map[string]int{}
		}
		out.Fills[f.Part] = f.EntryKey
	}
	return out, nil
}

// ImportPlan adds a plan and those of its materials that the shelf does not
// have. A material of the same name and colour is used as it is; one of the
// same name and another colour comes in under a name that tells the plan.
func (s *Studio) ImportPlan(ctx context.Context, in exchange.Plan) (id uint, err error) {
	p := store.Plan{Name: in.Name, Craft: in.Craft, Purpose: in.Purpose, Scheme: in.Scheme, Neighbours: in.Neighbours, OneSided: in.OneSided,
		Centred: in.Centred, Wide: in.Wide, Turn: in.Turn, Template: in.Piece, Settings: in.Settings, Pinned: in.Pinned, Groups: in.Groups, Dismissed: in.Dismissed, Remarks: in.Remarks,
		WheelKey: in.Wheel, School: in.School, FromBoldest: in.FromBoldest, Nearest: in.Nearest, LeadKey: in.LeadCard}
	if in.Own != nil {
		p.Own = *in.Own
		s.keptUnders(ctx, &p.Own)
	}
	if in.Brief != nil {
		p.Brief = *in.Brief
	}
	for _, a := range in.Adjusted {
		p.Adjusted = append(p.Adjusted, store.Adjusted(a))
	}
	for i, w := range in.Wishes {
		p.Wishes = append(p.Wishes, store.Wish{Key: i + 1, Name: w.Name, L: w.L, A: w.A, B: w.B})
	}
	for i, w := range in.Targets {
		p.Targets = append(p.Targets, store.Wish{Key: i + 1, Name: w.Name, L: w.L, A: w.A, B: w.B})
	}
	for i, c := range in.Colourways[:min(len(in.Colourways), MaxColourways)] {
		p.Colourways = append(p.Colourways, store.Colourway{Key: i + 1, Name: c.Name, Remark: c.Remark, Favourite: c.Favourite, Fills: c.Fills})
	}
	for i, r := range in.Ramps {
		p.Ramps = append(p.Ramps, store.Ramp{Key: i + 1, Name: r.Name, Middle: store.Wish{Name: r.Middle.Name, L: r.Middle.L, A: r.Middle.A, B: r.Middle.B},
			Recipe: r.Recipe, Band: r.Band, Shift: r.Shift, Balance: r.Balance})
	}
	for i, sc := range in.Scraps {
		p.Scraps = append(p.Scraps, store.Scrap{Key: i + 1, Name: sc.Name, L: sc.L, A: sc.A, B: sc.B, Uncertainty: sc.Uncertainty})
	}
	if err := s.sound(&p); err != nil {
		return 0, err
	}
	if _, err := s.Shelf(ctx); err != nil { // remembered for the transaction below
		return 0, err
	}
	err = s.store.Write(ctx, func(tx store.Tx) error {
		sh, err := s.shelfWithin(tx)
		if err != nil {
			return err
		}
		photos, err := s.takePhotos(tx, nil)
		if err != nil {
			return err
		}
		byName := map[string]*Card{}
		for _, c := range sh.Cards {
			byName[strings.ToLower(c.Name)] = c
		}
		ids, fresh := map[string]uint{}, []store.Material{}
		var names []string
		for _, m := range in.Materials {
			if c := byName[strings.ToLower(m.Name)]; c != nil && c.Colour == m.Colour {
				ids[m.Name] = c.ID
				continue
			}
			if c := m.Picture; c != nil && !photos[c.Photo] {
				m.Picture = nil
			}
			var row store.Material
			toStore(&row, m)
			row.Name = freeName(m.Name, p.Name, func(n string) bool { return byName[strings.ToLower(n)] != nil })
			byName[strings.ToLower(row.Name)] = newCard(row)
			fresh, names = append(fresh, row), append(names, m.Name)
		}
		if err := tx.PutMaterials(fresh); err != nil {
			return err
		}
		for i, n := range names {
			ids[n] = fresh[i].ID
		}
		for _, c := range in.Palette {
			e := store.Entry{Key: c.Key}
			if c.Free != nil {
				e.Name, e.L, e.A, e.B = c.Free.Name, c.Free.L, c.Free.A, c.Free.B
			} else {
				id := ids[c.Material]
				e.MaterialID = &id
			}
			p.Entries = append(p.Entries, e)
		}
		find := func(k exchange.PlanColour) *uint {
			if id, known := ids[k.Name]; known {
				return &id
			}
			if c := byName[strings.ToLower(k.Name)]; c != nil && c.ID != 0 && c.Colour == (colour.Lab{L: k.L, A: k.A, B: k.B}) {
				return &c.ID
			}
			return nil
		}
		p.Combinations = triedFrom(in.Combinations, find)
		if in.Run != nil {
			p.Run = runFrom(*in.Run, find)
			if err := soundRun(&p.Run); err != nil {
				return err
			}
		}
		for part, key := range in.Fills {
			p.Fills = append(p.Fills, store.Fill{Part: part, EntryKey: key})
		}
		if in.Lead != "" {
			lead := ids[in.Lead]
			p.LeadID = &lead
		}
		return tx.AddPlan(&p)
	})
	return p.ID, err
}

// triedFrom are a plan file's combinations; find names the material of a card,
// nil when the shelf has none.
func triedFrom(all []exchange.PlanCombination, find func(exchange.PlanColour) *uint) []store.Combination {
	out := make([]store.Combination, 0, len(all))
	for i, t := range all {
		c := store.Combination{Key: i + 1, Scheme: t.Scheme, Remark: t.Remark}
		for _, k := range t.Cards {
			c.Cards = append(c.Cards, store.CombinationCard{MaterialID: find(k), Name: k.Name, L: k.L, A: k.A, B: k.B})
		}
		out = append(out, c)
	}
	return out
}

// runOut is the plan's run as its file has it; nil when nothing was chosen.
func (p *Plan) runOut() *exchange.PlanRun {
	r := p.Run
	if r.Source == "" && r.Steps == 0 && r.Start == "" && !r.Seen && len(r.Aside) == 0 {
		return nil
	}
	out := &exchange.PlanRun{Source: r.Source, Family: r.Family, Kind: r.Kind, Text: r.Text, Steps: r.Steps, Start: r.Start, Seen: r.Seen}
	for _, a := range r.Aside {
		k := exchange.PlanAside{PlanColour: exchange.PlanColour{Name: a.Name, L: a.L, A: a.A, B: a.B}, Reason: a.Reason}
		if !strings.HasPrefix(a.Token, "m") { // materials are found by name
			k.Token = a.Token
		}
		out.Aside = append(out.Aside, k)
	}
	return out
}

func runFrom(r exchange.PlanRun, find func(exchange.PlanColour) *uint) store.Run {
	out := store.Run{Source: r.Source, Family: r.Family, Kind: r.Kind, Text: r.Text, Steps: r.Steps, Start: r.Start, Seen: r.Seen}
	for _, a := range r.Aside {
		k := store.RunAside{Token: a.Token, Name: a.Name, Reason: a.Reason, L: a.L, A: a.A, B: a.B}
		if id := find(a.PlanColour); k.Token == "" && id != nil {
			k.Token = fmt.Sprintf("m%d", *id)
		}
		if k.Token != "" {
			out.Aside = append(out.Aside, k)
		}
	}
	return out
}

func (p *Plan) rampsOut() []exchange.PlanRamp {
	var out []exchange.PlanRamp
	for _, r := range p.Ramps {
		out = append(out, exchange.PlanRamp{Name: r.Name, Middle: exchange.PlanColour{Name: r.Middle.Name, L: r.Middle.L, A: r.Middle.A, B: r.Middle.B},
			Recipe: r.Recipe, Band: r.Band, Shift: r.Shift, Balance: r.Balance})
	}
	return out
}

// freeName returns name, or name with a remark in brackets, so that it is not
// taken; it never grows beyond what a card holds.
func freeName(name, remark string, taken func(string) bool) string {
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
