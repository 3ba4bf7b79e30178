package value

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
)

// Each threshold of a stray on either side, so that it cannot move unseen.
func TestThresholdsOfStrays(t *testing.T) {
	var run []colour.Lab
	for i := range 13 {
		run = append(run, colour.Lab{L: 20 + 5*float64(i), A: 20, B: -34})
	}
	r, err := Fit(run)
	require.NoError(t, err)
	beside := colour.Lab{L: 50, A: 30, B: -30}
	for _, c := range []struct {
		o      Offset
		strays bool
		lean   string
	}{
		{Offset{Tangential: 5.9, Turn: 30}, false, ""},
		{Offset{Tangential: 6.1, Turn: 30}, true, string(colour.TurnsToward(r.At(50), beside))},
		{Offset{Tangential: -30, Turn: -19.9}, false, ""},
		{Offset{Tangential: -30, Turn: -20.1}, true, string(colour.TurnsToward(r.At(50), beside))},
		{Offset{Radial: -7.9}, false, ""},
		{Offset{Radial: -8.1}, true, Grey},
		{Offset{Radial: 9.9}, false, ""},
		{Offset{Radial: 10.1}, true, Strong},
	} {
		got := r.lean(beside, c.o)
		assert.Equal(t, c.lean, got, "%+v", c.o)
		assert.Equal(t, c.strays, got != "", "%+v", c.o)
	}
	// A hue is only judged where there is enough of it.
	hued := func(l, c float64) bool { return r.offset(colour.Lab{L: l, A: -c}).Turn != 0 }
	assert.False(t, hued(50, 7.9))
	assert.True(t, hued(50, 8.1))
	assert.False(t, hued(11.9, 20))
	assert.True(t, hued(12.1, 20))
}
