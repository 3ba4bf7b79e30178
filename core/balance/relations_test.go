package balance

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
)

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
