package buy

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/material"
	"lampfern/core/piece"
	"lampfern/plan"
	"lampfern/stages/brief"
	"lampfern/testroom"
)

// A set takes what its pieces take, each as often as it is made, added up before it is rounded.
func TestASetIsBoughtTogether(t *testing.T) {
	s := testroom.Studio(t, brief.Stage(), Stage())
	big, small := piece.Values{"columns": 4, "rows": 4, "block": 200, "sash": 12},
		piece.Values{"columns": 2, "rows": 2, "block": 60, "sash": 10}
	id, _ := testroom.Quilt(t, s)
	rows := func() map[string]Row {
		v, err := View(testroom.Ctx, s, testroom.MustOpen(t, s, id))
		require.NoError(t, err)
		out := map[string]Row{}
		for _, r := range v.Rows {
			out[r.Key] = r
		}
		return out
	}
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "curtain", Settings: small})
	testroom.Do(t, s, id, Answer{Times: 4})
	cushions := rows()
	testroom.Do(t, s, id, Answer{Times: 1})
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "curtain", Settings: big})
	one := rows()

	testroom.Do(t, s, id, plan.CopyPiece{Key: 1})
	testroom.Do(t, s, id, plan.NamePiece{Key: 2, Name: "Cushion", Times: 4})
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "curtain", Settings: small})
	set := rows()
	require.NotEmpty(t, set)
	for key, r := range set {
		assert.InDelta(t, one[key].Need+cushions[key].Need, r.Need, 1e-9, key)
	}
	card := set["card1"]
	assert.Contains(t, card.Working[0], "For the Triangle curtain: ")
	assert.Contains(t, card.Parts[0], " of the Triangle curtain")
	testroom.Do(t, s, id, plan.WorkOn{Key: 1})
	for key, r := range rows() {
		assert.InDelta(t, set[key].Need, r.Need, 1e-9, "whichever is worked on: %s", key)
	}
	testroom.Do(t, s, id, plan.LeaveOut{Key: 2, Out: true})
	for key, r := range rows() {
		assert.InDelta(t, one[key].Need, r.Need, 1e-9, "what is left out is not bought: %s", key)
	}
	testroom.Do(t, s, id, plan.LeaveOut{Key: 1, Out: true})
	v, err := View(testroom.Ctx, s, testroom.MustOpen(t, s, id))
	require.NoError(t, err)
	assert.Empty(t, v.Rows)
	assert.Contains(t, v.Empty[0], "all are hidden")
}

func TestWhatIsGivenIsNotBought(t *testing.T) {
	s := testroom.Studio(t, brief.Stage(), Stage())
	id, _ := testroom.Quilt(t, s)
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "curtain"})
	testroom.Do(t, s, id, plan.SetGiven{Key: 2, On: true})
	v, err := View(testroom.Ctx, s, testroom.MustOpen(t, s, id))
	require.NoError(t, err)
	require.NotEmpty(t, v.Rows)
	for _, r := range v.Rows {
		assert.NotEqual(t, "card2", r.Key)
	}
}

// One place of the palette is bought as cloth for the waistcoat and as yarn for the rows.
func TestAPlaceIsBoughtInEachKind(t *testing.T) {
	s := testroom.Studio(t, brief.Stage(), Stage())
	var ids []uint
	for _, m := range []struct{ name, kind string }{{"Sloe", "fabric"}, {"Sloe wool", "yarn"}} {
		id, err := s.SaveMaterial(testroom.Ctx, 0, 0, material.Material{Name: m.name, Kind: m.kind, Colour: testroom.Hex(t, "#3a2f4c").Lab()})
		require.NoError(t, err)
		ids = append(ids, id)
	}
	id, err := s.NewPlan(testroom.Ctx, "Winter", "garment")
	require.NoError(t, err)
	testroom.Do(t, s, id, plan.Pull{Material: ids[0]})
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "waistcoat"})
	p := testroom.Do(t, s, id, plan.AddPiece{Pattern: "rows"})
	testroom.Do(t, s, id, plan.PieceKinds{Key: p.At, Kinds: []string{"yarn"}})
	testroom.Do(t, s, id, plan.FillMedium{Key: 1, Kind: "yarn", Material: ids[1]})
	v, err := View(testroom.Ctx, s, testroom.MustOpen(t, s, id))
	require.NoError(t, err)
	kinds := map[string]string{}
	for _, r := range v.Rows {
		if r.Card != nil {
			kinds[r.Name] = r.Kind
			assert.Positive(t, r.Need, r.Name)
		}
	}
	assert.Equal(t, map[string]string{"Sloe": "fabric", "Sloe wool": "yarn"}, kinds)
}
