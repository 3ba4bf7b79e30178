package stages

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/store"
	"lampfern/testroom"
	"lampfern/web"
)

// A maker makes a backup by one press, is told that it is good, and gets it all back.
func TestABackupByOnePress(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	_, body := m.get("/")
	assert.Contains(t, plain(body), "No backups yet. Backup and health")
	m.work.Version = "1.2.3"
	code, body := m.post("/care/backup", nil)
	assert.Equal(t, http.StatusOK, code)
	said := plain(body)
	assert.Contains(t, said, "made and checked.")
	assert.Contains(t, said, "with backups. Lamp Fern 1.2.3.")
	assert.Contains(t, said, "All is well: 164 materials, 9 plans")
	at := regexp.MustCompile(`/care/backups/lampfern-[\d-]+\.zip`).FindString(body)
	require.NotEmpty(t, at)
	code, file := m.get(at)
	require.Equal(t, http.StatusOK, code)
	_, err := zip.NewReader(bytes.NewReader([]byte(file)), int64(len(file)))
	require.NoError(t, err)
	path := filepath.Join(t.TempDir(), "b.zip")
	require.NoError(t, os.WriteFile(path, []byte(file), 0o600))
	r, err := store.Restore(t.Context(), path, "", t.TempDir())
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

// A photo that nothing uses is let go and taken back; a backup waits for the next start, or not.
func TestWhatNothingUsesAndABackupThatWaits(t *testing.T) {
	t.Parallel()
	m := visit(t, false)
	_, body := m.get("/care")
	assert.NotContains(t, plain(body), "Unused files")
	picture := []byte("a picture")
	hash := store.HashOf(picture)
	require.NoError(t, m.work.Store.PutPhotoFile(hash, picture))
	require.NoError(t, m.work.Store.Write(t.Context(), func(tx store.Tx) error {
		return tx.PutPhoto(store.Photo{Hash: hash, Name: "old <b>.jpg", Kind: "jpeg"})
	}))
	_, body = m.get("/care")
	assert.Contains(t, plain(body), "old &lt;b&gt;.jpg")
	assert.Contains(t, plain(body), "Delete all, 1 kB")
	code, _ := m.post("/care/let-go", nil)
	assert.Equal(t, http.StatusUnprocessableEntity, code, "none is not all")
	_, body = m.post("/care/let-go", url.Values{"hash": {hash}})
	assert.Contains(t, plain(body), "1 file is deleted. You can restore them below for now.")
	assert.Contains(t, plain(body), "gone for good on")
	_, body = m.get("/photos")
	assert.NotContains(t, body, hash)
	_, body = m.post("/care/let-go", url.Values{"hash": {hash}})
	assert.Contains(t, plain(body), "Not deleted")
	_, body = m.post("/care/take-back", url.Values{"hash": {hash}})
	assert.Contains(t, plain(body), "1 file is restored.")

	_, body = m.post("/care/backup", nil)
	name := regexp.MustCompile(`lampfern-[\d-]+\.zip`).FindString(body)
	_, body = m.post("/care/next", url.Values{"name": {name}})
	assert.Contains(t, plain(body), name+" will be restored when Lamp Fern next starts")
	_, body = m.post("/care/not-next", nil)
	assert.Contains(t, plain(body), "The workroom stays as it is.")
	code, _ = m.post("/care/next", url.Values{"name": {"../lampfern.db"}})
	assert.Equal(t, http.StatusNotFound, code)

	_, dir := m.work.Store.Size()
	require.NoError(t, os.WriteFile(filepath.Join(dir, "backups", "lampfern-2026-01-02-030405.zip"), []byte("half"), 0o600))
	_, body = m.post("/care/next", url.Values{"name": {"lampfern-2026-01-02-030405.zip"}})
	assert.Contains(t, plain(body), "Not restored: lampfern-2026-01-02-030405.zip is not a complete backup")
	m.work.Passing = true
	_, body = m.get("/care")
	assert.NotContains(t, body, "Bring back", "into a temporary folder nothing can be brought back")
	assert.Contains(t, plain(body), "This workroom is not kept.")
	m.work.Passing = false

	_, file := m.get("/care/backups/" + name)
	_, body = m.upload("/care/bring", "from elsewhere.zip", []byte(file))
	assert.Contains(t, plain(body), "from elsewhere.zip is added as "+name)
	// An encrypted copy comes back with its passphrase alone.
	_, body = m.post("/care/sealed", url.Values{"name": {name}, "passphrase": {passphrase}, "again": {"another passphrase"}})
	assert.Contains(t, plain(body), "The two passphrases differ")
	_, body = m.post("/care/sealed", url.Values{"name": {name}, "passphrase": {"short"}, "again": {"short"}})
	assert.Contains(t, plain(body), "at least 10 characters")
	code, sealed := m.post("/care/sealed", url.Values{"name": {name}, "passphrase": {passphrase}, "again": {passphrase}})
	assert.Equal(t, http.StatusOK, code)
	require.True(t, strings.HasPrefix(sealed, "age-encryption.org/v1"))
	_, body = m.upload("/care/bring", "from elsewhere.zip.age", []byte(sealed))
	assert.Contains(t, plain(body), "This backup is encrypted: give its passphrase. Nothing was changed.")
	var form bytes.Buffer
	w := multipart.NewWriter(&form)
	require.NoError(t, w.WriteField("passphrase", passphrase))
	part, err := w.CreateFormFile("file", "from elsewhere.zip.age")
	require.NoError(t, err)
	_, err = io.WriteString(part, sealed)
	require.NoError(t, err)
	require.NoError(t, w.Close())
	_, body = m.read(m.client.Post(m.url+"/care/bring", w.FormDataContentType(), &form))
	assert.Contains(t, plain(body), "from elsewhere.zip.age is added as "+name, "the very same is kept once")

	_, body = m.get("/care/figures")
	assert.Contains(t, plain(body), "the workroom can be saved yes")
	var figures web.Figures
	_, body = m.get("/care/figures.json")
	require.NoError(t, json.Unmarshal([]byte(body), &figures))
	assert.True(t, figures.Working)
	assert.Greater(t, figures.Answered, 5)
	assert.Positive(t, figures.Refused, "the short passphrase")
	assert.Zero(t, figures.Failed)
	assert.Greater(t, figures.Database+figures.Log, int64(100_000), "of a young workroom all may lie in the log")
	assert.WithinDuration(t, time.Now(), figures.Backup, time.Hour)
	_, body = m.get("/healthz/ready")
	assert.Equal(t, "ok\n", body)

	_, body = m.upload("/care/bring", "cat.zip", []byte("miaow"))
	assert.Contains(t, plain(body), "cat.zip was not added: it is not a complete backup: it cannot be opened as a zip.")
}

// Where the database is damaged, every page says so, nothing is written, and what can be read is
// saved by one press.
func TestADamagedWorkroomIsLookedAt(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	_, dir := m.work.Store.Size()
	require.NoError(t, m.work.Store.Close())
	path := filepath.Join(dir, store.FileName)
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	at := bytes.LastIndex(data, []byte("Moth wing"))
	require.Positive(t, at)
	copy(data[at/4096*4096:at/4096*4096+4096], bytes.Repeat([]byte{0xAA}, 4096))
	require.NoError(t, os.WriteFile(path, data, 0o600))
	st, err := store.Open(dir)
	require.NoError(t, err)
	t.Cleanup(func() { st.Close() })
	require.NoError(t, st.QuickCheck(t.Context()))
	m.work.Store = st

	for _, page := range []string{"/", "/plans", "/shelf", "/care", "/nowhere"} {
		_, body := m.get(page)
		assert.Contains(t, plain(body), "The database is damaged. You can look, but nothing is saved.", page)
	}
	code, body := m.get("/shelf")
	assert.Equal(t, http.StatusOK, code)
	assert.Contains(t, plain(body), " materials, in colour order", "what can be read is shown")
	_, body = m.post("/plans", url.Values{"name": {"New"}, "craft": {"quilt"}})
	assert.Contains(t, plain(body), "you can look, but nothing is saved")
	code, body = m.post("/care/salvage", nil)
	assert.Equal(t, http.StatusOK, code)
	said := plain(body)
	assert.Contains(t, said, "What could be read is saved in "+dir+"-saved-")
	saved, err := filepath.Glob(dir + "-saved-*")
	require.NoError(t, err)
	require.Len(t, saved, 1)
	again, err := store.Open(saved[0])
	require.NoError(t, err)
	defer again.Close()
	r, err := again.Check(t.Context())
	require.NoError(t, err)
	assert.Greater(t, r.Materials+r.Plans, 100)
	require.NoError(t, os.RemoveAll(saved[0]))
}

// Where the page of the plans' headers is lost, their stages are saved all the same, under names that say so,
// and every page opens.
func TestPlansWhoseHeadersAreLost(t *testing.T) {
	testroom.Slow(t)
	t.Parallel()
	m := visit(t, true)
	_, dir := m.work.Store.Size()
	require.NoError(t, m.work.Store.Close())
	path := filepath.Join(dir, store.FileName)
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	at := bytes.Index(data, []byte("Stage curtainquilt")) / 4096 * 4096
	require.Positive(t, at)
	clear(data[at : at+4096])
	require.NoError(t, os.WriteFile(path, data, 0o600))
	to := filepath.Join(t.TempDir(), "saved")
	r, err := store.Salvage(t.Context(), dir, to)
	require.NoError(t, err)
	assert.Equal(t, []int{164, 9}, []int{r.Materials, r.Plans})
	assert.Equal(t, []string{"Of the plans, pages are damaged; these rows cannot be read: all of them.",
		"The name and craft of some plans are lost; they are called Saved plan 1, Saved plan 2, Saved plan 3, Saved plan 4, Saved plan 5, Saved plan 6, Saved plan 7, Saved plan 8, Saved plan 9."},
		r.Wrong)
	saved := visitAt(t, to)
	_, body := saved.get("/plans")
	assert.Contains(t, plain(body), "Saved plan 9")
	for id := range 9 {
		for _, st := range All() {
			code, _ := saved.get(fmt.Sprintf("/plans/%d/%s", id+1, st.Key))
			assert.Equal(t, http.StatusOK, code, "plan %d, %s", id+1, st.Key)
		}
	}
}

// Where the files of photos are gone, the pages say so, and shelf and plans can still be saved and
// brought in elsewhere; a photo that is cut off in a zip stays out, and is named.
func TestPhotosThatAreGone(t *testing.T) {
	testroom.Slow(t)
	t.Parallel()
	m := visit(t, true)
	_, whole := m.get("/shelf/shelf.zip")
	_, dir := m.work.Store.Size()
	photos, err := m.work.Photos(t.Context())
	require.NoError(t, err)
	for _, p := range photos {
		require.NoError(t, os.Remove(filepath.Join(dir, "photos", p.Hash)))
	}
	_, body := m.get("/photos")
	assert.Contains(t, plain(body), photos[0].Name+": file missing")
	fresh := visitAt(t, dir) // nothing is remembered there
	code, body := fresh.get("/photos/" + photos[0].Hash)
	assert.Equal(t, http.StatusUnprocessableEntity, code)
	assert.Contains(t, plain(body), "The photo "+photos[0].Name+" is missing from the data folder. Add it again, or restore a backup")
	for id := 1; id <= 9; id++ {
		for _, st := range m.work.Stages() {
			code, _ := fresh.get(fmt.Sprintf("/plans/%d/%s", id, st.Key))
			assert.Equal(t, http.StatusOK, code, "%s of plan %d", st.Key, id)
		}
		code, _ := fresh.get(fmt.Sprintf("/plans/%d/plan.zip", id))
		assert.Equal(t, http.StatusOK, code, "plan %d", id)
	}
	code, without := fresh.get("/shelf/shelf.zip")
	assert.Equal(t, http.StatusOK, code)
	other := visit(t, false)
	_, body = other.upload("/shelf/import", "shelf.zip", []byte(without))
	assert.Contains(t, plain(body), "164 new materials")

	z, err := zip.NewReader(strings.NewReader(whole), int64(len(whole)))
	require.NoError(t, err)
	var cut bytes.Buffer
	w := zip.NewWriter(&cut)
	for _, f := range z.File {
		if strings.HasPrefix(f.Name, "photos/"+photos[0].Hash) {
			to, err := w.Create(f.Name)
			require.NoError(t, err)
			_, err = to.Write([]byte("half a photo"))
			require.NoError(t, err)
			continue
		}
		require.NoError(t, w.Copy(f))
	}
	require.NoError(t, w.Close())
	_, body = other.upload("/shelf/import", "shelf.zip", cut.Bytes())
	assert.Contains(t, plain(body), "1 photo is damaged and will be skipped: "+photos[0].Name+".")
	assert.Contains(t, plain(body), fmt.Sprintf("%d photos are included", len(photos)-1))
}
