package stages

import (
	"bytes"
	"context"
	"fmt"
	"mime/multipart"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/testroom"
)

// bring sends a file for a plan on its newest revision.
func (m *maker) bring(plan uint, file string, data []byte, fields ...string) (int, string) {
	m.t.Helper()
	p, err := m.work.Open(context.Background(), plan)
	require.NoError(m.t, err)
	var b bytes.Buffer
	w := multipart.NewWriter(&b)
	require.NoError(m.t, w.WriteField("revision", fmt.Sprint(p.Revision)))
	for i := 0; i < len(fields); i += 2 {
		require.NoError(m.t, w.WriteField(fields[i], fields[i+1]))
	}
	if file != "" {
		part, err := w.CreateFormFile("file", file)
		require.NoError(m.t, err)
		_, err = part.Write(data)
		require.NoError(m.t, err)
	}
	require.NoError(m.t, w.Close())
	return m.read(m.client.Post(fmt.Sprintf("%s/plans/%d/bring", m.url, plan), w.FormDataContentType(), &b))
}

func TestTheMakersOwnThingIsBroughtIn(t *testing.T) {
	testroom.Slow(t)
	t.Parallel()
	m := visit(t, true)
	svg := []byte(`<svg width="90mm" viewBox="0 0 90 40"><g id="wing"><rect width="40" height="40" fill="#123456"/></g><rect x="50" width="9" height="9" fill="none"/></svg>`)
	code, body := m.bring(1, "wing.svg", svg, "kind", "svg", "stage", "drawing", "by", "group")
	assert.Equal(t, 200, code)
	assert.Contains(t, plain(body), "one shape in one part. Skipped or changed: 1 × shape without a fill.")
	assert.Contains(t, body, `value="wing"`)

	// The coloured drawing goes out and comes in the same, part by part.
	for _, plan := range []uint{3, 8, 9} {
		before, err := m.work.Open(context.Background(), plan)
		require.NoError(t, err)
		code, body = m.get(fmt.Sprintf("/plans/%d/piece.svg", plan))
		require.Equal(t, 200, code)
		code, body = m.bring(1, "again.svg", []byte(body), "kind", "svg", "stage", "drawing", "by", "group")
		require.Equal(t, 200, code, plain(body))
		after, err := m.work.Open(context.Background(), 1)
		require.NoError(t, err)
		require.Len(t, after.Piece.Parts, len(before.Piece.Parts))
		for i, share := range before.Piece.Shares {
			assert.Equal(t, before.Piece.Parts[i].Name, after.Piece.Parts[i].Name)
			assert.InDelta(t, share, after.Piece.Shares[i], 1e-4)
		}
	}
	code, _ = m.get("/plans/6/piece.svg")
	assert.Equal(t, 422, code)

	code, body = m.get("/plans/6/draft.wif")
	require.Equal(t, 200, code)
	require.Contains(t, body, "[THREADING]")
	code, body = m.bring(1, "scarf.wif", []byte(body), "kind", "wif", "stage", "draft")
	assert.Equal(t, 200, code)
	assert.Contains(t, plain(body), "96 ends, 768 picks, 4 shafts.")
	code, body = m.get("/plans/3/draft.wif")
	assert.Equal(t, 422, code)
	assert.Contains(t, plain(body), "Choose a woven cloth on Proportion first")

	lantern, err := os.ReadFile("../demo/meshes/ticket lantern.3mf")
	require.NoError(t, err)
	code, body = m.bring(1, "lantern.3mf", lantern, "kind", "mesh", "stage", "solid")
	assert.Equal(t, 200, code)
	assert.Contains(t, plain(body), "4816 triangles in 12 bodies, 102 × 102 × 166 mm.")
	for path, want := range map[string]int{"/plans/4/solid.bin": 200, "/plans/4/solid.bin?coarse=1": 200, "/plans/4/solid.3mf": 200,
		"/plans/9/solid.bin": 422, "/plans/3/under/0/relief.jpg": 200, "/plans/3/under/0/lights.png": 200,
		"/plans/3/under/7/relief.jpg": 404, "/plans/9/under/0/relief.jpg": 404, "/plans/3/worktable.pdf": 200, "/plans/4/worktable.png": 200,
		"/plans/6/worktable.svg": 200, "/plans/4/colourways.pdf": 422, "/plans/3/colourways.pdf": 200} {
		code, _ := m.get(path)
		assert.Equal(t, want, code, path)
	}
	for _, c := range []struct {
		file, kind, words string
		data              []byte
	}{
		{"", "svg", "Choose a file first.", nil},
		{"x.svg", "svg", "Not imported: the file is not an SVG drawing", []byte("x")},
		{"x.wif", "wif", "Not imported: the file is not a weaving draft", []byte("x=1")},
		{"x.stl", "mesh", "Not imported: it is not an STL file", []byte("x")},
		{"x.jpg", "photo", "Not added", []byte("x")},
		{"x.jpg", "reference", "Not added", []byte("x")},
		{"x", "song", "This cannot be imported here", []byte("x")},
	} {
		code, body := m.bring(9, c.file, c.data, "kind", c.kind, "stage", "proportion")
		assert.Equal(t, 422, code, c.words)
		assert.Contains(t, plain(body), c.words)
	}
	for path, want := range map[string]string{"/plans/3/drawing": "Photo 1", "/plans/3/worktable": "Print all pieces (PDF)",
		"/plans/4/solid": "76.83 cm³", "/plans/4/proportion": "102 × 102 × 166 mm",
		"/plans/5/proportion": "An impression only", "/plans/6/draft?float=1&side=back": "the back"} {
		code, body := m.get(path)
		assert.Equal(t, 200, code)
		assert.Contains(t, plain(body), want, path)
		assert.NotRegexp(t, `(?i)\blye\b`, plain(body), path)
	}
}
