package mix

import (
	"encoding/csv"
	"math"
	"math/rand/v2"
	"os"
	"slices"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
)

func lab(t testing.TB, hex string) colour.Lab {
	t.Helper()
	c, err := colour.ParseHex(hex)
	require.NoError(t, err)
	return c.Lab()
}

func spectrum(t testing.TB, hex string) colour.Spectrum {
	t.Helper()
	return colour.SpectrumOf(lab(t, hex))
}

func TestBlendAgainstTheReference(t *testing.T) {
	f, err := os.Open("testdata/kmix.csv")
	require.NoError(t, err)
	defer f.Close()
	rows, err := csv.NewReader(f).ReadAll()
	require.NoError(t, err)
	num := func(s string) float64 {
		v, err := strconv.ParseFloat(s, 64)
		require.NoError(t, err)
		return v
	}
	for _, r := range rows[1:] {
		var parts []Part
		for k := 2; k < 11; k += 3 {
			if r[k] != "" {
				parts = append(parts, Part{Colour: lab(t, r[k]), Parts: num(r[k+1]), Strength: num(r[k+2])})
			}
		}
		got := Blend(parts, Surface{})
		assert.InDelta(t, num(r[14]), got.L, 0.01, r[0])
		assert.InDelta(t, num(r[15]), got.A, 0.01, r[0])
		assert.InDelta(t, num(r[16]), got.B, 0.01, r[0])
		assert.InDelta(t, num(r[12]), got.XYZ().Y, 1e-5, r[0])
	}
	assert.Len(t, rows, 76)
}

// mixed is paints at their default strengths in a usual film.
func mixed(t testing.TB, parts map[string]float64) colour.Lab {
	var all []Part
	for _, hex := range slices.Sorted(func(yield func(string) bool) {
		for k := range parts {
			if !yield(k) {
				return
			}
		}
	}) {
		c := lab(t, hex)
		all = append(all, Part{c, parts[hex], DefaultStrength(c, c.L > 95 && c.Chroma() < 5)})
	}
	return Blend(all, Painted())
}

const white, black, red, blue, yellow = "#fafaf8", "#1e1c1c", "#c8202b", "#1f4fa3", "#f2c811"

func TestCommonSense(t *testing.T) {
	assert.Equal(t, colour.Green, colour.Family(mixed(t, map[string]float64{blue: 1, yellow: 3})), "yellow and blue give green")
	hue := func(c colour.Lab) float64 { return c.OKLCh().H }
	masstone, last := lab(t, red), -1.0
	for _, whites := range []float64{0.5, 1, 2, 4, 8, 16} {
		tint := mixed(t, map[string]float64{red: 1, white: whites})
		assert.Greater(t, tint.L, last, "tints rise at every step")
		last = tint.L
		assert.LessOrEqual(t, math.Abs(math.Remainder(hue(tint)-hue(masstone), 360)), 15.0, "1 to %g keeps its hue", whites)
	}
	assert.NotEqual(t, colour.Orange, colour.Family(mixed(t, map[string]float64{red: 1, white: 8})))
	grey := mixed(t, map[string]float64{black: 1, white: 4})
	assert.True(t, grey.L >= 40 && grey.L <= 75, "%v", grey)

	least := func(a, b string) float64 {
		best := math.Inf(1)
		for k := 1; k < 40; k++ {
			best = math.Min(best, mixed(t, map[string]float64{a: float64(k), b: float64(40 - k)}).Chroma())
		}
		return best
	}
	assert.Less(t, least("#f0a020", "#46389a"), 8.0, "orange and blue-violet pass near neutral")
	assert.Greater(t, least("#a8186b", "#a8c020"), 8.0, "red-violet and yellow-green go brown")

	// Jars and multiples change nothing.
	once := Blend([]Part{{lab(t, red), 2, .4}, {lab(t, white), 3, 1}}, Painted())
	jars := Blend([]Part{{lab(t, red), 1, .4}, {lab(t, white), 6, 1}, {lab(t, red), 3, .4}}, Painted())
	assert.Less(t, colour.DeltaE2000(once, jars), 1e-6)
	assert.Equal(t, colour.Lab{}, Blend(nil, Painted()))
	assert.Equal(t, colour.Lab{}, Blend([]Part{{lab(t, red), 0, 1}}, Painted()))
	// One paint alone is itself, in or out of a film, however strong.
	for _, s := range []Surface{{}, Painted()} {
		assert.Less(t, colour.DeltaE2000(lab(t, blue), Blend([]Part{{lab(t, blue), 7, .01}}, s)), 0.5)
	}
}

