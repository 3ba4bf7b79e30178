package studio

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestTakeShare(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	try := func(card int, share float64) (*Plan, string, error) {
		p := mustOpen(t, s, id)
		words, err := s.TakeShare(ctx, id, p.Revision, p.Tray[card].Key, share)
		return mustOpen(t, s, id), words, err
	}
	share := func(p *Plan, card int) float64 { return p.layout().Share[card] }
	p := mustOpen(t, s, id)
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
	}{{0, 0, "choose a share between"}, {0, 1, "choose a share between"}, {3, share(p, 3), "already"}} {
		_, _, err = try(bad.card, bad.share)
		assert.ErrorContains(t, err, bad.words)
	}
	_, err = s.TakeShare(ctx, id, p.Revision, 99, .5)
	assert.ErrorContains(t, err, "no longer in the tray")
	_, err = s.TakeShare(ctx, id, p.Revision-1, p.Tray[0].Key, .5)
	assert.ErrorIs(t, err, ErrConflict)

	do(t, s, id, ChoosePiece("soap", map[string]float64{"pours": 0}))
	_, words, err = try(0, .97)
	require.NoError(t, err)
	assert.Contains(t, words, "43%", "two sevenths trade with three")
	_, _, err = try(0, .97)
	assert.ErrorContains(t, err, "Nothing this piece can do")
}

func diff(a, b float64) float64 { return max(a-b, b-a) }

func TestReverseFills(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	cards := func(p *Plan) (names []string) {
		for _, at := range p.fill() {
			if at >= 0 {
				names = append(names, p.Tray[at].Name)
			}
		}
		return names
	}
	do(t, s, id, Fill("hourglass", 0)) // an empty part keeps out of it
	before := cards(mustOpen(t, s, id))
	require.Len(t, before, 4)
	after := cards(do(t, s, id, ReverseFills()))
	for i := range before {
		assert.Equal(t, before[i], after[3-i])
	}
	assert.Equal(t, before, cards(do(t, s, id, ReverseFills())))
	for _, part := range []string{"ground", "peak", "spark"} {
		do(t, s, id, Fill(part, 0))
	}
	refused(t, s, id, ReverseFills(), "no order to turn round")
}
