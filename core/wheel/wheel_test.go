package wheel

import (
	"encoding/csv"
	"math"
	"os"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
)

func table(t *testing.T, file string) [][]string {
	f, err := os.Open("testdata/" + file)
	require.NoError(t, err)
	defer f.Close()
	all, err := csv.NewReader(f).ReadAll()
	require.NoError(t, err)
	require.NotEmpty(t, all)
	return all[1:]
}

// named are the wheels as the tables call them.
var named = map[string]Wheel{"artist": Pigment, "light": Process}

func f(t *testing.T, s string) float64 {
	v, err := strconv.ParseFloat(s, 64)
	require.NoError(t, err)
	return v
}

func TestAnchors(t *testing.T) {
	for _, r := range table(t, "hues.csv") {
		i, w := f(t, r[1]), named[r[0]]
		assert.InDelta(t, f(t, r[4]), w.Hue(i), 1e-9, r[3])
		assert.Equal(t, r[3], w.Name(i))
		assert.Equal(t, r[7], w.Name(i+6), "complement of "+r[3])
		assert.InDelta(t, 0, Apart(i, w.Place(colour.OKLCh{L: .6, C: .1, H: f(t, r[4])})), 1e-12)
	}
}

func TestHueMap(t *testing.T) {
	near := func(want string, got float64, about string) {
		d := math.Abs(colour.HueBetween(f(t, want), got))
		assert.LessOrEqual(t, d, 1e-6, about)
	}
	for _, r := range table(t, "hues_map.csv") {
		w := named[r[0]]
		p := w.Place(colour.OKLCh{L: .6, C: .1, H: f(t, r[1])})
		near(r[2], 30*p, "angle of "+r[1])
		if r[4] == "0" {
			assert.Equal(t, r[3], w.Name(p))
		}
		for col, steps := range map[int]float64{5: 6, 6: 1, 7: -1, 8: 4, 9: 8, 10: 5, 11: 7, 12: 3} {
			near(r[col], w.Hue(p+steps), "from "+r[1])
		}
	}
}

func TestPlaceAndHueRoundTrip(t *testing.T) {
	for _, w := range Wheels() {
		for p := -13.0; p < 30; p += 0.037 {
			got := w.Place(colour.OKLCh{L: .5, C: .1, H: w.Hue(p)})
			assert.InDelta(t, 0, Apart(p, got), 1e-9, w.Key)
			assert.GreaterOrEqual(t, got, 0.0)
			assert.Less(t, got, 12.0)
		}
		again, err := Find(w.Key)
		require.NoError(t, err)
		assert.Equal(t, w, again)
	}
	_, err := Find("rainbow")
	assert.ErrorContains(t, err, "no wheel called")
}

func names(t *testing.T, scheme string, lead float64, v Variant) []string {
	places, err := Pigment.Scheme(scheme, lead, v)
	require.NoError(t, err)
	out := []string{}
	for _, p := range places {
		out = append(out, Pigment.Name(p))
	}
	return out
}

func TestSchemesFromTheTable(t *testing.T) {
	cases := []struct {
		scheme string
		lead   float64
		v      Variant
		want   []string
	}{
		{"achromatic", 4, Variant{}, []string{}},
		{"monochromatic", 4, Variant{}, []string{"red"}},
		{"analogous", 4, Variant{}, []string{"red-orange", "red", "red-violet"}},
		{"analogous", 4, Variant{Neighbours: 2}, []string{"red", "red-violet"}},
		{"analogous", 0, Variant{Neighbours: 5}, []string{"green", "yellow-green", "yellow", "yellow-orange", "orange"}},
		{"analogous", 4, Variant{Neighbours: 4, OneSided: true}, []string{"red", "red-violet", "violet", "blue-violet"}},
		{"complementary", 0, Variant{}, []string{"yellow", "violet"}},
		{"complementary", 2, Variant{}, []string{"orange", "blue"}},
		{"complementary", 4, Variant{}, []string{"red", "green"}},
		{"complementary", 11, Variant{}, []string{"yellow-green", "red-violet"}},
		{"split complementary", 10, Variant{}, []string{"green", "red-orange", "red-violet"}},
		{"split complementary", 5, Variant{}, []string{"red-violet", "green", "yellow"}},
		{"triadic", 0, Variant{}, []string{"yellow", "red", "blue"}},
		{"square", 0, Variant{}, []string{"yellow", "red-orange", "violet", "blue-green"}},
		{"rectangle", 0, Variant{}, []string{"yellow", "orange", "violet", "blue"}},
		{"rectangle", 0, Variant{Wide: true}, []string{"yellow", "red", "violet", "green"}},
		{"every other", 0, Variant{}, []string{"yellow", "orange", "red"}},
		{"every other", 0, Variant{Centred: true}, []string{"green", "yellow", "orange"}},
		{"analogous with a complement", 8, Variant{}, []string{"blue-violet", "blue", "blue-green", "orange"}},
		{"double complementary", 0, Variant{}, []string{"yellow", "yellow-orange", "violet", "blue-violet"}},
	}
	seen := map[string]bool{}
	for _, c := range cases {
		seen[c.scheme] = true
		assert.Equal(t, c.want, names(t, c.scheme, c.lead, c.v), c.scheme)
	}
	assert.Len(t, seen, len(Schemes()), "every scheme of the table is tried")
}

