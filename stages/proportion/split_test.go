package proportion

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/plan"
	"lampfern/testroom"
)

func TestAPartInMoreThanOneTone(t *testing.T) {
	s := testroom.Studio(t, Stage())
	id, _ := testroom.Heap(t, s, "Moss=#4c5d37", "Peat=#2c2620", "Straw=#d8bd6d", "Clay=#a5643f")
	whole := testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "figure"})
	cloak := whole.Piece.Shares[whole.Piece.Part("cloak")]
	key := map[string]int{}
	for _, c := range whole.Tray {
		key[c.Name] = c.Key
	}
	testroom.Do(t, s, id, plan.FillPart{Part: "cloak", Key: key["Moss"]})
	testroom.Do(t, s, id, plan.SplitPart{Part: "cloak", Kind: "shade", Key: key["Peat"], Share: 30})
	p := testroom.Do(t, s, id, plan.SplitPart{Part: "cloak", Kind: "light", Key: key["Straw"]})
	shade := p.Piece.Part("cloak--shade")
	assert.InDelta(t, .3*cloak, p.Piece.Shares[shade], 1e-6)
	assert.InDelta(t, .2*cloak, p.Piece.Shares[p.Piece.Part("cloak--light")], 1e-6, "a fifth where nothing is said")
	assert.Equal(t, "Peat", testroom.FillOf(p, "cloak--shade"))
	assert.Zero(t, p.Piece.Borders[shade][p.Piece.Part("cloak")], "tones are laid into one another")
	assert.InDelta(t, 1, p.Layout().Share[0]+p.Layout().Share[1]+p.Layout().Share[2]+p.Layout().Share[3], 1e-9)

	// Its share can be changed, its settings too, and another pattern and back lose nothing.
	p = testroom.Do(t, s, id, plan.SplitPart{Part: "cloak", Kind: "shade", Key: key["Clay"], Share: 10})
	assert.Len(t, p.Splits, 2)
	p = testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "figure", Settings: map[string]float64{"height": 90, "side": 1}})
	assert.Equal(t, "Clay", testroom.FillOf(p, "cloak--shade"))
	p = testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "boat"})
	assert.Negative(t, p.Piece.Part("cloak--shade"))
	p = testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "figure"})
	assert.Equal(t, "Clay", testroom.FillOf(p, "cloak--shade"))
	_, file, err := s.Export(testroom.Ctx, id)
	require.NoError(t, err)
	there, _, err := s.Import(testroom.Ctx, file)
	require.NoError(t, err)
	assert.Equal(t, p.Splits, testroom.MustOpen(t, s, there.ID).Splits)

	// Ways leave tones where they are.
	found, err := Ways(testroom.Ctx, s, p, WaysAsked{})
	require.NoError(t, err)
	for _, w := range found.Ways {
		assert.Equal(t, key["Clay"], w.Fills["cloak--shade"])
	}

	// A colourway of before it was divided colours what was split off like the rest, and the order of
	// cards is turned round without it.
	testroom.Do(t, s, id, plan.JoinPart{Part: "cloak--light"})
	testroom.Do(t, s, id, KeepColourway{Name: "One tone less"})
	p = testroom.Do(t, s, id, plan.SplitPart{Part: "cloak", Kind: "light", Key: key["Straw"]})
	p = testroom.Do(t, s, id, TakeColourway{Key: p.Colourways[0].Key})
	assert.Equal(t, testroom.FillOf(p, "cloak"), testroom.FillOf(p, "cloak--light"))
	v := p.ColourwayViews()[0]
	assert.Equal(t, v.Fill[p.Piece.Part("cloak")], v.Fill[p.Piece.Part("cloak--light")])
	shaded := testroom.FillOf(p, "cloak--shade")
	p = testroom.Do(t, s, id, plan.ReverseFills{})
	assert.Equal(t, shaded, testroom.FillOf(p, "cloak--shade"))
	testroom.Do(t, s, id, plan.SplitPart{Part: "tunic", Kind: "fade", Key: key["Straw"]})
	p = testroom.Do(t, s, id, plan.FillPart{Part: "tunic", Key: key["Peat"]})
	var steps []string
	for _, w := range p.Wantables() {
		if w.From == "fade of the tunic" {
			steps = append(steps, w.Name)
		}
	}
	assert.Equal(t, []string{"Peat, a quarter into Straw", "Peat, half into Straw", "Peat, three quarters into Straw"}, steps,
		"Mix offers what lies between")

	for _, c := range []struct {
		e    plan.Edit
		want string
	}{
		{plan.SplitPart{Part: "tunic", Kind: "shade", Key: key["Moss"]}, "remove the fade"},
		{plan.SplitPart{Part: "cloak", Kind: "shade", Key: key["Moss"], Share: 85}, "90%"},
		{plan.SplitPart{Part: "cloak--shade", Kind: "light", Key: key["Moss"]}, "is a split-off part"},
		{plan.SplitPart{Part: "wings", Kind: "shade", Key: key["Moss"]}, "no such part"},
		{plan.SplitPart{Part: "cloak", Kind: "left", Key: key["Moss"]}, "no four sides"},
		{plan.SplitPart{Part: "cloak", Kind: "shade", Key: 99}, "no longer in the tray"},
		{plan.JoinPart{Part: "cloak"}, "not part of another part"},
	} {
		testroom.Refused(t, s, id, c.e, c.want)
	}
	p = testroom.Do(t, s, id, plan.JoinPart{Part: "cloak--shade"})
	assert.Negative(t, p.Piece.Part("cloak--shade"))
	for _, f := range p.Fills {
		assert.NotEqual(t, "cloak--shade", f.Part)
	}
	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "curtain"})
	testroom.Refused(t, s, id, plan.SplitPart{Part: "spark", Kind: "shade", Key: key["Moss"]}, "one tone each")
}
