package plan

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/door"
	"lampfern/exchange"
	"lampfern/shelf"
	"lampfern/store"
)

// MaxFileBytes is the largest plan file read.
const MaxFileBytes = exchange.MaxPlanFileBytes

// photos calls f for every photo that the plan uses, by hash; sections let go of
// those for which it returns false. A photo under a drawing is let go of with its
// place there.
func (p *Plan) photos(f func(hash string) bool) error {
	for _, s := range p.all() {
		if sh, is := s.(Shower); is {
			sh.Show(f)
		}
	}
	if _, err := p.inputPhotos(f); err != nil {
		return err
	}
	for i := range p.Pieces {
		if h := p.Pieces[i].Held; h != nil {
			if err := p.heldPhotos(h, f); err != nil {
				return err
			}
		}
	}
	return p.heldInputs(func(of *Plan) (bool, error) { return of.inputPhotos(f) })
}

// inputPhotos calls f for every photo that was put into patterns, and tells whether one was let go.
func (p *Plan) inputPhotos(f func(hash string) bool) (changed bool, err error) {
	for _, in := range p.inputs() {
		shown, is := in.(piece.Pictured)
		if !is {
			continue
		}
		all := true
		shown.Show(func(hash string) bool {
			keep := f(hash)
			all = all && keep
			return keep
		})
		if !all {
			changed = true
			if err := p.setInput(in); err != nil {
				return changed, err
			}
		}
	}
	return changed, nil
}

// heldPhotos calls f for the photos in what stages keep of a held piece: each stage's section
// takes that part in for as long as it is looked through.
func (p *Plan) heldPhotos(h *Held, f func(hash string) bool) error {
	for name, doc := range h.Sections {
		part, is := p.sections[name].(Pieced)
		sh, shows := p.sections[name].(Shower)
		if !is || !shows {
			continue
		}
		now, err := part.HoldPiece()
		if err != nil {
			return err
		}
		if err := part.TakePiece(doc); err != nil {
			return err
		}
		sh.Show(f)
		if h.Sections[name], err = part.HoldPiece(); err != nil {
			return err
		}
		if err := part.TakePiece(now); err != nil {
			return err
		}
	}
	return nil
}

// models are the meshes that the plan uses.
func (p *Plan) models() []piece.Model {
	var out []piece.Model
	of := func(p *Plan) (bool, error) {
		for _, in := range p.inputs() {
			if m, is := in.(piece.Meshed); is && m.Model().File != "" {
				out = append(out, m.Model())
			}
		}
		return false, nil
	}
	_, _ = of(p)
	_ = p.heldInputs(of) // which only reads them
	return out
}

// refer calls f for every material that the plan refers to.
func (p *Plan) refer(f func(id uint) (uint, bool)) {
	for _, s := range p.all() {
		if r, is := s.(Referrer); is {
			r.Refer(f)
		}
	}
}

// Export writes the plan file: a zip of the plan with its materials, and of the
// photos and meshes it uses.
func (k *Desk) Export(ctx context.Context, id uint) (name string, file []byte, err error) {
	return k.export(ctx, id, false)
}

// ExportWithSheets is Export with the sheets of the sign-off and their answers.
func (k *Desk) ExportWithSheets(ctx context.Context, id uint) (name string, file []byte, err error) {
	return k.export(ctx, id, true)
}

// sheetsOf are the sheets of a plan as a file holds them.
func (k *Desk) sheetsOf(ctx context.Context, id uint) (out []exchange.PlanSheet, err error) {
	tx := k.Store.Read(ctx)
	all, err := tx.Sheets(id)
	if err != nil {
		return nil, fmt.Errorf("reading the sheets: %w", err)
	}
	answers, err := tx.Answers(id)
	if err != nil {
		return nil, fmt.Errorf("reading the answers: %w", err)
	}
	for _, head := range all {
		s, err := tx.Sheet(id, head.Number)
		if err != nil {
			return nil, fmt.Errorf("reading a sheet: %w", err)
		}
		one := exchange.PlanSheet{Number: s.Number, MadeAt: s.MadeAt, EndsAt: s.EndsAt, SentAt: s.SentAt, SeenAt: s.SeenAt, Doc: s.Doc}
		for _, a := range answers {
			if a.SheetID == s.ID {
				one.Answers = append(one.Answers, exchange.PlanAnswer{AnsweredAt: a.AnsweredAt, Once: a.Once, Agreed: a.Agreed, Name: a.Name,
					Way: a.Way, Remark: a.Remark, Remarks: a.Remarks, By: a.By})
			}
		}
		out = append(out, one)
	}
	return out, nil
}

