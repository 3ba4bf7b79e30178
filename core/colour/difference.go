package colour

import (
	"fmt"
	"math"
)

// DeltaE2000 is the CIEDE2000 difference of two colours with kL = kC = kH = 1
// (ISO/CIE 11664-6; Sharma, Wu, Dalal 2005).
//
// It is written without angles where it can be: the hue terms come from the
// cosine and sine of the mean hue, so that at most one arc tangent and one
// exponential are left.
func DeltaE2000(a, b Lab) float64 {
	const pow25to7 = 6103515625
	c1, c2 := math.Sqrt(a.A*a.A+a.B*a.B), math.Sqrt(b.A*b.A+b.B*b.B)
	cm7 := pow7((c1 + c2) / 2)
	g := 1.5 - 0.5*math.Sqrt(cm7/(cm7+pow25to7))
	a1, a2 := g*a.A, g*b.A
	p1, p2 := math.Sqrt(a1*a1+a.B*a.B), math.Sqrt(a2*a2+b.B*b.B)

	dL, dC := b.L-a.L, p2-p1
	lm, cm := (a.L+b.L)/2, (p1+p2)/2

	t, dH, rot := 1.0, 0.0, 0.0
	if p1*p2 > 1e-12 {
		// Unit vectors of both hues; their sum points at the mean hue, and when
		// the hues are more than 180° apart the short way round is still meant.
		u1, v1, u2, v2 := a1/p1, a.B/p1, a2/p2, b.B/p2
		cross := u1*v2 - v1*u2
		su, sv := u1+u2, v1+v2
		n := math.Sqrt(su*su + sv*sv)
		var k, s float64
		if n > 1e-6 {
			k, s = su/n, sv/n
		} else {
			// Opposite hues: the formula takes the mean of the two angles.
			s, k = math.Sincos((math.Mod(math.Atan2(v1, u1)+2*math.Pi, 2*math.Pi) + math.Mod(math.Atan2(v2, u2)+2*math.Pi, 2*math.Pi)) / 2)
		}
		// The chord of the two is twice the sine of half the hue difference.
		chord := math.Sqrt((u1-u2)*(u1-u2) + (v1-v2)*(v1-v2))
		dH = math.Copysign(math.Sqrt(p1*p2)*chord, cross)
		k2, s2 := k*k-s*s, 2*k*s
		k3, s3 := k2*k-s2*s, s2*k+k2*s
		k4, s4 := k2*k2-s2*s2, 2*k2*s2
		const (
			cos30, sin30 = 0.86602540378443864676, 0.5
			cos6, sin6   = 0.99452189536827333692, 0.10452846326765347140
			cos63, sin63 = 0.45399049973954674897, 0.89100652418836786236
		)
		t = 1 - 0.17*(k*cos30+s*sin30) + 0.24*k2 + 0.32*(k3*cos6-s3*sin6) - 0.20*(k4*cos63+s4*sin63)
		if s < 0 || k < -0.7 { // below a mean hue of 135° the blue turn is under 1e-12
			h := math.Atan2(s, k) * 180 / math.Pi
			if h < 0 {
				h += 360
			}
			x := (h - 275) / 25
			cm7 = pow7(cm)
			rot = -2 * math.Sqrt(cm7/(cm7+pow25to7)) * math.Sin(math.Pi/3*math.Exp(-x*x))
		}
	}
	l50 := (lm - 50) * (lm - 50)
	sl := dL / (1 + 0.015*l50/math.Sqrt(20+l50))
	sc := dC / (1 + 0.045*cm)
	sh := dH / (1 + 0.015*cm*t)
	return math.Sqrt(math.Max(0, sl*sl+sc*sc+sh*sh+rot*sc*sh))
}

func pow7(x float64) float64 {
	x2 := x * x
	return x2 * x2 * x2 * x
}

// Upper ends, in ΔE00, of the words Apart uses.
const (
	limitSame   = 1.0
	limitHardly = 3.0
	limitClose  = 6.0
	limitBeside = 12.0
	limitClear  = 25.0
)

// Apart says a CIEDE2000 difference as a maker would, with its figure: "Barely different (ΔE 2.6)".
func Apart(de float64) string {
	said := "Very different"
	switch {
	case de < limitSame:
		return "Identical to the eye"
	case de < limitHardly:
		said = "Barely different"
	case de < limitClose:
		said = "Similar"
	case de < limitBeside:
		said = "Different side by side"
	case de < limitClear:
		said = "Clearly different"
	}
	if de < 10 {
		return fmt.Sprintf("%s (ΔE %.1f)", said, de)
	}
	return fmt.Sprintf("%s (ΔE %.0f)", said, de)
}

// Split2000 is CIEDE2000 of a and b by what differs: lightness, chroma and hue, each
// over its own weight, seen from a; a lighter, stronger b or one turned on counts up.
// The root of the sum of their squares is the difference but for its rotation term,
// which only blues have.
func Split2000(a, b Lab) (light, chroma, hue float64) {
	const pow25to7 = 6103515625
	c1, c2 := a.Chroma(), b.Chroma()
	cm7 := pow7((c1 + c2) / 2)
	g := 1.5 - 0.5*math.Sqrt(cm7/(cm7+pow25to7))
	a1, a2 := g*a.A, g*b.A
	p1, p2 := math.Hypot(a1, a.B), math.Hypot(a2, b.B)
	lm, pm := (a.L+b.L)/2, (p1+p2)/2
	h1, h2 := math.Atan2(a.B, a1), math.Atan2(b.B, a2)
	dh := math.Remainder(h2-h1, 2*math.Pi)
	hm := h1 + dh/2
	if p1*p2 < 1e-12 {
		dh, hm = 0, h1+h2
	}
	t := 1 - 0.17*math.Cos(hm-math.Pi/6) + 0.24*math.Cos(2*hm) + 0.32*math.Cos(3*hm+math.Pi/30) - 0.20*math.Cos(4*hm-63*math.Pi/180)
	sl := 1 + 0.015*(lm-50)*(lm-50)/math.Sqrt(20+(lm-50)*(lm-50))
	return (b.L - a.L) / sl, (p2 - p1) / (1 + 0.045*pm), 2 * math.Sqrt(p1*p2) * math.Sin(dh/2) / (1 + 0.015*pm*t)
}
