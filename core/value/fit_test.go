package value

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
)

func labs(t testing.TB, hexes ...string) []colour.Lab {
	var out []colour.Lab
	for _, h := range hexes {
		c, err := colour.ParseHex(h)
		require.NoError(t, err)
		out = append(out, c.Lab())
	}
	return out
}

// leans names the strays of a run by index.
func leans(r Run) map[int]string {
	out := map[int]string{}
	for _, s := range r.Strays {
		out[s.Index] = s.Lean
	}
	return out
}

func TestFitOfTriedRuns(t *testing.T) {
	plum := labs(t, "#1f1b2c", "#4b2346", "#6d3b68", "#7d6a7a", "#9a6a98", "#c07a94", "#c9a3c9", "#ead9ea")
	r, err := Fit(plum)
	require.NoError(t, err)
	assert.Equal(t, map[int]string{3: Grey, 5: "red"}, leans(r))
	assert.InDelta(t, -22, r.Offsets[3].Radial, 0.5)
	assert.InDelta(t, 15, r.Offsets[5].Tangential, 0.5)
	assert.InDelta(t, 29, r.Offsets[5].Turn, 0.5)

	blue, err := Fit(labs(t, "#14213f", "#1d3a6e", "#2f5f6b", "#2f5c9e", "#6a7d92", "#5f8fd0", "#7fc0bd", "#a9c7ec", "#e3edf8"))
	require.NoError(t, err)
	assert.Equal(t, map[int]string{2: "green", 6: "green", 4: Grey}, leans(blue))

	drift, err := Fit(labs(t, "#2e1c10", "#5a3415", "#8f5a1c", "#c98a24", "#efbe4a", "#f8e6a8"))
	require.NoError(t, err)
	assert.Empty(t, drift.Strays, "a steady drift is no stray")
	assert.Nil(t, drift.Second)
}

// arch is a run of n colours: a hue that may drift, with chroma that is most in
// the middle and none at black and white.
func arch(hueFrom, drift, most float64, n int) []colour.Lab {
	var out []colour.Lab
	for i := range n {
		l := 14 + 74*float64(i)/float64(max(1, n-1))
		h := (hueFrom + drift*(l-50)/50) * math.Pi / 180
		c := most * envelope(l)
		out = append(out, colour.Lab{L: l, A: c * math.Cos(h), B: c * math.Sin(h)})
	}
	return out
}

func TestFitOfEveryFamilyAndLength(t *testing.T) {
	for hue := 0.0; hue < 360; hue += 30 {
		for _, n := range []int{5, 8, 13, 24, 25, 40, 60} {
			run := arch(hue, 25, 45, n)
			r, err := Fit(run)
			require.NoError(t, err)
			assert.Empty(t, r.Strays, "hue %g, %d colours: a clean run drifting by 50° has no stray", hue, n)
			// One turned by 45°, one greyed: both are named, and nothing else.
			at, grey := n/2, n/4
			turned := append([]colour.Lab(nil), run...)
			a, b := turned[at].A, turned[at].B
			turned[at].A, turned[at].B = a*math.Sqrt2/2-b*math.Sqrt2/2, a*math.Sqrt2/2+b*math.Sqrt2/2
			turned[grey].A, turned[grey].B = 0.3*turned[grey].A, 0.3*turned[grey].B
			r, err = Fit(turned)
			require.NoError(t, err)
			got := leans(r)
			require.Len(t, got, 2, "hue %g, %d colours: %v", hue, n, got)
			assert.Equal(t, Grey, got[grey])
			assert.Equal(t, string(colour.LeavesFor(run[at], turned[at])), got[at])
			// Colours come in any order.
			order := rand.New(rand.NewPCG(1, uint64(n))).Perm(n)
			mixed := make([]colour.Lab, n)
			for i, o := range order {
				mixed[i] = turned[o]
			}
			r, err = Fit(mixed)
			require.NoError(t, err)
			assert.Len(t, r.Strays, 2)
		}
	}
}

func TestFitOfFewColours(t *testing.T) {
	for n := range 3 {
		r, err := Fit(arch(30, 0, 40, 8)[:n])
		assert.ErrorIs(t, err, ErrTooFew)
		assert.Len(t, r.Order, n)
		assert.Empty(t, r.Strays)
	}
	for _, n := range []int{3, 4} { // a straight line
		r, err := Fit(arch(300, 0, 30, n))
		require.NoError(t, err)
		assert.Zero(t, r.a[2])
		assert.Zero(t, r.b[2])
		assert.Empty(t, r.Strays, n)
	}
}

