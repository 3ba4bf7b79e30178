package pour

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func shares(face []int16) map[int16]float64 {
	out := map[int16]float64{}
	for _, c := range face {
		out[c] += 1 / float64(len(face))
	}
	return out
}

func TestEveryMethodKeepsTheShares(t *testing.T) {
	pours, err := Parse("4A 2B@30 1C@70")
	require.NoError(t, err)
	for m := range Methods() {
		still, most := map[int16]float64{}, 0.0
		for bar := range 6 {
			for c, s := range shares(Face(Method(m), pours, 5, 0, bar, 6, 70, 90)) {
				still[c] += s / 6
				if c == 2 {
					most = max(most, s)
				}
			}
		}
		for c, want := range map[int16]float64{0: 4. / 7, 1: 2. / 7, 2: 1. / 7} {
			assert.InDelta(t, want, still[c], 2.0/(70*90), "%s, the loaf before it folds", Methods()[m])
		}
		assert.Greater(t, most, 1./7+.002, "%s: some bar has more of the least", Methods()[m])
		alone := shares(Face(Method(m), pours, 5, 0, 0, 1, 70, 90))
		assert.InDelta(t, 1./7, alone[2], 2.0/(70*90), "one bar has it all")
		var mean [3]float64
		for bar := range 6 {
			for c, s := range shares(Face(Method(m), pours, 5, .6, bar, 6, 70, 90)) {
				mean[c] += s / 6
			}
		}
		assert.InDeltaSlice(t, []float64{4. / 7, 2. / 7, 1. / 7}, mean[:], .015, "%s, folded", Methods()[m])
	}
}

func TestTheSeedMakesTheLoaf(t *testing.T) {
	pours, err := Parse("3A 2B")
	require.NoError(t, err)
	face := func(seed uint64, bar int) []int16 { return Face(Funnel, pours, seed, .5, bar, 8, 60, 80) }
	assert.Equal(t, face(3, 2), face(3, 2))
	assert.NotEqual(t, face(3, 2), face(4, 2))
	differ := func(a, b []int16) (n int) {
		for i := range a {
			if a[i] != b[i] {
				n++
			}
		}
		return n
	}
	near, far := differ(face(3, 2), face(3, 3)), differ(face(3, 0), face(3, 7))
	assert.NotZero(t, near, "no two bars are alike")
	assert.Less(t, near, far, "but neighbours more than the ends of the loaf")
}

func TestWhereItIsPoured(t *testing.T) {
	layers := Face(Layers, []Pour{{0, 1, .5}, {1, 1, .5}}, 1, 0, 0, 1, 40, 40)
	assert.EqualValues(t, 1, layers[20], "the last pour lies on top")
	assert.EqualValues(t, 0, layers[39*40+20])
	left := Face(Drops, []Pour{{0, 6, .5}, {1, 1, .2}}, 1, 0, 0, 1, 40, 40)
	sum, n := 0.0, 0.0
	for i, c := range left {
		if c == 1 {
			sum, n = sum+float64(i%40), n+1
		}
	}
	assert.Less(t, sum/n, 14.0, "a drop at the left stays there")
}

func TestPoursThatCannotBe(t *testing.T) {
	for text, words := range map[string]string{
		"": "from 1 to 16 pours", "A": "is not a pour", "0A": "more than 0", "-1A": "more than 0", "4Z": "is not a pour", "4A@120": "has no place",
		"4A@x": "has no place", "@": "is not a pour", "NaNA": "is not possible",
	} {
		_, err := Parse(text)
		assert.ErrorContains(t, err, words, text)
	}
	got, err := Parse("4a, 2.5B@30")
	require.NoError(t, err)
	assert.Equal(t, "4A 2.5B@30", Text(got))
}

func FuzzParse(f *testing.F) {
	f.Add("4A 2B@30")
	f.Fuzz(func(t *testing.T, text string) {
		if pours, err := Parse(text); err == nil {
			require.NoError(t, Check(pours))
		}
	})
}

func BenchmarkFace(b *testing.B) {
	pours, _ := Parse("4A 2B@30 1C@70")
	for b.Loop() {
		Face(Funnel, pours, 1, .5, 3, 8, 90, 114)
	}
}
