// Package wheel holds the colour wheels, the places on them, the schemes that
// light several places at once, and the warm and cool halves.
//
// A place is a real number from 0 (yellow, at the top) up to 12, clockwise, so
// that "between red and red-orange" can be said. Which materials a maker owns,
// and how a wheel is drawn, are not known here.
package wheel

import (
	"fmt"
	"math"

	"lampfern/core/colour"
)

// Places is the number of named places on every wheel; each spans 30°.
const Places = 12

// Wheel maps places to OKLCh hues: monotone and piecewise linear between
// twelve anchors that start at yellow and run clockwise, hue falling.
type Wheel struct {
	names  [Places]string
	hues   [Places]float64 // anchor hues in degrees
	unroll [Places + 1]float64
}

// Pigment is the painters' wheel of red, yellow and blue primaries. Its
// anchors are the typical hues of artists' pigments, good to about ±5°.
var Pigment = newWheel(
	[Places]string{"yellow", "yellow-orange", "orange", "red-orange", "red", "red-violet",
		"violet", "blue-violet", "blue", "blue-green", "green", "yellow-green"},
	[Places]float64{97, 73, 52, 34, 23, 357, 305, 282, 260, 209, 154, 124})

func newWheel(names [Places]string, hues [Places]float64) Wheel {
	w := Wheel{names: names, hues: hues}
	w.unroll[0] = hues[0]
	for i := 1; i <= Places; i++ {
		next := hues[i%Places]
		for next > w.unroll[i-1] {
			next -= 360
		}
		w.unroll[i] = next
	}
	return w
}

// Place returns where a colour's hue lies on the wheel, 0 up to 12. A grey has
// no place; ask Lab.Neutral first.
func (w Wheel) Place(c colour.OKLCh) float64 {
	h := c.H
	for h > w.unroll[0] {
		h -= 360
	}
	for h <= w.unroll[Places] {
		h += 360
	}
	for i := range Places {
		if a, b := w.unroll[i], w.unroll[i+1]; h <= a && h > b {
			return Turn(float64(i), (a-h)/(a-b))
		}
	}
	return 0
}

// Hue returns the OKLCh hue at a place, 0 up to 360 degrees. Places outside
// 0–12 wrap.
func (w Wheel) Hue(place float64) float64 {
	p := Turn(place, 0)
	i := int(p)
	h := w.unroll[i] + (p-float64(i))*(w.unroll[i+1]-w.unroll[i])
	return math.Mod(math.Mod(h, 360)+360, 360)
}

// Name is the name of the place nearest to place.
func (w Wheel) Name(place float64) string {
	return w.names[int(math.Round(Turn(place, 0)))%Places]
}

// betweenFrom is how far from its nearest named place, in places, a colour
// must lie before it is said to lie between two.
const betweenFrom = 0.3

// Describe names a place, saying "between red and red-violet" when it lies
// well away from both.
func (w Wheel) Describe(place float64) string {
	p := Turn(place, 0)
	lower := math.Floor(p)
	if f := p - lower; f > betweenFrom && f < 1-betweenFrom {
		return "between " + w.Name(lower) + " and " + w.Name(lower+1)
	}
	return w.Name(p)
}

// Turn moves a place clockwise by steps and wraps it into 0 up to 12.
func Turn(place, steps float64) float64 {
	p := place + steps
	if p >= Places || p < -Places {
		p = math.Mod(p, Places)
	}
	if p < 0 {
		p += Places
	}
	if p >= Places { // −1e-17 wraps to 12 in floating point
		return 0
	}
	return p
}

// Apart is the unsigned distance of two places the short way round, 0 to 6.
func Apart(a, b float64) float64 {
	d := math.Abs(Turn(a, -b))
	return math.Min(d, Places-d)
}

// Temperature is the warm or cool half of a wheel, or neither.
type Temperature string

// The temperatures.
const (
	Warm    Temperature = "warm"
	Cool    Temperature = "cool"
	Neutral Temperature = "neutral"
)