// addSheets keeps the sheets of a file with a new plan. Their links were elsewhere: each
// has one of its own here, which is shut.
func addSheets(tx store.Tx, id uint, all []exchange.PlanSheet) error {
	now := time.Now().UTC()
	for _, s := range all {
		row := store.Sheet{PlanID: id, Number: s.Number, Token: door.Token(), MadeAt: s.MadeAt.UTC(), EndsAt: s.EndsAt.UTC(), SentAt: s.SentAt,
			SeenAt: s.SeenAt, WithdrawnAt: &now, Doc: s.Doc}
		if err := tx.PutSheet(&row); err != nil {
			return err
		}
		for _, a := range s.Answers {
			if _, err := tx.PutAnswer(&store.Answer{SheetID: row.ID, AnsweredAt: a.AnsweredAt.UTC(), Once: a.Once, Agreed: a.Agreed, Name: a.Name,
				Way: a.Way, Remark: a.Remark, Remarks: a.Remarks, By: a.By}); err != nil {
				return err
			}
		}
	}
	return nil
}

// addEntries keeps the diary of a file with a new plan.
func addEntries(tx store.Tx, id uint, all []exchange.PlanEntry) error {
	for _, e := range all {
		row := store.Entry{PlanID: id, At: e.At.UTC(), Step: e.Step, Title: e.Title, Words: e.Words, Changed: e.Changed, Why: e.Why, Part: e.Part,
			Card: e.Card, Minutes: e.Minutes, Photos: e.Photos}
		if err := tx.PutEntry(&row); err != nil {
			return err
		}
	}
	return nil
}

// Bounds of a diary in a file.
const (
	mostEntries    = 5000
	mostEntryRunes = 4000
)

// soundEntries refuses a diary that cannot be kept.
func soundEntries(all []exchange.PlanEntry) error {
	for i, e := range all {
		long := max(len([]rune(e.Words)), len([]rune(e.Changed)), len([]rune(e.Why)), len([]rune(e.Title)), len([]rune(e.Part)),
			len([]rune(e.Card)), len([]rune(e.Step)))
		if len(all) > mostEntries || long > mostEntryRunes || e.Minutes < 0 || e.Minutes > 24*60 || len(e.Photos) > 100 {
			return words.Refuse("The diary in the file cannot be read (entry %d). Save the plan again.", i+1)
		}
	}
	return nil
}

// Bounds of sheets in a file.
const (
	mostSheets     = 200
	mostSheetBytes = 8 << 20
)

// soundSheets refuses sheets that cannot be kept.
func soundSheets(all []exchange.PlanSheet) error {
	seen := map[int]bool{}
	for _, s := range all {
		if s.Number < 1 || seen[s.Number] || len(s.Doc) > mostSheetBytes || len(all) > mostSheets || len(s.Answers) > 10_000 {
			return words.Refuse("The sheets in the file cannot be read (sheet %d). Save the plan again.", s.Number)
		}
		seen[s.Number] = true
	}
	return nil
}

func (k *Desk) export(ctx context.Context, id uint, sheets bool) (name string, file []byte, err error) {
	p, err := k.Open(ctx, id)
	if err != nil {
		return "", nil, err
	}
	out := exchange.PlanFile{Name: p.Plan.Name, Craft: p.Craft, Kinds: p.Kinds, PutAway: p.PutAway,
		Sections: map[string]exchange.PlanSection{}}
	if sheets {
		if out.Sheets, err = k.sheetsOf(ctx, id); err != nil {
			return "", nil, err
		}
	}
	entries, err := k.Store.Read(ctx).Diary(id)
	if err != nil {
		return "", nil, fmt.Errorf("reading the diary: %w", err)
	}
	for _, e := range slices.Backward(entries) {
		out.Diary = append(out.Diary, exchange.PlanEntry{At: e.At, Step: e.Step, Title: e.Title, Words: e.Words, Changed: e.Changed, Why: e.Why,
			Part: e.Part, Card: e.Card, Minutes: e.Minutes, Photos: e.Photos})
	}
	used := map[uint]bool{}
	p.refer(func(id uint) (uint, bool) {
		c, err := p.Shelf.Card(id)
		if err != nil || used[id] {
			return id, err == nil
		}
		used[id] = true
		m := c.Material
		// A removed material and its successor can share a name.
		m.Name = shelf.FreeName(m.Name, "earlier", func(n string) bool {
			return slices.ContainsFunc(out.Materials, func(o exchange.PlanMaterial) bool { return strings.EqualFold(o.Name, n) })
		})
		out.Materials = append(out.Materials, exchange.PlanMaterial{Number: id, Material: m})
		return id, true
	})
	slices.SortFunc(out.Materials, func(a, b exchange.PlanMaterial) int { return int(a.Number) - int(b.Number) })
	photos := map[string]bool{}
	if err := p.photos(func(hash string) bool { photos[hash] = true; return true }); err != nil {
		return "", nil, err
	}
	for _, m := range out.Materials {
		if m.Picture != nil {
			photos[m.Picture.Photo] = true
		}
	}
	for _, e := range out.Diary {
		for _, hash := range e.Photos {
			photos[hash] = true
		}
	}
	rows, err := k.SoundPhotos(ctx)
	if err != nil {
		return "", nil, err
	}
	for _, r := range rows {
		if photos[r.Hash] {
			out.Photos = append(out.Photos, exchange.ShelfPhoto{Hash: r.Hash, Name: r.Name, File: "photos/" + r.Hash + "." + r.Kind})
		}
	}
	for _, s := range p.models() {
		if _, err := k.Store.ModelFile(s.File); err == nil {
			out.Meshes = append(out.Meshes, exchange.ShelfPhoto{Hash: s.File, Name: s.Name, File: "meshes/" + s.File + "." + s.Kind})
		}
	}
	sections, err := p.documents()
	if err != nil {
		return "", nil, err
	}
	for _, s := range sections {
		out.Sections[s.Name] = exchange.PlanSection{Version: k.version(s.Name), Doc: s.Doc}
	}
	var b bytes.Buffer
	err = exchange.WritePlanFile(&b, out, func(f exchange.ShelfPhoto, isMesh bool) ([]byte, error) {
		if isMesh {
			return k.Store.ModelFile(f.Hash)
		}
		return k.Store.PhotoFile(f.Hash)
	})
	return p.Plan.Name, b.Bytes(), err
}

