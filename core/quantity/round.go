package quantity

import (
	"cmp"
	"math"
	"slices"
)

// fit protects exact fits from the noise of floating point, in favour of the fit.
const fit = 1e-9

// upInt is the least whole number that is not less, never under 0.
func upInt(x float64) float64 { return math.Max(0, math.Ceil(x-fit)) }

// downInt is the largest whole number that is not more, never under 0.
func downInt(x float64) float64 { return math.Max(0, math.Floor(x+fit)) }

// up is the least multiple of a step that is not less.
func up(x, step float64) float64 { return upInt(x/step) * step }

// near is the nearest multiple of a step, half going up.
func near(x, step float64) float64 { return math.Floor(x/step+0.5+fit) * step }

// largestRemainder rounds values down to whole numbers and gives what is missing from
// total, one each, to those with the largest fractions; ties go to the earlier.
func largestRemainder(values []float64, total float64) []float64 {
	out := make([]float64, len(values))
	order := make([]int, len(values))
	rest := total
	for i, v := range values {
		out[i], order[i] = downInt(v), i
		rest -= out[i]
	}
	fraction := func(i int) float64 { return math.Round((values[i]-out[i])*1e9) / 1e9 }
	fractions := make([]float64, len(values))
	for i := range values {
		fractions[i] = fraction(i)
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(fractions[b], fractions[a]) })
	for k := 0; rest > 0.5 && len(order) > 0; k = (k + 1) % len(order) {
		out[order[k]]++
		rest--
	}
	return out
}

// thread is a block of threads of one colour.
type thread struct {
	colour string
	n      float64
}

// expand walks an order of threads again and again until total are placed, and counts
// them, and the runs of each colour: one begins where the colour differs from that of
// the thread before, also from one repeat to the next.
func expand(order []thread, total float64) (colours []string, threads, runs map[string]float64) {
	threads, runs = map[string]float64{}, map[string]float64{}
	sum := 0.0
	for _, t := range order {
		if _, there := threads[t.colour]; !there {
			colours = append(colours, t.colour)
			threads[t.colour], runs[t.colour] = 0, 0
		}
		sum += t.n
	}
	if sum == 0 {
		return colours, threads, runs
	}
	last, left := "", total
	for i := 0; left > 0; i = (i + 1) % len(order) {
		t := order[i]
		if t.n == 0 {
			continue
		}
		n := math.Min(t.n, left)
		threads[t.colour] += n
		if t.colour != last {
			runs[t.colour]++
		}
		last, left = t.colour, left-n
	}
	return colours, threads, runs
}

// named is a list of amounts by name, in an order.
type named struct {
	names []string
	of    map[string]float64
}

func newNamed() named { return named{of: map[string]float64{}} }

// add adds to the amount of a name, which it takes in when it is new.
func (n *named) add(name string, v float64) {
	if _, there := n.of[name]; !there {
		n.names = append(n.names, name)
	}
	n.of[name] += v
}

// use takes what was given in place of what is usual.
func use(usual, given *float64) {
	if given != nil {
		*usual = *given
	}
}
