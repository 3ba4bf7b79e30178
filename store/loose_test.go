package store

import (
	"bytes"
	"context"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What nothing uses can be let go, is taken back or goes for good; what an undo would bring back
// is used.
func TestPhotosAndMeshesThatNothingUses(t *testing.T) {
	ctx, now := context.Background(), time.Now()
	s, dir, photo, mesh := full(t)
	require.NoError(t, s.writer.Exec("UPDATE materials SET photo = ?", photo).Error)
	kept, gone, err := s.Unused(ctx)
	require.NoError(t, err)
	assert.Empty(t, kept, "a material shows the photo and a plan the mesh")
	assert.Empty(t, gone)

	loose := HashOf([]byte("an old picture"))
	require.NoError(t, s.PutPhotoFile(loose, []byte("an old picture")))
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.PutPhoto(Photo{Hash: loose, Name: "old.jpg", Kind: "jpeg"}) }))
	kept, _, err = s.Unused(ctx)
	require.NoError(t, err)
	assert.Equal(t, []Loose{{Hash: loose, Name: "old.jpg", Bytes: 14}}, kept)

	_, err = s.LetGo(ctx, now)
	assert.ErrorContains(t, err, "Choose a photo or mesh", "none is not all")
	n, err := s.LetGo(ctx, now, photo, mesh, loose)
	require.NoError(t, err)
	assert.Equal(t, 1, n, "what is used is not let go")
	photos, err := s.Read(ctx).Photos()
	require.NoError(t, err)
	assert.Len(t, photos, 1, "it is not offered any more")
	require.NoError(t, s.Upkeep(ctx, now.Add(LetGoKept-time.Hour)))
	_, gone, err = s.Unused(ctx)
	require.NoError(t, err)
	require.Len(t, gone, 1)
	assert.Equal(t, now.Add(LetGoKept).Unix(), gone[0].GoneAt.Unix())
	_, err = s.TakeBack(ctx)
	assert.ErrorContains(t, err, "Choose a photo or mesh", "none is not all")
	n, err = s.TakeBack(ctx, loose)
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	_, err = s.PhotoFile(loose)
	require.NoError(t, err)

	// Brought in again it is not let go any more; used again, it stays.
	_, err = s.LetGo(ctx, now, loose)
	require.NoError(t, err)
	require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.PutPhoto(Photo{Hash: loose, Name: "old.jpg", Kind: "jpeg"}) }))
	kept, gone, err = s.Unused(ctx)
	require.NoError(t, err)
	assert.Equal(t, []int{1, 0}, []int{len(kept), len(gone)})
	_, err = s.LetGo(ctx, now, loose)
	require.NoError(t, err)
	use := func(doc string) {
		p := Plan{Name: "A plan", Craft: "quilt"}
		require.NoError(t, s.Write(ctx, func(tx Tx) error {
			return tx.AddPlan(&p, []Section{{Name: "scraps", Version: 1, Doc: []byte(doc)}})
		}))
		require.NoError(t, s.Write(ctx, func(tx Tx) error {
			was := p
			return tx.SavePlan(&p, was, []Section{{Name: "scraps", Version: 1, Doc: []byte(doc)}},
				[]Section{{Name: "scraps", Version: 1, Doc: []byte(`{"photo":"` + mesh + `"}`)}}, "another")
		}))
	}
	use(`{"photo":"` + loose + `"}`) // only the journal speaks of it now
	require.NoError(t, s.Upkeep(ctx, now.Add(2*LetGoKept)))
	_, err = s.PhotoFile(loose)
	require.NoError(t, err, "an undo would show it")
	kept, gone, err = s.Unused(ctx)
	require.NoError(t, err)
	assert.Empty(t, append(kept, gone...))

	require.NoError(t, s.writer.Exec("DELETE FROM journal").Error)
	_, err = s.LetGo(ctx, now, loose)
	require.NoError(t, err)
	require.NoError(t, s.Upkeep(ctx, now.Add(LetGoKept+time.Hour)))
	_, err = os.Stat(filepath.Join(dir, photoFolder, loose))
	assert.ErrorIs(t, err, os.ErrNotExist)
	_, err = s.PhotoFile(photo)
	assert.NoError(t, err)
}

// The journal of one plan is bounded in bytes as in steps, and the disk gets back what it leaves.
func TestTheJournalIsBoundedAndSpaceGivenBack(t *testing.T) {
	ctx := context.Background()
	s := opened(t)
	big := strings.Repeat("x", 1<<20)
	for i := range 40 {
		label := string(rune('a' + i%26))
		require.NoError(t, s.Write(ctx, func(tx Tx) error {
			return tx.Record(&Step{Scope: "shelf", Label: label, Before: []byte(big), After: []byte{}})
		}))
	}
	var steps int
	require.NoError(t, s.reader.Raw("SELECT count(*) FROM journal").Scan(&steps).Error)
	assert.Equal(t, 16, steps)
	require.NoError(t, s.Write(ctx, func(tx Tx) error {
		return tx.Record(&Step{Scope: "shelf", Label: "all", Before: []byte(strings.Repeat(big, 20)), After: []byte{}})
	}))
	step, err := s.Read(ctx).Undoable("shelf")
	require.NoError(t, err)
	assert.Equal(t, "all", step.Label, "the newest is kept whatever it takes")
	require.NoError(t, s.Write(ctx, func(tx Tx) error {
		return tx.Record(&Step{Scope: "shelf", Label: "later", Before: []byte(big), After: []byte{}})
	}))
	before, _ := s.Size()
	require.NoError(t, s.Upkeep(ctx, time.Now()))
	after, _ := s.Size()
	assert.Less(t, after, before/4, "%d bytes of %d", after, before)

	for range uploadsMost + 5 {
		require.NoError(t, s.Write(ctx, func(tx Tx) error { return tx.PutUpload(&Upload{Name: "list.csv", Content: []byte("name\n")}) }))
	}
	var waiting int
	require.NoError(t, s.reader.Raw("SELECT count(*) FROM uploads").Scan(&waiting).Error)
	assert.Equal(t, uploadsMost, waiting)
}