func TestBasesLayersAndFibres(t *testing.T) {
	base, tried := lab(t, "#efe8d8"), lab(t, "#c79aa8")
	assert.Less(t, colour.DeltaE2000(base, InBase(base, tried, 0)), 0.05)
	assert.Less(t, colour.DeltaE2000(tried, InBase(base, tried, 1)), 0.05)
	assert.Less(t, InBase(base, tried, 2).L, tried.L, "twice the dose is darker")
	paper, over := lab(t, "#f4f2ea"), lab(t, "#7fb6c8")
	assert.Less(t, colour.DeltaE2000(over, Layered(paper, over, 1)), 0.05)
	assert.Less(t, Layered(paper, over, 2).L, over.L)
	wash := Layered(paper, over, .5)
	assert.True(t, wash.L > over.L && wash.L < paper.L, "half a layer lies between")
	// Fibres go grey and dark less than paints; strands of two lie between in light.
	one := []float64{1, 1}
	as := func(way Way) colour.Lab {
		return Mixed([]Paint{ReadyAs(spectrum(t, red), way), ReadyAs(spectrum(t, white), way)}, one)
	}
	felt, plied := as(Fibres), as(Strands)
	assert.True(t, felt.L > lab(t, red).L && felt.L < plied.L)
	assert.InDelta(t, (lab(t, red).XYZ().Y+lab(t, white).XYZ().Y)/2, plied.XYZ().Y, 1e-3, "half the light of each")
	for _, way := range []Way{Opaque, Fibres, Strands} {
		assert.Less(t, colour.DeltaE2000(lab(t, blue), Mixed([]Paint{ReadyAs(spectrum(t, blue), way)}, []float64{3})), 0.5, "alone it is itself")
	}
}

func TestStrongPaintsKeepTheirChroma(t *testing.T) {
	strong := colour.Lab{L: 55, A: -60, B: -10} // outside sRGB
	_, in := strong.RGB()
	require.False(t, in)
	r := colour.SpectrumOf(strong)
	assert.Less(t, colour.DeltaE2000(strong, r.Lab()), 0.05)
	for _, v := range r {
		assert.True(t, v >= 0 && v <= 1)
	}
}

// laboratory is twelve made-up paints of two constants, each with absorption and
// scattering that vary over the spectrum, and what they really make.
type laboratory struct {
	k, s     [12]colour.Spectrum
	masstone []colour.Lab
}

func newLaboratory() *laboratory {
	r := rand.New(rand.NewPCG(7, 11))
	l := &laboratory{}
	for p := range l.k {
		centre, wide, deep := r.Float64()*36, 4+6*r.Float64(), 0.4+2.2*r.Float64()
		scatter, slope := 0.05+0.5*r.Float64(), 0.4*(r.Float64()-.5)
		for i := range l.k[p] {
			x := (float64(i) - centre) / wide
			l.k[p][i] = 0.02 + deep*math.Exp(-x*x)
			l.s[p][i] = scatter * (1 + slope*(float64(i)/18-1))
			switch p {
			case 0: // white
				l.k[p][i], l.s[p][i] = 0.002, 1
			case 1: // black
				l.k[p][i], l.s[p][i] = 3, 0.06
			}
		}
		w := make([]float64, 12)
		w[p] = 1
		l.masstone = append(l.masstone, l.really(w))
	}
	return l
}

func (l *laboratory) really(parts []float64) colour.Lab {
	var out colour.Spectrum
	for i := range out {
		k, s := 0.0, 0.0
		for p, c := range parts {
			k, s = k+c*l.k[p][i], s+c*l.s[p][i]
		}
		out[i] = Painted().outside(reflected(k / s))
	}
	return out.Lab()
}

func median(v []float64) float64 { v = slices.Sorted(slices.Values(v)); return v[len(v)/2] }

