package stages

import (
	"fmt"
	"net/http"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/testroom"
)

// Data folders of every earlier program open: every page of every plan shows, and what was done
// last there is undone and done again.
func TestFrozenFoldersAreWorkedOn(t *testing.T) {
	testroom.Slow(t)
	t.Parallel()
	files, err := filepath.Glob("../store/testdata/folder-*.zip")
	require.NoError(t, err)
	require.Len(t, files, 7)
	for _, file := range files {
		t.Run(filepath.Base(file), func(t *testing.T) {
			m := visitAt(t, unzipped(t, file))
			for _, page := range []string{"/", "/shelf", "/plans", "/photos", "/portrait", "/care", "/shelf/shelf.zip"} {
				code, _ := m.get(page)
				assert.Equal(t, http.StatusOK, code, page)
			}
			plans, err := m.work.Plans(t.Context())
			require.NoError(t, err)
			require.Len(t, plans, 9)
			for _, p := range plans {
				for _, st := range m.work.Stages() {
					code, _ := m.get(fmt.Sprintf("/plans/%d/%s", p.ID, st.Key))
					assert.Equal(t, http.StatusOK, code, "%s of %s", st.Key, p.Name)
				}
				was := testroom.MustOpen(t, m.work, p.ID)
				if was.Undo == "" {
					continue
				}
				before := said(t, m.work, p.ID)
				_, err := m.work.StepPlan(t.Context(), p.ID, was.Revision, true)
				require.NoError(t, err, p.Name)
				_, err = m.work.StepPlan(t.Context(), p.ID, was.Revision+1, false)
				require.NoError(t, err, p.Name)
				assert.Equal(t, before, said(t, m.work, p.ID), p.Name)
			}
		})
	}
}
