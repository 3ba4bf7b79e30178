package store

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

func opened(t *testing.T) *Store {
	t.Helper()
	s, err := Open(t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { s.Close() })
	return s
}

func put(t *testing.T, s *Store, names ...string) []Material {
	t.Helper()
	var all []Material
	for _, n := range names {
		all = append(all, Material{Name: n, Kind: "fabric", L: 50, Source: "typed"})
	}
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.PutMaterials(all) }))
	return all
}

func TestSettingsOfEveryConnection(t *testing.T) {
	s := opened(t)
	for pragma, want := range map[string]string{"journal_mode": "wal", "synchronous": "2", "foreign_keys": "1", "busy_timeout": "5000"} {
		var got string
		require.NoError(t, s.writer.Raw("PRAGMA "+pragma).Scan(&got).Error)
		assert.Equal(t, want, got, pragma)
	}
}

func TestMaterialsAndTakenNames(t *testing.T) {
	s := opened(t)
	all := put(t, s, "Plum curtain", "Moth wing")
	assert.NotZero(t, all[0].ID)
	v, err := s.Read(ctx).ShelfVersion()
	require.NoError(t, err)
	assert.Equal(t, int64(2), v)

	err = s.Write(ctx, func(tx Tx) error {
		return tx.PutMaterials([]Material{{Name: "Fox"}, {Name: "PLUM curtain"}})
	})
	assert.ErrorIs(t, err, ErrTaken)
	got, err := s.Read(ctx).Materials()
	require.NoError(t, err)
	assert.Len(t, got, 2, "none of a failed write is kept")

	all[0].Removed = true
	swap := []Material{{Name: "plum curtain"}, all[0]}
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.PutMaterials(swap) }), "a removed one lets go of its name")
}

func TestLotsAndFurtherColoursHangOnTheirMaterial(t *testing.T) {
	s := opened(t)
	l := 41.0
	all := []Material{{Name: "a", Lots: []Lot{{Name: "7a", OnHand: 2, Unit: "m", L: &l, A: &l, B: &l}, {Name: "7b"}},
		Further: []Further{{Role: "flash", L: 80}}}, {Name: "b"}}
	write := func() { require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.PutMaterials(all) })) }
	write()
	got, err := s.Read(ctx).Materials()
	require.NoError(t, err)
	require.Len(t, got[0].Lots, 2)
	assert.Equal(t, 41.0, *got[0].Lots[0].L)
	assert.Nil(t, got[0].Lots[1].L)
	assert.Equal(t, "flash", got[0].Further[0].Role)
	assert.Empty(t, got[1].Lots)
	all[0].Lots, all[0].Further = all[0].Lots[1:], nil
	write()
	got, err = s.Read(ctx).Materials()
	require.NoError(t, err)
	require.Len(t, got[0].Lots, 1)
	assert.Equal(t, "7b", got[0].Lots[0].Name)
	assert.Empty(t, got[0].Further)
}

func TestPlanIsWrittenWholeOrNotAtAll(t *testing.T) {
	s := opened(t)
	p := Plan{Name: "Curtain", Craft: "quilt"}
	tray := Section{Name: "tray", Version: 1, Doc: []byte(`{"entries":[1,2]}`)}
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.AddPlan(&p, []Section{tray}) }))

	got, sections, err := s.Read(ctx).Plan(p.ID)
	require.NoError(t, err)
	assert.Equal(t, "Curtain", got.Name)
	require.Len(t, sections, 1)
	assert.Equal(t, tray.Doc, sections[0].Doc)

	stale, before := got, got
	got.Name = "Stage curtain"
	now := Section{Name: "tray", Version: 1, Doc: []byte(`{"entries":[2,1]}`)}
	require.NoError(t, s.Write(ctx, func(tx Tx) error {
		return tx.SavePlan(&got, before, []Section{sections[0]}, []Section{now}, "turn round")
	}))
	stale.Name = "Lost"
	assert.ErrorIs(t, s.Write(ctx, func(tx Tx) error { return tx.SavePlan(&stale, before, nil, nil, "lose") }), ErrConflict)
	assert.ErrorIs(t, s.Write(ctx, func(tx Tx) error {
		if err := tx.SavePlan(&got, got, []Section{now}, []Section{{Name: "tray", Version: 1, Doc: []byte("{}")}}, "half"); err != nil {
			return err
		}
		return ErrTaken
	}), ErrTaken)

	again, sections, err := s.Read(ctx).Plan(p.ID)
	require.NoError(t, err)
	assert.Equal(t, "Stage curtain", again.Name)
	assert.Equal(t, now.Doc, sections[0].Doc)
	_, _, err = s.Read(ctx).Plan(99)
	assert.ErrorIs(t, err, ErrNotFound)
	all, err := s.Read(ctx).SectionOfAll("tray")
	require.NoError(t, err)
	assert.Equal(t, now.Doc, all[p.ID].Doc)
}

