package balance

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"lampfern/core/colour"
)

func TestOneWeftOverAWarp(t *testing.T) {
	lab := func(hex string) colour.Lab {
		c, err := colour.ParseHex(hex)
		assert.NoError(t, err)
		return c.Lab()
	}
	red, green, sand, straw := lab("#b3402f"), lab("#2f7d46"), lab("#d8c08a"), lab("#c9a86a")
	w := OverWarp([]colour.Lab{red, green, sand}, green, .5)
	assert.Equal(t, 1, w.Own)
	assert.Equal(t, []int{0}, w.Dulled, "green over red goes brown, over itself and over sand it does not")
	assert.Empty(t, w.Tied)
	assert.InDelta(t, 0, colour.DeltaE2000(green, w.Faces[1]), 1e-9)
	// By hand: half of each light, so that Y is the mean of both.
	assert.InDelta(t, (red.XYZ().Y+green.XYZ().Y)/2, w.Faces[0].XYZ().Y, 1e-9)

	near := colour.Lab{L: sand.L - 15, A: sand.A, B: sand.B}
	tied := OverWarp([]colour.Lab{sand, near, red}, straw, .3)
	assert.Equal(t, [][2]int{{0, 1}}, tied.Tied, "where most of the face is weft, stripes run together")
	assert.Equal(t, -1, tied.Own)
}