func TestFitOfStrangeRuns(t *testing.T) {
	same := labs(t, "#8a5a86", "#8a5a86", "#8a5a86", "#8a5a86", "#8a5a86", "#8a5a86")
	r, err := Fit(same)
	require.NoError(t, err)
	assert.Empty(t, r.Strays, "all the same colour")
	assert.InDelta(t, 0, colour.DeltaE2000(same[0], r.At(same[0].L)), 0.5)

	twice := append(arch(140, 0, 40, 8), arch(140, 0, 40, 8)...)
	r, err = Fit(twice)
	require.NoError(t, err)
	assert.Empty(t, r.Strays, "duplicates")

	neutral := greys(10, 30, 50, 70, 90)
	r, err = Fit(neutral)
	require.NoError(t, err)
	assert.True(t, r.Neutral)
	assert.Empty(t, r.Undertone)
	warm := greys(10, 30, 50, 70, 90)
	for i := range warm {
		warm[i].A, warm[i].B = 1, 3
	}
	r, err = Fit(warm)
	require.NoError(t, err)
	assert.True(t, r.Neutral)
	assert.Equal(t, colour.Orange, r.Undertone)
	assert.Empty(t, r.Strays)

	level := arch(20, 0, 50, 9) // all equally light
	for i := range level {
		level[i].L = 50
	}
	_, err = Fit(level)
	assert.NoError(t, err)
}

func TestTwoRunsMixed(t *testing.T) {
	for _, n := range []int{6, 10, 30} {
		mixed := append(arch(300, 0, 45, n), arch(140, 0, 45, n-2)...)
		r, err := Fit(mixed)
		require.NoError(t, err)
		require.NotNil(t, r.Second, n)
		for _, i := range r.Second {
			assert.GreaterOrEqual(t, i, n, "the smaller run is the second")
		}
		assert.GreaterOrEqual(t, len(r.Second), n-3)
	}
}

func TestStepsGapsAndCrowds(t *testing.T) {
	run := arch(300, 0, 45, 8)
	r, err := Fit(run)
	require.NoError(t, err)
	for _, even := range []bool{false, true} {
		steps := r.Steps(5, even)
		require.Len(t, steps, 5)
		assert.InDelta(t, r.Low, steps[0].L, 1e-9)
		assert.InDelta(t, r.High, steps[4].L, 1e-9)
		for i := 1; i < 5; i++ {
			assert.Greater(t, steps[i].L, steps[i-1].L)
			if even {
				assert.InDelta(t, colour.DeltaE2000(steps[0], steps[1]), colour.DeltaE2000(steps[i-1], steps[i]), 1.2)
			} else {
				assert.InDelta(t, steps[1].L-steps[0].L, steps[i].L-steps[i-1].L, 1e-9)
			}
		}
	}
	assert.Len(t, r.Steps(1, false), 1)
	assert.Empty(t, r.Steps(0, false))

	holed := append(append([]colour.Lab(nil), run[:3]...), run[6:]...)
	holed = append(holed, run[1])
	holed[len(holed)-1].L += 1
	r, err = Fit(holed)
	require.NoError(t, err)
	gaps, crowds := r.Gaps(holed), r.Crowds(holed)
	require.Len(t, gaps, 1)
	assert.Equal(t, Pair{2, 3}, gaps[0].Pair)
	assert.InDelta(t, 3*74.0/7+74.0/7, gaps[0].By, 11)
	assert.Equal(t, []Pair{{1, 5}}, crowds)
	assert.Empty(t, r.Gaps(holed[:2]))

	assert.Equal(t, []int{0, 1, 2, 3}, BuildOrder(4, FromDark))
	assert.Equal(t, []int{3, 2, 1, 0}, BuildOrder(4, FromLight))
	assert.Equal(t, []int{2, 3, 1, 4, 0}, BuildOrder(5, FromMiddle))
	assert.Equal(t, []int{2, 3, 1, 0}, BuildOrder(4, FromMiddle))
	assert.Empty(t, BuildOrder(0, FromMiddle))
}

func TestChecks(t *testing.T) {
	k := Check(greys(8, 12, 45, 50, 90))
	assert.Equal(t, 3, k.Groups)
	assert.Equal(t, "middle", k.Key)
	assert.InDelta(t, 8.2, k.Contrast, 1e-9)
	assert.Equal(t, "high", Check(greys(80, 85, 92)).Key)
	assert.Equal(t, "low", Check(greys(8, 15, 30)).Key)
	assert.Equal(t, 1, Check(greys(50)).Groups)
	assert.Zero(t, Check(nil).Groups)
	assert.Equal(t, 3, Check(greys(55, 20, 46, 65, 29.9)).Groups, "a gap of exactly ten divides")

	// Nine tenths dark and one tenth light are dark on the whole.
	k = CheckShares(greys(20, 80, 99), []float64{.9, .1, 0})
	assert.Equal(t, "low", k.Key)
	assert.InDelta(t, 2.6, k.Mean, 1e-9)
	assert.Equal(t, 2, k.Groups, "what has no room is left out")
	assert.Equal(t, []string{"middle", "high"}, []string{CheckShares(greys(35), []float64{2}).Key, CheckShares(greys(65), []float64{2}).Key})
	assert.Zero(t, CheckShares(greys(50), []float64{0}).Groups)
}

func BenchmarkFit(b *testing.B) {
	for name, n := range map[string]int{"24": 24, "200": 200} {
		run := arch(300, 25, 45, n)
		rnd := rand.New(rand.NewPCG(1, 1))
		for i := range run {
			run[i].A += 4 * rnd.NormFloat64()
			run[i].B += 4 * rnd.NormFloat64()
		}
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				_, _ = Fit(run)
			}
		})
	}
}

