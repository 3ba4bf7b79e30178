package balance

import (
	"encoding/json"
	"os"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/wheel"
)

func hexLab(t *testing.T, hex string) colour.Lab {
	c, err := colour.ParseHex(hex)
	require.NoError(t, err)
	return c.Lab()
}

func usual() Eye { return Eye{School: wheel.Schools()[0]} }

// Sixty pairs with what makers agree on, and why.
func TestSixtyPairs(t *testing.T) {
	data, err := os.ReadFile("testdata/pairs.json")
	require.NoError(t, err)
	var pairs []struct {
		A, B   string
		ShareA float64 `json:"share_a"`
		ShareB float64 `json:"share_b"`
		Touch  bool
		Want   Relation
		Why    string
	}
	require.NoError(t, json.Unmarshal(data, &pairs))
	require.GreaterOrEqual(t, len(pairs), 60)
	right := 0
	for _, p := range pairs {
		a, b := hexLab(t, p.A), hexLab(t, p.B)
		got, why := usual().Judge(a, b, p.ShareA, p.ShareB, p.Touch)
		back, _ := usual().Judge(b, a, p.ShareB, p.ShareA, p.Touch)
		assert.Equal(t, got, back, "%s: whichever is named first", p.Why)
		if got == p.Want {
			right++
		} else {
			t.Logf("%s: %q (%s) and not %q; %.1f places, %.0f L*, forces %.2f %.2f", p.Why, got, why, p.Want,
				wheel.Apart(place(a), place(b)), a.L-b.L, a.Force(), b.Force())
		}
	}
	t.Logf("%d of %d", right, len(pairs))
	assert.GreaterOrEqual(t, right, 57)
}

// clearAt is the strongest colour of a place at a lightness.
func clearAt(w wheel.Wheel, place, l float64) colour.Lab {
	level, hue := colour.Lab{L: l}.OKLCh().L, w.Hue(place)
	return colour.OKLCh{L: level, C: colour.MaxChroma(level, hue), H: hue}.Lab()
}

func TestOppositesNeverCompete(t *testing.T) {
	for _, w := range wheel.Wheels() {
		eye := usual()
		eye.Wheel = w
		for at := range 12 {
			for _, steps := range []float64{5, 6, 7} {
				for _, l := range []float64{35, 50, 65, 80} {
					a, b := clearAt(w, float64(at), l), clearAt(w, wheel.Turn(float64(at), steps), l)
					for _, touch := range []bool{true, false} {
						got, _ := eye.Judge(a, b, .5, .5, touch)
						assert.Contains(t, []Relation{Vibrates, Holds, Enlivens}, got, "%s %d and %g on, L* %g", w.Key, at, steps, l)
					}
				}
			}
		}
	}
}

func TestClearPrimariesByTheSchool(t *testing.T) {
	red, blue := hexLab(t, "#d02030"), hexLab(t, "#2050c8")
	judge := func(e Eye) Relation {
		r, _ := e.Judge(red, blue, .4, .4, true)
		return r
	}
	eye := usual()
	assert.Equal(t, Competes, judge(eye))
	eye.Lively = true
	assert.Equal(t, Enlivens, judge(eye))
	eye = usual()
	eye.Places = []float64{eye.place(red), eye.place(blue) + .4}
	assert.Equal(t, Enlivens, judge(eye), "both lie in the scheme that is asked for")
	eye.Places = []float64{eye.place(red)}
	assert.Equal(t, Competes, judge(eye))
	muted := func(hex string) colour.Lab { return hexLab(t, hex) }
	for _, p := range [][2]string{{"#6e7a3a", "#a0522d"}, {"#80852a", "#c06a2a"}, {"#5f6b3c", "#8a4a30"}} {
		r, _ := usual().Judge(muted(p[0]), muted(p[1]), .5, .5, true)
		assert.NotEqual(t, Competes, r, "muted greens and rusts never fight: %v", p)
	}
}