// The plan worked on last comes first, also where the clock was ahead or is set back.
func TestPlansComeByWorkNotByTheClock(t *testing.T) {
	s := opened(t)
	for _, name := range []string{"A", "B", "C"} {
		require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.AddPlan(&Plan{Name: name}, nil) }))
	}
	require.NoError(t, s.writer.Exec("UPDATE plans SET updated_at = '2031-01-01' WHERE name = 'A'").Error)
	require.NoError(t, s.Write(ctx, func(tx Tx) error {
		p, _, err := tx.Plan(2)
		require.NoError(t, err)
		was := p
		p.Name = "B, again"
		return tx.SavePlan(&p, was, nil, nil, "name it")
	}))
	all, err := s.Read(ctx).Plans()
	require.NoError(t, err)
	assert.Equal(t, []string{"B, again", "C", "A"}, []string{all[0].Name, all[1].Name, all[2].Name})
}

func TestOnlyWhatDiffersIsJournalled(t *testing.T) {
	for _, c := range []struct{ was, now string }{{"", "{}"}, {`{"a":1}`, `{"a":12}`}, {`{"a":[1,1,1]}`, `{"a":[1,1]}`}, {"aaaa", "aa"},
		{`{"a":1}`, ""}, {"x", "x"}} {
		got := changeOf(Section{Doc: []byte(c.was)}, Section{Doc: []byte(c.now)})
		back, err := got.turn([]byte(c.now), true)
		require.NoError(t, err, "%v", c)
		assert.Equal(t, c.was, string(back))
		on, err := got.turn([]byte(c.was), false)
		require.NoError(t, err, "%v", c)
		assert.Equal(t, c.now, string(on))
	}
	long := strings.Repeat("[12.5,80.25],", 10_000)
	c := changeOf(Section{Doc: []byte(long)}, Section{Doc: []byte(long[:60_000] + "7" + long[60_001:])})
	assert.LessOrEqual(t, len(c.Before)+len(c.After), 2)
	_, err := c.turn([]byte(long[1:]), true)
	assert.ErrorIs(t, err, errJournal, "a document that the journal did not leave is not touched")
}

func TestTwoHundredStepsAreKept(t *testing.T) {
	s := opened(t)
	p := Plan{Name: "n", Craft: "quilt"}
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.AddPlan(&p, nil) }))
	was := Section{Name: "tray"}
	for i := range StepsKept + 20 {
		now := Section{Name: "tray", Version: 1, Doc: fmt.Appendf(nil, `{"n":%d}`, i)}
		require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.SavePlan(&p, p, []Section{was}, []Section{now}, fmt.Sprint(i)) }))
		was = now
	}
	var steps, changes int64
	require.NoError(t, s.writer.Model(&Step{}).Count(&steps).Error)
	require.NoError(t, s.writer.Model(&Change{}).Count(&changes).Error)
	assert.Equal(t, []int64{StepsKept, StepsKept}, []int64{steps, changes})
	undo := func() (label string, err error) {
		err = s.Write(ctx, func(tx Tx) error {
			now, _, err := tx.Plan(p.ID)
			require.NoError(t, err)
			label, err = tx.StepPlan(p.ID, now.Revision, true)
			return err
		})
		return label, err
	}
	for i := range StepsKept {
		label, err := undo()
		require.NoError(t, err)
		assert.Equal(t, fmt.Sprint(StepsKept+19-i), label)
	}
	_, err := undo()
	assert.ErrorIs(t, err, ErrNotFound)
	_, sections, err := s.Read(ctx).Plan(p.ID)
	require.NoError(t, err)
	assert.Equal(t, `{"n":19}`, string(sections[0].Doc))
}