// A damaged database is looked at and not written to; a backup is laid in its place at a start.
func TestADamagedDatabaseIsLookedAtAndReplaced(t *testing.T) {
	ctx, now := context.Background(), time.Now()
	s, dir, photo, _ := full(t)
	b, _, err := s.MakeBackup(ctx, now.Add(-time.Hour))
	require.NoError(t, err)
	put(t, s, "Later cloth")
	require.NoError(t, s.RestoreNext(ctx, b.Name))
	assert.Equal(t, b.Name, s.Next())
	require.NoError(t, s.NotNext())
	require.NoError(t, s.NotNext(), "twice is once")
	assert.ErrorIs(t, s.RestoreNext(ctx, "../"+b.Name), ErrNotFound)
	require.NoError(t, s.RestoreNext(ctx, b.Name))
	require.NoError(t, s.Close())
	told, err := TakeNext(ctx, dir, now)
	require.NoError(t, err)
	assert.Contains(t, told, "The workroom is restored from "+b.Name)
	s, err = Open(dir)
	require.NoError(t, err)
	all, err := s.Read(ctx).Materials()
	require.NoError(t, err)
	assert.Len(t, all, 1, "as it was an hour ago")
	assert.Empty(t, s.Next())
	backups, err := s.Backups()
	require.NoError(t, err)
	require.Len(t, backups, 2)
	require.NoError(t, s.RestoreNext(ctx, backups[0].Name)) // and back again
	require.NoError(t, s.Close())
	_, err = TakeNext(ctx, dir, now.Add(time.Minute))
	require.NoError(t, err)

	// Pages in the middle of the file are nonsense.
	path := filepath.Join(dir, FileName)
	s, err = Open(dir)
	require.NoError(t, err)
	all, err = s.Read(ctx).Materials()
	require.NoError(t, err)
	assert.Len(t, all, 2)
	require.NoError(t, s.RestoreNext(ctx, b.Name))
	require.NoError(t, s.Close())
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	whole := slices.Clone(data)
	for at := 4096 * 3; at+4096 <= len(data); at += 4096 {
		copy(data[at:at+4096], strings.Repeat("\xaa", 4096))
	}
	require.NoError(t, os.WriteFile(path, data, 0o600))
	s, err = Open(dir)
	require.NoError(t, err, "it opens all the same, with nothing")
	assert.True(t, s.Damaged())
	_, err = s.Read(ctx).Materials()
	require.NoError(t, err)
	require.NoError(t, s.Close())
	data = whole
	at := bytes.Index(data, []byte("Later cloth")) / 4096 * 4096 // one page alone
	copy(data[at:at+4096], strings.Repeat("\xaa", 4096))
	require.NoError(t, os.WriteFile(path, data, 0o600))
	s, err = Open(dir)
	require.NoError(t, err)
	_, err = s.Read(ctx).Plans()
	require.NoError(t, err, "what can be read is read")
	require.NoError(t, s.QuickCheck(ctx))
	assert.True(t, s.Damaged())
	err = s.Write(ctx, func(Tx) error { t.Fatal("nothing is written"); return nil })
	assert.ErrorContains(t, err, "you can look, but nothing is saved")
	require.NoError(t, s.Close())
	told, err = TakeNext(ctx, dir, now.Add(2*time.Minute))
	require.NoError(t, err)
	assert.Contains(t, told, "is saved as damaged-")
	s, err = Open(dir)
	require.NoError(t, err)
	defer s.Close()
	require.NoError(t, s.QuickCheck(ctx))
	assert.False(t, s.Damaged())
	_, err = s.PhotoFile(photo)
	assert.NoError(t, err)
	after, err := os.ReadFile(filepath.Join(dir, backupFolder, strings.TrimSuffix(told[strings.Index(told, "damaged-"):], "."), FileName))
	require.NoError(t, err)
	assert.Equal(t, data, after, "the damaged one lies as it was")

	// A backup from elsewhere is kept once it was read whole.
	f, err := os.Open(filepath.Join(dir, backupFolder, b.Name))
	require.NoError(t, err)
	defer f.Close()
	other := opened(t)
	got, r, err := other.AddBackup(ctx, f)
	require.NoError(t, err)
	assert.True(t, r.Good())
	assert.Equal(t, b.Name, got.Name)
	_, _, err = other.AddBackup(ctx, strings.NewReader("no zip"))
	assert.ErrorContains(t, err, "not a complete backup")
}
