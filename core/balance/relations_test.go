package balance

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
)

func hexLab(t *testing.T, hex string) colour.Lab {
	c, err := colour.ParseHex(hex)
	require.NoError(t, err)
	return c.Lab()
}

func TestCompete(t *testing.T) {
	orange, green, blue := hexLab(t, "#e4681c"), hexLab(t, "#1f9e4c"), hexLab(t, "#2f62d8")
	assert.True(t, Compete(orange, green, 0, 0), "both clear, equally light, a third of the wheel apart")
	assert.True(t, Compete(green, orange, 0.2, 0.3))
	assert.False(t, Compete(orange, green, 0.1, 0.5), "one has far more room")
	assert.False(t, Compete(orange, hexLab(t, "#8a8f86"), 0, 0), "a grey does not compete")
	assert.False(t, Compete(orange, hexLab(t, "#7d8f7a"), 0, 0), "nor a soft colour")
	assert.False(t, Compete(orange, hexLab(t, "#c8202b"), 0, 0), "nor a neighbour")
	assert.False(t, Compete(orange, hexLab(t, "#0d3f1d"), 0, 0), "nor one far darker")
	assert.False(t, Compete(orange, blue, 0, 0), "nor an opposite")
}

func TestSoften(t *testing.T) {
	orange, green := hexLab(t, "#e4681c"), hexLab(t, "#1f9e4c")
	all := Soften(green, orange)
	require.NotEmpty(t, all)
	for i, r := range all {
		assert.False(t, Compete(r.Colour, orange, 0, 0), r.Words)
		assert.InDelta(t, r.Change, colour.DeltaE2000(green, r.Colour), 1e-9)
		assert.InDelta(t, green.L, r.Colour.L, 3, "it stays as light")
		if i > 0 {
			assert.GreaterOrEqual(t, r.Change, all[i-1].Change, "the least change first")
		}
	}
}

func TestBridges(t *testing.T) {
	red, green := hexLab(t, "#c8202b"), hexLab(t, "#1f9e4c")
	all := Bridges(red, green)
	require.Len(t, all, 2)
	assert.LessOrEqual(t, all[0].Apart, all[1].Apart)
	assert.NotEqual(t, all[0].Dark, all[1].Dark)
	for _, b := range all {
		assert.Less(t, b.Apart, colour.DeltaE2000(red, green)/1.5, "their darks or lights are nearer than their brights")
		assert.InDelta(t, b.A.L, b.B.L, 1e-9)
		assert.Less(t, colour.HueBetween(b.A.OKLCh().H, red.OKLCh().H), 3.0)
		assert.LessOrEqual(t, b.A.OKLCh().C, red.OKLCh().C+0.01)
	}
	grey := AtLightness(colour.Lab{L: 50}, 20)
	assert.InDelta(t, 20, grey.L, 1e-9)
	assert.InDelta(t, 0, grey.Chroma(), 0.01)
}
