package colour

import (
	"errors"
	"math"
	"sort"
)

// Bands of the table below, in nanometres.
const (
	firstBand = 380.0
	bandStep  = 10.0
)

// bands holds x̄, ȳ, z̄ of the CIE 1931 2° observer and the relative power of
// D65, from 380 to 730 nm every 10 nm (CIE 15; ISO/CIE 11664).
var bands = [...][4]float64{
	{0.001368, 3.9e-05, 0.00645, 49.9755},
	{0.004243, 0.00012, 0.02005, 54.6482},
	{0.01431, 0.000396, 0.06785, 82.7549},
	{0.04351, 0.00121, 0.2074, 91.486},
	{0.13438, 0.004, 0.6456, 93.4318},
	{0.2839, 0.0116, 1.3856, 86.6823},
	{0.34828, 0.023, 1.74706, 104.865},
	{0.3362, 0.038, 1.77211, 117.008},
	{0.2908, 0.06, 1.6692, 117.812},
	{0.19536, 0.09098, 1.28764, 114.861},
	{0.09564, 0.13902, 0.81295, 115.923},
	{0.03201, 0.20802, 0.46518, 108.811},
	{0.0049, 0.323, 0.272, 109.354},
	{0.0093, 0.503, 0.1582, 107.802},
	{0.06327, 0.71, 0.07825, 104.79},
	{0.1655, 0.862, 0.04216, 107.689},
	{0.2904, 0.954, 0.0203, 104.405},
	{0.43345, 0.99495, 0.00875, 104.046},
	{0.5945, 0.995, 0.0039, 100.0},
	{0.7621, 0.952, 0.0021, 96.3342},
	{0.9163, 0.87, 0.00165, 95.788},
	{1.0263, 0.757, 0.0011, 88.6856},
	{1.0622, 0.631, 0.0008, 90.0062},
	{1.0026, 0.503, 0.00034, 89.5991},
	{0.85445, 0.381, 0.00019, 87.6987},
	{0.6424, 0.265, 5e-05, 83.2886},
	{0.4479, 0.175, 2e-05, 83.6992},
	{0.2835, 0.107, 0.0, 80.0268},
	{0.1649, 0.061, 0.0, 80.2146},
	{0.0874, 0.032, 0.0, 82.2778},
	{0.04677, 0.017, 0.0, 78.2842},
	{0.0227, 0.00821, 0.0, 69.7213},
	{0.011359, 0.004102, 0.0, 71.6091},
	{0.00579, 0.002091, 0.0, 74.349},
	{0.002899, 0.001047, 0.0, 61.604},
	{0.00144, 0.00052, 0.0, 69.8856},
}

// Limits of a measured spectrum that can be reduced.
const (
	mustReachDown = 420.0 // nm
	mustReachUp   = 680.0
	widestStep    = 20.0
)

// FromReflectance reduces a reflectance spectrum to CIELAB, D65, 2°: nm are
// the wavelengths in rising order and r the reflectances there, 0 to 1 (a
// little above for fluorescent things). Between bands the spectrum is read off
// straight lines and beyond its ends it stays as it is (ASTM E308 treats
// missing ends so). The weights make a perfect reflector exactly D65 white.
// The error says what the spectrum lacks.
func FromReflectance(nm, r []float64) (Lab, error) {
	s, err := Measured(nm, r)
	if err != nil {
		return Lab{}, err
	}
	return s.Lab(), nil
}

// Measured is a reflectance spectrum in our bands, read as FromReflectance reads it.
func Measured(nm, r []float64) (Spectrum, error) {
	if len(nm) < 2 || len(nm) != len(r) {
		return Spectrum{}, errors.New("the spectrum has fewer than two bands")
	}
	for i := range nm {
		if i > 0 && !(nm[i] > nm[i-1] && nm[i]-nm[i-1] <= widestStep) {
			return Spectrum{}, errors.New("the bands of the spectrum are more than 20 nm apart, or out of order")
		}
		if !(r[i] >= -0.01 && r[i] <= 2) {
			return Spectrum{}, errors.New("a band of the spectrum is not from 0 to 1")
		}
	}
	if nm[0] > mustReachDown || nm[len(nm)-1] < mustReachUp {
		return Spectrum{}, errors.New("the spectrum must reach from 420 to 680 nm at least")
	}
	var s Spectrum
	for i := range s {
		s[i] = at(nm, r, firstBand+bandStep*float64(i))
	}
	return s, nil
}

// OfBands is a spectrum of its bands, from 380 to 730 nm every 10 nm.
func OfBands(r []float64) (Spectrum, error) {
	if len(r) != Wavelengths {
		return Spectrum{}, errors.New("a saved spectrum has 36 bands from 380 to 730 nm: save it again")
	}
	nm := make([]float64, Wavelengths)
	for i := range nm {
		nm[i] = firstBand + bandStep*float64(i)
	}
	return Measured(nm, r)
}

// at reads r off straight lines between the wavelengths.
func at(nm, r []float64, w float64) float64 {
	i := sort.SearchFloat64s(nm, w)
	switch i {
	case 0:
		return math.Max(0, r[0])
	case len(nm):
		return math.Max(0, r[len(r)-1])
	}
	t := (w - nm[i-1]) / (nm[i] - nm[i-1])
	return math.Max(0, r[i-1]+t*(r[i]-r[i-1]))
}

// FromD50 takes a CIELAB colour relative to D50, as colour readers and print
// standards give it, to D65 (linear Bradford).
func FromD50(c Lab) Lab { return Adapt(c.xyz(WhiteD50), WhiteD50, WhiteD65).Lab(WhiteD65) }

// D50 is the colour relative to D50, as colour readers give it (linear
// Bradford).
func (c Lab) D50() Lab { return Adapt(c.XYZ(), WhiteD65, WhiteD50).Lab(WhiteD50) }
