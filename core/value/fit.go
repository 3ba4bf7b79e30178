package value

import (
	"errors"
	"math"
	"math/rand/v2"
	"slices"
	"sort"

	"lampfern/core/colour"
)

// ErrTooFew tells that fewer than three colours cannot be fitted.
var ErrTooFew = errors.New("a gradient needs at least three colours")

// Fitting. Colours tend to neutral at black and white, so the run is fitted in
// coordinates scaled by an envelope over L*; starting values, tried on runs of
// cloth.
const (
	envelopeFloor  = 0.12
	subsetApart    = 8.0  // L* between the colours of a trial subset
	trialsAll      = 24   // up to so many colours every subset is tried
	trialsSampled  = 1500 // of more, so many
	curvatureCost  = 0.01
	rounds         = 10
	tukeyTuning    = 3.5
	scaleFloor     = 2.5 // Lab units
	ridgeQuadratic = 0.05
	ridgeSlope     = 0.01
	curveFrom      = 5 // fewer colours take a straight line
)

// Strays. Starting values a maker may change one day.
const (
	leanFrom   = 6.0  // across the run, Lab units
	turnFrom   = 20.0 // degrees of hue
	greyFrom   = -8.0 // along the run's chroma
	strongFrom = 10.0
	hueFrom    = 8.0  // C*ab below which a hue is not judged
	hueFromL   = 12.0 // L* below which cloth is too dark for its hue to be judged

	otherHue     = 70.0 // degrees of turn from which a colour is of another hue, and named by its own
	nearNeutral  = 15.0 // C*ab of the curve under which undertones are what people look at
	undertoneOf  = 4.0  // C*ab from which an undertone is judged
	greyScaled   = 3.8  // the same thresholds in units of S_C and S_H, as CIEDE2000 scales
	strongScaled = 4.2
	leanScaled   = 4.0
)

// Lean of a stray that keeps its hue.
const (
	Grey   = "grey"
	Strong = "strong"
)

// Stray is a colour that does not belong to a run. Lean is "grey", "strong", or
// the name of the family its hue turns toward. Radial is how far it lies from
// the run along its chroma and Tangential across it, counter-clockwise in a*b*,
// both in Lab units.
type Stray struct {
	Index      int
	Lean       string
	Radial     float64
	Tangential float64
}

// Offset is where one colour lies beside the fitted run.
type Offset struct {
	Radial     float64
	Tangential float64
	Turn       float64 // signed degrees of CIELAB hue from the run; 0 where no hue is judged
}

// Run is a run of colours from dark to light with the curve fitted to it.
type Run struct {
	Order   []int    // by index, dark to light
	Offsets []Offset // of every colour, by index
	Strays  []Stray  // in order of value
	// Second are colours, by index, that make a run of their own beside this
	// one; nil when there is one run only.
	Second []int
	// Neutral tells that no colour has a hue to speak of; Undertone is then the
	// family their small hues turn toward, empty when they turn nowhere.
	Neutral   bool
	Undertone colour.FamilyName
	Low, High float64 // L* of the darkest and the lightest that belong to it

	a, b quadratic
}

// quadratic is c0 + c1·x + c2·x² with x = (L* − 50)/50.
type quadratic [3]float64

func (q quadratic) at(x float64) float64 { return q[0] + x*(q[1]+x*q[2]) }

func scaled(l float64) float64 { return (l - 50) / 50 }

func envelope(l float64) float64 { return math.Max(envelopeFloor, l*(100-l)/2500) }

// At is the run's colour at a lightness, L* 0 to 100.
func (r Run) At(l float64) colour.Lab {
	x, e := scaled(l), envelope(l)
	return colour.Lab{L: l, A: e * r.a.at(x), B: e * r.b.at(x)}
}

// Belongs reports whether a colour, by index, is no stray.
func (r Run) Belongs(i int) bool {
	return !slices.ContainsFunc(r.Strays, func(s Stray) bool { return s.Index == i })
}

