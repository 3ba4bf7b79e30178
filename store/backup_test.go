package store

import (
	"archive/zip"
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"runtime"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"
)

// full is a data folder with a material, a photo and a mesh that a plan speaks of.
func full(t *testing.T) (s *Store, dir, photo, mesh string) {
	t.Helper()
	dir = t.TempDir()
	s, err := Open(dir)
	require.NoError(t, err)
	t.Cleanup(func() { s.Close() })
	picture, solid := []byte("a picture of cloth"), []byte("a solid of two triangles")
	photo, mesh = HashOf(picture), HashOf(solid)
	require.NoError(t, s.PutPhotoFile(photo, picture))
	require.NoError(t, s.PutModelFile(mesh, solid))
	require.NoError(t, s.Write(context.Background(), func(tx Tx) error {
		if err := tx.PutMaterials([]Material{{Name: "Plum", Kind: "fabric", Finish: "matte", Source: "typed", L: 20, A: 10, B: -5,
			Uncertainty: 3}}); err != nil {
			return err
		}
		if err := tx.PutPhoto(Photo{Hash: photo, Name: "cloth.jpg", Kind: "jpeg", Width: 9, Height: 9}); err != nil {
			return err
		}
		return tx.AddPlan(&Plan{Name: "Pot", Craft: "printed parts"}, []Section{{Name: "input", Version: 1,
			Doc: []byte(`{"file":"` + mesh + `"}`)}})
	}))
	return s, dir, photo, mesh
}

func TestABackupComesBackWhole(t *testing.T) {
	ctx := context.Background()
	s, dir, photo, mesh := full(t)
	now := time.Date(2026, 11, 25, 12, 0, 0, 0, time.Local)
	due, err := s.BackupDue(now)
	require.NoError(t, err)
	assert.True(t, due, "there is something, and no backup of it")
	b, r, err := s.MakeBackup(ctx, now)
	require.NoError(t, err)
	assert.True(t, r.Good(), "%v", r.Wrong)
	assert.Equal(t, Report{Materials: 1, Plans: 1, Photos: 1, Models: 1}, r)
	assert.Equal(t, "lampfern-2026-11-25-120000.zip", b.Name)
	due, err = s.BackupDue(now.Add(time.Hour))
	require.NoError(t, err)
	assert.False(t, due, "once a day is enough")
	due, err = s.BackupDue(now.AddDate(0, -1, 0))
	require.NoError(t, err)
	assert.True(t, due, "the clock was ahead, and was set back")

	to := filepath.Join(t.TempDir(), "other # folder? 50%")
	path := filepath.Join(dir, backupFolder, b.Name)
	r, err = Restore(ctx, path, "", to)
	require.NoError(t, err)
	assert.Equal(t, Report{Materials: 1, Plans: 1, Photos: 1, Models: 1}, r)
	again, err := Open(to)
	require.NoError(t, err)
	defer again.Close()
	for _, get := range []func(*Store) (any, error){
		func(s *Store) (any, error) { return s.Read(ctx).Materials() }, func(s *Store) (any, error) { return s.Read(ctx).Photos() },
		func(s *Store) (any, error) { return s.Read(ctx).Plans() },
		func(s *Store) (any, error) { return s.PhotoFile(photo) }, func(s *Store) (any, error) { return s.ModelFile(mesh) },
	} {
		was, err := get(s)
		require.NoError(t, err)
		is, err := get(again)
		require.NoError(t, err)
		assert.Equal(t, was, is)
	}
	_, err = Restore(ctx, path, "", to)
	assert.ErrorContains(t, err, "holds a workroom already")

	for day := 1; day < 40; day++ {
		_, _, err := s.MakeBackup(ctx, now.AddDate(0, 0, day))
		require.NoError(t, err)
	}
	all, err := s.Backups()
	require.NoError(t, err)
	assert.Len(t, all, backupsDaily+backupsWeekly)
	assert.Equal(t, now.AddDate(0, 0, 39), all[0].MadeAt)
	assert.True(t, all[10].MadeAt.Before(now.AddDate(0, 0, 20)), "the oldest is weeks old")
	f, err := s.BackupFile(all[0].Name)
	require.NoError(t, err)
	f.Close()
	_, err = s.BackupFile("../lampfern.db")
	assert.ErrorIs(t, err, ErrNotFound)
}

