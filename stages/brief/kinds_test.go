package brief

import (
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/form"
	"lampfern/plan"
	"lampfern/testroom"
)

// The kinds of material follow the craft until the maker says otherwise.
func TestKindsFollowTheCraft(t *testing.T) {
	s := testroom.Studio(t, Stage())
	id, err := s.NewPlan(testroom.Ctx, "Curtain", "quilt")
	require.NoError(t, err)
	made := func() []string { return testroom.MustOpen(t, s, id).MadeOf() }
	assert.Equal(t, []string{"fabric", "thread", "notion"}, made())
	set := func(craft string, kinds ...string) *plan.Plan {
		e := &SetBrief{}
		require.NoError(t, form.New(url.Values{"name": {"Curtain"}, "craft": {craft}, "purpose": {""}, "kinds": {"1"}, "kind": kinds}).Fill(e))
		return testroom.Do(t, s, id, e)
	}
	p := set("soap", "fabric", "thread", "notion") // as the page showed them
	assert.Empty(t, p.Kinds)
	assert.Equal(t, []string{"soap colourant", "pigment or dye"}, made())
	set("soap", "paint", "fabric")
	assert.Equal(t, []string{"fabric", "paint"}, made(), "as all kinds are listed")
	set("quilt", "fabric", "paint")
	assert.Equal(t, []string{"fabric", "paint"}, made(), "the maker's own stay")
	_, err = s.StepPlan(testroom.Ctx, id, testroom.MustOpen(t, s, id).Revision, true)
	require.NoError(t, err)
	assert.Equal(t, "soap", testroom.MustOpen(t, s, id).Craft)
	_, file, err := s.Export(testroom.Ctx, id)
	require.NoError(t, err)
	again, err := testroom.Import(s, file)
	require.NoError(t, err)
	assert.Equal(t, []string{"fabric", "paint"}, testroom.MustOpen(t, s, again).MadeOf(), "in the plan file")
	p = set("soap")
	assert.Empty(t, p.Kinds, "none ticked is as the craft has it")
	testroom.Refused(t, s, id, SetBrief{Name: "Curtain", Craft: "soap", Kinds: []string{"fur"}}, `"fur" is not a material type`)
}
