package proportion

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/balance"
	"lampfern/plan"
	"lampfern/testroom"
)

func TestOnePartIsLeftOpen(t *testing.T) {
	s := testroom.Studio(t, Stage())
	id, _ := testroom.Quilt(t, s)
	testroom.Add(t, s, "Scarlet=#d01a2a", "Slate=#3a4450", "Slate again=#3b4551")
	p := testroom.MustOpen(t, s, id)
	v, err := BringOut(s, p, p.Piece.Parts[1].Key)
	require.NoError(t, err)
	assert.Equal(t, p.Piece.Parts[1].Name, v.Name)
	assert.Contains(t, v.Words, "Best for it first")
	var names []string
	for _, c := range v.Cards {
		names = append(names, c.Name)
		assert.Len(t, c.Labs, len(p.Piece.Parts))
		assert.Equal(t, c.Colour, *c.Labs[1], "it is shown on the part")
	}
	assert.Subset(t, names, []string{"Scarlet"})
	assert.NotSubset(t, names, []string{"Slate", "Slate again"}, "of two alike one is shown")

	first := v.Cards[0]
	after := testroom.Do(t, s, id, TakeOut{Part: v.Part, Material: first.ID})
	at := after.Fill()[1]
	require.GreaterOrEqual(t, at, 0)
	assert.Equal(t, first.Name, after.Tray[at].Name)
	// What it said is what the piece then says.
	pulls := balance.FirstLook(after.Layout(), after.Labs())
	lead := after.Tray[pulls[0].Part].Name
	assert.Contains(t, first.Words, lead+" ")
	testroom.Refused(t, s, id, TakeOut{Part: "nowhere", Material: first.ID}, "no such part")
	testroom.Refused(t, s, id, TakeOut{Part: v.Part, Material: 999}, "no longer on the shelf")

	for key := 1; key < 5; key++ {
		testroom.Do(t, s, id, plan.SetAside{Key: key})
	}
	_, err = BringOut(s, testroom.MustOpen(t, s, id), "")
	assert.ErrorContains(t, err, "Colour two other parts first")
}

// What is said of a card on the open part says in its words how far it leads.
func TestWhatACardDoesOnTheOpenPart(t *testing.T) {
	p := &plan.Plan{}
	for times, want := range map[float64]string{
		1.8:   "The binding stands out.",
		1.04:  "The binding barely stands out.",
		1.004: "The binding competes with another part.",
		.997:  "The binding competes with another part.",
		.96:   "The binding does not stand out: another part is stronger.",
	} {
		assert.Equal(t, want, broughtWords(p, balance.Candidate{Times: times}, 2, 2, "binding"))
	}
}