// The default school: warm runs from yellow-green (11) clockwise through
// yellow to red (4), each with the half place either side.
const (
	warmFrom = 10.5
	warmSpan = 6.0
)

// Temperature divides warm from cool by the default school; colours without a
// hue are neutral.
func (w Wheel) Temperature(c colour.Lab) Temperature {
	if c.Neutral() {
		return Neutral
	}
	if Turn(w.Place(c.OKLCh()), -warmFrom) < warmSpan {
		return Warm
	}
	return Cool
}

// SchemeInfo describes one scheme for a maker to choose.
type SchemeInfo struct {
	Name  string
	Words string // one line on what it does
	steps []float64
}

// Schemes lists every scheme in the order they are offered.
func Schemes() []SchemeInfo {
	return []SchemeInfo{
		{"achromatic", "black, greys and white, told apart by value alone", nil},
		{"monochromatic", "one hue in tints, tones and shades", []float64{0}},
		{"analogous", "neighbours on the wheel: calm", []float64{-1, 0, 1}},
		{"complementary", "a hue and its opposite: each makes the other stronger", []float64{0, 6}},
		{"split complementary", "a hue and the two beside its opposite", []float64{0, 5, 7}},
		{"triadic", "three hues evenly spaced: playful", []float64{0, 4, 8}},
		{"square", "four hues evenly spaced: full", []float64{0, 3, 6, 9}},
		{"rectangle", "two pairs of opposites, two places apart", []float64{0, 2, 6, 8}},
		{"every other", "three hues with one place left out between", []float64{0, 2, 4}},
		{"analogous with a complement", "neighbours, with the opposite as a spark", []float64{-1, 0, 1, 6}},
		{"double complementary", "two neighbours and both their opposites", []float64{0, 1, 6, 7}},
	}
}

// Variant chooses among the forms some schemes have. The zero value is the
// usual form.
type Variant struct {
	Neighbours int  // analogous: 2 to 5 places; 0 means three
	OneSided   bool // analogous: from the lead clockwise, not centred on it
	Centred    bool // every other: the lead in the middle (−2, 0, 2), not at the end
	Wide       bool // rectangle: 0, 4, 6, 10 instead of 0, 2, 6, 8
}

// Scheme returns the places a scheme lights from the lead's place, lead first
// where it belongs to the scheme, in the scheme's usual form. Names are those
// of Schemes, lower case; an unknown name is an error. Every wheel has twelve
// places, so the wheel decides what the places mean and not where they are.
func Scheme(name string, lead float64, w Wheel) ([]float64, error) {
	return w.Scheme(name, lead, Variant{})
}

// Scheme is the package's Scheme with a choice of form.
func (w Wheel) Scheme(name string, lead float64, v Variant) ([]float64, error) {
	steps, err := schemeSteps(name, v)
	if err != nil {
		return nil, err
	}
	places := make([]float64, 0, len(steps))
	for _, s := range steps {
		places = append(places, Turn(lead, s))
	}
	return places, nil
}

func schemeSteps(name string, v Variant) ([]float64, error) {
	for _, s := range Schemes() {
		if s.Name != name {
			continue
		}
		switch {
		case name == "analogous":
			return neighbours(v)
		case name == "rectangle" && v.Wide:
			return []float64{0, 4, 6, 10}, nil
		case name == "every other" && v.Centred:
			return []float64{-2, 0, 2}, nil
		}
		return s.steps, nil
	}
	return nil, fmt.Errorf("there is no scheme called %q", name)
}

func neighbours(v Variant) ([]float64, error) {
	n := v.Neighbours
	if n == 0 {
		n = 3
	}
	if n < 2 || n > 5 {
		return nil, fmt.Errorf("an analogous scheme takes 2 to 5 neighbours, not %d", n)
	}
	first := 0.0
	if !v.OneSided {
		first = -math.Floor(float64(n-1) / 2)
	}
	var steps []float64
	for i := range n {
		steps = append(steps, first+float64(i))
	}
	return steps, nil
}