func TestWhatLiesBetweenBridges(t *testing.T) {
	red, blue := "#d02030", "#2050c8"
	violet := "#8a2878" // between the two in hue and value
	relation := func(l Layout, c ...string) Relation {
		for _, p := range Pairs(l, cards(t, c...), usual()) {
			if p.Lesser+p.Other == 1 {
				return p.Relation
			}
		}
		return ""
	}
	assert.Equal(t, Competes, relation(plain(.5, .5), red, blue))
	assert.Equal(t, Bridged, relation(plain(.4, .4, .2), red, blue, violet))
	assert.Equal(t, Competes, relation(plain(.4, .4, .2), red, blue, "#1f9e4c"), "a green lies not between them")
	assert.Equal(t, Competes, relation(plain(.4, .4, .2), red, blue, "#e8c8e8"), "nor does a pale one")
	apart := plain(.4, .4, .2)
	apart.Border[1][2], apart.Border[2][1] = 0, 0
	assert.Equal(t, Competes, relation(apart, red, blue, violet), "it touches one of the two only")
	// Companions: red, dark red, dark blue, blue in a row.
	row := Layout{Share: []float64{.3, .3, .2, .2}, Border: [][]float64{{0, 0, 9, 0}, {0, 0, 0, 9}, {9, 0, 0, 9}, {0, 9, 9, 0}}}
	assert.Equal(t, Bridged, relation(row, red, blue, "#6a0c16", "#102a70"))
	row.Border[0][1], row.Border[1][0] = 9, 9
	assert.Equal(t, Competes, relation(row, red, blue, "#6a0c16", "#102a70"), "the two mains touch")
}

func TestRemedies(t *testing.T) {
	eye := usual()
	for _, p := range [][2]string{{"#1f9e4c", "#e87818"}, {"#d02030", "#2050c8"}, {"#10a8a8", "#c81878"}, {"#1f9e4c", "#7a30b0"}} {
		a, b := hexLab(t, p[0]), hexLab(t, p[1])
		r, _ := eye.Judge(a, b, 0, 0, true)
		require.Equal(t, Competes, r, p)
		all := eye.Remedies(a, b)
		require.NotEmpty(t, all, p)
		assert.True(t, slices.IsSortedFunc(all, func(x, y Remedy) int {
			if x.Change < y.Change {
				return -1
			}
			return 1
		}), "the least change first")
		for _, m := range all {
			now, _ := eye.Judge(m.Colour, b, 0, 0, true)
			assert.NotContains(t, []Relation{Competes, Vibrates}, now, "%v %s", p, m.Words)
			assert.InDelta(t, m.Change, colour.DeltaE2000(a, m.Colour), 1e-9)
		}
		x, y, ok := eye.Both(a, b)
		require.True(t, ok, p)
		now, _ := eye.Judge(x.Colour, y.Colour, .5, .5, true)
		assert.Equal(t, Holds, now, "%v: %s and %s", p, x.Words, y.Words)
	}
	// Red is turned toward burnt orange and blue toward teal.
	x, y, _ := eye.Both(hexLab(t, "#d02030"), hexLab(t, "#2050c8"))
	assert.Equal(t, []string{"turned toward red-orange", "turned toward blue-green"}, []string{x.Words, y.Words})
}

func TestPairNotesNameThePairThatCarries(t *testing.T) {
	c := labs(t, "#a8481c", "#0f4f50", "#f4ecd8")
	cs := []Colour{{"1", "Rust", "walls", c[0], nil}, {"2", "Pool", "roof", c[1], nil}, {"3", "Milk", "frame", c[2], nil}}
	notes := PairNotes(plain(.4, .5, .1), cs, usual())
	require.Len(t, notes, 1)
	assert.Equal(t, "carries:1:2", notes[0].ID)
	assert.Equal(t, "Rust and Pool carry the piece: near opposites, both softened.", notes[0].About+notes[0].Words)
}