func TestReadThenWriteFromManySidesNeverFails(t *testing.T) {
	s := opened(t)
	p := Plan{Name: "n", Craft: "quilt"}
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.AddPlan(&p, nil) }))
	var wg sync.WaitGroup
	for range 48 {
		wg.Go(func() {
			for range 4 {
				assert.NoError(t, s.Write(ctx, func(tx Tx) error {
					q, _, err := tx.Plan(p.ID)
					if err != nil {
						return err
					}
					before := q
					q.Name += "n"
					return tx.SavePlan(&q, before, nil, nil, "add")
				}))
				assert.NoError(t, s.View(ctx, func(tx Tx) error {
					q, _, err := tx.Plan(p.ID)
					assert.Equal(t, int64(len(q.Name)), q.Revision, "all of it is of one moment")
					return err
				}))
			}
		})
	}
	wg.Wait()
	q, _, err := s.Read(ctx).Plan(p.ID)
	require.NoError(t, err)
	assert.Equal(t, int64(193), q.Revision)
}

func TestJournal(t *testing.T) {
	s := opened(t)
	record := func(label string) {
		require.NoError(t, s.Write(ctx, func(tx Tx) error {
			return tx.Record(&Step{Scope: "plan/1", Label: label, Before: []byte("{}"), After: []byte("{}")})
		}))
	}
	labels := func() []string {
		u, r, err := s.Read(ctx).Labels("plan/1")
		require.NoError(t, err)
		return []string{u, r}
	}
	assert.Equal(t, []string{"", ""}, labels())
	record("one")
	record("two")
	step, err := s.Read(ctx).Undoable("plan/1")
	require.NoError(t, err)
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.MarkUndone(step.ID, true) }))
	assert.Equal(t, []string{"one", "two"}, labels())
	record("three")
	assert.Equal(t, []string{"three", ""}, labels(), "a new step ends what could be redone")
	_, err = s.Read(ctx).Redoable("plan/1")
	assert.ErrorIs(t, err, ErrNotFound)
	_, err = s.Read(ctx).Undoable("plan/2")
	assert.ErrorIs(t, err, ErrNotFound)
}

func TestPhotos(t *testing.T) {
	s := opened(t)
	p := Photo{Hash: "abcd", Name: "heap.jpg", Kind: "jpeg", Width: 10, Height: 20}
	require.NoError(t, s.PutPhotoFile(p.Hash, []byte("pixels")))
	require.NoError(t, s.PutPhotoFile(p.Hash, []byte("pixels")), "the same photo twice is one")
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.PutPhoto(p) }))
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.PutPhoto(p) }))
	all, err := s.Read(ctx).Photos()
	require.NoError(t, err)
	assert.Len(t, all, 1)
	data, err := s.PhotoFile(p.Hash)
	require.NoError(t, err)
	assert.Equal(t, "pixels", string(data))
	_, err = s.PhotoFile("../lampfern.db")
	assert.ErrorIs(t, err, ErrNotFound)
	_, err = s.Read(ctx).Photo("nowhere")
	assert.ErrorIs(t, err, ErrNotFound)
}

func TestUploads(t *testing.T) {
	s := opened(t)
	u := Upload{Name: "x.csv", Content: []byte("name")}
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.PutUpload(&u) }))
	got, err := s.Read(ctx).Upload(u.ID)
	require.NoError(t, err)
	assert.Equal(t, "name", string(got.Content))
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.DropUpload(u.ID) }))
	_, err = s.Read(ctx).Upload(u.ID)
	assert.ErrorIs(t, err, ErrNotFound)
}