// A photo that is cut off is named, and the rest is in the backup all the same.
func TestADamagedWorkroomIsSaved(t *testing.T) {
	ctx := context.Background()
	s, dir, photo, mesh := full(t)
	require.NoError(t, os.WriteFile(filepath.Join(dir, photoFolder, photo), []byte("a pict"), 0o600))
	require.NoError(t, os.Remove(filepath.Join(dir, modelFolder, mesh)))
	r, err := s.Check(ctx)
	require.NoError(t, err)
	require.Len(t, r.Wrong, 1)
	assert.Contains(t, r.Wrong[0], "The photo cloth.jpg is damaged")
	b, r, err := s.MakeBackup(ctx, time.Now())
	require.NoError(t, err)
	assert.False(t, r.Good())
	to := t.TempDir()
	r, err = Restore(ctx, filepath.Join(dir, backupFolder, b.Name), "", to)
	require.NoError(t, err)
	assert.Equal(t, 1, r.Materials)
	assert.Contains(t, strings.Join(r.Wrong, " "), "damaged")

	// A backup that was cut off, or changed, gives what is left of it, or says why not.
	whole, err := os.ReadFile(filepath.Join(dir, backupFolder, b.Name))
	require.NoError(t, err)
	bad := func(name string, data []byte) string {
		path := filepath.Join(t.TempDir(), name)
		require.NoError(t, os.WriteFile(path, data, 0o600))
		return path
	}
	_, err = Restore(ctx, bad("half.zip", whole[:len(whole)/2]), "", t.TempDir())
	assert.ErrorContains(t, err, "not a complete backup")
	var other bytes.Buffer
	z := zip.NewWriter(&other)
	w, err := z.Create("cat.txt")
	require.NoError(t, err)
	_, err = io.WriteString(w, "miaow")
	require.NoError(t, err)
	require.NoError(t, z.Close())
	_, err = Restore(ctx, bad("cat.zip", other.Bytes()), "", t.TempDir())
	assert.ErrorContains(t, err, "holds no database")
	at := bytes.Index(whole, []byte("a pict"))
	require.Positive(t, at)
	whole[at] = 'A'
	r, err = Restore(ctx, bad("flipped.zip", whole), "", t.TempDir())
	require.NoError(t, err)
	assert.Contains(t, strings.Join(r.Wrong, " "), photo+" is damaged in the backup")
}

// What a kill left behind goes at the next start; what is used, or was and can be undone to, stays.
func TestASweepTakesWhatAKillLeft(t *testing.T) {
	ctx := context.Background()
	s, dir, photo, mesh := full(t)
	loose, waits := HashOf([]byte("loose")), HashOf([]byte("waits"))
	require.NoError(t, s.PutPhotoFile(loose, []byte("loose")))
	require.NoError(t, s.PutModelFile(loose, []byte("loose")))
	require.NoError(t, s.StagePhotoFile(waits, []byte("waits")))
	for _, name := range []string{".probe-1", photoFolder + "/.new-2", modelFolder + "/.new-3"} {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), []byte("x"), 0o600))
	}
	gone, err := s.Sweep(ctx)
	require.NoError(t, err)
	assert.Equal(t, 6, gone)
	_, err = s.PhotoFile(photo)
	assert.NoError(t, err)
	assert.True(t, s.HasModelFile(mesh))
	_, err = s.PhotoFile(loose)
	assert.ErrorIs(t, err, ErrNotFound)
	gone, err = s.Sweep(ctx)
	require.NoError(t, err)
	assert.Zero(t, gone)

	require.NoError(t, s.StagePhotoFile(waits, []byte("waits")))
	require.NoError(t, s.TakeStaged(waits))
	data, err := s.PhotoFile(waits)
	require.NoError(t, err)
	assert.Equal(t, "waits", string(data))
	assert.ErrorIs(t, s.TakeStaged(waits), ErrNotFound)
}

func TestOnlyTheOwnerReads(t *testing.T) {
	s, dir, photo, _ := full(t)
	_, _, err := s.MakeBackup(context.Background(), time.Now())
	require.NoError(t, err)
	fresh := filepath.Join(t.TempDir(), "mine")
	mine, err := Open(fresh)
	require.NoError(t, err)
	require.NoError(t, mine.Close())
	info, err := os.Stat(fresh)
	require.NoError(t, err)
	assert.EqualValues(t, ownerOnly, info.Mode().Perm(), "a folder that is made here")
	require.NoError(t, os.Chmod(dir, 0o755))
	again, err := Open(dir)
	require.NoError(t, err)
	require.NoError(t, again.Close())
	info, err = os.Stat(dir)
	require.NoError(t, err)
	assert.EqualValues(t, 0o755, info.Mode().Perm(), "one that was there stays as it is")
	require.NoError(t, os.Chmod(dir, 0o700))
	require.NoError(t, filepath.Walk(dir, func(path string, info os.FileInfo, err error) error {
		require.NoError(t, err)
		assert.Zero(t, info.Mode().Perm()&0o077, "%s is for its owner alone", path)
		return nil
	}))
	assert.FileExists(t, filepath.Join(dir, photoFolder, photo))
}

