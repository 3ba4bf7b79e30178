// Package colour holds the colour science every other rule builds on: spaces,
// difference, gamut mapping, colour-vision deficiency, lamps, family names and
// the reading of one colour beside another.
//
// It works on plain values and keeps no state. Nothing about materials, plans,
// drawing or storage belongs here.
package colour

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

// RGB is a gamma-encoded sRGB colour (IEC 61966-2-1). Channels run 0 to 1.
type RGB struct{ R, G, B float64 }

// XYZ is a CIE 1931 2° tristimulus value scaled so that Y of white is 1.
type XYZ struct{ X, Y, Z float64 }

// Lab is a CIELAB colour relative to D65, 2°. L runs 0 to 100.
type Lab struct{ L, A, B float64 }

// LCh is CIELAB in cylindrical form: lightness 0 to 100, chroma C*ab and hue
// in degrees 0 to 360.
type LCh struct{ L, C, H float64 }

// OKLab is Ottosson's 2020 perceptual space. L runs 0 to 1.
type OKLab struct{ L, A, B float64 }

// OKLCh is OKLab in cylindrical form, H in degrees 0 to 360.
type OKLCh struct{ L, C, H float64 }

// White points with Y = 1, from CSS Color 4 (D65, D50), CIE 15 and ASTM E308.
var (
	WhiteD65   = XYZ{0.3127 / 0.3290, 1, (1 - 0.3127 - 0.3290) / 0.3290}
	WhiteD50   = XYZ{0.3457 / 0.3585, 1, (1 - 0.3457 - 0.3585) / 0.3585}
	WhiteA     = XYZ{1.09850, 1, 0.35585}
	WhiteF2    = XYZ{0.99186, 1, 0.67393}
	WhiteF11   = XYZ{1.00962, 1, 0.64350}
	WhiteP2700 = XYZ{1.11997750, 1, 0.315483764}
	WhiteP4000 = XYZ{1.00980435, 1, 0.644485623}
)

type matrix [3][3]float64

func (m *matrix) apply(x, y, z float64) (float64, float64, float64) {
	return m[0][0]*x + m[0][1]*y + m[0][2]*z,
		m[1][0]*x + m[1][1]*y + m[1][2]*z,
		m[2][0]*x + m[2][1]*y + m[2][2]*z
}

// Matrices of CSS Color 4 (sRGB) and Ottosson 2020 as restated there for D65.
var (
	rgbToXYZ = matrix{
		{506752. / 1228815, 87881. / 245763, 12673. / 70218},
		{87098. / 409605, 175762. / 245763, 12673. / 175545},
		{7918. / 409605, 87881. / 737289, 1001167. / 1053270}}
	xyzToRGB = matrix{
		{12831. / 3959, -329. / 214, -1974. / 3959},
		{-851781. / 878810, 1648619. / 878810, 36519. / 878810},
		{705. / 12673, -2585. / 12673, 705. / 667}}
	xyzToLMS = matrix{
		{0.8190224379967030, 0.3619062600528904, -0.1288737815209879},
		{0.0329836539323885, 0.9292868615863434, 0.0361446663506424},
		{0.0481771893596242, 0.2642395317527308, 0.6335478284694309}}
	lmsToXYZ = matrix{
		{1.2268798758459243, -0.5578149944602171, 0.2813910456659647},
		{-0.0405757452148008, 1.1122868032803170, -0.0717110580655164},
		{-0.0763729366746601, -0.4214933324022432, 1.5869240198367816}}
	lmsToOK = matrix{
		{0.2104542683093140, 0.7936177747023054, -0.0040720430116193},
		{1.9779985324311684, -2.4285922420485799, 0.4505937096174110},
		{0.0259040424655478, 0.7827717124575296, -0.8086757549230774}}
	okToLMS = matrix{
		{1, 0.3963377773761749, 0.2158037573099136},
		{1, -0.1055613458156586, -0.0638541728258133},
		{1, -0.0894841775298119, -1.2914855480194092}}
)

// ParseHex reads a colour written as three or six hexadecimal digits, with or
// without a leading #. The error says in plain words what is expected.
func ParseHex(s string) (RGB, error) {
	h := strings.TrimPrefix(strings.TrimSpace(s), "#")
	if len(h) == 3 {
		h = string([]byte{h[0], h[0], h[1], h[1], h[2], h[2]})
	}
	n, err := strconv.ParseUint(h, 16, 32)
	if err != nil || len(h) != 6 {
		return RGB{}, fmt.Errorf("%q is not a colour: write # and six digits 0–9 or a–f, such as #4b2346", s)
	}
	return RGB{float64(n>>16) / 255, float64(n>>8&255) / 255, float64(n&255) / 255}, nil
}

// Hex writes the colour as #rrggbb after clipping each channel to 0–1.
func (c RGB) Hex() string {
	const digits = "0123456789abcdef"
	b := [7]byte{'#'}
	for i, v := range [3]float64{c.R, c.G, c.B} {
		n := int(math.Round(255 * clamp01(v)))
		b[1+2*i], b[2+2*i] = digits[n>>4], digits[n&15]
	}
	return string(b[:])
}

// RGBA implements image/color.Color: channels of 0 to 65535, opaque, each clipped to
// 0–1 first and rounded to eight bits, as Hex is.
func (c RGB) RGBA() (r, g, b, a uint32) {
	eight := func(v float64) uint32 { return 0x101 * uint32(math.Round(255*clamp01(v))) }
	return eight(c.R), eight(c.G), eight(c.B), 0xffff
}

