package balance

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"lampfern/core/colour"
	"lampfern/core/wheel"
)

func TestOneWeftOverAWarp(t *testing.T) {
	lab := func(hex string) colour.Lab {
		c, err := colour.ParseHex(hex)
		assert.NoError(t, err)
		return c.Lab()
	}
	red, green, sand, straw := lab("#b3402f"), lab("#2f7d46"), lab("#d8c08a"), lab("#c9a86a")
	w := OverWarp([]colour.Lab{red, green, sand}, green, .5, wheel.Pigment)
	assert.Equal(t, 1, w.Own)
	assert.Equal(t, []int{0}, w.Dulled, "green over red goes brown, over itself and over sand it does not")
	assert.Empty(t, w.Tied)
	assert.InDelta(t, 0, colour.DeltaE2000(green, w.Faces[1]), 1e-9)
	// By hand: half of each light, so that Y is the mean of both.
	assert.InDelta(t, (red.XYZ().Y+green.XYZ().Y)/2, w.Faces[0].XYZ().Y, 1e-9)

	near := colour.Lab{L: sand.L - 15, A: sand.A, B: sand.B}
	tied := OverWarp([]colour.Lab{sand, near, red}, straw, .3, wheel.Pigment)
	assert.Equal(t, [][2]int{{0, 1}}, tied.Tied, "where most of the face is weft, stripes run together")
	assert.Equal(t, -1, tied.Own)
	assert.Equal(t, []Kin{Opposite, Repeats}, w.Kin[:2])
}

// Neighbours are never dulled, white and black make tints and shades, and opposites dull one another.
func TestWhatAWeftIsToItsWarp(t *testing.T) {
	lab := func(hex string) colour.Lab {
		c, err := colour.ParseHex(hex)
		assert.NoError(t, err)
		return c.Lab()
	}
	for _, tt := range []struct {
		warp, weft             string
		kin                    Kin
		dulled, tinted, shaded bool
	}{
		{"#b3402f", "#2f7d46", Opposite, true, false, false},
		{"#c8642b", "#b3402f", Darker, false, false, false},   // orange and red
		{"#2f5c9e", "#2f7d7d", Adjacent, false, false, false}, // blue and teal
		{"#2f5c9e", "#a9c7ec", Lighter, false, false, false},  // blue and its tint
		{"#b3402f", "#f4f2ee", Apart, false, true, false},     // red and white
		{"#b3402f", "#1c1c1e", Apart, false, false, true},     // red and black
		{"#f4f2ee", "#2f5c9e", Apart, false, true, false},     // a white warp makes a tint of the weft
		{"#8a8780", "#2f5c9e", Apart, false, false, false},    // grey is neither
		{"#1c1c1e", "#f4f2ee", Lighter, false, false, false},  // black and white
		{"#7a3b8c", "#d9c23a", Opposite, true, false, false},  // violet and yellow
	} {
		w := OverWarp([]colour.Lab{lab(tt.warp)}, lab(tt.weft), .5, wheel.Pigment)
		assert.Equal(t, tt.kin, w.Kin[0], "%s under %s", tt.warp, tt.weft)
		assert.Equal(t, []bool{tt.dulled, tt.tinted, tt.shaded}, []bool{len(w.Dulled) > 0, len(w.Tinted) > 0, len(w.Shaded) > 0}, "%s under %s", tt.warp, tt.weft)
	}
	assert.Equal(t, Solemn, OverWarp([]colour.Lab{lab("#26304a")}, lab("#1c1c1e"), .5, wheel.Pigment).Mood)
	assert.Equal(t, Soft, OverWarp([]colour.Lab{lab("#b9b09c")}, lab("#a9b4b0"), .5, wheel.Pigment).Mood)
	assert.Equal(t, Lively, OverWarp([]colour.Lab{lab("#d8502f")}, lab("#e0a020"), .5, wheel.Pigment).Mood)
}