// Import adds the plan of a file, of whatever version, and those of its materials
// that the shelf does not have. A material of the same name and colour is used as
// it is; one of the same name and another colour comes in under a name that tells
// the plan. missing names what the file speaks of and neither holds nor finds
// here.
func (k *Desk) Import(ctx context.Context, file []byte) (p *Plan, missing []string, err error) {
	var in exchange.PlanFile
	err = shelf.Heavy(ctx, func(ctx context.Context) (err error) {
		if in, err = exchange.ReadPlanFile(ctx, file); err != nil {
			return words.Refuse("%s.", words.Capital(err.Error()))
		}
		return nil
	})
	if err != nil {
		return nil, nil, err
	}
	rows := []store.Section{}
	for name, s := range in.Sections {
		doc, err := cleanDoc(s.Doc)
		if err != nil {
			return nil, nil, words.Refuse("The plan in the file is damaged. Save it again.")
		}
		rows = append(rows, store.Section{Name: name, Version: max(1, s.Version), Doc: doc})
		if name != inputName && !k.keeps(name) {
			missing = append(missing, fmt.Sprintf("parts of a newer Lamp Fern (%q)", name))
		}
	}
	p, err = k.compose(store.Plan{Name: in.Name, Craft: in.Craft, Kinds: in.Kinds, PutAway: in.PutAway}, rows)
	if err != nil {
		return nil, nil, words.Refuse("The plan in the file cannot be read: %s.", err)
	}
	if err := p.whole(in); err != nil {
		return nil, nil, err
	}
	if err := soundSheets(in.Sheets); err != nil {
		return nil, nil, err
	}
	if err := soundEntries(in.Diary); err != nil {
		return nil, nil, err
	}
	lost, err := k.bringFiles(ctx, p, in)
	if err != nil {
		return nil, nil, err
	}
	missing = append(missing, lost...)
	if err := k.checked(p); err != nil {
		return nil, nil, err
	}
	err = k.WriteShelf(ctx, func(tx store.Tx, sh *shelf.Shelf) ([]store.Material, error) {
		ids, fresh, err := k.takeMaterials(tx, sh, in)
		if err != nil {
			return nil, err
		}
		p.refer(func(n uint) (uint, bool) { id, known := ids[n]; return id, known })
		sections, err := p.documents()
		if err != nil {
			return nil, err
		}
		for i := range sections {
			sections[i].Version = k.version(sections[i].Name)
		}
		if err := tx.AddPlan(&p.Plan, sections); err != nil {
			return nil, err
		}
		return fresh, errors.Join(addSheets(tx, p.Plan.ID, in.Sheets), addEntries(tx, p.Plan.ID, in.Diary))
	})
	return p, missing, err
}

// cleanDoc is a document of a file with each text in it cleaned (words.Clean).
func cleanDoc(doc []byte) ([]byte, error) {
	d := json.NewDecoder(bytes.NewReader(doc))
	d.UseNumber()
	var v any
	if err := d.Decode(&v); err != nil {
		return nil, err
	}
	var clean func(v any) any
	clean = func(v any) any {
		switch x := v.(type) {
		case string:
			return words.Clean(x)
		case []any:
			for i := range x {
				x[i] = clean(x[i])
			}
		case map[string]any:
			for key := range x {
				x[key] = clean(x[key])
			}
		}
		return v
	}
	return json.Marshal(clean(v))
}

