package stages

import (
	"archive/zip"
	"encoding/json"
	"fmt"
	"os"
	"reflect"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/store"
	"lampfern/testroom"
)

// unzipped is a data folder of an earlier program, unpacked.
func unzipped(t *testing.T, file string) string {
	t.Helper()
	dir := t.TempDir()
	z, err := zip.OpenReader(file)
	require.NoError(t, err)
	defer z.Close()
	require.NoError(t, os.CopyFS(dir, z))
	return dir
}

// said is all that a plan's sections say, by field, without what is empty.
func said(t *testing.T, k *plan.Desk, id uint) map[string]any {
	t.Helper()
	p := testroom.MustOpen(t, k, id)
	out := map[string]any{"name": p.Plan.Name, "craft": p.Craft, "put_away": p.PutAway}
	_, sections, err := k.Store.Read(testroom.Ctx).Plan(id)
	require.NoError(t, err)
	for _, s := range sections {
		var fields map[string]any
		require.NoError(t, json.Unmarshal(s.Doc, &fields))
		if s.Name == "input" {
			out["own"] = fields
			continue
		}
		for key, v := range fields {
			out[key] = v
		}
	}
	return clean(out).(map[string]any)
}

// clean leaves out what says nothing: places in a list, empty fields, and keys
// that are only written when there is something.
func clean(v any) any {
	switch x := v.(type) {
	case map[string]any:
		for key, inner := range x {
			inner = clean(inner)
			if inner == nil || key == "id" || key == "position" || reflect.ValueOf(inner).IsZero() {
				delete(x, key)
				continue
			}
			x[key] = inner
		}
		if len(x) == 0 {
			return nil
		}
	case []any:
		for i := range x {
			x[i] = clean(x[i])
		}
		if len(x) == 0 {
			return nil
		}
	}
	return v
}

// TestADataFolderOfVersionOneOpensAndLosesNothing opens the demo's folder as the
// program before sections kept it, with a plan that fills every field, and undoes
// every step that can be undone there.
func TestADataFolderOfVersionOneOpensAndLosesNothing(t *testing.T) {
	t.Parallel()
	text, err := os.ReadFile("../store/testdata/folder-0010-states.json")
	require.NoError(t, err)
	var states map[string][]struct {
		Undo string
		Plan map[string]any
	}
	require.NoError(t, json.Unmarshal(text, &states))
	st, err := store.Open(unzipped(t, "../store/testdata/folder-0010.zip"))
	require.NoError(t, err)
	defer st.Close()
	k := plan.NewDesk(shelf.New(st), All())
	steps := 0
	for id := uint(1); id <= 9; id++ {
		for _, want := range states[fmt.Sprint(id)] {
			p := testroom.MustOpen(t, k, id)
			assert.Equal(t, want.Undo, p.Undo)
			require.Equal(t, clean(want.Plan), any(said(t, k, id)), "plan %d before %q", id, want.Undo)
			if want.Undo == "" {
				break
			}
			_, err := k.StepPlan(testroom.Ctx, id, p.Revision, true)
			require.NoError(t, err)
			steps++
		}
	}
	assert.Greater(t, steps, 20)
	for range steps { // and forward again to where it was, those undone there too
		p := testroom.MustOpen(t, k, 9)
		if p.Redo == "" {
			break
		}
		_, err := k.StepPlan(testroom.Ctx, 9, p.Revision, false)
		require.NoError(t, err)
	}
	photos, err := k.Photos(testroom.Ctx)
	require.NoError(t, err)
	assert.Len(t, photos, 3)
}

// TestEveryFieldOfAPlanTravels sends a plan that fills every field elsewhere, as a
// plan file, and compares all that its sections say.
func TestEveryFieldOfAPlanTravels(t *testing.T) {
	testroom.Slow(t)
	t.Parallel()
	st, err := store.Open(unzipped(t, "../store/testdata/folder-0010.zip"))
	require.NoError(t, err)
	defer st.Close()
	k := plan.NewDesk(shelf.New(st), All())
	for id := uint(1); id <= 9; id++ {
		want := said(t, k, id)
		_, file, err := k.Export(testroom.Ctx, id)
		require.NoError(t, err)
		p, missing, err := k.Import(testroom.Ctx, file)
		require.NoError(t, err)
		assert.Empty(t, missing)
		assert.Equal(t, want, said(t, k, p.ID), "on the same shelf, where materials keep their numbers")

		other := testroom.Studio(t, All()...)
		p, missing, err = other.Import(testroom.Ctx, file)
		require.NoError(t, err)
		assert.Empty(t, missing)
		got := said(t, other, p.ID)
		for field := range want {
			assert.Contains(t, got, field, "plan %d", id)
		}
		here, there := testroom.MustOpen(t, k, id), testroom.MustOpen(t, other, p.ID)
		assert.Equal(t, testroom.Tray(here), testroom.Tray(there))
		if here.Piece != nil {
			assert.Equal(t, here.Piece.Shares, there.Piece.Shares)
		}
	}
	full := said(t, k, 9)
	for _, field := range []string{"flagged", "laid", "laid_by_share", "references", "scraps", "colourways", "groups", "remarks", "dismissed",
		"adjusted", "wishes", "combinations",
		"run", "ramps", "targets", "wheel", "school", "brief", "purpose", "lead_id", "entries", "fills", "template"} {
		assert.Contains(t, full, field, "the plan that is sent fills the field")
	}
	assert.Equal(t, true, said(t, k, 8)["put_away"])
}

func TestPlanFilesOfVersionOneOpen(t *testing.T) {
	testroom.Slow(t)
	t.Parallel()
	k := testroom.Studio(t, All()...)
	for n := 1; n <= 9; n++ {
		data, err := os.ReadFile(fmt.Sprintf("../plan/testdata/v1/%d.json", n))
		require.NoError(t, err)
		p, missing, err := k.Import(testroom.Ctx, data)
		require.NoError(t, err, n)
		var old struct {
			Plan struct {
				Name    string
				Palette []any
				Fills   map[string]int
			}
		}
		require.NoError(t, json.Unmarshal(data, &old))
		got := testroom.MustOpen(t, k, p.ID)
		assert.Equal(t, old.Plan.Name, got.Plan.Name)
		assert.Len(t, got.Tray, len(old.Plan.Palette))
		assert.Len(t, got.Fills, len(old.Plan.Fills))
		switch got.Plan.Name {
		case "Ticket lantern":
			assert.Equal(t, []string{"the model ticket lantern"}, missing)
		case "River boats":
			assert.Equal(t, []string{"a photo"}, missing)
		}
	}
}
