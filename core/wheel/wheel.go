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
	"strings"

	"lampfern/core/colour"
)

// Places is the number of named places on every wheel; each spans 30°.
const Places = 12

// Wheel maps places to OKLCh hues: monotone and piecewise linear between
// twelve anchors that start at yellow and run clockwise.
type Wheel struct {
	Key    string // short name used in addresses and settings
	Title  string // as the maker reads it
	number int
	names  [Places]string
	unroll [Places + 1]float64 // anchor hues in degrees, never rising or never falling
}

// Pigment is the painters' wheel of red, yellow and blue primaries. Its
// anchors are the typical hues of artists' pigments, good to about ±5°.
var Pigment = newWheel("pigment", "Painters' pigment wheel", 0,
	[Places]string{"yellow", "yellow-orange", "orange", "red-orange", "red", "red-violet",
		"violet", "blue-violet", "blue", "blue-green", "green", "yellow-green"},
	[Places]float64{97, 73, 52, 34, 23, 357, 305, 282, 260, 209, 154, 124}, -1)

// Process is the wheel of light and printing inks: cyan, magenta and yellow
// between red, green and blue. Its anchors are the OKLCh hues of the sRGB
// primaries, secondaries and the half-way colours between.
var Process = newWheel("process", "Process wheel of light and ink", 1,
	[Places]string{"yellow", "chartreuse", "green", "spring-green", "cyan", "azure",
		"blue", "violet", "magenta", "rose", "red", "orange"},
	[Places]float64{109.7692, 135.8924, 142.4953, 151.1848, 194.769, 256.099, 264.052, 293.9376, 328.3634, 2.4708, 29.2339, 52.9847}, 1)

// Perceptual is the wheel of even hue steps as they are seen, in OKLCh from
// the yellow of sRGB on, running the way the painters' wheel runs.
var Perceptual = newWheel("perceptual", "Perceptual wheel of even steps", 2,
	[Places]string{"yellow", "gold", "orange", "red", "rose", "purple",
		"violet", "blue", "azure", "turquoise", "sea-green", "leaf-green"},
	[Places]float64{110, 80, 50, 20, 350, 320, 290, 260, 230, 200, 170, 140}, -1)

// Wheels lists the wheels in the order they are offered; the first is the
// default.
func Wheels() []Wheel { return []Wheel{Pigment, Process, Perceptual} }

// Find returns the wheel of a key, Pigment when the key is empty. An unknown
// key is an error.
func Find(key string) (Wheel, error) {
	for _, w := range Wheels() {
		if w.Key == key || key == "" {
			return w, nil
		}
	}
	return Wheel{}, fmt.Errorf("there is no wheel called %q", key)
}

// Number is where the wheel stands in Wheels.
func (w Wheel) Number() int { return w.number }

// newWheel unrolls the anchors so that they run one way without a jump:
// falling for direction −1, rising for +1.
func newWheel(key, title string, number int, names [Places]string, hues [Places]float64, direction float64) Wheel {
	w := Wheel{Key: key, Title: title, number: number, names: names}
	w.unroll[0] = hues[0]
	for i := 1; i <= Places; i++ {
		next := hues[i%Places]
		for (next-w.unroll[i-1])*direction < 0 {
			next += 360 * direction
		}
		w.unroll[i] = next
	}
	return w
}

