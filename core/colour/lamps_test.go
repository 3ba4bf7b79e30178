package colour

import (
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
