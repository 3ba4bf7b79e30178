package colour

import (
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// curve reads a reflectance curve of the reference table.
func curve(t *testing.T, r map[string]string) (nm, refl []float64) {
	for w := 380; w <= 730; w += 10 {
		nm = append(nm, float64(w))
		refl = append(refl, num(t, r["R"+strconv.Itoa(w)]))
	}
	return nm, refl
}

func TestReflectanceReducesToTheColourItWasMadeFrom(t *testing.T) {
	for _, r := range rows(t, "reflect.csv") {
		nm, refl := curve(t, r)
		got, err := FromReflectance(nm, refl)
		require.NoError(t, err)
		assert.Less(t, DeltaE2000(got, hex(t, r["hex"]).Lab()), 0.05, r["hex"])
	}
	white, err := FromReflectance([]float64{400, 420, 440, 460, 480, 500, 520, 540, 560, 580, 600, 620, 640, 660, 680, 700},
		[]float64{1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1})
	require.NoError(t, err)
	assert.InDelta(t, 100, white.L, 1e-9)
	assert.InDelta(t, 0, white.Chroma(), 1e-9)
}

func TestSpectraThatCannotBeReduced(t *testing.T) {
	ramp := func(from, to, step float64) (nm, r []float64) {
		for w := from; w <= to; w += step {
			nm, r = append(nm, w), append(r, 0.5)
		}
		return nm, r
	}
	for _, c := range []struct {
		from, to, step float64
		want           string
	}{{450, 730, 10, "from 420 to 680"}, {400, 600, 10, "from 420 to 680"}, {400, 700, 50, "20 nm apart"}, {400, 400, 10, "fewer than two"}} {
		nm, r := ramp(c.from, c.to, c.step)
		_, err := FromReflectance(nm, r)
		assert.ErrorContains(t, err, c.want)
	}
	nm, r := ramp(400, 700, 10)
	r[3] = 55
	_, err := FromReflectance(nm, r)
	assert.ErrorContains(t, err, "not from 0 to 1")
}

func TestD50AsTheTableHasIt(t *testing.T) {
	for _, r := range rows(t, "convert.csv") {
		want := Lab{num(t, r["lab50_L"]), num(t, r["lab50_a"]), num(t, r["lab50_b"])}
		got := hex(t, r["hex"]).Lab().D50()
		assert.InDelta(t, want.L, got.L, 2e-4)
		assert.InDelta(t, want.A, got.A, 2e-4)
		assert.InDelta(t, want.B, got.B, 2e-4)
		back := FromD50(got)
		assert.InDelta(t, 0, DeltaE2000(back, hex(t, r["hex"]).Lab()), 1e-6)
	}
}

func TestReconstructedReflectances(t *testing.T) {
	for _, r := range rows(t, "reflect.csv") {
		_, want := curve(t, r)
		got := Reflectance(hex(t, r["hex"]))
		for i, w := range want {
			assert.InDelta(t, w, got[i], 1e-5, "%s band %d", r["hex"], i)
		}
	}
}

func TestFilmVectors(t *testing.T) {
	for _, r := range rows(t, "film.csv") {
		c := hex(t, r["hex_1layer_target"])
		for col, at := range map[string]struct {
			n     int
			paper float64
		}{"w1": {1, 0.9}, "w2": {2, 0.9}, "w3": {3, 0.9}, "g1": {1, 0.184186519}, "g2": {2, 0.184186519}} {
			got := Film(c, at.n, at.paper)
			assert.InDelta(t, num(t, r[col+"_X"]), got.X, 1e-5, "%s %s", r["hex_1layer_target"], col)
			assert.InDelta(t, num(t, r[col+"_Y"]), got.Y, 1e-5)
			assert.InDelta(t, num(t, r[col+"_Z"]), got.Z, 1e-5)
		}
	}
}
