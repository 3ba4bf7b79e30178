package mix

import (
	"math"
	"slices"

	"lampfern/core/colour"
)

// Log is a mix that was really made: the parts of each paint, and what came out.
type Log struct {
	Parts    []float64
	Measured colour.Lab
}

// How strengths are learned.
const (
	priorSD     = 1.2 // of ln S about where it starts, of paints
	triedSD     = 0.4 // the same of what was tried in its ground
	modelSD     = 2.0 // ΔE00 by which even the best strengths miss, each way
	fitRounds   = 25
	fitStep     = 1e-3 // of ln S, for slopes
	fitEnough   = 1e-6
	firstDamper = 1e-2
)

// FitStrengths finds the strengths at which mixes that were made come nearest to what
// they measured: Gauss and Newton's method, damped (Marquardt 1963), on the logarithms
// of the strengths, with the parts of CIEDE2000 as residuals and a prior that holds
// each near where it starts. held are paints whose strength stays, such as one white.
// before and after are the mean ΔE00 of the logs. Lists are as long as paints are
// many, and so are the Parts of each log; logs that hold nothing are left out.
func FitStrengths(paints []colour.Lab, start []float64, held []bool, logs []Log, s Surface) (strengths []float64, before, after float64) {
	ready := make([]Paint, len(paints))
	for i, c := range paints {
		ready[i] = Ready(c, s)
	}
	return Fit(ready, start, held, logs)
}

// Fit is FitStrengths of paints that are ready.
func Fit(paints []Paint, start []float64, held []bool, logs []Log) (strengths []float64, before, after float64) {
	logs = slices.DeleteFunc(slices.Clone(logs), func(l Log) bool { return len(l.Parts) != len(paints) || total(l.Parts) == 0 })
	strengths = slices.Clone(start)
	if len(logs) == 0 {
		return strengths, 0, 0
	}
	var free []int // paints in some log, and not held
	for i := range paints {
		if !held[i] && slices.ContainsFunc(logs, func(l Log) bool { return l.Parts[i] > 0 }) {
			free = append(free, i)
		}
	}
	theta := make([]float64, len(free))
	at := func(theta []float64) []float64 {
		out := slices.Clone(start)
		for k, i := range free {
			out[i] = start[i] * math.Exp(theta[k])
		}
		return out
	}
	n := 3*len(logs) + len(free)
	residuals := func(theta []float64) []float64 {
		out := make([]float64, 0, n)
		now := at(theta)
		for _, l := range logs {
			dl, dc, dh := colour.Split2000(l.Measured, logColour(paints, now, l))
			out = append(out, dl/modelSD, dc/modelSD, dh/modelSD)
		}
		for k, t := range theta {
			out = append(out, t/paints[free[k]].prior())
		}
		return out
	}
	before = meanError(paints, start, logs)
	r := residuals(theta)
	damper := firstDamper
	for range fitRounds {
		if len(free) == 0 {
			break
		}
		slopes := make([][]float64, len(free))
		for k := range free {
			moved := slices.Clone(theta)
			moved[k] += fitStep
			slopes[k] = residuals(moved)
			for j := range slopes[k] {
				slopes[k][j] = (slopes[k][j] - r[j]) / fitStep
			}
		}
		step := solve(slopes, r, damper)
		next, most := slices.Clone(theta), 0.0
		for k := range next {
			next[k] -= step[k]
			most = math.Max(most, math.Abs(step[k]))
		}
		if then := residuals(next); squares(then) < squares(r) {
			theta, r, damper = next, then, damper/4
		} else {
			damper *= 8
		}
		if most < fitEnough {
			break
		}
	}
	strengths = at(theta)
	return strengths, before, meanError(paints, strengths, logs)
}

// prior is the sd of ln S about where it starts.
func (p *Paint) prior() float64 {
	if p.way == Opaque {
		return priorSD
	}
	return triedSD
}

// solve is the damped step of the normal equations, by Cholesky's factors.
func solve(slopes [][]float64, r []float64, damper float64) []float64 {
	n := len(slopes)
	a, b := make([][]float64, n), make([]float64, n)
	for i := range n {
		a[i] = make([]float64, n)
		for j := 0; j <= i; j++ {
			a[i][j] = dot(slopes[i], slopes[j])
		}
		a[i][i] *= 1 + damper
		b[i] = dot(slopes[i], r)
	}
	for i := range n {
		for j := 0; j <= i; j++ {
			sum := a[i][j]
			for k := range j {
				sum -= a[i][k] * a[j][k]
			}
			if i == j {
				a[i][i] = math.Sqrt(math.Max(1e-12, sum))
			} else {
				a[i][j] = sum / a[j][j]
			}
		}
	}
	for i := range n { // forward
		for k := range i {
			b[i] -= a[i][k] * b[k]
		}
		b[i] /= a[i][i]
	}
	for i := n - 1; i >= 0; i-- { // and back
		for k := i + 1; k < n; k++ {
			b[i] -= a[k][i] * b[k]
		}
		b[i] /= a[i][i]
	}
	return b
}

func dot(a, b []float64) (sum float64) {
	for i := range a {
		sum += a[i] * b[i]
	}
	return sum
}

func squares(r []float64) float64 { return dot(r, r) }

func total(parts []float64) (sum float64) {
	for _, p := range parts {
		sum += p
	}
	return sum
}

