package store

import (
	"archive/zip"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"
)

// table is every row of a table by its columns, as text.
func table(t *testing.T, db *gorm.DB, name string) (out []map[string]string) {
	t.Helper()
	for _, row := range allOf(t, db, name) {
		r := map[string]string{}
		for column, v := range row {
			if b, is := v.([]byte); is {
				v = string(b)
			}
			r[column] = fmt.Sprint(v)
		}
		out = append(out, r)
	}
	return out
}

// Data folders as the programs of their time left them, with data in every table they had, are
// brought up to date and compared thing by thing.
func TestFrozenFoldersLoseNothing(t *testing.T) {
	files, err := filepath.Glob("testdata/folder-*.zip")
	require.NoError(t, err)
	require.Len(t, files, 7)
	for _, file := range files {
		t.Run(filepath.Base(file), func(t *testing.T) {
			dir := t.TempDir()
			z, err := zip.OpenReader(file)
			require.NoError(t, err)
			defer z.Close()
			require.NoError(t, os.CopyFS(dir, z))
			require.NoError(t, os.Chmod(filepath.Join(dir, FileName), 0o600))
			old, err := open(filepath.Join(dir, FileName), "_pragma=query_only(1)", 1)
			require.NoError(t, err)
			was := map[string][]map[string]string{}
			tables, err := tablesOf(old)
			require.NoError(t, err)
			for _, name := range tables {
				was[name] = table(t, old, name)
				if name != "sessions" && !strings.HasSuffix(file, "0010.zip") { // the one of 0010 fills plans instead
					assert.NotEmpty(t, was[name], name)
				}
			}
			pool, err := old.DB()
			require.NoError(t, err)
			require.NoError(t, pool.Close())

			require.NoError(t, dataOnly(filepath.Join(dir, FileName)), "an old backup is data too")
			saved, err := Salvage(t.Context(), dir, filepath.Join(t.TempDir(), "saved"))
			require.NoError(t, err)
			s, err := Open(dir)
			require.NoError(t, err)
			defer s.Close()
			r, err := s.Check(t.Context())
			require.NoError(t, err)
			assert.Empty(t, r.Wrong)
			require.NoError(t, dataOnly(filepath.Join(dir, FileName)))
			assert.Equal(t, []int{r.Materials, r.Plans, r.Photos}, []int{saved.Materials, saved.Plans, saved.Photos}, "%v", saved.Wrong)
			_, documents := was["sections"]
			for name, rows := range was {
				if !documents && slices.Contains([]string{"plans", "entries", "fills", "scraps", "journal"}, name) {
					continue
				}
				now := table(t, s.reader, name)
				require.Len(t, now, len(rows), name)
				for i, row := range rows {
					for column, v := range row {
						if got := now[i][column]; got != v && !(v == "<nil>" && got == "") {
							t.Errorf("%s, row %d, %s: %q is now %q", name, i, column, v, got)
						}
					}
				}
			}
			for _, p := range was["plans"] {
				comparePlan(t, s, p, was, documents)
			}
			left, err := filepath.Glob(filepath.Join(dir, backupFolder, "before-*.db"))
			require.NoError(t, err)
			assert.Len(t, left, 1, "a copy was made first")
		})
	}
}

// comparePlan compares a plan of before documents with what became of it.
func comparePlan(t *testing.T, s *Store, was map[string]string, tables map[string][]map[string]string, documents bool) {
	t.Helper()
	var id uint
	_, err := fmt.Sscan(was["id"], &id)
	require.NoError(t, err)
	p, sections, err := s.Read(t.Context()).Plan(id)
	require.NoError(t, err)
	assert.Equal(t, []string{was["name"], was["craft"]}, []string{p.Name, p.Craft})
	undo, _, err := s.Read(t.Context()).Labels(PlanScope(id))
	require.NoError(t, err)
	last := ""
	for _, step := range tables["journal"] {
		if step["scope"] == PlanScope(id) && step["undone"] == "0" {
			last = step["label"]
		}
	}
	assert.Equal(t, last, undo, "what can be undone")
	if documents {
		return
	}
	rowsOfPlan := func(name string) (out []map[string]string) {
		for _, row := range tables[name] {
			if row["plan_id"] == was["id"] {
				out = append(out, row)
			}
		}
		return out
	}
	list := func(section, field string) (out []map[string]any) {
		var doc map[string]json.RawMessage
		if text := docOf(sections, section); text != nil {
			require.NoError(t, json.Unmarshal(text, &doc))
		}
		if doc[field] != nil {
			require.NoError(t, json.Unmarshal(doc[field], &out))
		}
		return out
	}
	for name, at := range map[string]struct{ section, by string }{"entries": {"tray", "key"}, "fills": {"piece", "part"},
		"scraps": {"scraps", "key"}} {
		rows, now := rowsOfPlan(name), list(at.section, name)
		require.Len(t, now, len(rows), "plan %d, %s", id, name)
		for _, row := range rows {
			i := slices.IndexFunc(now, func(n map[string]any) bool { return fmt.Sprint(n[at.by]) == row[at.by] })
			require.GreaterOrEqual(t, i, 0, "plan %d, %s, %s", id, name, row[at.by])
			for column, v := range row {
				if column == "position" {
					assert.Equal(t, v, fmt.Sprint(i), "plan %d, %s: its place in the list", id, name)
					continue
				}
				if got, there := now[i][column]; there {
					assert.Equal(t, v, strings.ReplaceAll(fmt.Sprint(got), "e+00", ""), "plan %d, %s, %s", id, name, column)
				}
			}
		}
	}
	var text strings.Builder
	for _, one := range sections {
		text.Write(one.Doc)
	}
	for _, field := range []string{"purpose", "scheme", "template"} {
		if v := was[field]; v != "" {
			quoted, err := json.Marshal(v)
			require.NoError(t, err)
			assert.Contains(t, text.String(), string(quoted), "plan %d, %s", id, field)
		}
	}
}
