package stages

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"io"
	"regexp"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whatever stands in the place of whatever in a plan file, its refusal is a sentence for its maker, without
// a word of the program's own.
func TestARefusedPlanFileSpeaksPlainly(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	_, file := m.get("/plans/9/plan.zip")
	z, err := zip.NewReader(bytes.NewReader([]byte(file)), int64(len(file)))
	require.NoError(t, err)
	f, err := z.Open("plan.json")
	require.NoError(t, err)
	text, err := io.ReadAll(f)
	require.NoError(t, err)
	var doc any
	require.NoError(t, json.Unmarshal(text, &doc))

	number, inside := regexp.MustCompile(`\d+`), regexp.MustCompile(`(?i)json|unmarshal|invalid char|EOF|strconv|nil\b|%!|struct|sql|constraint|lampfern/`)
	seen, refused := map[string]bool{}, 0
	var walk func(v any, put func(any), path string)
	walk = func(v any, put func(any), path string) {
		if kind := number.ReplaceAllString(path, "#"); !seen[kind] {
			seen[kind] = true
			for _, odd := range []any{"text", -7.5, true, nil, []any{1}, map[string]any{"a": 1}} {
				put(odd)
				data, err := json.Marshal(doc)
				require.NoError(t, err)
				if _, _, err := m.work.Import(t.Context(), data); err != nil {
					refused++
					assert.NotRegexp(t, inside, err.Error(), "%v at %s", odd, path)
				}
			}
			put(v)
		}
		switch x := v.(type) {
		case map[string]any:
			for k, w := range x {
				walk(w, func(n any) { x[k] = n }, path+"/"+k)
			}
		case []any:
			for i, w := range x {
				walk(w, func(n any) { x[i] = n }, path+"/"+strconv.Itoa(i))
			}
		}
	}
	walk(doc, func(n any) { doc = n }, "")
	assert.Greater(t, refused, 300)
}