func logColour(paints []Paint, strengths []float64, l Log) colour.Lab {
	w := make([]float64, len(paints))
	for i := range w {
		w[i] = l.Parts[i] * strengths[i]
	}
	return Mixed(paints, w)
}

func meanError(paints []Paint, strengths []float64, logs []Log) float64 {
	sum := 0.0
	for _, l := range logs {
		sum += colour.DeltaE2000(l.Measured, logColour(paints, strengths, l))
	}
	return sum / float64(len(logs))
}

// LeftOut is the ΔE00 by which each log would have been missed, had the strengths been
// learned from the others alone: an honest measure of how far to trust a prediction.
func LeftOut(paints []Paint, start []float64, held []bool, logs []Log) []float64 {
	out := make([]float64, len(logs))
	for i, l := range logs {
		others := append(slices.Clone(logs[:i]), logs[i+1:]...)
		now, _, _ := Fit(paints, start, held, others)
		out[i] = colour.DeltaE2000(l.Measured, logColour(paints, now, l))
	}
	return out
}

// Lesson is the mix that would teach most.
type Lesson struct {
	At            int     // by index of those that could be tried; −1 for none
	Before, After float64 // ΔE00 that predictions of the recipes are unsure by, on average
}

// lessonFrom is the least that a lesson must gain, in ΔE00.
const lessonFrom = 0.2

// Teaches finds which of some mixes, if it were made and measured, would make the
// predictions of some recipes surest: the largest fall of the mean variance of these,
// the strengths taken as normal about those that were learned, and colours as straight
// near them (Bayesian A-optimal design, Chaloner and Verdinelli 1995). held and logs are
// those of Fit; tries and uses are parts by paint.
func Teaches(paints []Paint, strengths []float64, held []bool, logs []Log, tries, uses [][]float64) Lesson {
	var free []int
	for i := range paints {
		if !held[i] && slices.ContainsFunc(uses, func(u []float64) bool { return u[i] > 0 }) {
			free = append(free, i)
		}
	}
	out := Lesson{At: -1}
	if len(free) == 0 {
		return out
	}
	// slopes is how a mix moves with each free strength: three rows.
	slopes := func(parts []float64) (j [3][]float64) {
		at := logColour(paints, strengths, Log{Parts: parts})
		for r := range j {
			j[r] = make([]float64, len(free))
		}
		for k, i := range free {
			if parts[i] == 0 {
				continue
			}
			moved := slices.Clone(strengths)
			moved[i] *= math.Exp(fitStep)
			dl, dc, dh := colour.Split2000(at, logColour(paints, moved, Log{Parts: parts}))
			j[0][k], j[1][k], j[2][k] = dl/fitStep, dc/fitStep, dh/fitStep
		}
		return j
	}
	v := make([][]float64, len(free)) // variance of ln S
	for k := range v {
		v[k] = make([]float64, len(free))
		v[k][k] = paints[free[k]].prior() * paints[free[k]].prior()
	}
	for _, l := range logs {
		for _, row := range slopes(l.Parts) {
			v = told(v, row)
		}
	}
	var of [][3][]float64
	for _, u := range uses {
		of = append(of, slopes(u))
	}
	unsure := func(v [][]float64) float64 {
		sum := 0.0
		for _, j := range of {
			for _, row := range j {
				for a := range row {
					sum += row[a] * dot(v[a], row)
				}
			}
		}
		return math.Sqrt(sum / float64(len(of)))
	}
	out.Before = unsure(v)
	out.After = out.Before - lessonFrom
	for at, parts := range tries {
		then := v
		for _, row := range slopes(parts) {
			then = told(then, row)
		}
		if after := unsure(then); after < out.After {
			out.At, out.After = at, after
		}
	}
	return out
}

// told is the variance after one more figure was measured that moves with the strengths
// so (Sherman and Morrison 1950).
func told(v [][]float64, row []float64) [][]float64 {
	along := make([]float64, len(v))
	for a := range v {
		along[a] = dot(v[a], row)
	}
	of := modelSD*modelSD + dot(row, along)
	out := make([][]float64, len(v))
	for a := range v {
		out[a] = slices.Clone(v[a])
		for b := range out[a] {
			out[a][b] -= along[a] * along[b] / of
		}
	}
	return out
}

// What a prediction is good to before there is anything to judge it by, in ΔE00, and
// how many records that counts for.
const (
	untried      = 6.0
	tinted       = 3.0
	untriedCount = 4.0
)

// Trust is the ± of a prediction in ΔE00, to half a unit: from the errors of the
// maker's own records, each left out of its own learning; while there are few, 6 for
// paints that were never tried and 3 when all have been tried in white.
func Trust(leftOut []float64, allTinted bool) float64 {
	sum, n := untried*untriedCount, untriedCount
	if allTinted {
		sum = tinted * untriedCount
	}
	for _, e := range leftOut {
		sum, n = sum+e, n+1
	}
	return math.Max(1, math.Round(2*sum/n)/2)
}

// AimPast is what the next try should aim at after one that was predicted to be model
// and measured otherwise: as far past the wanted colour as that missed it.
func AimPast(model, wanted, measured colour.Lab) colour.Lab {
	return colour.Lab{L: math.Max(0, math.Min(100, model.L+wanted.L-measured.L)), A: model.A + wanted.A - measured.A,
		B: model.B + wanted.B - measured.B}
}
