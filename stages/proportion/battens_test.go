package proportion

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/testroom"
)

func TestTakeShare(t *testing.T) {
	s := testroom.Studio(t, Stage())
	id, _ := testroom.Quilt(t, s)
	try := func(card int, share float64) (*plan.Plan, string, error) {
		p := testroom.MustOpen(t, s, id)
		words, err := shareOf(s, id, p.Revision, p.Tray[card].Key, share)
		return testroom.MustOpen(t, s, id), words, err
	}
	share := func(p *plan.Plan, card int) float64 { return p.Layout().Share[card] }
	p := testroom.MustOpen(t, s, id)
	require.Equal(t, []string{"sashing"}, p.Tray[4].Parts)

	p, words, err := try(4, .3)
	require.NoError(t, err)
	assert.InDelta(t, .3, share(p, 4), .01, "the sashing is made wider, or the blocks smaller")
	assert.Contains(t, words, p.Tray[4].Name+" takes 30%")
	assert.Contains(t, words, " mm")
	assert.Contains(t, p.Undo, "takes 30%")

	was := share(p, 3) // the sparks are a fixed part of their block
	p, words, err = try(3, .25)
	require.NoError(t, err)
	assert.Less(t, diff(share(p, 3), .25), diff(was, .25))
	assert.Contains(t, words, " to the ", "parts took other cards")
	for _, card := range p.Tray {
		assert.NotEmpty(t, card.Parts, "no card lost its last part")
	}

	for _, bad := range []struct {
		card  int
		share float64
		words string
	}{{0, 0, "Choose a share from"}, {0, 1, "Choose a share from"}, {3, share(p, 3), "already"}} {
		_, _, err = try(bad.card, bad.share)
		assert.ErrorContains(t, err, bad.words)
	}
	_, err = shareOf(s, id, p.Revision, 99, .5)
	assert.ErrorContains(t, err, "no longer in the tray")
	_, err = shareOf(s, id, p.Revision-1, p.Tray[0].Key, .5)
	assert.ErrorIs(t, err, shelf.ErrConflict)

	testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "soap", Settings: map[string]float64{"pours": 0}})
	_, words, err = try(0, .97)
	require.NoError(t, err)
	assert.Contains(t, words, "43%", "two sevenths trade with three")
	_, _, err = try(0, .97)
	assert.ErrorContains(t, err, "cannot come nearer")
}

func diff(a, b float64) float64 { return max(a-b, b-a) }

func TestReverseFills(t *testing.T) {
	s := testroom.Studio(t, Stage())
	id, _ := testroom.Quilt(t, s)
	cards := func(p *plan.Plan) (names []string) {
		for _, at := range p.Fill() {
			if at >= 0 {
				names = append(names, p.Tray[at].Name)
			}
		}
		return names
	}
	testroom.Do(t, s, id, plan.FillPart{Part: "hourglass", Key: 0}) // an empty part keeps out of it
	before := cards(testroom.MustOpen(t, s, id))
	require.Len(t, before, 4)
	after := cards(testroom.Do(t, s, id, plan.ReverseFills{}))
	for i := range before {
		assert.Equal(t, before[i], after[3-i])
	}
	assert.Equal(t, before, cards(testroom.Do(t, s, id, plan.ReverseFills{})))
	for _, part := range []string{"ground", "peak", "spark"} {
		testroom.Do(t, s, id, plan.FillPart{Part: part, Key: 0})
	}
	testroom.Refused(t, s, id, plan.ReverseFills{}, "At least two parts need a card that is not pinned")
}

func shareOf(s *plan.Desk, id uint, revision int64, key int, share float64) (string, error) {
	return s.Change(testroom.Ctx, id, revision, TakeShare{Key: key, Share: 100 * share})
}
