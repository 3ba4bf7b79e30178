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
	var pigment [][]string
	for _, r := range all {
		if r[0] == "artist" {
			pigment = append(pigment, r)
		}
	}
	require.NotEmpty(t, pigment)
	return pigment
}

func f(t *testing.T, s string) float64 {
	v, err := strconv.ParseFloat(s, 64)
	require.NoError(t, err)
	return v
}

func TestAnchors(t *testing.T) {
	for _, r := range table(t, "hues.csv") {
		i := f(t, r[1])
		assert.Equal(t, f(t, r[4]), Pigment.Hue(i), r[3])
		assert.Equal(t, r[3], Pigment.Name(i))
		assert.Equal(t, r[7], Pigment.Name(i+6), "complement of "+r[3])
		assert.InDelta(t, 0, Apart(i, Pigment.Place(colour.OKLCh{L: .6, C: .1, H: f(t, r[4])})), 1e-12)
	}
}

func TestHueMap(t *testing.T) {
	near := func(want string, got float64, about string) {
		d := math.Abs(colour.HueBetween(f(t, want), got))
		assert.LessOrEqual(t, d, 1e-6, about)
	}
	for _, r := range table(t, "hues_map.csv") {
		p := Pigment.Place(colour.OKLCh{L: .6, C: .1, H: f(t, r[1])})
		near(r[2], 30*p, "angle of "+r[1])
		if r[4] == "0" {
			assert.Equal(t, r[3], Pigment.Name(p))
		}
		for col, steps := range map[int]float64{5: 6, 6: 1, 7: -1, 8: 4, 9: 8, 10: 5, 11: 7, 12: 3} {
			near(r[col], Pigment.Hue(p+steps), "from "+r[1])
		}
	}
}

func TestPlaceAndHueRoundTrip(t *testing.T) {
	for p := -13.0; p < 30; p += 0.037 {
		got := Pigment.Place(colour.OKLCh{L: .5, C: .1, H: Pigment.Hue(p)})
		assert.InDelta(t, 0, Apart(p, got), 1e-9)
		assert.GreaterOrEqual(t, got, 0.0)
		assert.Less(t, got, 12.0)
	}
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
	for place, want := range map[float64]Temperature{0: Warm, 4: Warm, 11: Warm, 5: Cool, 6: Cool, 8: Cool, 10: Cool} {
		c := colour.OKLCh{L: .6, C: .1, H: Pigment.Hue(place)}.Lab()
		assert.Equal(t, want, Pigment.Temperature(c), Pigment.Name(place))
	}
	assert.Equal(t, Neutral, Pigment.Temperature(colour.Lab{L: 50}))
}
