package signoff

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/piece"
	"lampfern/plan"
	"lampfern/testroom"
)

// A sheet of a set shows all its pieces, with the shares over them, and tells what of them has changed.
func TestASheetOfASet(t *testing.T) {
	k := testroom.Studio(t, Stage())
	id, _ := testroom.Quilt(t, k)
	testroom.Do(t, k, id, plan.ChoosePiece{Pattern: "curtain", Settings: piece.Values{"columns": 2, "rows": 2, "block": 100, "sash": 10}})
	testroom.Do(t, k, id, plan.CopyPiece{Key: 1})
	testroom.Do(t, k, id, plan.NamePiece{Key: 2, Name: "Cushion", Times: 4})
	testroom.Do(t, k, id, plan.ChoosePiece{Pattern: "curtain", Settings: piece.Values{"columns": 2, "rows": 2, "block": 60, "sash": 10}})
	p := testroom.Do(t, k, id, plan.Doing(func(d *plan.Draft) (string, error) {
		p, err := d.View()
		require.NoError(t, err)
		pieces, err := k.Set(p)
		require.NoError(t, err)
		whole := map[int]map[string]int{}
		for _, w := range pieces { // all in one card
			whole[w.Key] = map[string]int{}
			for _, part := range w.Plan.Piece.Parts {
				whole[w.Key][part.Key] = p.Tray[0].Key
			}
		}
		return "keep", d.KeepSet("Plain", whole)
	}))
	f, err := Freeze(testroom.Ctx, k, p, []int{p.Colourways[0].Key}, nil, false)
	require.NoError(t, err)
	require.NoError(t, f.check())
	assert.Len(t, f.Pieces, 2)
	assert.Contains(t, f.Pieces[1], "Cushion, 150 × 150 mm, made 4 times")
	assert.Len(t, f.Piece.Parts, len(f.Ways[0].Fill))
	require.Len(t, f.Ways, 2)
	assert.Equal(t, "Plain", f.Ways[1].Name)
	sum, mine := 0.0, 0.0
	pieces, err := k.SharesOverSet(p)
	require.NoError(t, err)
	for i, c := range f.Cards {
		sum += f.Ways[0].Shares[i]
		for _, card := range p.Tray {
			if card.Name == c.Name {
				mine = card.Share
			}
		}
		assert.InDelta(t, mine, f.Ways[0].Shares[i], 1e-12, c.Name)
	}
	assert.InDelta(t, 1, sum, 1e-12)
	assert.InDelta(t, 1, f.Ways[1].Shares[0], 1e-12)
	assert.Len(t, pieces, 2)

	doc, err := pack(f)
	require.NoError(t, err)
	back, err := Unpack(doc)
	require.NoError(t, err)
	assert.Equal(t, f.Pieces, back.Pieces)

	testroom.Do(t, k, id, plan.NamePiece{Key: 2, Name: "Cushion", Times: 6})
	p = testroom.Do(t, k, id, plan.FillPart{Part: p.Piece.Parts[0].Key, Key: p.Tray[4].Key})
	now, err := Freeze(testroom.Ctx, k, p, nil, nil, false)
	require.NoError(t, err)
	said := strings.Join(Changes(f, now), "\n")
	assert.Contains(t, said, "made 6 times")
	assert.Contains(t, said, " of the Cushion is now "+p.Tray[4].Name)
	testroom.Do(t, k, id, plan.LeaveOut{Key: 1, Out: true})
	_, err = Freeze(testroom.Ctx, k, testroom.Do(t, k, id, plan.LeaveOut{Key: 2, Out: true}), nil, nil, false)
	assert.ErrorContains(t, err, "Every piece of the set is hidden")
}