// Fit fits a run to colours in any order: least trimmed squares over trial
// subsets of three, refined by weighted least squares with Tukey's biweight
// (Rousseeuw 1984; Beaton and Tukey 1974). Fewer than three colours are
// ErrTooFew; the order is told all the same.
func Fit(c []colour.Lab) (Run, error) {
	most, half := kept(len(c)), len(c)/2+1
	r := fit(c, most)
	if len(c) < 3 {
		return r, ErrTooFew
	}
	r.judge(c)
	r.second(c)
	if most == half {
		return r, nil
	}
	// Two runs of like size that turn away from one another are found by the smaller half.
	other := fit(c, half)
	other.judge(c)
	other.second(c)
	if n := len(other.Second); 2*n >= secondLike*(len(c)-n) && n > 0 && other.away(c) {
		return other, nil
	}
	return r, nil
}

// kept is how many residuals count in a trial: a curve through three of seven overfits
// when only four do.
func kept(n int) int { return max(n/2+1, min((n+4)/2, n-2)) }

// fit orders the colours and fits the curve to so many of them, without judging.
func fit(c []colour.Lab, keep int) Run {
	r := Run{Order: Read(c).Order, Offsets: make([]Offset, len(c))}
	if len(c) > 0 {
		r.Low, r.High = c[r.Order[0]].L, c[r.Order[len(c)-1]].L
	}
	if len(c) < 3 {
		return r
	}
	p := newPoints(c)
	r.a, r.b = p.trials(len(c) >= curveFrom, keep)
	for range rounds {
		r.a, r.b = p.refine(r.a, r.b, len(c) >= curveFrom)
	}
	return r
}

// points are colours in scaled coordinates.
type points struct {
	x, e, a, b []float64
	residual   []float64 // scratch
}

func newPoints(c []colour.Lab) *points {
	n := len(c)
	p := &points{make([]float64, n), make([]float64, n), make([]float64, n), make([]float64, n), make([]float64, n)}
	for i, k := range c {
		p.x[i], p.e[i] = scaled(k.L), envelope(k.L)
		p.a[i], p.b[i] = k.A/p.e[i], k.B/p.e[i]
	}
	return p
}

// residuals are squared, in unscaled Lab.
func (p *points) residuals(a, b quadratic) []float64 {
	for i, x := range p.x {
		da, db := p.a[i]-a.at(x), p.b[i]-b.at(x)
		p.residual[i] = p.e[i] * p.e[i] * (da*da + db*db)
	}
	return p.residual
}

// trials takes the curve through three colours (a line through two) of which so many of
// the smallest squared residuals are least.
func (p *points) trials(curve bool, keep int) (bestA, bestB quadratic) {
	least := math.Inf(1)
	try := func(pick ...int) {
		a, b := p.through(p.a, pick), p.through(p.b, pick)
		res := p.residuals(a, b)
		sum := curvatureCost*(a[2]*a[2]+b[2]*b[2]) + smallest(res, keep)
		if sum < least {
			least, bestA, bestB = sum, a, b
		}
	}
	apart := func(i, j int) bool { return 50*math.Abs(p.x[i]-p.x[j]) >= subsetApart }
	n := len(p.x)
	switch {
	case !curve:
		for i := range n {
			for j := i + 1; j < n; j++ {
				if apart(i, j) {
					try(i, j)
				}
			}
		}
	case n <= trialsAll:
		for i := range n {
			for j := i + 1; j < n; j++ {
				for k := j + 1; k < n; k++ {
					if apart(i, j) && apart(i, k) && apart(j, k) {
						try(i, j, k)
					}
				}
			}
		}
	default:
		const seed, patience = 1, 20
		rnd := rand.New(rand.NewPCG(seed, seed))
		for done, drawn := 0, 0; done < trialsSampled && drawn < patience*trialsSampled; drawn++ {
			i, j, k := rnd.IntN(n), rnd.IntN(n), rnd.IntN(n)
			if apart(i, j) && apart(i, k) && apart(j, k) {
				try(i, j, k)
				done++
			}
		}
	}
	if math.IsInf(least, 1) { // no three, or two, lie far enough apart: a level line through the middle
		bestA, bestB = quadratic{median(p.a)}, quadratic{median(p.b)}
	}
	return bestA, bestB
}

// through is the quadratic through three points, or the line through two.
func (p *points) through(y []float64, at []int) quadratic {
	x0, x1, y0, y1 := p.x[at[0]], p.x[at[1]], y[at[0]], y[at[1]]
	slope := (y1 - y0) / (x1 - x0)
	if len(at) == 2 {
		return quadratic{y0 - slope*x0, slope, 0}
	}
	x2, y2 := p.x[at[2]], y[at[2]]
	bend := ((y2-y0)/(x2-x0) - slope) / (x2 - x1)
	return quadratic{y0 - slope*x0 + bend*x0*x1, slope - bend*(x0+x1), bend}
}

