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
	leans := string(colour.LeavesFor(r.At(50), beside))
	mean := (r.At(50).Chroma() + beside.Chroma()) / 2
	sc, sh := 1+.045*mean, 1+.015*mean
	for _, c := range []struct {
		o    Offset
		lean string
	}{
		{Offset{Tangential: 4*sh - .1, Turn: 30}, ""},
		{Offset{Tangential: 4*sh + .1, Turn: 30}, leans},
		{Offset{Tangential: -30, Turn: -19.9}, ""},
		{Offset{Tangential: -30, Turn: -20.1}, leans},
		{Offset{Radial: -3.8*sc + .1}, ""},
		{Offset{Radial: -3.8*sc - .1}, Grey},
		{Offset{Radial: 4.2*sc - .1}, ""},
		{Offset{Radial: 4.2*sc + .1}, Strong},
		{Offset{Radial: -30, Turn: 69.9}, Grey},
		{Offset{Radial: -30, Turn: 70.1}, own(r.At(50), beside)},
		{Offset{Radial: -4*sh + .1, Turn: 70.1}, ""},
	} {
		assert.Equal(t, c.lean, r.lean(beside, c.o), "%+v", c.o)
	}
	// In a pale run the plain thresholds hold.
	var pale []colour.Lab
	for i := range 13 {
		pale = append(pale, colour.Lab{L: 20 + 5*float64(i), A: 8, B: -14})
	}
	soft, err := Fit(pale)
	require.NoError(t, err)
	by := colour.Lab{L: 50, A: 14, B: -8}
	for _, c := range []struct {
		o    Offset
		lean bool
	}{{Offset{Tangential: 5.9, Turn: 30}, false}, {Offset{Tangential: 6.1, Turn: 30}, true}, {Offset{Radial: -7.9}, false},
		{Offset{Radial: -8.1}, true}, {Offset{Radial: 9.9}, false}, {Offset{Radial: 10.1}, true}} {
		assert.Equal(t, c.lean, soft.lean(by, c.o) != "", "%+v", c.o)
	}
	// A hue is only judged where there is enough of it.
	hued := func(l, c float64) bool { return r.offset(colour.Lab{L: l, A: -c}).Turn != 0 }
	assert.False(t, hued(50, 7.9))
	assert.True(t, hued(50, 8.1))
	assert.False(t, hued(11.9, 20))
	assert.True(t, hued(12.1, 20))
}
