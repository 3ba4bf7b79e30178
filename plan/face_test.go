package plan_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/note"
	"lampfern/plan"
	"lampfern/stages"
	"lampfern/stages/proportion"
	"lampfern/stages/together"
	"lampfern/testroom"
)

// A dress beside skin, hair and eyes that are there already, told at its neckline; and a neckline that is to be chosen last.
func TestADressBesideAFace(t *testing.T) {
	t.Parallel()
	s := testroom.Studio(t, stages.All()...)
	ids := testroom.Add(t, s, "Fog=#c8c2bc", "Ink=#20304a", "Rose=#b0506a", "Milk=#f4ecd8")
	id, err := s.NewPlan(testroom.Ctx, "Summer dress", "garment")
	require.NoError(t, err)
	for _, name := range []string{"Fog", "Ink", "Rose"} {
		testroom.Do(t, s, id, plan.Pull{Material: ids[name]})
	}
	p := testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "dress"})
	require.Equal(t, "neckline", p.Piece.Parts[p.AtFace()].Name, "the neckline of a dress is a part")
	p = testroom.Do(t, s, id, plan.FillPart{Part: "collar", Key: p.Tray[0].Key})
	said := func(p *plan.Plan) map[string]note.Note {
		out := map[string]note.Note{}
		for _, n := range proportion.Proportion(p).Notes {
			out[n.Kind()] = n
		}
		return out
	}
	assert.NotContains(t, said(p), "face", "nobody is known to wear it")
	testroom.Do(t, s, id, plan.AddGiven{Name: "Skin", Colour: "#e8c4ac"})
	testroom.Do(t, s, id, plan.AddGiven{Name: "Copper hair", Colour: "#a8501e"})
	p = testroom.Do(t, s, id, plan.AddGiven{Name: "Ash hair", Colour: "#b0a494"})
	n := said(p)["face"]
	assert.Contains(t, n.About+n.Words, "Fog on the neckline drains Skin (as light, and greyer)")
	mend := proportion.MendOf(p, n)
	require.NotNil(t, mend)
	assert.Equal(t, "collar", mend.Open)
	assert.Equal(t, "The neckline", said(p)["standout"].About)
	assert.Contains(t, said(p)["standout"].Words, " stands out most beside Copper hair")
	assert.Contains(t, said(p)["standout"].Words, "and least beside Ash hair.")
	p = testroom.Do(t, s, id, plan.FillPart{Part: "collar", Key: p.Tray[1].Key})
	assert.NotContains(t, said(p), "face")
	assert.Contains(t, said(p)["atface"].Words, "sets off Skin")
	for _, b := range together.Given(p, wholes(t, s, p)) {
		assert.Contains(t, b.Words[0], "Ink on the neckline of the ", b.Name)
	}

	// Chosen last, it stays open, is not asked for, and is offered candidates with why.
	p = testroom.Do(t, s, id, plan.ChooseLast{Part: "collar", On: true})
	assert.Equal(t, -1, p.Fill()[p.AtFace()])
	assert.Zero(t, proportion.Proportion(p).Empty)
	p = testroom.Do(t, s, id, plan.FillRest{})
	assert.Equal(t, -1, p.Fill()[p.AtFace()], "filling the rest leaves it open")
	ways, err := proportion.Ways(testroom.Ctx, s, p, proportion.WaysAsked{})
	require.NoError(t, err)
	for _, w := range ways.Ways {
		assert.NotContains(t, w.Fills, "collar", "every arrangement leaves it open")
	}
	p = testroom.Do(t, s, id, proportion.TakeWay{Fills: ways.Ways[0].Fills})
	assert.Equal(t, []string{"collar"}, p.Last)
	_, err = proportion.Ways(testroom.Ctx, s, p, proportion.WaysAsked{Focus: "collar"})
	assert.ErrorContains(t, err, "is to be chosen last")
	b, err := proportion.BringOut(s, p, "collar")
	require.NoError(t, err)
	require.NotEmpty(t, b.Cards)
	for _, c := range b.Cards {
		assert.Contains(t, c.Words, " Skin (", c.Name)
	}
	p = testroom.Do(t, s, id, proportion.TakeOut{Part: "collar", Material: ids["Milk"]})
	assert.Empty(t, p.Last, "chosen, it is no longer last")
	testroom.Do(t, s, id, plan.ChooseLast{Part: "collar", On: true})
	assert.Empty(t, testroom.Do(t, s, id, plan.ChooseLast{Part: "collar"}).Last)
	testroom.Do(t, s, id, plan.FillRest{})
	testroom.Do(t, s, id, plan.Pin{Part: "collar", On: true})
	testroom.Refused(t, s, id, plan.ChooseLast{Part: "collar", On: true}, "is pinned")
	testroom.Refused(t, s, id, plan.ChooseLast{Part: "tail", On: true}, "no such part")
}

func wholes(t *testing.T, s *plan.Desk, p *plan.Plan) []plan.Whole {
	t.Helper()
	all, err := s.SharesOverSet(p)
	require.NoError(t, err)
	return all
}