// Linear returns the linear-light channels (IEC 61966-2-1 decoding).
func (c RGB) Linear() (r, g, b float64) { return decode(c.R), decode(c.G), decode(c.B) }

// LinearRGB encodes linear-light channels, which may lie outside 0–1.
func LinearRGB(r, g, b float64) RGB { return RGB{encode(r), encode(g), encode(b)} }

func decode(v float64) float64 {
	if v < 0 {
		return -decode(-v)
	}
	if v <= 0.04045 {
		return v / 12.92
	}
	return math.Pow((v+0.055)/1.055, 2.4)
}

func encode(v float64) float64 {
	if v < 0 {
		return -encode(-v)
	}
	if v <= 0.0031308 {
		return 12.92 * v
	}
	return 1.055*math.Pow(v, 1/2.4) - 0.055
}

// XYZ converts to tristimulus values relative to D65.
func (c RGB) XYZ() XYZ { return LinearXYZ(c.Linear()) }

// LinearXYZ is the tristimulus values, relative to D65, of linear-light sRGB
// channels.
func LinearXYZ(r, g, b float64) XYZ {
	x, y, z := rgbToXYZ.apply(r, g, b)
	return XYZ{x, y, z}
}

// Lab converts to CIELAB, D65.
func (c RGB) Lab() Lab { return c.XYZ().Lab(WhiteD65) }

// OKLab converts to OKLab.
func (c RGB) OKLab() OKLab { return c.XYZ().OKLab() }

// OKLCh converts to OKLCh. The hue of a grey is 0.
func (c RGB) OKLCh() OKLCh { return c.OKLab().LCh() }

// raw converts to sRGB without gamut mapping, so channels may leave 0–1.
func (x XYZ) raw() RGB { return LinearRGB(xyzToRGB.apply(x.X, x.Y, x.Z)) }

const (
	labEpsilon = 216. / 24389
	labKappa   = 24389. / 27
)

// Lab converts to CIELAB (CIE 15) relative to the given white. Only colours
// relative to D65 may be mixed with the rest of this package.
func (x XYZ) Lab(white XYZ) Lab {
	f := func(t float64) float64 {
		if t > labEpsilon {
			return math.Cbrt(t)
		}
		return (labKappa*t + 16) / 116
	}
	fx, fy, fz := f(x.X/white.X), f(x.Y/white.Y), f(x.Z/white.Z)
	return Lab{116*fy - 16, 500 * (fx - fy), 200 * (fy - fz)}
}

// XYZ converts back to tristimulus values relative to D65.
func (c Lab) XYZ() XYZ { return c.xyz(WhiteD65) }

func (c Lab) xyz(white XYZ) XYZ {
	fy := (c.L + 16) / 116
	fx, fz := fy+c.A/500, fy-c.B/200
	inv := func(f float64) float64 {
		if t := f * f * f; t > labEpsilon {
			return t
		}
		return (116*f - 16) / labKappa
	}
	return XYZ{white.X * inv(fx), white.Y * inv(fy), white.Z * inv(fz)}
}

// LCh converts to cylindrical CIELAB.
func (c Lab) LCh() LCh { return LCh{c.L, math.Hypot(c.A, c.B), degrees(c.A, c.B)} }

// Lab converts back to rectangular CIELAB.
func (c LCh) Lab() Lab {
	s, k := math.Sincos(c.H * math.Pi / 180)
	return Lab{c.L, c.C * k, c.C * s}
}

// Hex writes the colour as #rrggbb, brought into sRGB where it lies outside.
func (c Lab) Hex() string {
	rgb, _ := c.RGB()
	return rgb.Hex()
}

// OKLCh converts to OKLCh.
func (c Lab) OKLCh() OKLCh { return c.XYZ().OKLab().LCh() }

// Lab converts to CIELAB, D65, without gamut mapping.
func (c OKLCh) Lab() Lab { return c.ok().xyz().Lab(WhiteD65) }

// OKLab converts to OKLab.
func (x XYZ) OKLab() OKLab {
	l, m, s := xyzToLMS.apply(x.X, x.Y, x.Z)
	okL, a, b := lmsToOK.apply(math.Cbrt(l), math.Cbrt(m), math.Cbrt(s))
	return OKLab{okL, a, b}
}

func (c OKLab) xyz() XYZ {
	l, m, s := okToLMS.apply(c.L, c.A, c.B)
	x, y, z := lmsToXYZ.apply(l*l*l, m*m*m, s*s*s)
	return XYZ{x, y, z}
}

// LCh converts to cylindrical OKLab.
func (c OKLab) LCh() OKLCh { return OKLCh{c.L, math.Hypot(c.A, c.B), degrees(c.A, c.B)} }

func (c OKLCh) ok() OKLab {
	s, k := math.Sincos(c.H * math.Pi / 180)
	return OKLab{c.L, c.C * k, c.C * s}
}

// degrees is the angle of (x, y), 0 to 360; 0 when both are almost nothing.
func degrees(x, y float64) float64 {
	if math.Hypot(x, y) < 1e-7 {
		return 0
	}
	h := math.Atan2(y, x) * 180 / math.Pi
	if h < 0 {
		h += 360
	}
	return h
}

// HueBetween is the signed turn in degrees, −180 to 180, that takes hue a to b.
func HueBetween(a, b float64) float64 {
	d := math.Mod(b-a, 360)
	if d > 180 {
		d -= 360
	} else if d <= -180 {
		d += 360
	}
	return d
}

func clamp01(v float64) float64 { return math.Max(0, math.Min(1, v)) }
