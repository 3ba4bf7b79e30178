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

// Way is how colourants come together. In each some function of the reflectance is the
// mean of that of the colourants, weighed by parts and strength, or that of a ground
// with what each part adds to it.
type Way int

// The ways that take a mean: opaque paints and pigments (Kubelka and Munk 1931), fibres
// carded or felted together (Stearns and Noechel 1944, with M 0.15), strands or dots
// beside one another, whose light adds up, and a wash, of which the light goes through
// a film twice to its ground and back: the mean of ln R, the ground counting as water.
//
// The ways that add to a ground: layers over layers on paper (ln R), and doses of
// colourants in a base, such as soap or a bath of dye (K/S).
const (
	Opaque Way = iota
	Fibres
	Strands
	Wash
	Layers
	Doses
)

// adds reports whether parts add to a ground.
func (w Way) adds() bool { return w == Layers || w == Doses }

// fibreM is the constant of Stearns and Noechel's function.
const fibreM = 0.15

// fibre is their function of a reflectance, and reflecting its inverse.
func fibre(r float64) float64 {
	r = math.Max(0.011, r)
	return (1 - r) / (fibreM*(r-0.01) + 0.01)
}

func reflecting(f float64) float64 { return (1 + f*(0.01*fibreM-0.01)) / (1 + f*fibreM) }

// Paint is a colourant made ready to be mixed: the function of its reflectance by band.
// Of ways that add to a ground it is what one part adds.
type Paint struct {
	q      colour.Spectrum
	few    [coarse]float64 // the same in fewer bands, to look through many mixes
	way    Way
	s      Surface
	ground *Paint            // what is added to; nil where a mean is taken
	more   []colour.Spectrum // what two, three … parts add together, where that is known
	tried  float64           // parts of which it is known what they add
	bend   float64           // parts at which one more does half of what the first did; 0 for never
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
	case Wash, Layers:
		return math.Log(math.Max(leastR, r))
	}
	return absorption(p.s.inside(r))
}

func (p *Paint) back(q float64) float64 {
	switch p.way {
	case Fibres:
		return reflecting(q)
	case Strands:
		return q
	case Wash, Layers:
		return math.Exp(q)
	}
	return p.s.outside(reflected(math.Max(0, q)))
}

// Ready makes a colour ready to be mixed as opaque paint in films of a surface.
func Ready(c colour.Lab, s Surface) Paint { return ready(colour.SpectrumOf(c), Paint{s: s}) }

// ReadyAs makes a reflectance ready to be mixed in a way that takes a mean; paints are
// in a usual film. For a wash it is that of one layer, and the water is its ground.
func ReadyAs(r colour.Spectrum, way Way) Paint {
	p := Paint{way: way}
	if way == Opaque {
		p.s = Painted()
	}
	return ready(r, p)
}

// ReadyOver makes a colourant ready to be added to a ground: in Layers, or in Doses.
// tried is the reflectance that so many parts of it gave, and more those of whole
// layers from two on, where they were measured.
func ReadyOver(ground, tried colour.Spectrum, parts float64, way Way, more ...colour.Spectrum) Paint {
	base := ready(ground, Paint{way: way})
	p := ready(tried, Paint{way: way, ground: &base, tried: parts})
	most := math.Inf(1) // that is added in a band: a film lightens nothing
	if way == Layers {
		most = 0
	}
	for i := range p.q {
		p.q[i] = math.Min(most, (p.q[i]-base.q[i])/parts)
	}
	for j := range p.few {
		p.few[j] = math.Min(most, (p.few[j]-base.few[j])/parts)
	}
	for _, r := range more {
		of := ready(r, Paint{way: way})
		for i := range of.q {
			of.q[i] = math.Min(most, of.q[i]-base.q[i])
		}
		p.more = append(p.more, of.q)
	}
	return p
}

// Thicker is the reflectance of n layers of a film over a ground, of which one is the
// reflectance of one (R = Rp·T²ⁿ).
func Thicker(ground, one colour.Spectrum, n float64) colour.Spectrum {
	for i, r := range one {
		g := math.Max(leastR, ground[i])
		one[i] = g * math.Pow(math.Min(1, math.Max(leastR, r)/g), n)
	}
	return one
}

