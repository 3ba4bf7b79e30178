package stages

import (
	"archive/zip"
	"bytes"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/store"
)

// A maker makes a backup by one press, is told that it is good, and gets it all back.
func TestABackupByOnePress(t *testing.T) {
	m := visit(t, true)
	_, body := m.get("/")
	assert.Contains(t, plain(body), "No backup yet. How is the workroom?")
	m.work.Version = "1.2.3"
	code, body := m.post("/care/backup", nil)
	assert.Equal(t, http.StatusOK, code)
	said := plain(body)
	assert.Contains(t, said, "is made and was read back whole.")
	assert.Contains(t, said, "with backups. Lamp Fern 1.2.3.")
	assert.Contains(t, said, "Nothing is wrong: 164 materials, 9 plans")
	at := regexp.MustCompile(`/care/backups/lampfern-[\d-]+\.zip`).FindString(body)
	require.NotEmpty(t, at)
	code, file := m.get(at)
	require.Equal(t, http.StatusOK, code)
	_, err := zip.NewReader(bytes.NewReader([]byte(file)), int64(len(file)))
	require.NoError(t, err)
	path := filepath.Join(t.TempDir(), "b.zip")
	require.NoError(t, os.WriteFile(path, []byte(file), 0o600))
	r, err := store.Restore(t.Context(), path, t.TempDir())
	require.NoError(t, err)
	assert.Equal(t, 9, r.Plans)
	assert.True(t, r.Good(), "%v", r.Wrong)
	code, _ = m.get("/care/backups/lampfern.db")
	assert.Equal(t, http.StatusNotFound, code)
	_, body = m.get("/")
	assert.Contains(t, plain(body), "Backed up today.")

	// Where a photo was cut off, it is named.
	photos, err := m.work.Photos(t.Context())
	require.NoError(t, err)
	_, dir := m.work.Store.Size()
	require.NoError(t, os.Truncate(filepath.Join(dir, "photos", photos[0].Hash), 100))
	_, body = m.post("/care/check", nil)
	assert.Contains(t, plain(body), "The photo "+photos[0].Name+" is damaged")
}