// What is learned in a made-up laboratory: predictions of 400 mixes before anything
// was tried, with a tint of each paint, and after twenty records.
func TestLearningInTheLaboratory(t *testing.T) {
	l, r := newLaboratory(), rand.New(rand.NewPCG(3, 5))
	random := func() []float64 {
		parts := make([]float64, 12)
		for range 2 + r.IntN(3) {
			parts[r.IntN(12)] += float64(1 + r.IntN(5))
		}
		return parts
	}
	flat, start, held := make([]float64, 12), make([]float64, 12), make([]bool, 12)
	paints := make([]Paint, 12)
	for i, c := range l.masstone {
		flat[i], start[i], held[i] = 1, DefaultStrength(c, i == 0), i == 0
		paints[i] = Ready(c, Painted())
	}
	flat[0] = 6
	var tints, records []Log
	for i := 1; i < 12; i++ {
		p := make([]float64, 12)
		p[0], p[i] = 10, 1
		tints = append(tints, Log{p, l.really(p)})
	}
	for range 20 {
		p := random()
		records = append(records, Log{p, l.really(p)})
	}
	var mixes []Log
	for range 400 {
		p := random()
		mixes = append(mixes, Log{p, l.really(p)})
	}
	missed := func(strengths []float64) float64 {
		var all []float64
		for _, m := range mixes {
			all = append(all, colour.DeltaE2000(m.Measured, logColour(paints, strengths, m)))
		}
		return median(all)
	}
	withTints, before, after := Fit(paints, start, held, tints)
	assert.Less(t, after, before)
	assert.Equal(t, 1.0, withTints[0], "one white is held")
	withRecords, _, _ := Fit(paints, start, held, records)
	withBoth, _, _ := Fit(paints, start, held, slices.Concat(tints, records))
	said := []float64{missed(flat), missed(start), missed(withTints), missed(withRecords), missed(withBoth)}
	t.Logf("median ΔE00: flat %.2f, defaults %.2f, tints %.2f, twenty records %.2f, both %.2f", said[0], said[1], said[2], said[3], said[4])
	assert.Less(t, said[1], said[0])
	assert.Less(t, said[2], said[1])
	assert.Less(t, said[3], said[1])
	assert.LessOrEqual(t, said[4], said[2])

	// Left out, the records say honestly how far a prediction goes.
	left := LeftOut(paints, start, held, records)
	require.Len(t, left, 20)
	assert.InDelta(t, median(left), said[3], 2.0)
	assert.Equal(t, 6.0, Trust(nil, false))
	assert.Equal(t, 3.0, Trust(nil, true))
	assert.Less(t, Trust(left, true), 4.0)
	same, b, a := Fit(paints, start, held, nil)
	assert.Equal(t, start, same)
	assert.Zero(t, b+a)
	public, _, _ := FitStrengths(l.masstone, start, held, tints, Painted())
	assert.InDeltaSlice(t, withTints, public, 1e-9)
}

func colourants(t testing.TB, n int) []Colourant {
	r := rand.New(rand.NewPCG(1, 2))
	hexes := []string{white, black, red, blue, yellow, "#00804a", "#6b3a86", "#e0601f"}
	var out []Colourant
	for i := range n {
		c := colour.OKLCh{L: .3 + .5*r.Float64(), C: .04 + .12*r.Float64(), H: 360 * r.Float64()}.Lab()
		if i < len(hexes) {
			c = lab(t, hexes[i])
		}
		out = append(out, Colourant{Paint: Ready(c, Painted()), Strength: DefaultStrength(c, i == 0)})
	}
	return out
}