func TestEverySchemeRotatesExactly(t *testing.T) {
	for _, s := range Schemes() {
		base, err := Scheme(s.Name, 0, Pigment)
		require.NoError(t, err)
		for lead := 0.0; lead < 12; lead += 0.25 {
			turned, err := Scheme(s.Name, lead, Pigment)
			require.NoError(t, err)
			for i := range base {
				assert.InDelta(t, 0, Apart(turned[i], base[i]+lead), 1e-12, s.Name)
			}
		}
	}
}

func TestBadSchemes(t *testing.T) {
	_, err := Scheme("Triadic please", 0, Pigment)
	assert.ErrorContains(t, err, "no scheme called")
	_, err = Pigment.Scheme("analogous", 0, Variant{Neighbours: 6})
	assert.ErrorContains(t, err, "2 to 5")
}

func TestDescribeAndTemperature(t *testing.T) {
	assert.Equal(t, "between red-orange and red", Pigment.Describe(3.5))
	assert.Equal(t, "red", Pigment.Describe(4.2))
	assert.Equal(t, "between yellow-green and yellow", Pigment.Describe(11.5))
	at := func(place float64) colour.Lab { return colour.OKLCh{L: .6, C: .1, H: Pigment.Hue(place)}.Lab() }
	toGreen, err := FindSchool("")
	require.NoError(t, err)
	for place, want := range map[float64]Temperature{0: Warm, 4: Warm, 11: Warm, 5: Cool, 6: Cool, 8: Cool, 10: Cool} {
		assert.Equal(t, want, toGreen.Temperature(at(place)), Pigment.Name(place))
	}
	toViolet, err := FindSchool("to-violet")
	require.NoError(t, err)
	for place, want := range map[float64]Temperature{0: Warm, 5: Warm, 4: Warm, 11: Cool, 6: Cool} {
		assert.Equal(t, want, toViolet.Temperature(at(place)), Pigment.Name(place))
	}
	relative, err := FindSchool("relative")
	require.NoError(t, err)
	assert.False(t, relative.Divides())
	assert.Equal(t, Neutral, relative.Temperature(at(3)))
	assert.Equal(t, Neutral, toGreen.Temperature(colour.Lab{L: 50}))
	_, err = FindSchool("tepid")
	assert.ErrorContains(t, err, "called \"tepid\"")
	assert.Greater(t, Warmth(at(2)), Warmth(at(4)))
	assert.Greater(t, Warmth(at(5)), Warmth(colour.Lab{L: 50}))
	assert.Less(t, Warmth(at(8)), Warmth(colour.Lab{L: 50}))
}

// evenly are hues that weigh the same.
func evenly(places ...float64) (out []Hue) {
	for _, p := range places {
		out = append(out, Hue{p, 1})
	}
	return out
}

