package balance

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
)

func TestBlurIsHalfAMinuteOfArc(t *testing.T) {
	// tan(1′) is 0.000290888: 1.454 mm at ten metres.
	assert.InDelta(t, 1.4544, Blur(10), 1e-4)
	assert.Zero(t, Blur(0))
}

func TestWhatBlendsAcrossTheRoom(t *testing.T) {
	// Four black and four white stripes of 3 mm, 300 mm long, beside a field of
	// red 100 mm wide that touches the last.
	c := labs(t, "#000000", "#ffffff", "#c8202b")
	area := 8*3*300.0 + 100*300
	l := Layout{Share: []float64{3600 / area, 3600 / area, 30000 / area}, Border: [][]float64{{0, 7 * 300, 0}, {7 * 300, 0, 300}, {0, 300, 0}}}
	assert.Empty(t, Blends(l, area, c, 0), "in the hand nothing blends")
	assert.Empty(t, Blends(l, area, c, 10), "3.4 mm of mean width against 2.9")
	got := Blends(l, area, c, 13)
	require.Len(t, got, 1)
	assert.ElementsMatch(t, []int{0, 1}, got[0].Colours)
	assert.Equal(t, -1, got[0].Into)
	// Half of white's light is L* 116·∛0.5 − 16.
	assert.InDelta(t, 116*math.Cbrt(.5)-16, got[0].Lab.L, .05)
	assert.Less(t, got[0].Lab.Chroma(), .1)

	// A fine line alone sinks into what it touches most, once hardly anything is left of it.
	l = Layout{Share: []float64{.01, .5, .49}, Border: [][]float64{{0, 300, 200}, {300, 0, 0}, {200, 0, 0}}}
	lines := []colour.Lab{{L: 10}, {L: 60}, {L: 80}}
	assert.Empty(t, Blends(l, 30000, lines, 20), "1.2 mm on 2.9 mm of blur keeps 16 %, of about 47")
	got = Blends(l, 30000, lines, 60)
	require.Len(t, got, 1)
	assert.Equal(t, Blend{[]int{0}, 1, got[0].Lab}, got[0])
	assert.InDelta(t, 59.3, got[0].Lab.L, .6, "a little darker than what it lies in")
	assert.Empty(t, Blends(Layout{}, 1, nil, 5))
}

// A line's Gaussian: 68 % of it within one deviation either side.
func TestWhatALineKeeps(t *testing.T) {
	assert.InDelta(t, .6827, LineKeeps(2, 1), 1e-4)
	assert.Equal(t, 1.0, LineKeeps(1, 0))
	for _, c := range []struct{ width, metres float64 }{{6, 20}, {1, 3.4}} {
		assert.Greater(t, LineKeeps(c.width, Blur(c.metres))*100, sinksBelow, "%g mm of black on white at %g m", c.width, c.metres)
	}
}