// TestMigrationsFromEveryVersion brings up a database of each earlier version,
// puts data in as that version knew it, and checks it after migrating.
func TestMigrationsFromEveryVersion(t *testing.T) {
	fill := map[string]string{
		"0001": `INSERT INTO materials (name, kind, l, a, b, source, uncertainty) VALUES ('Old cloth', 'fabric', 40, 1, 2, 'typed', 3);
			INSERT INTO plans (name, lead_id) VALUES ('Old plan', 1);
			INSERT INTO entries (plan_id, key, material_id, position) VALUES (1, 1, 1, 0); INSERT INTO fills VALUES (1, 'ground', 1);`,
		"0002": `INSERT INTO materials (name, kind, l, a, b, source, uncertainty) VALUES ('Old cloth', 'fabric', 40, 1, 2, 'typed', 3);
			INSERT INTO plans (name, lead_id) VALUES ('Old plan', 1);
			INSERT INTO entries (plan_id, key, material_id, position) VALUES (1, 1, 1, 0); INSERT INTO fills VALUES (1, 'ground', 1);
			INSERT INTO photos VALUES ('ab', 'x.jpg', 'jpeg', 10, 10, NULL);
			INSERT INTO scraps VALUES (1, 1, 'Sky', 60, 0, -20, 4, 'ab', 0, 0, 1, 1, 0);`,
	}
	fill["0003"] = fill["0002"] +
		`INSERT INTO lots VALUES (1, 0, '7a', 2, 'm', 0, 'chest', 'in use', NULL, NULL, NULL); INSERT INTO colours VALUES (1, 0, 'flash', 80, 0, 0, 0);`
	fill["0004"] = fill["0003"] + `UPDATE materials SET photo = 'ab', photo_w = 1, photo_h = 1;`
	fill["0005"] = fill["0004"] + `INSERT INTO entries VALUES (1, 2, NULL, 'Free red', 40, 60, 30, 1);`
	fill["0006"] = fill["0005"] + `INSERT INTO moods VALUES (0, 'Own', 'mine', '{}'); INSERT INTO recipes VALUES (0, '{}');`
	fill["0007"], fill["0008"], fill["0009"], fill["0010"] = fill["0006"], fill["0006"], fill["0006"], fill["0006"]
	fill["0011"] = `INSERT INTO materials (name, kind, l, a, b, source, uncertainty) VALUES ('Old cloth', 'fabric', 40, 1, 2, 'typed', 3);
		INSERT INTO plans (name, craft) VALUES ('Old plan', 'quilt'); INSERT INTO sections VALUES (1, 'tray', 1, '{"lead_id":1}'), (1, 'piece', 1, '{"fills":[{"part":"ground"}]}');`
	fill["0012"] = fill["0011"] +
		`INSERT INTO mixes VALUES (1, '2026-03-01', 1, 'Grey', '[{"material":1,"parts":2}]', 'weight', 'dry', '', 50, 0, 0, 0, '');`
	fill["0013"] = fill["0011"] + strings.Replace(strings.TrimPrefix(fill["0012"], fill["0011"]), "mixes VALUES",
		"mixes (id, made_at, plan_id, name, parts, basis, read_as, light, l, a, b, kept_off, remark) VALUES", 1)
	fill["0014"] = fill["0013"]
	fill["0015"], fill["0016"], fill["0017"], fill["0018"] = fill["0014"], fill["0014"], fill["0014"], fill["0014"]
	fill["0019"] = fill["0014"]
	all := migrations
	defer func() { migrations = all }()
	for n := range all {
		t.Run(all[n].ID, func(t *testing.T) {
			dir := t.TempDir()
			migrations = all[:n+1]
			s, err := Open(dir)
			require.NoError(t, err)
			require.NoError(t, s.writer.Exec(fill[all[n].ID]).Error)
			require.NoError(t, s.Close())

			migrations = all
			s, err = Open(dir)
			require.NoError(t, err)
			defer s.Close()
			p, sections, err := s.Read(ctx).Plan(1)
			require.NoError(t, err)
			assert.Equal(t, "Old plan", p.Name)
			assert.Contains(t, string(docOf(sections, "piece")), `"part":"ground"`)
			assert.Contains(t, string(docOf(sections, "tray")), `"lead_id":1`)
			ms, err := s.Read(ctx).Materials()
			require.NoError(t, err)
			assert.Equal(t, 40.0, ms[0].L)
			mixes, err := s.Read(ctx).Mixes()
			require.NoError(t, err)
			if all[n].ID >= "0012" {
				assert.Equal(t, []MixPart{{Material: 1, Parts: 2}}, mixes[0].Parts)
			}
		})
	}
}