// keeps reports whether some stage, or the plan itself, keeps a section.
func (k *Desk) keeps(name string) bool {
	_, shared := (&Plan{}).shared()[name]
	return shared || slices.ContainsFunc(k.stages, func(s Stage) bool { return s.Key == name && s.New != nil })
}

// whole refuses a plan whose cards, lead or parts lead nowhere.
func (p *Plan) whole(in exchange.PlanFile) error {
	known := func(id uint) bool {
		return slices.ContainsFunc(in.Materials, func(m exchange.PlanMaterial) bool { return m.Number == id })
	}
	keys := map[int]bool{}
	for _, e := range p.Entries {
		if e.Key < 1 || keys[e.Key] || e.MaterialID != nil && !known(*e.MaterialID) {
			return words.Refuse("A card of the plan in the file is missing (card %d). Save the plan again.", e.Key)
		}
		keys[e.Key] = true
	}
	if p.LeadID != nil && !known(*p.LeadID) {
		return words.Refuse("The lead colour is missing from the file. Save the plan again.")
	}
	for _, f := range p.Fills {
		if !keys[f.EntryKey] {
			return words.Refuse("The part %q uses card %d, which is missing from the file. Save the plan again.", f.Part, f.EntryKey)
		}
	}
	return p.checkInputs()
}

// bringFiles keeps the photos and meshes of a plan file. It lets the plan go of
// those that are neither in the file nor here and names them.
func (k *Desk) bringFiles(ctx context.Context, p *Plan, in exchange.PlanFile) (missing []string, err error) {
	for _, f := range in.Photos {
		data, held := in.Content(ctx, f, exchange.MaxPhotoBytes)
		if !held || shelf.PhotoHash(data) != f.Hash {
			continue
		}
		if _, err := k.AddPhoto(ctx, f.Name, data); err != nil {
			var refused words.Refusal
			if !errors.As(err, &refused) {
				return nil, err
			}
		}
	}
	rows, err := k.Photos(ctx)
	if err != nil {
		return nil, err
	}
	here := map[string]bool{}
	for _, r := range rows {
		here[r.Hash] = true
	}
	for i := range in.Diary {
		in.Diary[i].Photos = slices.DeleteFunc(in.Diary[i].Photos, func(hash string) bool { return !here[hash] })
	}
	told := map[string]bool{}
	err = p.photos(func(hash string) bool {
		if !here[hash] && !told[hash] {
			told[hash] = true
			name := "a photo"
			for _, f := range in.Photos {
				if f.Hash == hash && f.Name != "" {
					name = "the photo " + f.Name
				}
			}
			missing = append(missing, name)
		}
		return here[hash]
	})
	if err != nil {
		return nil, err
	}
	for _, f := range in.Meshes {
		data, held := in.Content(ctx, f, exchange.MaxMeshBytes)
		if !held || shelf.PhotoHash(data) != f.Hash {
			continue
		}
		if _, err := k.KeepMesh(data, nil); err != nil {
			return nil, err
		}
	}
	for _, s := range p.models() {
		if _, err := k.Store.ModelFile(s.File); errors.Is(err, store.ErrNotFound) {
			missing = append(missing, "the model "+s.Name)
		} else if err != nil {
			return nil, err
		}
	}
	return missing, nil
}

// takeMaterials writes the materials of a plan file that the shelf lacks and
// returns the number here of each number there.
func (k *Desk) takeMaterials(tx store.Tx, sh *shelf.Shelf, in exchange.PlanFile) (ids map[uint]uint, fresh []store.Material, err error) {
	photos, err := k.TakePhotos(tx, nil)
	if err != nil {
		return nil, nil, err
	}
	taken := map[string]bool{}
	for _, c := range sh.Cards {
		taken[strings.ToLower(c.Name)] = true
	}
	ids = map[uint]uint{}
	var numbers []uint
	for _, m := range in.Materials {
		if c := sh.Named(m.Name); c != nil && c.Colour == m.Colour {
			ids[m.Number] = c.ID
			continue
		}
		if c := m.Picture; c != nil && !photos[c.Photo] {
			m.Picture = nil
		}
		row := shelf.Row(m.Material)
		row.Name = shelf.FreeName(m.Name, in.Name, func(n string) bool { return taken[strings.ToLower(n)] })
		taken[strings.ToLower(row.Name)] = true
		fresh, numbers = append(fresh, row), append(numbers, m.Number)
	}
	for _, m := range in.Elsewhere {
		if c := sh.Named(m.Name); c != nil && c.Colour == m.Colour {
			ids[m.Number] = c.ID
		}
	}
	if err := tx.PutMaterials(fresh); err != nil {
		return nil, nil, err
	}
	for i, n := range numbers {
		ids[n] = fresh[i].ID
	}
	return ids, fresh, nil
}
