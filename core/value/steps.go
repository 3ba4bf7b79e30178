package value

import (
	"math"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/words"
)

// Steps are k colours along the run from its dark to its light end: evenly
// spaced in L*, or, with evenSeen, in ΔE00 along the curve. One step is the
// middle.
func (r Run) Steps(k int, evenSeen bool) []colour.Lab {
	out := make([]colour.Lab, 0, max(0, k))
	if k == 1 {
		return append(out, r.At((r.Low+r.High)/2))
	}
	for i := range k {
		at := r.Low + (r.High-r.Low)*float64(i)/float64(k-1)
		if evenSeen {
			at = r.along(float64(i) / float64(k-1))
		}
		out = append(out, r.At(at))
	}
	return out
}

// along is the L* at a share of the curve's length, measured in ΔE00.
func (r Run) along(share float64) float64 {
	const pieces = 64
	step := (r.High - r.Low) / pieces
	var length [pieces + 1]float64
	for i := 1; i <= pieces; i++ {
		length[i] = length[i-1] + colour.DeltaE2000(r.At(r.Low+step*float64(i-1)), r.At(r.Low+step*float64(i)))
	}
	want := share * length[pieces]
	for i := 1; i <= pieces; i++ {
		if length[i] >= want && length[i] > length[i-1] {
			return r.Low + step*(float64(i-1)+(want-length[i-1])/(length[i]-length[i-1]))
		}
	}
	return r.High
}

// Pair are two neighbours of a run by index, the darker first.
type Pair struct{ Dark, Light int }

// Gap is a jump between neighbours.
type Gap struct {
	Pair
	By float64 // L*
}

// CrowdApart is the ΔE00 under which neighbours crowd.
const CrowdApart = 4.0

// neighbours are the pairs of colours next to one another, strays left out.
func (r Run) neighbours() []Pair {
	kept := slices.DeleteFunc(slices.Clone(r.Order), func(i int) bool { return !r.Belongs(i) })
	var out []Pair
	for k := 1; k < len(kept); k++ {
		out = append(out, Pair{kept[k-1], kept[k]})
	}
	return out
}

// gapLeast is the smallest jump in L* that stands out as a gap, and gapSpan the least that a
// run must span to have one.
const (
	gapLeast = 5.0
	gapSpan  = 20.0
)

// Gaps are the jumps of more than GapRatio times the mean of those that are not crowded.
func (r Run) Gaps(c []colour.Lab) []Gap {
	if len(c) != len(r.Order) {
		return nil
	}
	pairs := r.neighbours()
	if len(pairs) < 2 || r.High-r.Low < gapSpan {
		return nil
	}
	sum, count := 0.0, 0
	for _, p := range pairs {
		if colour.DeltaE2000(c[p.Dark], c[p.Light]) >= CrowdApart {
			sum, count = sum+c[p.Light].L-c[p.Dark].L, count+1
		}
	}
	if count < 2 {
		return nil
	}
	mean := sum / float64(count)
	var out []Gap
	for _, p := range pairs {
		if d := c[p.Light].L - c[p.Dark].L; d > GapRatio*mean && d >= gapLeast {
			out = append(out, Gap{p, d})
		}
	}
	return out
}

// Crowds are the neighbours under ΔE00 4.
func (r Run) Crowds(c []colour.Lab) []Pair {
	var out []Pair
	for _, p := range r.neighbours() {
		if colour.DeltaE2000(c[p.Dark], c[p.Light]) < CrowdApart {
			out = append(out, p)
		}
	}
	return out
}

// Where a run is begun.
const (
	FromDark   = "dark"
	FromLight  = "light"
	FromMiddle = "middle"
)

// Starts lists the ends a run can be begun from; the first is the default.
func Starts() []string { return []string{FromDark, FromLight, FromMiddle} }

// BuildOrder is the order in which n steps, dark to light, are built.
func BuildOrder(n int, from string) []int {
	out := make([]int, 0, n)
	switch from {
	case FromLight:
		for i := n - 1; i >= 0; i-- {
			out = append(out, i)
		}
	case FromMiddle: // outward, the lighter side first
		middle := n / 2
		for off := 0; len(out) < n; off++ {
			for _, at := range []int{middle + off, middle - off} {
				if at >= 0 && at < n && !slices.Contains(out, at) {
					out = append(out, at)
				}
			}
		}
	default:
		for i := range n {
			out = append(out, i)
		}
	}
	return out
}

// Checked is what the values of a set of colours say by themselves.
type Checked struct {
	Groups   int     // of values, a gap of 10 L* between
	Key      string  // high, middle or low
	Mean     float64 // value on the whole, 0 to 10
	Contrast float64 // value steps from the darkest to the lightest
}

// Value checks, in L*.
const (
	groupApart = 10.0
	highKey    = 65.0 // mean from which a set is in a high key
	lowKey     = 35.0
)

// Check reads the values of colours that all have the same room.
func Check(c []colour.Lab) Checked {
	share := make([]float64, len(c))
	for i := range share {
		share[i] = 1
	}
	return CheckShares(c, share)
}

// KeyWord is the key as a word of its own, such as "mid-key".
func (k Checked) KeyWord() string {
	return map[string]string{"middle": "mid"}[k.Key] + strings.TrimPrefix(k.Key, "middle") + "-key"
}

// GroupWords counts the groups of values: "one value group", "three value groups".
func (k Checked) GroupWords() string {
	if k.Groups == 1 {
		return "one value group"
	}
	return words.Count(k.Groups) + " value groups"
}

// CheckShares reads the values of colours with the room each has, in any one
// unit, which the key is weighted by. Colours without room are left out.
func CheckShares(c []colour.Lab, share []float64) Checked {
	var placed []colour.Lab
	mean, total := 0.0, 0.0
	for i := range c {
		if share[i] > 0 {
			placed = append(placed, c[i])
			mean, total = mean+share[i]*c[i].L, total+share[i]
		}
	}
	if len(placed) == 0 {
		return Checked{}
	}
	mean /= total
	s := Read(placed)
	k := Checked{Groups: 1, Key: "middle", Mean: mean / 10, Contrast: math.Round(s.High-s.Low) / 10}
	if s.Outside {
		k.Contrast = 0
	}
	for i, at := range s.Order {
		if i > 0 && placed[at].L-placed[s.Order[i-1]].L >= groupApart {
			k.Groups++
		}
	}
	switch {
	case mean >= highKey:
		k.Key = "high"
	case mean < lowKey:
		k.Key = "low"
	}
	return k
}