func TestUploadsWaitTwoDays(t *testing.T) {
	s := opened(t)
	old, young := Upload{Name: "old", Content: []byte("a"), CreatedAt: time.Now().Add(-49 * time.Hour)},
		Upload{Name: "young", Content: []byte("b"), CreatedAt: time.Now().Add(-47 * time.Hour)}
	for _, u := range []*Upload{&old, &young, {Name: "new", Content: []byte("c")}} {
		require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.PutUpload(u) }))
	}
	var left []string
	require.NoError(t, s.reader.Model(&Upload{}).Order("name").Pluck("name", &left).Error)
	assert.Equal(t, []string{"new", "young"}, left)
}

func docOf(all []Section, name string) []byte {
	for _, s := range all {
		if s.Name == name {
			return s.Doc
		}
	}
	return nil
}

func TestOpenTellsWhatIsWrong(t *testing.T) {
	dir := t.TempDir()
	file := filepath.Join(dir, "file")
	require.NoError(t, os.WriteFile(file, []byte("x"), 0o644))
	_, err := Open(filepath.Join(file, "data"))
	assert.ErrorContains(t, err, "Choose another with --data")

	notDB := filepath.Join(dir, "other")
	require.NoError(t, os.Mkdir(notDB, 0o755))
	require.NoError(t, os.WriteFile(filepath.Join(notDB, FileName), make([]byte, 9000), 0o644))
	require.NoError(t, os.WriteFile(filepath.Join(notDB, FileName),
		[]byte("this is a letter to my aunt and no database at all, though long enough to be read as one, one would think"), 0o644))
	_, err = Open(notDB)
	assert.ErrorContains(t, err, "not a Lamp Fern database")

	newer := filepath.Join(dir, "newer")
	s, err := Open(newer)
	require.NoError(t, err)
	require.NoError(t, s.writer.Exec("INSERT INTO migrations VALUES ('9999')").Error)
	s.Close()
	_, err = Open(newer)
	assert.ErrorContains(t, err, "newer Lamp Fern")
}

func TestPlainWordsForTheDisk(t *testing.T) {
	for text, want := range map[string]string{
		"write /x: no space left on device":        "The disk is full",
		"attempt to write a readonly database (8)": "read-only",
		"open /x: permission denied":               "may not be written",
		"database is locked (5) (SQLITE_BUSY)":     "Another program",
		"open /x: read-only file system":           "read-only",
		"database or disk is full (13)":            "free some space",
	} {
		assert.ErrorContains(t, plain(errors.New(text)), want)
	}
	assert.NoError(t, plain(nil))
	odd := errors.New("odd")
	assert.Equal(t, odd, plain(odd))
}

