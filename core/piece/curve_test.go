package piece_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	. "lampfern/core/piece"
)

// Twelve places on a circle of 50 mm: the outline through them has the circle's area within 1 %.
func TestASmoothOutlineGoesThroughItsPlaces(t *testing.T) {
	var places []Point
	for i := range 12 {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / 12)
		places = append(places, At(100+50*cos, 100+50*sin))
	}
	out := Smooth(places)
	assert.InEpsilon(t, math.Pi*2500, Region{Outline: out}.Area(), .01)
	for i, p := range places {
		assert.InDelta(t, p.X, out[12*i].X, 1e-9)
		assert.InDelta(t, p.Y, out[12*i].Y, 1e-9)
	}
	assert.Len(t, Smooth(places[:2]), 2)
}

func TestALineIsAsWideAsItIs(t *testing.T) {
	straight := Region{Outline: Stroke([]Point{At(10, 10), At(110, 10)}, 2)}
	assert.InDelta(t, 200, straight.Area(), 1e-9)
	// An angle of two sides of 100 mm: two bands, of which the corner is one square shared.
	angle := Region{Outline: Stroke([]Point{At(0, 0), At(100, 0), At(100, 100)}, 4)}
	assert.InDelta(t, 800, angle.Area(), 1e-9)
	assert.Nil(t, Stroke([]Point{At(5, 5), At(5, 5)}, 2))
}