// Place returns where a colour's hue lies on the wheel, 0 up to 12. A grey has
// no place; ask Lab.Neutral first.
func (w Wheel) Place(c colour.OKLCh) float64 {
	h, low, high := c.H, w.unroll[0], w.unroll[Places]
	if low > high {
		low, high = high, low
	}
	for h >= high {
		h -= 360
	}
	for h < low {
		h += 360
	}
	for i := range Places {
		a, b := w.unroll[i], w.unroll[i+1]
		if t := (h - a) / (b - a); t >= 0 && t < 1 {
			return Turn(float64(i), t)
		}
	}
	return 0 // the very end is the beginning again
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

// School is a way of dividing warm from cool. The division goes by the
// painters' wheel, whichever wheel is turned.
type School struct {
	Key   string
	Words string
	from  float64 // where warm begins, clockwise, on the painters' wheel
	span  float64 // how many places it takes, 0 for a school that divides nothing
}

// Schools lists the ways of dividing; the first is the default. Each warm half
// has the half place either side of its outermost hues.
func Schools() []School {
	return []School{
		{"to-green", "warm from red to yellow-green", 10.5, 6},
		{"to-violet", "warm from red-violet to yellow", 11.5, 6},
		{"relative", "only by comparing two colours", 0, 0},
	}
}

// FindSchool returns the school of a key, the default when the key is empty.
// An unknown key is an error.
func FindSchool(key string) (School, error) {
	for _, s := range Schools() {
		if s.Key == key || key == "" {
			return s, nil
		}
	}
	return School{}, fmt.Errorf("there is no way to divide warm from cool called %q", key)
}

// Runs is where the warm half runs, such as from red round to yellow-green; empty where nothing is divided.
func (s School) Runs() string {
	if !s.Divides() {
		return ""
	}
	return strings.TrimPrefix(s.Words, "warm ")
}

// Divides reports whether the school calls colours warm or cool by themselves.
func (s School) Divides() bool { return s.span > 0 }

// Arc is the warm half on a wheel: the place where it begins, clockwise, and how
// many places it takes. A school that divides nothing has none.
func (s School) Arc(w Wheel) (from, span float64) {
	if !s.Divides() {
		return 0, 0
	}
	at := func(hue float64) float64 { return w.Place(colour.OKLCh{H: hue}) }
	a, b := at(Pigment.Hue(s.from)), at(Pigment.Hue(s.from+s.span))
	if Turn(at(colour.WarmPole), -a) > Turn(b, -a) { // the wheel runs the other way
		a, b = b, a
	}
	return a, Turn(b, -a)
}

// Temperature divides warm from cool; colours without a hue, and every colour
// in a school that divides nothing, are neutral.
func (s School) Temperature(c colour.Lab) Temperature {
	switch {
	case c.Neutral() || !s.Divides():
		return Neutral
	case Turn(Pigment.Place(c.OKLCh()), -s.from) < s.span:
		return Warm
	}
	return Cool
}

// Warmth orders colours by temperature: how near a hue lies to the warm pole,
// 1 at it and −1 opposite, weighed by how much hue the colour has. Greys are 0
// (the angle to the pole, as colour.Beside compares two).
func Warmth(c colour.Lab) float64 {
	if c.Neutral() {
		return 0
	}
	off := colour.HueBetween(c.OKLCh().H, colour.WarmPole) * math.Pi / 180
	return math.Cos(off) * math.Min(1, c.Chroma()/fullChroma)
}

// fullChroma is the C*ab from which a colour's warmth counts in full.
const fullChroma = 40.0

// SchemeInfo describes one scheme for a maker to choose.
type SchemeInfo struct {
	Name  string
	Words string // one line on what it does
	steps []float64
}

// Schemes lists every scheme in the order they are offered.
func Schemes() []SchemeInfo {
	return []SchemeInfo{
		{"achromatic", "black, greys and white, separated by value alone", nil},
		{"monochromatic", "one hue in tints, tones and shades", []float64{0}},
		{"analogous", "neighbours on the wheel: calm", []float64{-1, 0, 1}},
		{"complementary", "a hue and its opposite: each makes the other stronger", []float64{0, 6}},
		{"split complementary", "a hue and the two beside its opposite", []float64{0, 5, 7}},
		{"triadic", "three hues evenly spaced: playful", []float64{0, 4, 8}},
		{"square", "four hues evenly spaced: full", []float64{0, 3, 6, 9}},
		{"rectangle", "two pairs of opposites, two places apart", []float64{0, 2, 6, 8}},
		{"every other", "every second hue: three in all", []float64{0, 2, 4}},
		{"analogous with a complement", "neighbours, with their opposite as an accent", []float64{-1, 0, 1, 6}},
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