// refine is one round of weighted least squares.
func (p *points) refine(a, b quadratic, curve bool) (quadratic, quadratic) {
	res := p.residuals(a, b)
	dist := make([]float64, len(res))
	for i, r := range res {
		dist[i] = math.Sqrt(r)
	}
	const toSigma = 1.4826
	reach := tukeyTuning * math.Max(scaleFloor, toSigma*median(dist))
	var m [3][3]float64
	var va, vb [3]float64
	total := 0.0
	for i, x := range p.x {
		u := dist[i] / reach
		if u >= 1 {
			continue
		}
		w := (1 - u*u) * (1 - u*u) * p.e[i] * p.e[i]
		total += w
		pow := [3]float64{1, x, x * x}
		for j := range pow {
			va[j] += w * pow[j] * p.a[i]
			vb[j] += w * pow[j] * p.b[i]
			for k := range pow {
				m[j][k] += w * pow[j] * pow[k]
			}
		}
	}
	if total == 0 {
		return a, b
	}
	m[1][1] += ridgeSlope
	m[2][2] += ridgeQuadratic
	if !curve { // a straight line
		m[2] = [3]float64{0, 0, 1}
		m[0][2], m[1][2], va[2], vb[2] = 0, 0, 0, 0
	}
	na, okA := solve(m, va)
	nb, okB := solve(m, vb)
	if !okA || !okB {
		return a, b
	}
	return na, nb
}

// solve solves three symmetric equations by Gauss with pivots.
func solve(m [3][3]float64, v [3]float64) (quadratic, bool) {
	for i := range 3 {
		best := i
		for j := i + 1; j < 3; j++ {
			if math.Abs(m[j][i]) > math.Abs(m[best][i]) {
				best = j
			}
		}
		m[i], m[best], v[i], v[best] = m[best], m[i], v[best], v[i]
		if math.Abs(m[i][i]) < 1e-12 {
			return quadratic{}, false
		}
		for j := i + 1; j < 3; j++ {
			k := m[j][i] / m[i][i]
			for c := i; c < 3; c++ {
				m[j][c] -= k * m[i][c]
			}
			v[j] -= k * v[i]
		}
	}
	var q quadratic
	for i := 2; i >= 0; i-- {
		q[i] = v[i]
		for c := i + 1; c < 3; c++ {
			q[i] -= m[i][c] * q[c]
		}
		q[i] /= m[i][i]
	}
	return q, true
}

// smallest is the sum of the k smallest values; it reorders them.
func smallest(v []float64, k int) float64 {
	low, high := 0, len(v)-1
	for low < high { // Hoare's selection
		pivot := v[(low+high)/2]
		i, j := low, high
		for i <= j {
			for v[i] < pivot {
				i++
			}
			for v[j] > pivot {
				j--
			}
			if i <= j {
				v[i], v[j] = v[j], v[i]
				i++
				j--
			}
		}
		switch {
		case k-1 <= j:
			high = j
		case k-1 >= i:
			low = i
		default:
			low = high
		}
	}
	sum := 0.0
	for _, x := range v[:k] {
		sum += x
	}
	return sum
}

func median(v []float64) float64 {
	s := slices.Clone(v)
	sort.Float64s(s)
	n := len(s)
	if n == 0 {
		return 0
	}
	return (s[(n-1)/2] + s[n/2]) / 2
}

// judge measures every colour beside the curve and names the strays.
func (r *Run) judge(c []colour.Lab) {
	r.Neutral = !slices.ContainsFunc(c, func(k colour.Lab) bool { return !k.Neutral() })
	if r.Neutral {
		mean, _ := colour.Mean(c)
		r.Undertone = mean.Undertone()
	}
	for _, i := range r.Order {
		r.Offsets[i] = r.offset(c[i])
		if lean := r.lean(c[i], r.Offsets[i]); lean != "" {
			r.Strays = append(r.Strays, Stray{i, lean, r.Offsets[i].Radial, r.Offsets[i].Tangential})
		}
	}
	if len(r.Strays) == len(c) {
		return
	}
	first := true
	for _, i := range r.Order {
		if !r.Belongs(i) {
			continue
		}
		if first {
			r.Low, first = c[i].L, false
		}
		r.High = c[i].L
	}
}

