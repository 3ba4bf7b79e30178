package store

import (
	"bytes"
	"context"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"filippo.io/age"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const sealWords = "moth lamp river bell"

// A backup that is sealed opens with its passphrase alone, and one that asks for more work than a maker's own
// is refused before it is done.
func TestASealedBackup(t *testing.T) {
	var sealed bytes.Buffer
	w, err := Seal(&sealed, sealWords)
	require.NoError(t, err)
	_, err = io.WriteString(w, "what it holds")
	require.NoError(t, err)
	require.NoError(t, w.Close())
	assert.Contains(t, sealed.String(), "-> scrypt ")
	assert.NotContains(t, sealed.String(), "what it holds")
	open := func(data []byte, passphrase string) (string, error) {
		r, err := Unsealed(bytes.NewReader(data), passphrase)
		if err != nil {
			return "", err
		}
		b, err := io.ReadAll(r)
		return string(b), err
	}
	got, err := open(sealed.Bytes(), sealWords)
	require.NoError(t, err)
	assert.Equal(t, "what it holds", got)
	_, err = open(sealed.Bytes(), "")
	assert.ErrorContains(t, err, "This backup is encrypted: give its passphrase.")
	_, err = open(sealed.Bytes(), "moth lamp river bel")
	assert.ErrorContains(t, err, "That passphrase does not open this backup")
	_, err = open(sealed.Bytes()[:sealed.Len()-3], sealWords)
	assert.Error(t, err, "it is cut off")
	got, err = open([]byte("PK plain"), "")
	require.NoError(t, err)
	assert.Equal(t, "PK plain", got)
	_, err = Seal(io.Discard, "short")
	assert.ErrorContains(t, err, "at least 10 characters")

	heavy, err := age.NewScryptRecipient(sealWords)
	require.NoError(t, err)
	heavy.SetWorkFactor(18)
	var dear bytes.Buffer
	w, err = age.Encrypt(&dear, heavy)
	require.NoError(t, err)
	require.NoError(t, w.Close())
	began := time.Now()
	_, err = open(dear.Bytes(), sealWords)
	assert.Error(t, err)
	assert.Less(t, time.Since(began), time.Second, "nothing is worked out")
}

// Each backup is copied to a second place, sealed where that is asked for, and comes back from it; a place
// that is not there is told, and the backup is made all the same.
func TestASecondPlaceForBackups(t *testing.T) {
	ctx, now := context.Background(), time.Now()
	s, _, photo, _ := full(t)
	second := t.TempDir()
	require.NoError(t, s.KeepAlso(Second{Dir: second, Passphrase: sealWords}))
	b, _, err := s.MakeBackup(ctx, now)
	require.NoError(t, err)
	_, problem := s.SecondPlace()
	assert.Empty(t, problem)
	sealed := filepath.Join(second, b.Name+SealedTail)
	to := filepath.Join(t.TempDir(), "back")
	r, err := Restore(ctx, sealed, sealWords, to)
	require.NoError(t, err)
	assert.Equal(t, []int{1, 1}, []int{r.Materials, r.Photos})
	back, err := Open(to)
	require.NoError(t, err)
	defer back.Close()
	_, err = back.PhotoFile(photo)
	require.NoError(t, err)
	_, err = Restore(ctx, sealed, "another passphrase", filepath.Join(t.TempDir(), "x"))
	assert.ErrorContains(t, err, "does not open this backup")
	data, err := os.ReadFile(sealed)
	require.NoError(t, err)
	cut := filepath.Join(t.TempDir(), "cut.zip.age")
	require.NoError(t, os.WriteFile(cut, data[:len(data)-100], 0o600))
	_, err = Restore(ctx, cut, sealWords, filepath.Join(t.TempDir(), "x"))
	assert.ErrorContains(t, err, "was cut short or changed since it was made")

	require.NoError(t, s.KeepAlso(Second{Dir: filepath.Join(second, "not", "there")}))
	_, _, err = s.MakeBackup(ctx, now.Add(time.Minute))
	require.NoError(t, err)
	_, problem = s.SecondPlace()
	assert.Contains(t, problem, "there is no such folder. Check that its disk is connected")
	require.NoError(t, s.KeepAlso(Second{Dir: second}))
	b, _, err = s.MakeBackup(ctx, now.Add(2*time.Minute))
	require.NoError(t, err)
	_, problem = s.SecondPlace()
	assert.Empty(t, problem)
	_, err = Restore(ctx, filepath.Join(second, b.Name), "", filepath.Join(t.TempDir(), "y"))
	assert.NoError(t, err)
	assert.ErrorContains(t, s.KeepAlso(Second{Dir: second, Passphrase: "short"}), "at least 10 characters")
}

// Many backups of one day push out no other day.
func TestBackupsAreThinnedByDay(t *testing.T) {
	dir := t.TempDir()
	at := time.Date(2026, 11, 30, 9, 0, 0, 0, time.Local)
	make1 := func(at time.Time, tail string) string {
		name := "lampfern-" + at.Format(backupStamp) + ".zip" + tail
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), []byte("x"), 0o600))
		return name
	}
	for day := range 60 {
		make1(at.AddDate(0, 0, -day), "")
	}
	waits := make1(at.AddDate(-1, 0, 0), "")
	for press := range 20 {
		make1(at.Add(time.Duration(press)*time.Minute), SealedTail)
	}
	require.NoError(t, os.WriteFile(filepath.Join(dir, "letter.zip"), []byte("x"), 0o600))
	require.NoError(t, thin(dir, waits))
	all, err := backupsIn(dir)
	require.NoError(t, err)
	days := map[string]int{}
	for _, b := range all {
		days[b.MadeAt.Format("2006-01-02")]++
	}
	assert.Equal(t, backupsNewest, days["2026-11-30"])
	for day := 1; day < backupsDaily; day++ {
		assert.Equal(t, 1, days[at.AddDate(0, 0, -day).Format("2006-01-02")], "%d days ago", day)
	}
	assert.Len(t, days, backupsDaily+backupsWeekly+1, "four weeks, and the one that waits: %v", days)
	assert.Contains(t, strings.Join(names(t, dir), " "), waits)
	assert.Contains(t, names(t, dir), "letter.zip", "what is no backup stays")
}

func names(t *testing.T, dir string) (out []string) {
	t.Helper()
	entries, err := os.ReadDir(dir)
	require.NoError(t, err)
	for _, e := range entries {
		out = append(out, e.Name())
	}
	return out
}
