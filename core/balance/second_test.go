package balance

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"lampfern/core/colour"
	"lampfern/core/wheel"
)

func TestSecondThreadsByEachSchool(t *testing.T) {
	first := colour.LCh{L: 45, C: 40, H: 250}.Lab()
	all := []colour.Lab{
		first,
		colour.LCh{L: 66, C: 34, H: 252}.Lab(), // lighter
		colour.LCh{L: 25, C: 30, H: 248}.Lab(), // darker
		colour.LCh{L: 46, C: 40, H: 251}.Lab(), // the same again
		colour.LCh{L: 48, C: 40, H: 205}.Lab(), // a neighbour
		colour.LCh{L: 50, C: 60, H: 60}.Lab(),  // opposite, and in the palette
		{L: 60},                                // grey
	}
	there := []bool{true, false, false, false, false, true, false}
	indices := func(s []Second) (out []int) {
		for _, x := range s {
			out = append(out, x.Colour)
		}
		return out
	}
	assert.Equal(t, []int{5}, indices(Seconds(Repeated, all, there, 0, .5, wheel.Pigment)))
	assert.ElementsMatch(t, []int{1, 2}, indices(Seconds(OtherLuma, all, there, 0, .5, wheel.Pigment)))
	assert.Equal(t, []int{4}, indices(Seconds(Neighbour, all, there, 0, .5, wheel.Pigment)))
	assert.Empty(t, Seconds(Neighbour, all, there, 6, .5, wheel.Pigment), "a grey has no neighbour")
}

func TestFaceOfTwoThreadsIsTheMeanOfTheirLight(t *testing.T) {
	white, black := colour.Lab{L: 100}, colour.Lab{}
	got := Seconds(Repeated, []colour.Lab{white, black}, []bool{true, true}, 0, .25, wheel.Pigment)
	// A quarter of the light: Y = 0.25 is L* 116·0.25^⅓ − 16 = 57.08.
	assert.InDelta(t, 57.08, got[0].Face.L, 0.01)
	// Half of a thread's width must be one minute's blur: 1000·tan(1′)/2 = 0.1454 mm a metre.
	assert.InDelta(t, 2.5/2/.14544, BlendsFrom(2.5), 0.01)
}

func TestSecondThreadsOfBothNeighbours(t *testing.T) {
	on := wheel.Pigment
	at := func(place, l float64) colour.Lab { return colour.OKLCh{L: l, C: .09, H: on.Hue(place)}.Lab() }
	// Of a blue: five violet neighbours nearer than the one green.
	all := []colour.Lab{at(8, .5), at(7, .5), at(7.05, .5), at(6.95, .5), at(7.1, .5), at(6.9, .5), at(9.4, .56)}
	got := Seconds(Neighbour, all, make([]bool, len(all)), 0, .5, on)
	assert.Equal(t, 6, got[1].Colour, "the other side comes second, however far it lies")
	assert.Equal(t, "blue-green", got[1].Toward)
	assert.Equal(t, "blue-violet", got[0].Toward)
	assert.Len(t, got, 6)
}
