package colour

import "sync"

// Lam's 1985 Bradford cone matrix; its inverse is worked out once below.
var (
	bradford = matrix{
		{0.8951, 0.2664, -0.1614},
		{-0.7502, 1.7135, 0.0367},
		{0.0389, -0.0685, 1.0296}}
	bradfordInverse = bradford.inverse()
)

func (m matrix) inverse() matrix {
	cof := func(r, c int) float64 {
		a, b, d, e := (r+1)%3, (r+2)%3, (c+1)%3, (c+2)%3
		return m[a][d]*m[b][e] - m[a][e]*m[b][d]
	}
	det := m[0][0]*cof(0, 0) + m[0][1]*cof(0, 1) + m[0][2]*cof(0, 2)
	var inv matrix
	for r := range 3 {
		for c := range 3 {
			inv[c][r] = cof(r, c) / det
		}
	}
	return inv
}

// Adapt carries x, seen under white from, to the corresponding colour under
// white to: linear Bradford, complete adaptation (Lam 1985; CIE 159 annex).
func Adapt(x XYZ, from, to XYZ) XYZ { return adapt(x, from, to, 1) }

// adapt is Adapt with a degree of adaptation, 0 (none) to 1 (complete).
func adapt(x, from, to XYZ, degree float64) XYZ {
	r, g, b := bradford.apply(x.X, x.Y, x.Z)
	r0, g0, b0 := bradford.apply(from.X, from.Y, from.Z)
	r1, g1, b1 := bradford.apply(to.X, to.Y, to.Z)
	gain := func(v, w0, w1 float64) float64 { return v * (degree*w1/w0 + 1 - degree) }
	X, Y, Z := bradfordInverse.apply(gain(r, r0, r1), gain(g, g0, g1), gain(b, b0, b1))
	return XYZ{X, Y, Z}
}

// sameColour is the ΔE00 within which a reflectance has a colour.
const sameColour = 0.2

// LampAdaptation is how far the eye is taken to get used to a lamp, 0–1; the
// rest stays visible as the lamp's cast.
const LampAdaptation = 0.85

// Lamp is a light that colours are judged under.
type Lamp struct {
	Key   string // short name used in addresses and settings
	Name  string // as the maker reads it
	White XYZ    // white point, Y = 1
}

// Lamps lists the lights in the order they are offered; the first is daylight.
func Lamps() []Lamp {
	return []Lamp{
		{"daylight", "daylight", WhiteD65},
		{"warm", "warm bulb", WhiteA},
		{"tube", "shop tube", WhiteF2},
		{"horizon", "low sun", WhiteD50},
		{"led27", "warm LED", WhiteP2700},
		{"led40", "cool LED", WhiteP4000},
		{"tri", "three-band tube", WhiteF11},
	}
}

// See shows a daylight colour as it looks under the lamp to an eye that has
// adapted by the given degree, 0 to 1: through the smooth reflectance that has the colour, or by
// adaptation alone where no reflectance has it. It starts from one colour, not from a
// measured spectrum, so it never tells whether two cloths part under it.
func (l Lamp) See(c Lab, degree float64) Lab {
	if l.White == WhiteD65 {
		return c
	}
	key := seenAs{l.Key, c, degree}
	seen.Lock()
	out, known := seen.of[key]
	seen.Unlock()
	if known {
		return out
	}
	out = l.see(c, degree)
	seen.Lock()
	defer seen.Unlock()
	if len(seen.of) >= seenKept || seen.of == nil {
		seen.of = map[seenAs]Lab{}
	}
	seen.of[key] = out
	return out
}

// seenKept is how many colours under lamps are remembered: a reflectance takes a while to find.
const seenKept = 8192

type seenAs struct {
	lamp   string
	c      Lab
	degree float64
}

// seen are colours as they look under lamps.
var seen struct {
	sync.Mutex
	of map[seenAs]Lab
}

func (l Lamp) see(c Lab, degree float64) Lab {
	if s := SpectrumOf(c); DeltaE2000(s.Lab(), c) < sameColour {
		return l.SeeSpectrum(s, degree)
	}
	under := Adapt(c.XYZ(), WhiteD65, l.White)
	return adapt(under, l.White, WhiteD65, degree).Lab(WhiteD65)
}