func TestRecognise(t *testing.T) {
	for _, c := range []struct {
		places  []float64
		scheme  string
		missing int
		outside int
	}{
		{[]float64{3}, "monochromatic", 0, 0},
		{[]float64{3, 3.2, 2.9}, "monochromatic", 0, 0},
		{[]float64{0.1, 1, 1.9}, "analogous", 0, 0},
		{[]float64{2, 8.2}, "complementary", 0, 0},
		{[]float64{1, 6.1, 8, 1.1}, "split complementary", 0, 0},
		{[]float64{0.2, 4, 8.1}, "triadic", 0, 0},
		{[]float64{4, 8}, "triadic", 1, 0},
		{[]float64{0, 3, 6, 9}, "square", 0, 0},
		{[]float64{0, 2, 6, 8}, "rectangle", 0, 0},
		{[]float64{0, 4, 6, 10}, "rectangle", 0, 0},
		{[]float64{5, 7, 9}, "every other", 0, 0},
		{[]float64{0, 1, 2, 7}, "analogous with a complement", 0, 0},
		{[]float64{11, 0, 5, 6}, "double complementary", 0, 0},
		{[]float64{0, 6, 7}, "analogous with a complement", 1, 0},
	} {
		l, ok := Recognise(evenly(c.places...))
		assert.True(t, ok)
		assert.Equal(t, c.scheme, l.Scheme, "%v", c.places)
		assert.Len(t, l.Missing, c.missing, "%v", c.places)
		assert.Len(t, l.Outside, c.outside, "%v", c.places)
	}
	l, _ := Recognise(evenly(4, 8))
	assert.InDelta(t, 0, Apart(0, l.Missing[0]), 1e-9, "yellow would complete red and blue")
	_, ok := Recognise(nil)
	assert.False(t, ok)
	l, _ = Recognise(evenly(0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11))
	assert.NotEmpty(t, l.Outside, "twelve hues all round make no scheme")
}

func TestTheWarmHalfOnEveryWheel(t *testing.T) {
	for _, w := range Wheels() {
		for _, s := range Schools()[:2] {
			from, span := s.Arc(w)
			for p := 0.05; p < Places; p += 0.1 {
				warm := Turn(p, -from) < span
				lab := colour.OKLCh{L: .6, C: .1, H: w.Hue(p)}.Lab()
				// The edges are exact in hue; Lab and back moves it by less than 1e-6.
				assert.Equal(t, s.Temperature(lab) == Warm, warm, "%s, %s, place %.2f", w.Key, s.Key, p)
			}
		}
		_, span := Schools()[2].Arc(w)
		assert.Zero(t, span)
	}
}

func TestRecogniseFindsWhatWasLaid(t *testing.T) {
	for _, s := range Schemes() {
		for _, lead := range []float64{0, 3.4, 7, 11.6} {
			places, err := Pigment.Scheme(s.Name, lead, Variant{})
			require.NoError(t, err)
			got, ok := Recognise(evenly(places...))
			if len(places) == 0 {
				assert.False(t, ok)
				continue
			}
			assert.Equal(t, s.Name, got.Scheme, "from %g", lead)
			assert.Empty(t, got.Missing)
			assert.Empty(t, got.Outside)
			assert.InDelta(t, 0, got.Off, 1e-9)
			back, err := Pigment.Scheme(got.Scheme, got.Lead, got.Variant)
			require.NoError(t, err)
			for _, p := range places {
				near := Apart(p, back[0])
				for _, b := range back {
					near = math.Min(near, Apart(p, b))
				}
				assert.InDelta(t, 0, near, 1e-9, "%s from %g", s.Name, lead)
			}
		}
	}
}

func TestRecogniseWhatIsNearly(t *testing.T) {
	got, _ := Recognise(evenly(0.2, 3.8, 8.1))
	assert.Equal(t, "triadic", got.Scheme)
	assert.InDelta(t, 0.16, got.Off, 0.02)
	got, _ = Recognise(evenly(0, 4))
	assert.Equal(t, "triadic", got.Scheme, "two of three")
	require.Len(t, got.Missing, 1)
	assert.InDelta(t, 8, got.Missing[0], 1e-9)
	got, _ = Recognise(evenly(0, 4, 8, 2.2))
	assert.Equal(t, "triadic", got.Scheme)
	assert.Equal(t, []int{3}, got.Outside, "one card belongs to no place")
	got, ok := Recognise(evenly(2, 2.2))
	assert.True(t, ok)
	assert.Equal(t, "monochromatic", got.Scheme)
	var twelve []float64
	for p := range Places {
		twelve = append(twelve, float64(p))
	}
	got, ok = Recognise(evenly(twelve...))
	assert.True(t, ok)
	assert.NotEmpty(t, got.Outside, "all round the wheel is no scheme")
}
