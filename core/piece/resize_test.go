package piece

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestResizeFindsTheLength(t *testing.T) {
	// Five strips of 120 × 420 mm: a binding of b takes 1 − 252000/((600+2b)(420+2b)).
	// For a fifth of the whole, b is near 30.5 mm.
	binding := func(part string) bool { return part == "binding" }
	got, ok := Resize("strips", map[string]float64{"binding": 10}, Own{}, binding, .2)
	require.True(t, ok)
	assert.Equal(t, "binding", got.Setting.Key)
	assert.InDelta(t, .2, got.Share, .002)
	assert.InDelta(t, 1-252000/((600+2*got.To)*(420+2*got.To)), got.Share, 1e-9)
	assert.Equal(t, 10.0, got.From)

	_, ok = Resize("strips", map[string]float64{"binding": 10}, Own{}, binding, got.Share/100)
	assert.True(t, ok, "as near as its smallest allows")
	_, ok = Resize("soap", nil, Own{}, func(part string) bool { return part == "pour1" }, .9)
	assert.False(t, ok, "sevenths stay sevenths, whatever the size")
	got, ok = Resize("rows", map[string]float64{"colours": 2, "rows": 6}, Own{}, func(part string) bool { return part == "stripe1" }, .8)
	require.True(t, ok)
	assert.Equal(t, "rows 24A 6B", got.Words)
	assert.InDelta(t, .8, got.Share, 1e-9)
	_, ok = Resize("tent", nil, Own{}, binding, .5)
	assert.False(t, ok)
}

func TestResizeReachesWhatTheSashingCan(t *testing.T) {
	got, ok := Resize("curtain", map[string]float64{"columns": 7, "rows": 5, "block": 200, "sash": 12}, Own{}, func(part string) bool { return part == "sashing" }, .3)
	require.True(t, ok)
	assert.InDelta(t, .3, got.Share, .005)
	p, err := Build("curtain", map[string]float64{"columns": 7, "rows": 5, "block": 200, "sash": 12, got.Setting.Key: got.To}, Own{})
	require.NoError(t, err)
	assert.InDelta(t, got.Share, p.Shares()[4], 1e-12)
}
