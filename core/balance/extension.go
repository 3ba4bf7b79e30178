package balance

import (
	"math"

	"lampfern/core/colour"
	"lampfern/core/wheel"
)

// lightValues are the forces of pure hues at every second place of the
// painters' wheel, from yellow: yellow 9, orange 8, red 6, violet 3, blue 4,
// green 6, after Goethe's light values (Zur Farbenlehre, 1810).
var lightValues = [wheel.Places / 2]float64{9, 8, 6, 3, 4, 6}

// Extent is one colour's share beside the share that would make all equally
// forceful.
type Extent struct {
	Colour           int // by index
	Actual, Balanced float64
}

// Extension compares shares with the ones at which every colour with a hue
// would weigh the same: in inverse ratio to light value times force.
// Shares are of the coloured area alone. Neutrals take no part; fewer than two
// colours with a hue have nothing to weigh and give nil.
func Extension(l Layout, c []colour.Lab) []Extent {
	var out []Extent
	actual, balanced := 0.0, 0.0
	for i := range c {
		if l.Share[i] == 0 || c[i].Neutral() {
			continue
		}
		e := Extent{Colour: i, Actual: l.Share[i], Balanced: 1 / (LightValue(c[i]) * math.Max(c[i].Force(), 0.05))}
		actual, balanced = actual+e.Actual, balanced+e.Balanced
		out = append(out, e)
	}
	if len(out) < 2 {
		return nil
	}
	for i := range out {
		out[i].Actual /= actual
		out[i].Balanced /= balanced
	}
	return out
}

// LightValue is the force of the colour's hue, 3 to 9, between named hues in
// proportion to the way round the painters' wheel.
func LightValue(c colour.Lab) float64 {
	p := wheel.Turn(place(c), 0) / 2
	i, n := int(p), len(lightValues)
	f := p - float64(i)
	return (1-f)*lightValues[i%n] + f*lightValues[(i+1)%n]
}