// Folders whose names differ only behind a # are two folders.
func TestNamesOfFolders(t *testing.T) {
	root := t.TempDir()
	for i, name := range []string{"a#1", "a#2", "50%", "what?", "what?x"} {
		s, err := Open(filepath.Join(root, name))
		require.NoError(t, err, name)
		all, err := s.Read(context.Background()).Materials()
		require.NoError(t, err)
		assert.Empty(t, all, name)
		require.NoError(t, s.Write(context.Background(), func(tx Tx) error {
			return tx.PutMaterials([]Material{{Name: name, Kind: "fabric", Finish: "matte", Source: "typed", L: float64(i), Uncertainty: 3}})
		}))
		require.NoError(t, s.Close())
		assert.FileExists(t, filepath.Join(root, name, FileName))
	}
}

// Of a damaged database what can be read comes along, and the rest is named; an empty one
// beside photos is not taken for a new one.
func TestADamagedDatabaseIsSalvaged(t *testing.T) {
	ctx := context.Background()
	s, dir, photo, mesh := full(t)
	require.NoError(t, s.Write(ctx, func(tx Tx) error {
		var many []Material
		for i := range 800 {
			many = append(many, Material{Name: strings.Repeat("cloth ", 8) + string(rune('A'+i%26)) + strings.Repeat("x", i%40), Kind: "fabric",
				Finish: "matte", Source: "typed", L: float64(i % 100), Uncertainty: 3, Remark: strings.Repeat("long ", 60)})
			many[i].Name = many[i].Name[:min(50, len(many[i].Name))] + string(rune('a'+i/26))
		}
		return tx.PutMaterials(many)
	}))
	require.NoError(t, s.Close())
	path := filepath.Join(dir, FileName)
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	for _, at := range []int{len(data) / 2, len(data)/2 + 4096*3} { // two pages of the middle are nonsense
		copy(data[at/4096*4096:], bytes.Repeat([]byte{0xAA}, 4096))
	}
	require.NoError(t, os.WriteFile(path, data, 0o600))
	before, err := os.ReadFile(path)
	require.NoError(t, err)

	to := filepath.Join(t.TempDir(), "saved")
	r, err := Salvage(ctx, dir, to)
	require.NoError(t, err)
	assert.Greater(t, r.Materials, 600, "all but those pages")
	assert.Less(t, r.Materials, 801)
	assert.Contains(t, strings.Join(r.Wrong, " "), "Of the materials, pages are damaged; these rows cannot be read")
	assert.NotContains(t, strings.Join(r.Wrong, " "), "The database is damaged", "what was saved is whole")
	assert.Equal(t, []int{1, 1, 1}, []int{r.Plans, r.Photos, r.Models})
	saved, err := Open(to)
	require.NoError(t, err)
	defer saved.Close()
	_, err = saved.PhotoFile(photo)
	assert.NoError(t, err)
	assert.True(t, saved.HasModelFile(mesh))
	after, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.Equal(t, before, after, "the damaged one is only read")
	_, err = Salvage(ctx, dir, to)
	assert.ErrorContains(t, err, "holds a workroom already")

	require.NoError(t, os.WriteFile(path, nil, 0o600))
	_, err = Open(dir)
	assert.ErrorContains(t, err, "holds photos, and its database is missing or empty")
	_, err = Salvage(ctx, dir, filepath.Join(t.TempDir(), "x"))
	assert.ErrorContains(t, err, "nothing to save but its photos")
	require.NoError(t, os.WriteFile(path, bytes.Repeat([]byte("no database "), 900), 0o600))
	_, err = Open(dir)
	assert.ErrorContains(t, err, "not a Lamp Fern database")
}

// allOf are the rows of a table.
func allOf(t *testing.T, db *gorm.DB, table string) (out []map[string]any) {
	t.Helper()
	rows, err := db.Raw(fmt.Sprintf("SELECT * FROM %q", table)).Rows()
	require.NoError(t, err, table)
	defer rows.Close()
	names, err := rows.Columns()
	require.NoError(t, err)
	for rows.Next() {
		values, into, row := make([]any, len(names)), make([]any, len(names)), map[string]any{}
		for i := range values {
			into[i] = &values[i]
		}
		require.NoError(t, rows.Scan(into...))
		for i, name := range names {
			row[name] = values[i]
		}
		out = append(out, row)
	}
	require.NoError(t, rows.Err())
	return out
}

