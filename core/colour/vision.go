package colour

// Deficiency is a kind of colour-vision deficiency.
type Deficiency int

// The three kinds: long-wave, middle-wave and short-wave cones.
const (
	Protan Deficiency = iota
	Deutan
	Tritan
)

// Deficiencies lists the three kinds.
func Deficiencies() []Deficiency { return []Deficiency{Protan, Deutan, Tritan} }

// String names an eye that lacks the kind altogether, as it is simulated at severity 1.
func (d Deficiency) String() string {
	return [...]string{"red-blind", "green-blind", "blue-blind"}[d]
}

// Weak names an eye in which the kind is weak, as it is simulated at WeakSeverity.
func (d Deficiency) Weak() string {
	return [...]string{"red-weak", "green-weak", "blue-weak"}[d]
}

// WeakSeverity is the severity of an eye that is weak and not blind.
const WeakSeverity = 0.6

// ToldApart is the ΔE00 under which two colours count as one to an eye.
const ToldApart = 6.0

// Confused names the eyes to which two colours that are told apart in full colour vision
// come closer than ToldApart: those that are blind to red or to green, and those in which
// these are only weak. The third kind is very rare and left out.
func Confused(a, b Lab) (blind, weak []string) {
	if DeltaE2000(a, b) < ToldApart {
		return nil, nil
	}
	ca, _ := a.RGB()
	cb, _ := b.RGB()
	for _, d := range []Deficiency{Protan, Deutan} {
		if DeltaE2000(Simulate(ca, d, 1).Lab(), Simulate(cb, d, 1).Lab()) < ToldApart {
			blind = append(blind, d.String())
		}
		if DeltaE2000(Simulate(ca, d, WeakSeverity).Lab(), Simulate(cb, d, WeakSeverity).Lab()) < ToldApart {
			weak = append(weak, d.Weak())
		}
	}
	return blind, weak
}

// machado, Oliveira, Fernandes 2009, at severity 0.5 and 1.
var machado = [3][2]matrix{
	Protan: {
		{{0.458064, 0.679578, -0.137642}, {0.092785, 0.846313, 0.060902}, {-0.007494, -0.016807, 1.024301}},
		{{0.152286, 1.052583, -0.204868}, {0.114503, 0.786281, 0.099216}, {-0.003882, -0.048116, 1.051998}}},
	Deutan: {
		{{0.547494, 0.607765, -0.155259}, {0.181692, 0.781742, 0.036566}, {-0.010410, 0.027275, 0.983136}},
		{{0.367322, 0.860646, -0.227968}, {0.280085, 0.672501, 0.047413}, {-0.011820, 0.042940, 0.968881}}},
	Tritan: {
		{{1.017277, 0.027029, -0.044306}, {-0.006113, 0.958479, 0.047634}, {0.006379, 0.248708, 0.744913}},
		{{1.255528, -0.076749, -0.178779}, {-0.078411, 0.930809, 0.147602}, {0.004733, 0.691367, 0.303900}}},
}

// Simulate shows c as seen with a colour-vision deficiency of the given
// severity, 0 (none) to 1 (complete); severities outside are clamped. The
// published matrices at 0.5 and 1 act on linear light and are interpolated
// between; the result is clipped to sRGB.
func Simulate(c RGB, kind Deficiency, severity float64) RGB {
	s := clamp01(severity)
	r, g, b := c.Linear()
	at := func(m *matrix) (float64, float64, float64) { return m.apply(r, g, b) }
	r0, g0, b0 := r, g, b
	r1, g1, b1 := at(&machado[kind][0])
	t := 2 * s
	if s > 0.5 {
		r0, g0, b0 = r1, g1, b1
		r1, g1, b1 = at(&machado[kind][1])
		t = 2*s - 1
	}
	mix := func(x, y float64) float64 { return clamp01(x + t*(y-x)) }
	return LinearRGB(mix(r0, r1), mix(g0, g1), mix(b0, b1))
}
