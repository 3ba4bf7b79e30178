package stages

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/plan"
	"lampfern/stages/buy"
	"lampfern/stages/mix"
	"lampfern/testroom"
)

// One dose of a colourant serves Buy and Mix, in whatever basis it was written, and a default is
// called one.
func TestOneDoseForOneBatch(t *testing.T) {
	k := testroom.Studio(t, All()...)
	ids := map[string]uint{}
	for _, m := range []material.Material{
		{Name: "Rose", Colour: testroom.Hex(t, "#c0607a").Lab(), Dose: material.Dose{Tried: 8, TriedBasis: "g per kg of oils"}},
		{Name: "Tide", Colour: testroom.Hex(t, "#5a80a8").Lab(), Dose: material.Dose{Tried: .5, TriedBasis: "% of batter"}},
		{Name: "Coal", Colour: testroom.Hex(t, "#55534f").Lab()},
	} {
		m.Kind = "soap colourant"
		id, err := k.SaveMaterial(testroom.Ctx, 0, 0, m)
		require.NoError(t, err)
		ids[m.Name] = id
	}
	id, err := k.NewPlan(testroom.Ctx, "Bars", "soap")
	require.NoError(t, err)
	p := testroom.Do(t, k, id, plan.ChoosePiece{Pattern: "soap"})
	require.GreaterOrEqual(t, len(p.Piece.Parts), 2)
	for _, name := range []string{"Rose", "Tide", "Coal"}[:min(3, len(p.Piece.Parts))] {
		testroom.Do(t, k, id, plan.Pull{Material: ids[name]})
	}
	grams := func() map[string]string {
		t.Helper()
		p := testroom.MustOpen(t, k, id)
		b, err := buy.View(testroom.Ctx, k, p)
		require.NoError(t, err)
		m, err := mix.View(testroom.Ctx, k, p, false)
		require.NoError(t, err)
		require.NotNil(t, m.Pour)
		poured, bought := map[string]float64{}, map[string]string{}
		for _, r := range m.Pour.Rows {
			assert.Empty(t, r.Problem)
			for _, a := range r.Amounts {
				poured[a.Name] += a.Of
			}
		}
		for _, r := range b.Rows {
			assert.Equal(t, r.NeedWords, material.AmountWords(poured[r.Name], "g"), r.Name)
			bought[r.Name] = r.NeedWords
		}
		return bought
	}
	grams()
	ask := func(key string, v float64) {
		p := testroom.MustOpen(t, k, id)
		s := buy.Of(p)
		asked := piece.Values{key: v}
		for key, v := range s.Asked["soap"] {
			if _, there := asked[key]; !there {
				asked[key] = v
			}
		}
		testroom.Do(t, k, id, plan.Doing(func(d *plan.Draft) (string, error) {
			buy.Of(d.Plan).Asked = map[string]piece.Values{"soap": asked}
			return "tell", nil
		}))
	}
	before := grams()
	ask("batch", 4000)
	after := grams()
	assert.NotEqual(t, before["Rose"], after["Rose"])
	ask("oils", 600)
	grams()
	ask("rate", 3)
	grams()
}
