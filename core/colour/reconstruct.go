package colour

import (
	"math"
	"sync"
)

// Wavelengths is how many bands a reconstructed reflectance has, from 380 to 730 nm
// every 10 nm.
const Wavelengths = len(bands)

// weights are what each band adds to XYZ and to linear sRGB.
type weights struct{ xyz, rgb [3][Wavelengths]float64 }

// spectral makes XYZ of a reflectance, so that a perfect reflector is exactly D65
// white, and linear sRGB of it.
var spectral = sync.OnceValue(func() *weights {
	w := &weights{}
	var whole [3]float64
	for _, b := range bands {
		for k := range whole {
			whole[k] += b[k] * b[3]
		}
	}
	white := [3]float64{WhiteD65.X, WhiteD65.Y, WhiteD65.Z}
	for i, b := range bands {
		for k := range whole {
			w.xyz[k][i] = b[k] * b[3] * white[k] / whole[k]
		}
		w.rgb[0][i], w.rgb[1][i], w.rgb[2][i] = xyzToRGB.apply(w.xyz[0][i], w.xyz[1][i], w.xyz[2][i])
	}
	return w
})

// Limits of the reconstruction.
const (
	leastLinear = 1e-5
	onEdge      = 1e-4 // linear light by which a colour may miss sRGB and count as in it
	mostRounds  = 40
	mostStride  = 4.0 // of z in one round
	solved      = 1e-10
)

// Spectrum is a reflectance, 0 to 1, in bands of 10 nm from 380 to 730 nm.
type Spectrum [Wavelengths]float64

// Reflectance is a smooth reflectance that has the colour under D65: least slope
// squared in hyperbolic tangent space (Burns, LHTSS), found by Newton's method. The
// colour is first brought into sRGB. One colour has many reflectances; this is a
// likely one.
func Reflectance(c RGB) Spectrum {
	r, g, b := c.Linear()
	out, _ := reconstruct(clipped([3]float64{r, g, b}))
	return out
}

// SpectrumOf is a smooth reflectance of a colour, as Reflectance makes it, but of a
// colour outside sRGB with all its chroma: it is only brought into sRGB where no
// reflectance is found that has it.
func SpectrumOf(c Lab) Spectrum {
	x := c.XYZ()
	r, g, b := xyzToRGB.apply(x.X, x.Y, x.Z)
	want := [3]float64{r, g, b}
	if least, most := min(r, g, b), max(r, g, b); least < -onEdge || most > 1+onEdge {
		if out, found := reconstruct(want); found {
			return out
		}
	}
	out, _ := reconstruct(clipped(want))
	return out
}

// BandWeights are what the reflectance of each band adds to X, Y and Z under D65.
func BandWeights() [3][Wavelengths]float64 { return spectral().xyz }

// Lab is the colour of the reflectance under D65.
func (s *Spectrum) Lab() Lab { return s.XYZ().Lab(WhiteD65) }

// XYZ is the colour of the reflectance under D65; a perfect reflector is its white.
func (s *Spectrum) XYZ() XYZ {
	w := &spectral().xyz
	var x XYZ
	for i, r := range s {
		x.X += w[0][i] * r
		x.Y += w[1][i] * r
		x.Z += w[2][i] * r
	}
	return x
}

func clipped(want [3]float64) [3]float64 {
	for k := range want {
		want[k] = math.Min(1-leastLinear, math.Max(leastLinear, want[k]))
	}
	return want
}

// reconstruct finds the reflectance that has linear sRGB channels, which may lie
// outside 0–1, and reports whether it was found.
func reconstruct(want [3]float64) (out Spectrum, found bool) {
	if want[0] == want[1] && want[1] == want[2] {
		for i := range out {
			out[i] = want[0]
		}
		return out, true
	}
	const size = Wavelengths + 3
	t := &spectral().rgb
	var z [Wavelengths]float64
	var l [3]float64
	for range mostRounds {
		var m [size][size + 1]float64
		most := 0.0
		for i := range Wavelengths {
			th := math.Tanh(z[i])
			d := (1 - th*th) / 2
			slope := 0.0
			for k := range l {
				slope += t[k][i] * l[k]
				m[i][Wavelengths+k], m[Wavelengths+k][i] = d*t[k][i], d*t[k][i]
				m[Wavelengths+k][size] -= t[k][i] * (1 + th) / 2
			}
			h := 4.0
			grad := 4 * z[i]
			if i == 0 || i == Wavelengths-1 {
				h, grad = 2, 2*z[i]
			}
			if i > 0 {
				m[i][i-1] = -2
				grad -= 2 * z[i-1]
			}
			if i < Wavelengths-1 {
				m[i][i+1] = -2
				grad -= 2 * z[i+1]
			}
			m[i][i] = h - 2*th*d*slope
			m[i][size] = -(grad + d*slope)
			most = math.Max(most, math.Abs(m[i][size]))
		}
		for k := range l {
			m[Wavelengths+k][size] += want[k]
			most = math.Max(most, math.Abs(m[Wavelengths+k][size]))
		}
		if found = most < solved; found {
			break
		}
		eliminate(&m)
		scale := 1.0
		for i := range Wavelengths {
			if s := math.Abs(m[i][size]); s*scale > mostStride {
				scale = mostStride / s
			}
		}
		for i := range z {
			z[i] += scale * m[i][size]
		}
		for k := range l {
			l[k] += scale * m[Wavelengths+k][size]
		}
	}
	for i := range out {
		out[i] = (1 + math.Tanh(z[i])) / 2
	}
	return out, found
}

// eliminate solves the linear equations in place by Gauss and Jordan with
// pivots; the last column becomes the solution.
func eliminate(m *[Wavelengths + 3][Wavelengths + 4]float64) {
	const size = Wavelengths + 3
	for i := range size {
		best := i
		for j := i + 1; j < size; j++ {
			if math.Abs(m[j][i]) > math.Abs(m[best][i]) {
				best = j
			}
		}
		m[i], m[best] = m[best], m[i]
		if m[i][i] == 0 {
			continue
		}
		for j := range size {
			if j == i || m[j][i] == 0 {
				continue
			}
			k := m[j][i] / m[i][i]
			for c := i; c <= size; c++ {
				m[j][c] -= k * m[i][c]
			}
		}
	}
	for i := range size {
		if m[i][i] != 0 {
			m[i][size] /= m[i][i]
		}
	}
}

// paperWhite is the flat reflectance of the paper a film is seen on when one
// layer of it is photographed or measured.
const paperWhite = 0.9

// Film is what n layers of a see-through material look like over a flat paper
// of the given reflectance, 0 to 1, when one layer over white paper (0.9) looks
// as c: per band the light goes through each layer twice. A second layer really
// darkens somewhat less.
func Film(c RGB, n int, paper float64) XYZ {
	one := Reflectance(c)
	for i, r := range one {
		one[i] = paper * math.Pow(math.Min(1, r/paperWhite), float64(n))
	}
	return one.XYZ()
}
