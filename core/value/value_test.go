package value

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"lampfern/core/colour"
)

func greys(ls ...float64) []colour.Lab {
	var c []colour.Lab
	for _, l := range ls {
		c = append(c, colour.Lab{L: l})
	}
	return c
}

func TestRead(t *testing.T) {
	s := Read(greys(90, 12, 40, 41))
	assert.Equal(t, []int{1, 2, 3, 0}, s.Order)
	assert.Equal(t, [][2]int{{2, 3}}, s.Crowds)
	assert.Equal(t, [2]int{3, 0}, s.Jump)
	assert.Equal(t, 49.0, s.JumpBy)
	assert.True(t, s.Uneven)
	assert.False(t, s.Flat())

	even := Read(greys(10, 30, 50, 70))
	assert.False(t, even.Uneven)
	assert.Empty(t, even.Crowds)
	assert.True(t, Read(greys(40, 50, 60)).Flat())
}

func TestTooFewToCompare(t *testing.T) {
	for _, c := range [][]colour.Lab{nil, greys(50)} {
		s := Read(c)
		assert.True(t, s.Outside)
		assert.False(t, s.Flat())
		assert.Len(t, s.Order, len(c))
	}
}