func TestSearchFindsWhatWasMixed(t *testing.T) {
	all := colourants(t, 20)
	for _, want := range []Recipe{{Of: []int{3, 4}, Parts: []int{1, 3}}, {Of: []int{2, 0}, Parts: []int{1, 5}},
		{Of: []int{4, 3, 0}, Parts: []int{4, 1, 2}}} {
		var paints []Paint
		var w []float64
		for k, i := range want.Of {
			paints, w = append(paints, all[i].Paint), append(w, float64(want.Parts[k])*all[i].Strength)
		}
		wanted := Mixed(paints, w)
		got := Search(all, wanted, Limits{})
		require.NotEmpty(t, got.Recipes)
		best := got.Recipes[0]
		assert.Less(t, best.Apart, 1.0, "%v %v for %v", best.Of, best.Parts, want)
		assert.Less(t, best.Apart, got.AsIs.Apart)
		for i, r := range got.Recipes {
			assert.LessOrEqual(t, total64(r.Parts), 12)
			assert.LessOrEqual(t, r.Apart, best.Apart+6+1e-9, "another colour is no recipe for this one")
			for _, o := range got.Recipes[:i] {
				assert.NotEqual(t, key(o.Of), key(r.Of), "recipes differ")
			}
		}
		few := Search(all, wanted, Limits{Colourants: 2, Parts: 4})
		for _, r := range few.Recipes {
			assert.LessOrEqual(t, len(r.Of), 2)
			assert.LessOrEqual(t, total64(r.Parts), 4)
		}
		must := slices.Clone(all)
		must[5].Must = true
		for _, r := range Search(must, wanted, Limits{}).Recipes {
			assert.Contains(t, r.Of, 5)
		}
	}
	assert.Empty(t, Search(nil, colour.Lab{L: 50}, Limits{}).Recipes)
	one := Search(all[:1], colour.Lab{L: 50}, Limits{})
	require.Len(t, one.Recipes, 1, "one paint is a recipe of itself")
	assert.Equal(t, []int{0}, one.AsIs.Of)
	alike := Search([]Colourant{all[2], all[2]}, lab(t, red), Limits{})
	assert.Len(t, alike.Recipes[0].Of, 1, "two alike are no better than one")
}

func BenchmarkRecipe60(b *testing.B) {
	all, r := colourants(b, 60), rand.New(rand.NewPCG(4, 4))
	var took []float64
	for b.Loop() {
		from := time.Now()
		Search(all, colour.OKLCh{L: .3 + .5*r.Float64(), C: .1 * r.Float64(), H: 360 * r.Float64()}.Lab(), Limits{})
		took = append(took, float64(time.Since(from).Microseconds())/1000)
	}
	slices.Sort(took)
	b.ReportMetric(took[len(took)*95/100], "p95-ms")
}

func TestAmounts(t *testing.T) {
	exact, rounded, enough := Amounts([]float64{3, 2, 1}, 25, 0.5)
	assert.InDeltaSlice(t, []float64{12.5, 25.0 / 3, 25.0 / 6}, exact, 1e-9)
	assert.InDeltaSlice(t, []float64{12.5, 8.5, 4}, rounded, 1e-9)
	assert.Zero(t, enough)
	_, rounded, enough = Amounts([]float64{11, 1}, 2, 1)
	assert.InDeltaSlice(t, []float64{2, 0}, rounded, 1e-9)
	assert.InDelta(t, 12, enough, 1e-9, "twelve of the least")
	exact, rounded, _ = Amounts([]float64{1, 2}, 10, 0)
	assert.Equal(t, exact, rounded)
}

func TestFewForAll(t *testing.T) {
	all := colourants(t, 12)
	var wanted []colour.Lab
	for _, r := range []Recipe{{Of: []int{2, 0}, Parts: []int{1, 3}}, {Of: []int{2, 0}, Parts: []int{1, 8}},
		{Of: []int{2, 4}, Parts: []int{1, 2}}} {
		wanted = append(wanted, Mixed([]Paint{all[r.Of[0]].Paint, all[r.Of[1]].Paint},
			[]float64{float64(r.Parts[0]) * all[r.Of[0]].Strength, float64(r.Parts[1]) * all[r.Of[1]].Strength}))
	}
	wanted = append(wanted, colour.Lab{L: 60, A: -90, B: 20}) // no paint reaches that
	few := FewForAll(all, wanted, 3, Limits{})
	assert.LessOrEqual(t, len(few.Of), 3, "white, red and yellow mixed them all")
	for i, r := range few.Recipes[:3] {
		require.NotEmpty(t, r.Of, i)
		assert.Subset(t, few.Of, r.Of)
		assert.LessOrEqual(t, r.Apart, 3.0)
	}
	assert.Empty(t, few.Recipes[3].Of)
	assert.Empty(t, FewForAll(nil, wanted, 3, Limits{}).Of)
	assert.Empty(t, FewForAll(all, nil, 3, Limits{}).Of)
}

