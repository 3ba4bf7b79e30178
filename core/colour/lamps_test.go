package colour

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Daylight by its formula is the table of D65, and every lamp's light has the lamp's white.
func TestTheLightOfLamps(t *testing.T) {
	for i, b := range bands {
		assert.InDelta(t, b[3], daylight(i, .31272, .32903), .25, "%g nm", wavelength(i))
	}
	var white Spectrum
	for i := range white {
		white[i] = 1
	}
	for _, l := range Lamps()[1:] {
		p, known := powers()[l.Key]
		require.True(t, known, l.Key)
		x := white.under(p)
		assert.InDelta(t, l.White.X, x.X, .006, l.Key)
		assert.InDelta(t, l.White.Z, x.Z, .006, l.Key)
		for i, v := range p {
			assert.GreaterOrEqual(t, v, 0.0, "%s at %g nm", l.Key, wavelength(i))
		}
		// A grey of one reflectance looks as one colour does.
		var grey Spectrum
		for i := range grey {
			grey[i] = .3
		}
		assert.Less(t, DeltaE2000(l.See(grey.Lab(), LampAdaptation), l.SeeSpectrum(grey, LampAdaptation)), .05, l.Key)
	}
	assert.Equal(t, white.Lab(), Lamps()[0].SeeSpectrum(white, 1), "daylight is what it is measured for")
}

// Two greys of one colour in daylight, one even and one of three bands, part under a bulb.
func TestWhatMatchesInDaylightMayPart(t *testing.T) {
	even, paler := SpectrumOf(Lab{L: 50}), SpectrumOf(Lab{L: 52})
	low, high := 0.0, 1.0
	bent := func(k float64) Spectrum {
		var s Spectrum
		for i := range s {
			s[i] = .05 + k*(bell(455, 16)[i]*1.25+bell(540, 18)[i]*1.15+bell(610, 20)[i]*1.2)
		}
		return s
	}
	for range 50 {
		k := (low + high) / 2
		if s := bent(k); s.Lab().L < 50 {
			low = k
		} else {
			high = k
		}
	}
	banded := bent(low)
	other := SpectrumOf(banded.Lab())
	require.Less(t, DeltaE2000(other.Lab(), banded.Lab()), .5)
	got := Partings(other, banded)
	require.NotEmpty(t, got)
	assert.True(t, got[0].Apart)
	assert.Greater(t, got[0].Under, got[0].Daylight+2)
	assert.Empty(t, Partings(even, even))
	assert.Empty(t, Partings(even, paler), "smooth spectra go together")
}

// made is a reflectance such as dyes and pigments have: a floor, an edge or two, and bands that are absorbed.
func made(rnd *rand.Rand) (s Spectrum) {
	floor, top := .02+.08*rnd.Float64(), .25+.65*rnd.Float64()
	edge, wide, falls := 430+200*rnd.Float64(), 12+35*rnd.Float64(), rnd.IntN(2) == 0
	middle, broad, deep := 420+260*rnd.Float64(), 25+60*rnd.Float64(), .9*rnd.Float64()
	for i := range s {
		w := wavelength(i)
		rise := 1 / (1 + math.Exp((edge-w)/wide))
		if falls {
			rise = 1 - rise
		}
		d := (w - middle) / broad
		s[i] = floor + (top-floor)*rise*(1-deep*math.Exp(-d*d/2))
	}
	return s
}

// A material that is known by one colour is seen under lamps as its spectrum would be, within 2 on the mean.
func TestOneColourUnderLamps(t *testing.T) {
	rnd := rand.New(rand.NewPCG(20, 26))
	var all []Spectrum
	for range 300 {
		all = append(all, made(rnd))
	}
	for _, l := range Lamps()[1:] {
		through, adapted := 0.0, 0.0
		for _, s := range all {
			really := l.SeeSpectrum(s, LampAdaptation)
			through += DeltaE2000(really, l.See(s.Lab(), LampAdaptation)) / 300
			adapted += DeltaE2000(really, adapt(Adapt(s.XYZ(), WhiteD65, l.White), l.White, WhiteD65, LampAdaptation).Lab(WhiteD65)) / 300
		}
		t.Logf("%-8s %.2f through a reflectance, %.2f by adaptation alone", l.Key, through, adapted)
		assert.Less(t, through, 2.0, l.Key)
		assert.Less(t, through, adapted, l.Key)
	}
	for _, c := range []Lab{{L: 50, A: 115, B: 10}, {L: 90, A: -110, B: 115}} {
		assert.NoError(t, Lamps()[1].See(c, LampAdaptation).Check(), "what no reflectance has is adapted")
	}
}

func BenchmarkSee(b *testing.B) {
	l := Lamps()[1]
	for i := 0; b.Loop(); i++ {
		l.See(Lab{L: 20 + float64(i%60), A: float64(i%41) - 20, B: float64(i%53) - 26}, LampAdaptation)
	}
}