// TestFullAndReadOnlyDisk uses a real small disk, which needs the right to
// mount one.
func TestFullAndReadOnlyDisk(t *testing.T) {
	dir := t.TempDir()
	if out, err := exec.Command("mount", "-t", "tmpfs", "-o", "size=1100k", "tmpfs", dir).CombinedOutput(); err != nil {
		t.Skipf("no right to mount a small disk here: %s", out)
	}
	t.Cleanup(func() { exec.Command("umount", dir).Run() })
	s, err := Open(dir)
	require.NoError(t, err)
	put(t, s, "kept")
	require.NoError(t, os.WriteFile(filepath.Join(dir, "junk"), make([]byte, 520<<10), 0o644))
	var full error
	for range 200 {
		u := Upload{Name: "big", Content: make([]byte, 16<<10)}
		if full = s.Write(ctx, func(tx Tx) error { return tx.PutUpload(&u) }); full != nil {
			break
		}
	}
	assert.ErrorContains(t, full, "The disk is full")
	got, err := s.Read(ctx).Materials()
	require.NoError(t, err)
	assert.Len(t, got, 1, "what was kept before is still there")
	s.Close()

	// Started on a disk on which not a byte is free, it lets one read.
	fill, err := os.Create(filepath.Join(dir, "fill"))
	require.NoError(t, err)
	for err == nil {
		_, err = fill.Write(make([]byte, 512))
	}
	require.ErrorIs(t, err, syscall.ENOSPC)
	fill.Close()
	s, err = Open(dir)
	require.NoError(t, err)
	got, err = s.Read(ctx).Materials()
	require.NoError(t, err)
	assert.Len(t, got, 1)
	u := Upload{Name: "big", Content: make([]byte, 256<<10)}
	assert.ErrorContains(t, s.Write(ctx, func(tx Tx) error { return tx.PutUpload(&u) }), "The disk is full")
	require.NoError(t, os.Remove(fill.Name()))
	require.NoError(t, os.Remove(filepath.Join(dir, "junk")))
	u = Upload{Name: "small", Content: make([]byte, 16<<10)}
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.PutUpload(&u) }), "and once there is room it saves")
	s.Close()

	require.NoError(t, exec.Command("mount", "-o", "remount,ro", dir).Run())
	_, err = Open(dir)
	assert.ErrorContains(t, err, "read-only")
}

func TestPurchasesOfAPlan(t *testing.T) {
	s := opened(t)
	p := Plan{Name: "Curtain", Craft: "quilt"}
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.AddPlan(&p, nil) }))
	one, other := Purchase{PlanID: p.ID, Row: "card1", Name: "Plum", Amount: 2, Price: 20},
		Purchase{PlanID: p.ID, Row: "own1", Name: "Needles"}
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.PutPurchase(&one) }))
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.PutPurchase(&other) }))
	all, err := s.Read(ctx).Purchases(p.ID)
	require.NoError(t, err)
	assert.Equal(t, []string{"Plum", "Needles"}, []string{all[0].Name, all[1].Name})
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.DropPurchase(one.ID) }))
	all, err = s.Read(ctx).Purchases(p.ID)
	require.NoError(t, err)
	assert.Len(t, all, 1)
	none, err := s.Read(ctx).Purchases(99)
	require.NoError(t, err)
	assert.Empty(t, none)
}

// A colour that is priced part by part has a line a part; each vanishes by itself.
func TestPricesOfReadyMadeParts(t *testing.T) {
	s := opened(t)
	put := func(parts ...string) (gone int) {
		t.Helper()
		var lines []Price
		for _, part := range parts {
			lines = append(lines, Price{Seller: "Kiln", Name: "Rust", Kind: "building part", Part: part, Unit: "pieces", Pack: 10, Price: 3})
		}
		require.NoError(t, s.Write(ctx, func(tx Tx) (err error) { gone, err = tx.PutPrices("Kiln", lines); return err }))
		return gone
	}
	assert.Zero(t, put("flat", "tile"))
	assert.Equal(t, 1, put("flat"))
	got, err := s.Read(ctx).PricesOf([]string{"tile", "flat", "cap"})
	require.NoError(t, err)
	require.Len(t, got, 2)
	for _, p := range got {
		assert.Equal(t, p.Part == "tile", p.Vanished)
	}
	none, err := s.Read(ctx).PricesOf(nil)
	require.NoError(t, err)
	assert.Empty(t, none)
}

func TestPriceListsReplaceOneAnother(t *testing.T) {
	s := opened(t)
	put := func(seller string, names ...string) (gone int) {
		t.Helper()
		var lines []Price
		for _, n := range names {
			lines = append(lines, Price{Seller: seller, Name: n, Reference: "R " + n, Kind: "fabric", Unit: "m", Pack: 1, Price: 3})
		}
		require.NoError(t, s.Write(ctx, func(tx Tx) (err error) { gone, err = tx.PutPrices(seller, lines); return err }))
		return gone
	}
	assert.Zero(t, put("Gorse", "Plum", "Moth"))
	assert.Zero(t, put("Mill", "Plum"))
	assert.Equal(t, 1, put("Gorse", "Plum"), "the moth is gone")
	got, err := s.Read(ctx).PricesFor([]string{"R Moth"}, []string{"plum"})
	require.NoError(t, err)
	require.Len(t, got, 3)
	vanished := map[string]bool{}
	for _, p := range got {
		vanished[p.Seller+p.Name] = p.Vanished
	}
	assert.Equal(t, map[string]bool{"GorsePlum": false, "GorseMoth": true, "MillPlum": false}, vanished)
	assert.Zero(t, put("Gorse", "Plum", "Moth"), "it is back")
	sellers, err := s.Read(ctx).Sellers()
	require.NoError(t, err)
	assert.Len(t, sellers, 2)
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.DropPrices("Mill") }))
	sellers, err = s.Read(ctx).Sellers()
	require.NoError(t, err)
	assert.Equal(t, "Gorse", sellers[0].Seller)
}