// everyRow is every row of every table, as text.
func everyRow(t *testing.T, s *Store) map[string][]string {
	t.Helper()
	tables, err := tablesOf(s.reader)
	require.NoError(t, err)
	out := map[string][]string{}
	for _, table := range tables {
		for _, row := range allOf(t, s.reader, table) {
			out[table] = append(out[table], fmt.Sprint(row))
		}
	}
	return out
}

// A backup that comes back, and what is salvaged of a whole workroom, are the same row by row.
func TestEveryRowComesBack(t *testing.T) {
	ctx := context.Background()
	s, dir, _, _ := full(t)
	require.NoError(t, s.Write(ctx, func(tx Tx) error {
		p := Plan{Name: "Curtain", Craft: "quilt"}
		if err := tx.AddPlan(&p, []Section{{Name: "tray", Version: 1, Doc: []byte(`{"entries":[]}`)}}); err != nil {
			return err
		}
		before := p
		p.Name = "Curtain of the long room"
		if err := tx.SavePlan(&p, before, []Section{{Name: "tray", Version: 1, Doc: []byte(`{"entries":[]}`)}},
			[]Section{{Name: "tray", Version: 1, Doc: []byte(`{"entries":[{"key":1}]}`)}}, "name it"); err != nil {
			return err
		}
		return tx.PutPreference("taste", []byte(`{"like":"greens"}`))
	}))
	was := everyRow(t, s)
	for _, table := range []string{"materials", "plans", "sections", "journal", "changes", "photos", "preferences"} {
		assert.NotEmpty(t, was[table], table)
	}
	b, _, err := s.MakeBackup(ctx, time.Now())
	require.NoError(t, err)
	back := filepath.Join(t.TempDir(), "back")
	_, err = Restore(ctx, filepath.Join(dir, backupFolder, b.Name), "", back)
	require.NoError(t, err)
	saved := filepath.Join(t.TempDir(), "saved")
	r, err := Salvage(ctx, dir, saved)
	require.NoError(t, err)
	assert.True(t, r.Good(), "%v", r.Wrong)
	for _, folder := range []string{back, saved} {
		again, err := Open(folder)
		require.NoError(t, err)
		assert.Equal(t, was, everyRow(t, again))
		require.NoError(t, again.Close())
	}
}

// A backup from elsewhere is data: one whose database does something by itself is refused, by what
// adds it and by what would lay it in place, and a name that is taken is not overwritten.
func TestABackupIsDataAlone(t *testing.T) {
	ctx, now := context.Background(), time.Now()
	s, dir, _, _ := full(t)
	defer s.Close()
	b, _, err := s.MakeBackup(ctx, now)
	require.NoError(t, err)
	good, err := os.ReadFile(filepath.Join(dir, backupFolder, b.Name))
	require.NoError(t, err)
	again, _, err := s.AddBackup(ctx, bytes.NewReader(good))
	require.NoError(t, err)
	assert.Equal(t, b.Name, again.Name, "the very same is kept once")
	var other bytes.Buffer
	from, err := zip.NewReader(bytes.NewReader(good), int64(len(good)))
	require.NoError(t, err)
	to := zip.NewWriter(&other)
	for _, f := range from.File {
		require.NoError(t, to.Copy(f))
	}
	_, err = to.Create("more")
	require.NoError(t, err)
	require.NoError(t, to.Close())
	another, _, err := s.AddBackup(ctx, bytes.NewReader(other.Bytes()))
	require.NoError(t, err)
	assert.NotEqual(t, b.Name, another.Name, "what is kept is not overwritten")

	for name, planted := range map[string]string{
		"trigger harmless": "CREATE TRIGGER harmless AFTER INSERT ON plans BEGIN DELETE FROM materials; END",
		"view plans_too":   "CREATE VIEW plans_too AS SELECT * FROM plans",
		"table more":       "CREATE TABLE more (a INTEGER, b INTEGER AS (a + 1))",
		"index slow":       "CREATE INDEX slow ON plans (lower(name))",
		"table counters":   "ALTER TABLE counters ADD COLUMN z INTEGER CHECK (z > 0)",
		"table let_go":     "DROP TABLE let_go",
	} {
		folder := t.TempDir()
		_, err = unpack(ctx, filepath.Join(dir, backupFolder, b.Name), folder)
		require.NoError(t, err)
		db, err := open(filepath.Join(folder, FileName), "", 1)
		require.NoError(t, err)
		require.NoError(t, db.Exec(planted).Error)
		pool, err := db.DB()
		require.NoError(t, err)
		require.NoError(t, pool.Close())
		data, err := os.ReadFile(filepath.Join(folder, FileName))
		require.NoError(t, err)
		var bad bytes.Buffer
		z := zip.NewWriter(&bad)
		w, err := z.Create(FileName)
		require.NoError(t, err)
		_, err = w.Write(data)
		require.NoError(t, err)
		require.NoError(t, z.Close())
		_, _, err = s.AddBackup(ctx, bytes.NewReader(bad.Bytes()))
		assert.ErrorContains(t, err, name)
		file := filepath.Join(t.TempDir(), "lampfern-2026-01-01-000000.zip")
		require.NoError(t, os.WriteFile(file, bad.Bytes(), 0o600))
		_, err = Restore(ctx, file, "", filepath.Join(t.TempDir(), "new"))
		assert.ErrorContains(t, err, name)
	}
}