// Three tries at a colour in the made-up laboratory, each written down and aimed past:
// the best of them is at most half as far off as the first.
func TestAimingPastHalvesTheError(t *testing.T) {
	l, r := newLaboratory(), rand.New(rand.NewPCG(9, 9))
	paints, start, held := make([]Paint, 12), make([]float64, 12), make([]bool, 12)
	for i, c := range l.masstone {
		paints[i], start[i], held[i] = Ready(c, Painted()), DefaultStrength(c, i == 0), i == 0
	}
	var first, best []float64
	for range 24 {
		really := make([]float64, 12)
		for range 3 {
			really[r.IntN(12)] += float64(1 + r.IntN(4))
		}
		wanted := l.really(really)
		aim, strengths, least := wanted, start, math.Inf(1)
		var logs []Log
		for try := range 3 {
			all := make([]Colourant, 12)
			for i := range all {
				all[i] = Colourant{Paint: paints[i], Strength: strengths[i]}
			}
			recipe := Search(all, aim, Limits{Colourants: 3}).Recipes[0]
			parts := make([]float64, 12)
			for k, i := range recipe.Of {
				parts[i] = float64(recipe.Parts[k])
			}
			measured := l.really(parts)
			off := colour.DeltaE2000(wanted, measured)
			if try == 0 {
				first = append(first, off)
			}
			least = math.Min(least, off)
			logs = append(logs, Log{parts, measured})
			strengths, _, _ = Fit(paints, start, held, logs)
			aim = AimPast(logColour(paints, strengths, logs[len(logs)-1]), wanted, measured)
		}
		best = append(best, least)
	}
	t.Logf("median ΔE00 of the first try %.2f, of the best of three %.2f", median(first), median(best))
	assert.Less(t, median(best), median(first)/2)
}

// What adds to a ground: doses in a base and layers on paper.
func TestAddingToAGround(t *testing.T) {
	base, rose, coal := spectrum(t, "#efe6d2"), spectrum(t, "#c0607a"), spectrum(t, "#6a6866")
	doses := []Paint{ReadyOver(base, rose, 4, Doses), ReadyOver(base, coal, 4, Doses)}
	assert.Less(t, colour.DeltaE2000(lab(t, "#efe6d2"), Mixed(doses, []float64{0, 0})), 0.5, "nothing added leaves the ground")
	assert.Less(t, colour.DeltaE2000(lab(t, "#c0607a"), Mixed(doses, []float64{4, 0})), 0.5, "as much as was tried gives what was tried")
	assert.Greater(t, Mixed(doses, []float64{1, 0}).L, Mixed(doses, []float64{2, 0}).L)

	// A recipe that was made up is found, with its doses and not a multiple of them.
	var all []Colourant
	for _, h := range []string{"#c0607a", "#6a6866", "#5a7a4a", "#d8a020", "#5060a0"} {
		all = append(all, Colourant{Paint: ReadyOver(base, spectrum(t, h), 4, Doses), Strength: 1})
	}
	want := Mixed([]Paint{all[0].Paint, all[4].Paint}, []float64{2, 4})
	got := Search(all, want, Limits{})
	require.NotEmpty(t, got.Recipes)
	assert.Less(t, got.Recipes[0].Apart, 0.1)
	assert.Equal(t, []int{4, 0}, got.Recipes[0].Of)
	assert.Equal(t, []int{4, 2}, got.Recipes[0].Parts)
	all[4].Most = 3
	for _, r := range Search(all, want, Limits{}).Recipes {
		for k, i := range r.Of {
			assert.False(t, i == 4 && r.Parts[k] > 3, "a limit is kept")
		}
	}

	// Layers that were measured stand in place of those that are reckoned.
	paper, teal, two := spectrum(t, "#f5f5f2"), spectrum(t, "#4ca0a0"), spectrum(t, "#3c8888")
	layered := []Paint{ReadyOver(paper, teal, 1, Layers, two)}
	assert.Less(t, colour.DeltaE2000(lab(t, "#3c8888"), Mixed(layered, []float64{2})), 0.5)
	one, between := Mixed(layered, []float64{1}), Mixed(layered, []float64{1.5})
	assert.Less(t, between.L, one.L)
	assert.Greater(t, between.L, lab(t, "#3c8888").L)
	assert.Less(t, Mixed(layered, []float64{3}).L, lab(t, "#3c8888").L)

	// A wash with as much water as paint is half a layer.
	wash := []Paint{ReadyAs(teal, Wash), ReadyAs(paper, Wash)}
	assert.Less(t, colour.DeltaE2000(Layered(lab(t, "#f5f5f2"), lab(t, "#4ca0a0"), .5), Mixed(wash, []float64{1, 1})), 0.1)
	twice := Thicker(paper, teal, 2)
	assert.Less(t, colour.DeltaE2000(Layered(lab(t, "#f5f5f2"), lab(t, "#4ca0a0"), 2), twice.Lab()), 0.1)
}

