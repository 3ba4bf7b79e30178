package stages

import (
	"strings"
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

// Cautions are of the kinds and steps that are used, in any craft: no dye pot on undyed weaving, paint
// on whatever is painted, and Mix says only what is mixed there.
func TestCautionsFollowWhatIsUsed(t *testing.T) {
	k := testroom.Studio(t, All()...)
	ids := map[string]uint{}
	for name, kind := range map[string]string{"Wool": "yarn", "Gouache": "paint", "Madder": "pigment or dye"} {
		id, err := k.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: name, Kind: kind, Colour: testroom.Hex(t, "#aa4433").Lab()})
		require.NoError(t, err)
		ids[name] = id
	}
	said := func(craft, pattern string, cards ...string) string {
		id, err := k.NewPlan(testroom.Ctx, craft, craft)
		require.NoError(t, err)
		testroom.Do(t, k, id, plan.ChoosePiece{Pattern: pattern})
		for _, c := range cards {
			testroom.Do(t, k, id, plan.Pull{Material: ids[c]})
		}
		words, more := testroom.MustOpen(t, k, id).Care()
		return words + strings.Join(more, " ")
	}
	assert.Empty(t, said("weaving", "cloth", "Wool"))
	assert.Contains(t, said("weaving", "cloth", "Madder"), "mordants")
	for _, of := range [][2]string{{"other", "drawn"}, {"cards", "scene"}, {"garment", "dress"}, {"printed parts", "pot"}} {
		assert.Contains(t, said(of[0], of[1], "Gouache"), "lick the brush", of[0])
	}
	assert.NotContains(t, said("garment", "dress", "Wool"), "mordants")
	assert.Contains(t, said("quilt", "ninepatch"), "Irons are hot")
	assert.Contains(t, said("garment", "dress"), "irons are hot")
	assert.Contains(t, said("soap", "soap"), "unmoulded")
	assert.Contains(t, said("printed parts", "pot"), "Sand prints wet")
	assert.Contains(t, said("cards", "scene"), "airbrush")
}
