package together

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/plan"
	"lampfern/stages/brief"
	"lampfern/stages/proportion"
	"lampfern/testroom"
)

// wardrobe is a plan of a waistcoat in cloth with a scarf in yarn, and what lies on the shelf by name.
func wardrobe(t *testing.T) (*plan.Desk, uint, map[string]uint) {
	t.Helper()
	s := testroom.Studio(t, brief.Stage(), proportion.Stage(), Stage())
	ids := map[string]uint{}
	for _, m := range []struct{ name, kind, hex string }{{"Sloe", "fabric", "#3a2f4c"}, {"Oat", "fabric", "#d8c9a6"},
		{"Sloe wool", "yarn", "#433554"}, {"Oat wool", "yarn", "#c9a86a"}, {"Sloe pot", "paint", "#3b304d"}} {
		id, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: m.name, Kind: m.kind, Colour: testroom.Hex(t, m.hex).Lab()})
		require.NoError(t, err)
		ids[m.name] = id
	}
	id, err := s.NewPlan(testroom.Ctx, "Winter", "garment")
	require.NoError(t, err)
	testroom.Do(t, s, id, plan.Pull{Material: ids["Sloe"]})
	testroom.Do(t, s, id, plan.Pull{Material: ids["Oat"]})
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "waistcoat"})
	testroom.Do(t, s, id, plan.AddPiece{Pattern: "rows"})
	return s, id, ids
}

func TestOnePaletteInSeveralKinds(t *testing.T) {
	s, id, ids := wardrobe(t)
	p := testroom.MustOpen(t, s, id)
	assert.Empty(t, Media(p).Rows, "all is of what the plan is made of")
	scarf := p.At
	p = testroom.Do(t, s, id, plan.PieceKinds{Key: scarf, Kinds: []string{"yarn"}})
	assert.Equal(t, []string{"yarn"}, p.MadeOf())
	v := Media(p)
	assert.Equal(t, []string{"fabric", "yarn"}, v.Kinds)
	require.Len(t, v.Rows, 2)
	assert.True(t, v.Rows[0].Cells[0].Own)
	assert.Equal(t, "Sloe wool", v.Rows[0].Cells[1].Near[0].Name, "the nearest first")
	assert.Equal(t, "It is in one material only.", v.Rows[0].Words)

	key := v.Rows[0].Key
	p = testroom.Do(t, s, id, plan.FillMedium{Key: key, Kind: "yarn", Material: ids["Sloe wool"]})
	p = testroom.Do(t, s, id, plan.FillMedium{Key: p.Tray[1].Key, Kind: "yarn", Material: ids["Oat wool"]})
	assert.Equal(t, "Sloe wool", p.Tray[0].Name, "on the scarf the place is in yarn")
	apart := colour.DeltaE2000(testroom.Hex(t, "#d8c9a6").Lab(), testroom.Hex(t, "#c9a86a").Lab())
	v = Media(p)
	assert.InDelta(t, apart, v.Rows[1].Cells[1].Apart, 1e-9)
	assert.Contains(t, v.Rows[1].Words, "you will see it side by side")
	pieces, err := s.Set(p)
	require.NoError(t, err)
	assert.Equal(t, "Sloe", pieces[0].Plan.Tray[0].Name, "and in cloth on the waistcoat")

	p = testroom.Do(t, s, id, plan.WorkOn{Key: 1})
	assert.Equal(t, "Sloe", p.Tray[0].Name)
	// A copy of the plan keeps them, and what is taken off the shelf makes no hole.
	_, file, err := s.Export(testroom.Ctx, id)
	require.NoError(t, err)
	other := testroom.Studio(t, brief.Stage(), proportion.Stage(), Stage())
	there, _, err := other.Import(testroom.Ctx, file)
	require.NoError(t, err)
	q := testroom.Do(t, other, there.ID, plan.WorkOn{Key: scarf})
	assert.Equal(t, []string{"Sloe wool", "Oat wool"}, []string{q.Tray[0].Name, q.Tray[1].Name})

	for _, c := range []struct {
		e    plan.Edit
		want string
	}{
		{plan.FillMedium{Key: key, Kind: "yarn", Material: ids["Sloe pot"]}, "is paint, not yarn"},
		{plan.FillMedium{Key: key, Kind: "fabric", Material: ids["Oat"]}, "of that type itself"},
		{plan.FillMedium{Key: key, Kind: "moonlight", Material: ids["Oat"]}, "not a material type"},
		{plan.FillMedium{Key: key, Kind: "yarn", Material: 999}, "no longer on the shelf"},
		{plan.PieceKinds{Key: 1, Kinds: []string{"moonlight"}}, "not a material type"}, {plan.PieceKinds{Key: 99}, "no longer in the plan"},
	} {
		testroom.Refused(t, s, id, c.e, c.want)
	}
	testroom.Do(t, s, id, plan.FillMedium{Key: key, Kind: "yarn"})
	p = testroom.Do(t, s, id, plan.WorkOn{Key: scarf})
	assert.Equal(t, "Sloe", p.Tray[0].Name, "its own card where the kind has none")

	// One press fills what is empty by what lies near and is free; then nothing is left to fill.
	p = testroom.Do(t, s, id, FillMedia{})
	assert.Equal(t, "Sloe wool", p.Tray[0].Name)
	testroom.Do(t, s, id, plan.AddGiven{Name: "Skin", Colour: "#a5825d"})
	testroom.Refused(t, s, id, FillMedia{}, "Choose by hand")
	p = testroom.MustOpen(t, s, id)
	for _, r := range Media(p).Rows {
		assert.NotEqual(t, "Skin", r.Main.Name, "what is there already is in no kind")
	}
}