// Bent is the paint of which each part does less than the one before: so many parts of
// it do half of what they would (dose/(1+dose/d₀)). As much as was tried does what it did.
func (p Paint) Bent(half float64) Paint {
	if p.bend = half; half > 0 {
		for i := range p.q {
			p.q[i] *= 1 + p.tried/half
		}
		for j := range p.few {
			p.few[j] *= 1 + p.tried/half
		}
	}
	return p
}

// does is what so many parts do, as a multiple of what one part adds.
func (p *Paint) does(parts float64) float64 {
	if p.bend > 0 {
		return parts / (1 + parts/p.bend)
	}
	return parts
}

// adding is what so many parts add in a band: as it was measured for whole parts, on
// straight lines between these, and beyond the last as it goes on.
func (p *Paint) adding(parts float64, band int) float64 {
	if len(p.more) == 0 || parts <= 1 {
		return p.does(parts) * p.q[band]
	}
	at := func(n int) float64 {
		if n == 1 {
			return p.q[band]
		}
		return p.more[n-2][band]
	}
	last := len(p.more) + 1
	if parts >= float64(last) {
		return at(last) + (parts-float64(last))*(at(last)-at(last-1))
	}
	n := int(parts)
	return at(n) + (parts-float64(n))*(at(n+1)-at(n))
}

// addingFew is adding in the few bands.
func (p *Paint) addingFew(parts float64) (out [coarse]float64) {
	if len(p.more) == 0 {
		for j := range out {
			out[j] = p.does(parts) * p.few[j]
		}
		return out
	}
	for j := range out {
		for i := range 3 {
			out[j] += p.adding(parts, 3*j+i) / 3
		}
	}
	return out
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
// strength. A mean of nothing is black; nothing added leaves the ground.
func Mixed(paints []Paint, weights []float64) colour.Lab {
	var q colour.Spectrum
	if len(paints) > 0 && paints[0].way.adds() {
		ground := paints[0].ground
		q = ground.q
		for k := range paints {
			if weights[k] > 0 {
				for i := range q {
					q[i] += paints[k].adding(weights[k], i)
				}
			}
		}
		for i := range q {
			q[i] = math.Min(1, ground.back(q[i]))
		}
		return q.Lab()
	}
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
	return Mixed([]Paint{ReadyOver(colour.SpectrumOf(base), colour.SpectrumOf(tried), 1, Doses)}, []float64{math.Max(0, dose)})
}

// Layered is the colour of n layers of a marker, glaze or wash over paper, of which
// over is what one layer made: the light goes through each twice. A second layer
// really darkens somewhat less. n need not be whole: a wash thinned to half is half
// a layer.
func Layered(paper, over colour.Lab, n float64) colour.Lab {
	return Mixed([]Paint{ReadyOver(colour.SpectrumOf(paper), colour.SpectrumOf(over), 1, Layers)}, []float64{math.Max(0, n)})
}

// Bend is the half of Bent at which the doses of a colourant that were tried alone in a
// ground come nearest to what they did; 0 when they call for none. Doses are in parts
// of the paint, of which two must differ: 1/effect = (1/dose + 1/half)/strength, on a
// line (Lineweaver and Burk's plot).
func Bend(p Paint, doses []float64, measured []colour.Lab) float64 {
	var n, sx, sy, sxx, sxy, most float64
	for i, d := range doses {
		r := ready(colour.SpectrumOf(measured[i]), Paint{way: p.way})
		over, all := 0.0, 0.0
		for b := range r.q {
			over += (r.q[b] - p.ground.q[b]) * p.q[b]
			all += p.q[b] * p.q[b]
		}
		if !(d > 0 && over > 0 && all > 0) {
			continue
		}
		x, y := 1/d, all/over
		most = math.Max(most, d)
		n, sx, sy, sxx, sxy = n+1, sx+x, sy+y, sxx+x*x, sxy+x*y
	}
	spread := n*sxx - sx*sx
	if n < 2 || spread < 1e-9 {
		return 0
	}
	slope := (n*sxy - sx*sy) / spread // 1/strength
	at0 := (sy - slope*sx) / n        // 1/(strength·half)
	if !(slope > 0 && at0 > 0) {
		return 0
	}
	if half := slope / at0; half < mostHalf*most {
		return max(leastHalf, half)
	}
	return 0
}

// Bounds of a bend: the least in parts, and the most in the largest dose that was tried,
// beyond which it bends nothing that is used.
const leastHalf, mostHalf = 0.5, 10.0

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