// What was revoked since a backup was made stays so when it is brought back: the old passphrase, the
// old sessions, and links that are not open now.
func TestRevocationSurvivesARestore(t *testing.T) {
	ctx, now := context.Background(), time.Now()
	s, dir, _, _ := full(t)
	stay := now.Add(24 * time.Hour)
	sheet := func(number int, token string) Sheet {
		var plans []Plan
		require.NoError(t, s.writer.Find(&plans).Error)
		require.NotEmpty(t, plans)
		return Sheet{PlanID: plans[0].ID, Number: number, Token: token, MadeAt: now, EndsAt: stay, Doc: []byte("{}")}
	}
	open, gone := sheet(91, "open-link"), sheet(92, "withdrawn-link")
	require.NoError(t, s.Write(ctx, func(tx Tx) error {
		return errors.Join(tx.SetPassphrase("old"), tx.PutSession(Session{ID: "stolen", MadeAt: now, EndsAt: stay}), tx.PutSheet(&open), tx.PutSheet(&gone))
	}))
	b, _, err := s.MakeBackup(ctx, now)
	require.NoError(t, err)
	require.NoError(t, s.Write(ctx, func(tx Tx) error {
		return errors.Join(tx.SetPassphrase("new"), tx.PutVisit(now, "192.0.2.7", VisitFailed), tx.PutSession(Session{ID: "mine", MadeAt: now, EndsAt: stay}), tx.MarkSheet(gone.ID, "withdrawn_at", &now))
	}))
	require.NoError(t, s.RestoreNext(ctx, b.Name))
	require.NoError(t, s.Close())
	_, err = TakeNext(ctx, dir, now.Add(time.Minute))
	require.NoError(t, err)
	s, err = Open(dir)
	require.NoError(t, err)
	hash, err := s.Read(ctx).Passphrase()
	require.NoError(t, err)
	assert.Equal(t, "new", hash)
	visits, err := s.Read(ctx).Visits()
	require.NoError(t, err)
	require.Len(t, visits, 1, "what happened at the door since is still known")
	assert.Equal(t, "192.0.2.7", visits[0].Place)
	_, err = s.Read(ctx).Session("stolen", now)
	assert.ErrorIs(t, err, ErrNotFound)
	_, err = s.Read(ctx).Session("mine", now)
	assert.NoError(t, err)
	for token, withdrawn := range map[string]bool{"open-link": false, "withdrawn-link": true} {
		one, err := s.Read(ctx).SheetBy(token)
		require.NoError(t, err)
		assert.Equal(t, withdrawn, one.WithdrawnAt != nil, token)
	}
	require.NoError(t, s.Close())
	// Into another folder: nobody is in.
	other := filepath.Join(t.TempDir(), "other")
	_, err = Restore(ctx, filepath.Join(dir, backupFolder, b.Name), "", other)
	require.NoError(t, err)
	s, err = Open(other)
	require.NoError(t, err)
	defer s.Close()
	in, err := s.Read(ctx).Sessions(now)
	require.NoError(t, err)
	assert.Empty(t, in)
}

// A backup of one very large entry is unpacked piece by piece.
func TestALargeEntryIsStreamed(t *testing.T) {
	var file bytes.Buffer
	z := zip.NewWriter(&file)
	w, err := z.Create(FileName)
	require.NoError(t, err)
	zeros := make([]byte, 1<<20)
	for range 100 {
		_, err = w.Write(zeros)
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	path := filepath.Join(t.TempDir(), "lampfern-2026-01-01-000000.zip")
	require.NoError(t, os.WriteFile(path, file.Bytes(), 0o600))
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	_, err = CheckBackup(context.Background(), path)
	assert.Error(t, err, "it is no database")
	runtime.ReadMemStats(&after)
	assert.Less(t, (after.TotalAlloc-before.TotalAlloc)>>20, uint64(40), "MB in all")
}