func TestDiaryIsSearchedByItsWords(t *testing.T) {
	s := opened(t)
	ctx := t.Context()
	p := Plan{Name: "Curtain", Craft: "quilt"}
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.AddPlan(&p, nil) }))
	e := Entry{PlanID: p.ID, At: time.Now(), Title: "Piece the blocks", Words: "The second bolt is yellower; café light.",
		Photos: []string{"ab"}}
	other := Entry{PlanID: p.ID, At: time.Now(), Words: "Quilted", Why: `said "bolt" and 50% OR more`}
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return errors.Join(tx.PutEntry(&e), tx.PutEntry(&other)) }))
	find := func(words ...string) []Found {
		t.Helper()
		all, err := s.Read(ctx).SearchDiary(words, 10)
		require.NoError(t, err)
		return all
	}
	got := find("bolt", "yellow")
	require.Len(t, got, 1, "every word, or its beginning")
	assert.Equal(t, "Curtain", got[0].Plan)
	assert.Equal(t, []string{"ab"}, got[0].Photos)
	assert.Contains(t, got[0].Place, FoundOpen+"bolt"+FoundShut)
	assert.Len(t, find("bolt"), 2)
	assert.Len(t, find("cafe"), 1, "whatever its accents")
	assert.Len(t, find("blocks"), 1, "by the step's name")
	for _, odd := range []string{`"`, `a" OR "b`, "*", "NEAR(", "-", "(", "words:"} {
		find(odd)
	}
	assert.Empty(t, find())
	e.Words = "The second bolt is redder."
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.PutEntry(&e) }))
	assert.Empty(t, find("yellow"), "as it reads now")
	now := time.Now()
	e.DroppedAt = &now
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.PutEntry(&e) }))
	assert.Len(t, find("bolt"), 1)
	doc, err := s.Read(ctx).Preference("hours")
	require.NoError(t, err)
	assert.Nil(t, doc)
	for _, v := range []string{"{}", `{"a":1}`} {
		require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.PutPreference("hours", []byte(v)) }))
		doc, err = s.Read(ctx).Preference("hours")
		require.NoError(t, err)
		assert.Equal(t, v, string(doc))
	}
}

// Five thousand entries of fifty words.
func BenchmarkSearchDiary(b *testing.B) {
	s, err := Open(b.TempDir())
	require.NoError(b, err)
	defer s.Close()
	p := Plan{Name: "Curtain", Craft: "quilt"}
	words := strings.Fields("bolt yellow seam block quilt press dye warp weft lamp shade tint tone grey cloth edge light dark warm cool pin cut sew lay wash dry iron loom knit purl")
	require.NoError(b, s.Write(b.Context(), func(tx Tx) error {
		if err := tx.AddPlan(&p, nil); err != nil {
			return err
		}
		for n := range 5000 {
			var text []string
			for i := range 50 {
				text = append(text, words[(n*(i+3)+i*i)%len(words)])
			}
			if err := tx.PutEntry(&Entry{PlanID: p.ID, At: time.Now(), Words: strings.Join(text, " ")}); err != nil {
				return err
			}
		}
		return nil
	}))
	for b.Loop() {
		all, err := s.Read(b.Context()).SearchDiary([]string{"bolt", "yel"}, 50)
		if err != nil || len(all) != 50 {
			b.Fatal(len(all), err)
		}
	}
}
