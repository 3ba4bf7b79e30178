// Package mix works out what colours become when they are put together: paints in
// paints, a little colourant in a base, layers over paper, fibres among fibres,
// threads beside threads. It finds recipes, learns from what really came out, and
// says how far to trust either.
//
// Which materials take which way, and where records are kept, belongs elsewhere.
package mix

import (
	"math"
	"sync"

	"lampfern/core/colour"
)

// Part is a colourant in a mix. Parts are by whatever the mix is measured in; Strength
// is how strongly the colourant scatters beside white, which has 1.
type Part struct {
	Colour          colour.Lab
	Parts, Strength float64
}

// Surface is what the boundary of a paint film sends back: of light from outside
// (Outer, k1) and of light from within (Inner, k2), 0 to 1 (Saunderson 1942). The zero
// value is none.
type Surface struct{ Outer, Inner float64 }

// Painted is the surface of a usual paint film.
func Painted() Surface { return Surface{Outer: 0.04, Inner: 0.6} }

// inside is the reflectance within a film that measures r, its gloss left out.
func (s Surface) inside(r float64) float64 {
	return r / ((1-s.Outer)*(1-s.Inner) + s.Inner*r)
}

// outside is what a film measures within which the reflectance is r.
func (s Surface) outside(r float64) float64 {
	return (1 - s.Outer) * (1 - s.Inner) * r / (1 - s.Inner*r)
}

// Reflectances that Kubelka and Munk's function is taken of.
const leastR, mostR = 0.001, 0.999

// absorption is K/S of a reflectance (Kubelka and Munk 1931).
func absorption(r float64) float64 {
	r = math.Min(mostR, math.Max(leastR, r))
	return (1 - r) * (1 - r) / (2 * r)
}

// reflected is the reflectance of K/S.
func reflected(q float64) float64 { return 1 + q - math.Sqrt(q*q+2*q) }

// Way is how colourants come together. In each the mix has the mean of some function of
// the reflectance, weighed by parts and strength.
type Way int

// The ways: opaque paints and pigments (Kubelka and Munk 1931), fibres carded or felted
// together (Stearns and Noechel 1944, with M 0.15), and strands or dots beside one
// another, whose light adds up.
const (
	Opaque Way = iota
	Fibres
	Strands
)

// fibreM is the constant of Stearns and Noechel's function.
const fibreM = 0.15

// fibre is their function of a reflectance, and reflecting its inverse.
func fibre(r float64) float64 {
	r = math.Max(0.011, r)
	return (1 - r) / (fibreM*(r-0.01) + 0.01)
}

func reflecting(f float64) float64 { return (1 + f*(0.01*fibreM-0.01)) / (1 + f*fibreM) }

// Paint is a colourant made ready to be mixed: the function of its reflectance by band.
type Paint struct {
	q   colour.Spectrum
	few [coarse]float64 // the same in fewer bands, to look through many mixes
	way Way
	s   Surface
}

// coarse is how many bands are looked at first, each of three.
const coarse = colour.Wavelengths / 3

// of is the function of a reflectance, and back its inverse.
func (p *Paint) of(r float64) float64 {
	switch p.way {
	case Fibres:
		return fibre(r)
	case Strands:
		return r
	}
	return absorption(p.s.inside(r))
}

func (p *Paint) back(q float64) float64 {
	switch p.way {
	case Fibres:
		return reflecting(q)
	case Strands:
		return q
	}
	return p.s.outside(reflected(q))
}

// Ready makes a colour ready to be mixed as opaque paint in films of a surface.
func Ready(c colour.Lab, s Surface) Paint { return ready(colour.SpectrumOf(c), Paint{s: s}) }

// ReadyAs makes a colour ready to be mixed in a way; paints are in a usual film.
func ReadyAs(c colour.Lab, way Way) Paint {
	p := Paint{way: way}
	if way == Opaque {
		p.s = Painted()
	}
	return ready(colour.SpectrumOf(c), p)
}

// ready fills in the function of a reflectance.
func ready(r colour.Spectrum, p Paint) Paint {
	for i, v := range r {
		p.q[i] = p.of(v)
	}
	for j := range p.few {
		p.few[j] = p.of((r[3*j] + r[3*j+1] + r[3*j+2]) / 3)
	}
	return p
}

// Blend is the colour of a mix of opaque paints: the mean of their K/S, weighed by
// parts and strength (Kubelka and Munk 1931 with two constants, the scattering of
// each paint flat over wavelength). A mix of nothing is black.
func Blend(parts []Part, s Surface) colour.Lab {
	paints, weights := make([]Paint, len(parts)), make([]float64, len(parts))
	for i, p := range parts {
		paints[i], weights[i] = Ready(p.Colour, s), p.Parts*p.Strength
	}
	return Mixed(paints, weights)
}

// Mixed is the colour of ready colourants of one way by their weights: parts times
// strength. A mix of nothing is black.
func Mixed(paints []Paint, weights []float64) colour.Lab {
	var q colour.Spectrum
	all := 0.0
	var one *Paint
	for k := range paints {
		if !(weights[k] > 0) {
			continue
		}
		one = &paints[k]
		all += weights[k]
		for i := range q {
			q[i] += weights[k] * one.q[i]
		}
	}
	if all == 0 {
		return colour.Lab{}
	}
	for i := range q {
		q[i] = one.back(q[i] / all)
	}
	return q.Lab()
}

// DefaultStrength is how strongly a paint scatters that was never tried in white: the
// paler its masstone the more, and white 1.
func DefaultStrength(masstone colour.Lab, white bool) float64 {
	if white {
		return 1
	}
	y := math.Max(0, masstone.XYZ().Y)
	return math.Max(leastStrength, 0.45*math.Pow(y, 0.45))
}

// leastStrength is that of a pure black, which scatters almost nothing.
const leastStrength = 0.01

// InBase is the colour of a base with a colourant in it, such as soap or a bath of
// dye: its K/S rises with the dose above the base's own. tried is what one dose made
// of the base; dose is a multiple of that.
func InBase(base, tried colour.Lab, dose float64) colour.Lab {
	b, t := colour.SpectrumOf(base), colour.SpectrumOf(tried)
	for i := range b {
		q := absorption(b[i])
		q += math.Max(0, dose) * (absorption(t[i]) - q)
		b[i] = reflected(math.Max(0, q))
	}
	return b.Lab()
}

// Layered is the colour of n layers of a marker, glaze or wash over paper, of which
// over is what one layer made: the light goes through each twice. A second layer
// really darkens somewhat less. n need not be whole: a wash thinned to half is half
// a layer.
func Layered(paper, over colour.Lab, n float64) colour.Lab {
	p, o := colour.SpectrumOf(paper), colour.SpectrumOf(over)
	for i := range p {
		if p[i] > 0 {
			p[i] *= math.Pow(math.Min(1, o[i]/p[i]), math.Max(0, n))
		}
	}
	return p.Lab()
}

// fewWeights are what each coarse band adds to XYZ.
var fewWeights = sync.OnceValue(func() *[coarse][3]float64 {
	w, out := colour.BandWeights(), &[coarse][3]float64{}
	for j := range out {
		for k := range 3 {
			out[j][k] = w[k][3*j] + w[k][3*j+1] + w[k][3*j+2]
		}
	}
	return out
})