// A colourant of which each dose does less than the one before is found out by two.
func TestBendIsLearned(t *testing.T) {
	base, tried := spectrum(t, "#efe6d2"), spectrum(t, "#a04050")
	p := ReadyOver(base, tried, 1, Doses)
	bent := p.Bent(3)
	assert.Less(t, colour.DeltaE2000(lab(t, "#a04050"), Mixed([]Paint{bent}, []float64{1})), 0.5)
	at := func(d float64) colour.Lab { return Mixed([]Paint{bent}, []float64{d}) }
	assert.InDelta(t, 3, Bend(p, []float64{1, 4}, []colour.Lab{at(1), at(4)}), 0.3)
	assert.Zero(t, Bend(p, []float64{1, 1}, []colour.Lab{at(1), at(1)}), "one dose tells nothing")
	straight := func(d float64) colour.Lab { return Mixed([]Paint{p}, []float64{d}) }
	assert.Zero(t, Bend(p, []float64{1, 4}, []colour.Lab{straight(1), straight(4)}))
}

// A mix that holds the unsure paint teaches; one of what is held or known does not.
func TestWhatTeachesMost(t *testing.T) {
	paints := []Paint{Ready(lab(t, "#f6f5f2"), Painted()), Ready(lab(t, "#2a3f7a"), Painted()), Ready(lab(t, "#e0b020"), Painted())}
	start, held := []float64{1, .12, .4}, []bool{true, false, false}
	tries := [][]float64{{10, 1, 0}, {10, 0, 1}, {1, 0, 0}}
	blues := [][]float64{{8, 2, 0}, {6, 1, 0}}
	l := Teaches(paints, start, held, nil, tries, blues)
	assert.Equal(t, 0, l.At, "the recipes are of blue and white")
	assert.Less(t, l.After, l.Before/2)
	after := Teaches(paints, start, held, []Log{{Parts: tries[0], Measured: logColour(paints, start, Log{Parts: tries[0]})}}, tries, blues)
	assert.Less(t, after.Before, l.Before/2, "once it was made")
	assert.InDelta(t, l.After, after.Before, 1e-9, "as was foretold")
	assert.Equal(t, -1, Teaches(paints, start, []bool{true, true, true}, nil, tries, blues).At)
}

func TestWhatSavesMostMixing(t *testing.T) {
	of := func(hexes ...string) (out []Colourant) {
		for _, h := range hexes {
			c := lab(t, h)
			out = append(out, Colourant{Paint: Ready(c, Painted()), Strength: DefaultStrength(c, c.L > 92)})
		}
		return out
	}
	all := of("#f6f5f2", "#1e1c1c", "#e0b020", "#a02a22")
	blue := of("#2f4f9a")[0]
	tint := Mixed([]Paint{all[0].Paint, blue.Paint}, []float64{2, blue.Strength})
	wanted := []colour.Lab{lab(t, "#2f4f9a"), tint, lab(t, "#e0b020")}
	few := FewForAll(all, wanted, 3, Limits{})
	assert.Equal(t, []int{0, 0, 1}, few.Counts)
	got := SavesMost(all, of("#c04060", "#2f4f9a", "#7a5030"), wanted, few.Counts, 3, Limits{})
	assert.Equal(t, 1, got.Of)
	assert.Equal(t, 2, got.Reached, "the blue itself, and its tint")
	assert.Equal(t, 1, got.Counts[0])
	assert.Equal(t, -1, SavesMost(all, of("#c04060"), wanted[2:], few.Counts[2:], 3, Limits{}).Of, "what is there as it is needs nothing")
}