// Runs that an eye would call clean, and cards that it would name.
func TestRunsAsAnEyeReadsThem(t *testing.T) {
	for name, c := range map[string]struct {
		run  []string
		want map[int]string
	}{
		"strong orange, clean": {[]string{"#4a1e08", "#8a380c", "#c85a10", "#f07a18", "#f8a050", "#fcc48c", "#fde4c8"},
			map[int]string{}},
		"a green in a purple run": {[]string{"#2a1738", "#4b2a66", "#6d4590", "#5f8a4a", "#9a76b8", "#b89ad0", "#d8c6e6"},
			map[int]string{3: "green"}},
		"a blue-green in a green run": {[]string{"#12301c", "#1f5230", "#2f7445", "#2f8f86", "#5fae78", "#8cc9a0", "#bfe3cb"},
			map[int]string{3: "blue"}},
		"a blue-grey among warm greiges": {[]string{"#3a342e", "#57504a", "#756c62", "#7d8a98", "#a79c8e", "#c3b9ac", "#e2dbd0"},
			map[int]string{3: "blue"}},
		"warm greiges, clean": {[]string{"#3a342e", "#57504a", "#756c62", "#8f867b", "#a79c8e", "#c3b9ac", "#e2dbd0"},
			map[int]string{}},
		"a drift from brown to cream": {[]string{"#2e1c10", "#5a3415", "#8f5a1c", "#c98a24", "#efbe4a", "#f8e6a8"}, map[int]string{}},
		"plain greys": {[]string{"#141414", "#3a3a3a", "#5f5f5f", "#858585", "#aaaaaa", "#d0d0d0", "#f4f4f4"},
			map[int]string{}},
		"a raisin among blue-violets": {[]string{"#191a4a", "#2c2f7a", "#4446a6", "#5a3a4e", "#7679cf", "#9fa2e2", "#cdd0f3"},
			map[int]string{3: "red"}},
		"a dusty one among strong reds": {[]string{"#3c0608", "#6e0c10", "#a31621", "#9a5a58", "#d94a48", "#ee8c86", "#f8cfcb"},
			map[int]string{3: Grey}},
		"seven pinks, one of them clearest": {[]string{"#4a2a38", "#6f4457", "#955f78", "#d8307c", "#c08aa2", "#d9b0c2", "#efdbe4"},
			map[int]string{3: Strong}},
	} {
		r, err := Fit(labs(t, c.run...))
		require.NoError(t, err)
		assert.Equal(t, c.want, leans(r), name)
		assert.Nil(t, r.Second, name)
	}
}

// Six hundred made-up dye runs: of eight to fourteen cards, some hue that drifts, noise
// of 1, 2 and 3 ΔE00, with one or two cards turned or greyed by hand.
func TestSixHundredDyeRuns(t *testing.T) {
	rnd := rand.New(rand.NewPCG(3, 9))
	for noise, most := range map[float64][2]float64{1: {.04, .015}, 2: {.07, .03}, 3: {.11, .06}} { // missed, accused in vain
		found, planted, accused, cards, wrong := 0, 0, 0, 0, 0
		for range 200 {
			n := 8 + rnd.IntN(7)
			run := arch(rnd.Float64()*360, rnd.Float64()*40-20, 28+rnd.Float64()*22, n)
			want := map[int]string{}
			for range 1 + rnd.IntN(2) {
				i := 1 + n/5 + rnd.IntN(n-2*(1+n/5))
				if want[i] != "" {
					continue
				}
				c := run[i]
				if rnd.IntN(2) == 0 {
					run[i] = colour.Lab{L: c.L, A: .25 * c.A, B: .25 * c.B}
					want[i] = Grey
				} else {
					a := (50 + rnd.Float64()*15) * math.Pi / 180
					run[i] = colour.Lab{L: c.L, A: c.A*math.Cos(a) - c.B*math.Sin(a), B: c.A*math.Sin(a) + c.B*math.Cos(a)}
					want[i] = string(colour.LeavesFor(c, run[i]))
				}
			}
			for i, c := range run {
				k := noise * rnd.NormFloat64()
				a := rnd.Float64() * 2 * math.Pi
				s := 1 + .03*c.Chroma()
				run[i].A, run[i].B = c.A+k*s*math.Cos(a), c.B+k*s*math.Sin(a)
			}
			r, err := Fit(run)
			require.NoError(t, err)
			got := leans(r)
			cards += n
			planted += len(want)
			for i, lean := range got {
				switch {
				case want[i] == "":
					accused++
				case want[i] != lean:
					wrong++
					found++
				default:
					found++
				}
			}
		}
		t.Logf("noise %.0f: %d of %d found (%d by another word), %.1f %% of cards accused in vain", noise, found, planted, wrong,
			100*float64(accused)/float64(cards))
		assert.GreaterOrEqual(t, float64(found), (1-most[0])*float64(planted), "noise %g", noise)
		assert.LessOrEqual(t, float64(accused), most[1]*float64(cards), "noise %g", noise)
	}
}