// offset splits a colour's distance from the curve along the curve's chroma and
// across it. Where the curve has no hue, all of it is along.
func (r Run) offset(c colour.Lab) Offset {
	at := r.At(c.L)
	da, db := c.A-at.A, c.B-at.B
	chroma := at.Chroma()
	if chroma < 1e-9 {
		return Offset{Radial: c.Chroma()}
	}
	ua, ub := at.A/chroma, at.B/chroma
	o := Offset{Radial: da*ua + db*ub, Tangential: db*ua - da*ub}
	if chroma >= hueFrom && c.Chroma() >= hueFrom && c.L >= hueFromL {
		o.Turn = colour.HueBetween(hue(at), hue(c))
	}
	return o
}

// hue is the CIELAB hue in degrees.
func hue(c colour.Lab) float64 { return math.Mod(math.Atan2(c.B, c.A)*180/math.Pi+360, 360) }

// lean names how a colour strays; empty when it belongs. What nobody sees in a strong
// colour is no stray: thresholds grow with chroma as CIEDE2000's S_C and S_H do.
func (r Run) lean(c colour.Lab, o Offset) string {
	at := r.At(c.L)
	mean := (at.Chroma() + c.Chroma()) / 2
	sc, sh := 1+0.045*mean, 1+0.015*mean
	away := math.Hypot(o.Radial, o.Tangential)
	if at.Chroma() < nearNeutral && c.Chroma() >= undertoneOf && c.L >= hueFromL && away >= leanFrom &&
		math.Abs(colour.HueBetween(hue(at), hue(c))) >= otherHue {
		return own(at, c)
	}
	switch {
	case math.Abs(o.Turn) >= otherHue && away >= max(leanFrom, leanScaled*sh):
		return own(at, c)
	case math.Abs(o.Tangential) >= max(leanFrom, leanScaled*sh) && math.Abs(o.Turn) >= turnFrom:
		return string(colour.LeavesFor(at, c))
	case o.Radial <= min(greyFrom, -greyScaled*sc):
		return Grey
	case o.Radial >= max(strongFrom, strongScaled*sc):
		return Strong
	}
	return ""
}

// own is a colour's own plain hue, or, where the run is of that hue too, the one beyond it.
func own(at, c colour.Lab) string { return string(colour.PlainBeside(at, c)) }

// Two runs: when so many stray, and they lie on a curve of their own.
const (
	secondFrom  = 3
	secondShare = 0.25 // of all
	secondClean = 0.75 // of them lie on their own curve
	secondSpan  = 15.0 // L* they reach over
	secondLike  = 1    // two runs are of like size from this many to two
	secondAway  = 20.0 // degrees of hue between their middles from which they turn away
)

// away reports whether the second run turns away in hue from the first.
func (r Run) away(c []colour.Lab) bool {
	var own, other []colour.Lab
	for i := range c {
		switch {
		case slices.Contains(r.Second, i):
			other = append(other, c[i])
		case r.Belongs(i):
			own = append(own, c[i])
		}
	}
	if len(own) == 0 || len(other) == 0 {
		return false
	}
	a, _ := colour.Mean(own)
	b, _ := colour.Mean(other)
	return math.Abs(colour.HueBetween(hue(a), hue(b))) >= secondAway
}

// second sees whether the strays are a run of their own.
func (r *Run) second(c []colour.Lab) {
	if n := len(r.Strays); n < secondFrom || float64(n) < secondShare*float64(len(c)) {
		return
	}
	var own []colour.Lab
	var index []int
	for _, s := range r.Strays {
		own, index = append(own, c[s.Index]), append(index, s.Index)
	}
	other := fit(own, kept(len(own)))
	other.judge(own)
	if len(own)-len(other.Strays) < secondFrom || float64(len(own)-len(other.Strays)) < secondClean*float64(len(own)) ||
		other.High-other.Low < secondSpan {
		return
	}
	for i, at := range index {
		if other.Belongs(i) {
			r.Second = append(r.Second, at)
		}
	}
}
