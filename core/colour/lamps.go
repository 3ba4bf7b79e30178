package colour

import (
	"math"
	"sync"
)

// Spectra are the reflectances that were measured, by the colour they have in daylight.
type Spectra map[Lab]Spectrum

// power is a lamp's relative spectral power in our bands.
type power = [Wavelengths]float64

// bell is a Gaussian about a wavelength, in nm.
func bell(middle, wide float64) power {
	var out power
	for i := range out {
		d := (wavelength(i) - middle) / wide
		out[i] = math.Exp(-d * d / 2)
	}
	return out
}

func wavelength(i int) float64 { return firstBand + bandStep*float64(i) }

func sum(of ...power) (out power) {
	for _, p := range of {
		for i, v := range p {
			out[i] += v
		}
	}
	return out
}

// powers are the lamps' light, by their key. That of a glowing wire and of daylight are by
// their formulae (CIE 15); of tubes and LEDs, of which every make differs, each is of three
// parts, such as the pump and the two phosphors of an LED, or phosphors with the lines of
// mercury (405, 436, 546 and 578 nm), in the amounts that make the lamp's white.
var powers = sync.OnceValue(func() map[string]power {
	out := map[string]power{}
	var wire, sun power
	for i := range wire {
		w := wavelength(i)
		wire[i] = math.Pow(560/w, 5) * (math.Exp(1.435e7/(2848*560)) - 1) / (math.Exp(1.435e7/(2848*w)) - 1)
		sun[i] = daylight(i, .3457, .3585)
	}
	out["warm"], out["horizon"] = wire, sun
	for key, parts := range map[string][3]power{
		"tube":  {sum(bell(405, 7), bell(436, 7), bell(470, 32)), sum(bell(546, 7), bell(545, 34)), sum(bell(578, 7), bell(595, 42))},
		"tri":   {sum(bell(436, 9), bell(488, 8)), bell(545, 9), bell(611, 8)},
		"led27": {bell(452, 11), bell(530, 34), bell(610, 48)},
		"led40": {bell(450, 11), bell(530, 36), bell(600, 50)},
	} {
		for _, l := range Lamps() {
			if l.Key == key {
				out[key] = blended(parts, l.White)
			}
		}
	}
	return out
})

// daylight is the relative power of a phase of daylight of a chromaticity (CIE 15; Judd,
// MacAdam and Wyszecki 1964).
func daylight(i int, x, y float64) float64 {
	under := .0241 + .2562*x - .7341*y
	m1, m2 := (-1.3515-1.7703*x+5.9114*y)/under, (.03-31.4424*x+30.0717*y)/under
	s := phases[i]
	return s[0] + m1*s[1] + m2*s[2]
}

// phases are the mean and the first two components of daylight, 380 to 730 nm (CIE 15).
var phases = [Wavelengths][3]float64{
	{63.4, 38.5, 3}, {65.8, 35, 1.2}, {94.8, 43.4, -1.1}, {104.8, 46.3, -.5}, {105.9, 43.9, -.7}, {96.8, 37.1, -1.2}, {113.9, 36.7, -2.6},
	{125.6, 35.9, -2.9}, {125.5, 32.6, -2.8},
	{121.3, 27.9, -2.6}, {121.3, 24.3, -2.6}, {113.5, 20.1, -1.8}, {113.1, 16.2, -1.5}, {110.8, 13.2, -1.3}, {106.5, 8.6, -1.2},
	{108.8, 6.1, -1}, {105.3, 4.2, -.5}, {104.4, 1.9, -.3},
	{100, 0, 0}, {96, -1.6, .2}, {95.1, -3.5, .5}, {89.1, -3.5, 2.1}, {90.5, -5.8, 3.2}, {90.3, -7.2, 4.1}, {88.4, -8.6, 4.7}, {84, -9.5, 5.1},
	{85.1, -10.9, 6.7},
	{81.9, -10.7, 7.3}, {82.6, -12, 8.6}, {84.9, -14, 9.8}, {81.3, -13.6, 10.2}, {71.9, -12, 8.3}, {74.3, -13.3, 9.6}, {76.4, -12.9, 8.5},
	{63.3, -10.6, 7}, {71.7, -11.6, 7.6},
}

// under is the light that a reflectance throws back under a power, as the 2° observer sees
// it, Y 1 for a perfect white.
func (s Spectrum) under(p power) XYZ {
	var x XYZ
	all := 0.0
	for i, b := range bands {
		x.X += s[i] * p[i] * b[0]
		x.Y += s[i] * p[i] * b[1]
		x.Z += s[i] * p[i] * b[2]
		all += p[i] * b[1]
	}
	return XYZ{x.X / all, x.Y / all, x.Z / all}
}

// blended is three parts in the amounts that make a white: three equations in three unknowns.
func blended(parts [3]power, white XYZ) power {
	var m matrix
	for k, p := range parts {
		for i, b := range bands {
			for row := range 3 {
				m[row][k] += p[i] * b[row]
			}
		}
	}
	inverse := m.inverse()
	var share [3]float64
	share[0], share[1], share[2] = inverse.apply(white.X, white.Y, white.Z)
	var out power
	for k, p := range parts {
		for i, v := range p {
			out[i] += share[k] * v
		}
	}
	return out
}

// SeeSpectrum is See from a measured spectrum: what the lamp really makes of the material,
// as far as the lamp is like others of its sort.
func (l Lamp) SeeSpectrum(s Spectrum, degree float64) Lab {
	p, known := powers()[l.Key]
	if !known {
		return s.Lab()
	}
	var perfect Spectrum
	for i := range perfect {
		perfect[i] = 1
	}
	x, white := s.under(p), perfect.under(p)
	// What sampling every 10 nm leaves of the white's place is taken out.
	x = XYZ{x.X * l.White.X / white.X, x.Y * l.White.Y / white.Y, x.Z * l.White.Z / white.Z}
	return adapt(x, l.White, WhiteD65, degree).Lab(WhiteD65)
}

// Parting is how two materials that were both measured with a spectrum change places under
// a lamp, in ΔE00.
type Parting struct {
	Lamp       Lamp
	Daylight   float64
	Under      float64
	Apart      bool // they part; else they come together
	difference float64
}

// From where on materials part or come together, in ΔE00.
const (
	partsBy    = 2.0
	partsOver  = 3.0
	partsUnder = 6.0
)

// Partings tells the lamps under which two spectra part that were near one another, or come
// together that were not, the greatest change first.
func Partings(a, b Spectrum) []Parting {
	var out []Parting
	day := DeltaE2000(a.Lab(), b.Lab())
	for _, l := range Lamps()[1:] {
		under := DeltaE2000(l.SeeSpectrum(a, LampAdaptation), l.SeeSpectrum(b, LampAdaptation))
		p := Parting{Lamp: l, Daylight: day, Under: under, Apart: under > day, difference: math.Abs(under - day)}
		if p.difference < partsBy || p.Apart && (day >= partsUnder || under < partsOver) || !p.Apart && under >= partsOver {
			continue
		}
		at := 0
		for at < len(out) && out[at].difference >= p.difference {
			at++
		}
		out = append(out[:at], append([]Parting{p}, out[at:]...)...)
	}
	return out
}
