package colour

import (
	"encoding/csv"
	"image/color"
	"math"
	"math/rand/v2"
	"os"
	"strconv"
	"strings"
	"testing"

	"github.com/lucasb-eyer/go-colorful"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// rows reads a reference table as one map a line.
func rows(t testing.TB, file string) []map[string]string {
	t.Helper()
	f, err := os.Open("testdata/" + file)
	require.NoError(t, err)
	defer f.Close()
	all, err := csv.NewReader(f).ReadAll()
	require.NoError(t, err)
	require.Greater(t, len(all), 5, "an empty table would test nothing")
	var out []map[string]string
	for _, line := range all[1:] {
		m := map[string]string{}
		for i, h := range all[0] {
			m[h] = line[i]
		}
		out = append(out, m)
	}
	return out
}

func num(t testing.TB, s string) float64 {
	t.Helper()
	v, err := strconv.ParseFloat(s, 64)
	require.NoError(t, err)
	return v
}

func hex(t testing.TB, s string) RGB {
	t.Helper()
	c, err := ParseHex(s)
	require.NoError(t, err)
	return c
}

// nearHex allows each channel to be one step off.
func nearHex(t *testing.T, want, got string, about string) {
	t.Helper()
	for i := 1; i < 7; i += 2 {
		a, _ := strconv.ParseInt(want[i:i+2], 16, 32)
		b, _ := strconv.ParseInt(got[i:i+2], 16, 32)
		assert.InDelta(t, a, b, 1, "%s: want %s, got %s", about, want, got)
	}
}

func TestConvertVectors(t *testing.T) {
	for _, r := range rows(t, "convert.csv") {
		n := func(k string) float64 { return num(t, r[k]) }
		c := hex(t, r["hex"])
		assert.Equal(t, r["hex"], c.Hex())
		lr, lg, lb := c.Linear()
		assert.InDeltaSlice(t, []float64{n("lin_r"), n("lin_g"), n("lin_b")}, []float64{lr, lg, lb}, 1e-6, r["hex"])
		x := c.XYZ()
		assert.InDeltaSlice(t, []float64{n("X"), n("Y"), n("Z")}, []float64{x.X, x.Y, x.Z}, 1e-6, r["hex"])
		lab := c.Lab()
		assert.InDeltaSlice(t, []float64{n("lab65_L"), n("lab65_a"), n("lab65_b")}, []float64{lab.L, lab.A, lab.B}, 1e-4, r["hex"])
		l50 := Adapt(x, WhiteD65, WhiteD50).Lab(WhiteD50)
		assert.InDeltaSlice(t, []float64{n("lab50_L"), n("lab50_a"), n("lab50_b")}, []float64{l50.L, l50.A, l50.B}, 2e-4, r["hex"])
		ok := c.OKLab()
		assert.InDeltaSlice(t, []float64{n("oklab_L"), n("oklab_a"), n("oklab_b")}, []float64{ok.L, ok.A, ok.B}, 1e-6, r["hex"])
		lch, oklch := lab.LCh(), c.OKLCh()
		assert.InDelta(t, n("lch65_C"), lch.C, 1e-4)
		assert.InDelta(t, n("oklch_C"), oklch.C, 1e-6)
		if r["lch65_h"] != "" {
			assert.LessOrEqual(t, lch.C*math.Abs(HueBetween(n("lch65_h"), lch.H))*math.Pi/180, 1e-4, r["hex"])
			assert.LessOrEqual(t, oklch.C*math.Abs(HueBetween(n("oklch_h"), oklch.H))*math.Pi/180, 1e-6, r["hex"])
		}
		back, in := lab.RGB()
		assert.True(t, in, r["hex"])
		assert.Equal(t, r["hex"], back.Hex())
		viaOK, in := oklch.RGB()
		assert.True(t, in, r["hex"])
		assert.Equal(t, r["hex"], viaOK.Hex())
	}
}

func TestDifferenceVectors(t *testing.T) {
	for _, r := range rows(t, "difference.csv") {
		n := func(k string) float64 { return num(t, r[k]) }
		a, b := Lab{n("L1"), n("a1"), n("b1")}, Lab{n("L2"), n("a2"), n("b2")}
		got := DeltaE2000(a, b)
		assert.InDelta(t, n("ciede2000"), got, 1e-6, r["id"])
		if r["published_4dp"] != "" {
			assert.InDelta(t, n("published_4dp"), got, 5.1e-5, r["id"])
		}
	}
}

func TestDeltaE2000EqualsTextbookForm(t *testing.T) {
	rnd := rand.New(rand.NewPCG(1, 2))
	pick := func() Lab {
		return Lab{100 * rnd.Float64(), 200*rnd.Float64() - 100, 200*rnd.Float64() - 100}
	}
	for range 20000 {
		a, b := pick(), pick()
		assert.Zero(t, DeltaE2000(a, a))
		assert.InDelta(t, reference2000(a, b), DeltaE2000(a, b), 1e-9)
		assert.InDelta(t, DeltaE2000(a, b), DeltaE2000(b, a), 1e-9)
	}
}

func TestDeltaE2000EqualsIndependentLibrary(t *testing.T) {
	rnd := rand.New(rand.NewPCG(5, 6))
	pick := func() colorful.Color {
		return colorful.Color{R: rnd.Float64(), G: rnd.Float64(), B: rnd.Float64()}
	}
	lab := func(c colorful.Color) Lab {
		l, a, b := c.Lab()
		return Lab{100 * l, 100 * a, 100 * b}
	}
	for range 5000 {
		a, b := pick(), pick()
		assert.InDelta(t, 100*a.DistanceCIEDE2000(b), DeltaE2000(lab(a), lab(b)), 1e-9)
	}
}

func TestGamutVectors(t *testing.T) {
	for _, r := range rows(t, "gamut.csv") {
		n := func(k string) float64 { return num(t, r[k]) }
		got, in := OKLCh{n("in_L"), n("in_C"), n("in_h")}.RGB()
		about := strings.Join([]string{r["in_L"], r["in_C"], r["in_h"]}, " ")
		assert.False(t, in, about)
		assert.InDeltaSlice(t, []float64{n("r"), n("g"), n("b")}, []float64{got.R, got.G, got.B}, 1e-3, about)
		nearHex(t, r["hex"], got.Hex(), about)
	}
}

func TestVisionVectors(t *testing.T) {
	kinds := map[string]Deficiency{"protan": Protan, "deutan": Deutan, "tritan": Tritan}
	for _, r := range rows(t, "cvd.csv") {
		n := func(k string) float64 { return num(t, r[k]) }
		got := Simulate(hex(t, r["hex"]), kinds[r["type"]], n("severity"))
		lr, lg, lb := got.Linear()
		assert.InDeltaSlice(t, []float64{clamp01(n("lin_r")), clamp01(n("lin_g")), clamp01(n("lin_b"))}, []float64{lr, lg, lb}, 1e-6, r["hex"])
		nearHex(t, r["hex_linear"], got.Hex(), r["hex"]+r["type"])
	}
	c := hex(t, "#4b2346")
	assert.Equal(t, c.Hex(), Simulate(c, Deutan, 0).Hex())
	assert.Equal(t, Simulate(c, Deutan, 1).Hex(), Simulate(c, Deutan, 7).Hex(), "severity is clamped")
}

func TestAdaptVectors(t *testing.T) {
	for _, r := range rows(t, "adapt.csv") {
		n := func(k string) float64 { return num(t, r[k]) }
		got := Adapt(XYZ{n("X_in"), n("Y_in"), n("Z_in")},
			XYZ{n("Xws"), n("Yws"), n("Zws")}, XYZ{n("Xwd"), n("Ywd"), n("Zwd")})
		assert.InDeltaSlice(t, []float64{n("X_out"), n("Y_out"), n("Z_out")}, []float64{got.X, got.Y, got.Z}, 1e-7, r["pair"])
	}
	ours := map[string]XYZ{"D65": WhiteD65, "D50": WhiteD50, "A": WhiteA, "F2": WhiteF2, "F11": WhiteF11, "P2700": WhiteP2700,
		"P4000": WhiteP4000}
	for _, r := range rows(t, "whites.csv") {
		if w, ok := ours[r["name"]]; ok {
			assert.InDeltaSlice(t, []float64{num(t, r["X"]), num(t, r["Y"]), num(t, r["Z"])}, []float64{w.X, w.Y, w.Z}, 1e-8, r["name"])
			delete(ours, r["name"])
		}
	}
	assert.Empty(t, ours, "whites not in the table")
}

func TestFamilyVectors(t *testing.T) {
	count, good := map[string]int{}, map[string]int{}
	for _, r := range rows(t, "names.csv") {
		got := Family(hex(t, r["hex"]).Lab())
		kind := r["certainty"]
		count[kind]++
		ok := kind == "clear" && string(got) == r["family"]
		if kind == "borderline" {
			for _, f := range strings.Split(r["accepted_families"], "|") {
				ok = ok || f == string(got)
			}
		}
		if ok {
			good[kind]++
		} else {
			t.Logf("%s %s: want %s, got %s", kind, r["hex"], r["accepted_families"], got)
		}
	}
	assert.GreaterOrEqual(t, float64(good["clear"]), 0.95*float64(count["clear"]))
	assert.GreaterOrEqual(t, float64(good["borderline"]), 0.90*float64(count["borderline"]))
}

// reference2000 is the textbook CIEDE2000, angles and all, to check the fast
// one against.
func reference2000(x, y Lab) float64 {
	rad := math.Pi / 180
	c1, c2 := x.Chroma(), y.Chroma()
	g := 0.5 * (1 - math.Sqrt(math.Pow((c1+c2)/2, 7)/(math.Pow((c1+c2)/2, 7)+math.Pow(25, 7))))
	a1, a2 := (1+g)*x.A, (1+g)*y.A
	p1, p2 := math.Hypot(a1, x.B), math.Hypot(a2, y.B)
	h1, h2 := degrees(a1, x.B), degrees(a2, y.B)
	dh := h2 - h1
	if dh > 180 {
		dh -= 360
	} else if dh < -180 {
		dh += 360
	}
	hm := (h1 + h2) / 2
	if math.Abs(h1-h2) > 180 {
		hm = math.Mod(h1+h2+360, 720) / 2
	}
	dL, dC, dH := y.L-x.L, p2-p1, 2*math.Sqrt(p1*p2)*math.Sin(dh/2*rad)
	lm, cm := (x.L+y.L)/2, (p1+p2)/2
	t := 1 - 0.17*math.Cos((hm-30)*rad) + 0.24*math.Cos(2*hm*rad) + 0.32*math.Cos((3*hm+6)*rad) - 0.20*math.Cos((4*hm-63)*rad)
	sl := 1 + 0.015*(lm-50)*(lm-50)/math.Sqrt(20+(lm-50)*(lm-50))
	sc, sh := 1+0.045*cm, 1+0.015*cm*t
	rot := -math.Sin(60*math.Exp(-math.Pow((hm-275)/25, 2))*rad) * 2 * math.Sqrt(math.Pow(cm, 7)/(math.Pow(cm, 7)+math.Pow(25, 7)))
	return math.Sqrt(dL/sl*dL/sl + dC/sc*dC/sc + dH/sh*dH/sh + rot*dC/sc*dH/sh)
}

func BenchmarkDeltaE2000(b *testing.B) {
	rnd := rand.New(rand.NewPCG(3, 4))
	labs := make([]Lab, 512)
	cols := make([]colorful.Color, 512)
	for i := range labs {
		cols[i] = colorful.Color{R: rnd.Float64(), G: rnd.Float64(), B: rnd.Float64()}
		labs[i] = RGB{cols[i].R, cols[i].G, cols[i].B}.Lab()
	}
	var sink float64
	b.Run("ours", func(b *testing.B) {
		for i := 0; b.Loop(); i++ {
			sink += DeltaE2000(labs[i&511], labs[(i*7+1)&511])
		}
	})
	b.Run("colorful", func(b *testing.B) {
		for i := 0; b.Loop(); i++ {
			sink += cols[i&511].DistanceCIEDE2000(cols[(i*7+1)&511])
		}
	})
	_ = sink
}

func TestRGBIsAColourOfImages(t *testing.T) {
	var c color.Color = RGB{1.2, 0.5, -0.1}
	assert.Equal(t, color.RGBA{255, 128, 0, 255}, color.RGBAModel.Convert(c))
	assert.Equal(t, "#ff8000", RGB{1.2, 0.5, -0.1}.Hex())
}
