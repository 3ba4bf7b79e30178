// Package pour makes a likeness of poured soap: where the parts of a batter come
// to lie in the face of a bar, by the way they are poured, and how the batter
// folds while it still flows. It is a likeness, not a promise: it knows nothing of
// how thick a batter is, and nothing of what it is made from.
package pour

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
)

// Method is a way of pouring.
type Method int

// The methods.
const (
	Layers Method = iota // one upon another
	Drops                // the first is the base, the rest are dropped into it
	Pot                  // all into the pot, a few turns, then into the mould
	Funnel               // a little of each in turn, all at one place
)

// Methods names them, in order.
func Methods() []string {
	return []string{"in layers", "dropped into the first", "in the pot", "by a funnel, in turn"}
}

// Pour is one part of the batter: its colour from 0, its share in parts, and where
// across the mould it is poured, 0 to 1.
type Pour struct {
	Colour int     `json:"colour"`
	Parts  float64 `json:"parts"`
	Place  float64 `json:"place"`
}

// Limits of a batch.
const (
	MostPours   = 16
	MostColours = 10
	mostParts   = 1000.0
	funnelTurns = 5   // times each pour comes round at the funnel
	potTurns    = 2.2 // of the spoon
)

// Parse reads pours written as parts and a letter, with the place in hundredths
// behind an @: "4A 2B@30 1C@70". The error is a sentence without its full stop.
func Parse(text string) ([]Pour, error) {
	var out []Pour
	for _, w := range strings.Fields(strings.ToUpper(strings.ReplaceAll(text, ",", " "))) {
		word, place, placed := strings.Cut(w, "@")
		p := Pour{Place: .5}
		if word == "" {
			return nil, fmt.Errorf("%q is not a pour: write its parts and a letter, such as 4A", w)
		}
		if placed {
			v, err := strconv.ParseFloat(place, 64)
			if err != nil || !(v >= 0 && v <= 100) {
				return nil, fmt.Errorf("%q has no place: write one from 0 at the left to 100 at the right", w)
			}
			p.Place = v / 100
		}
		letter := word[len(word)-1]
		parts, err := strconv.ParseFloat(word[:len(word)-1], 64)
		if err != nil || letter < 'A' || letter >= 'A'+MostColours {
			return nil, fmt.Errorf("%q is not a pour: write its parts and a letter from A to %c, such as 4A", w, 'A'+MostColours-1)
		}
		p.Colour, p.Parts = int(letter-'A'), parts
		out = append(out, p)
	}
	return out, Check(out)
}

// Text writes pours as Parse reads them.
func Text(pours []Pour) string {
	words := make([]string, len(pours))
	for i, p := range pours {
		words[i] = fmt.Sprintf("%g%c", p.Parts, 'A'+p.Colour)
		if p.Place != .5 {
			words[i] += fmt.Sprintf("@%g", math.Round(1000*p.Place)/10)
		}
	}
	return strings.Join(words, " ")
}

// Check says in one sentence what keeps pours from being poured.
func Check(pours []Pour) error {
	if len(pours) == 0 || len(pours) > MostPours {
		return fmt.Errorf("a batch has from 1 to %d pours: this one has %d", MostPours, len(pours))
	}
	for _, p := range pours {
		if !(p.Parts > 0 && p.Parts <= mostParts) || p.Colour < 0 || p.Colour >= MostColours || !(p.Place >= 0 && p.Place <= 1) {
			return fmt.Errorf("a pour of %g parts is not possible: choose more than 0 and at most %g", p.Parts, mostParts)
		}
	}
	return nil
}

// lump is some batter of one colour, and how readily it goes to a place: across
// from the left and up from the foot, 0 to 1; the least first.
type lump struct {
	colour int
	parts  float64
	pour   int // lumps of one pour go to the same places
	to     func(x, y float64) float64
}

// Face is the face of one bar of several cut from a loaf: the colour of each of
// w × h cells in rows from the top. Each pour has its share of the loaf before the
// batter folds, to within a cell a bar: a hand pours more here and less there, by the
// method; folding moves it about. fold is how much it folds, 0 to 1. The same seed makes
// the same loaf.
func Face(method Method, pours []Pour, seed uint64, fold float64, bar, bars, w, h int) []int16 {
	// What differs from bar to bar changes slowly along the loaf.
	along := 0.0
	if bars > 1 {
		along = float64(bar) / float64(bars-1)
	}
	rnd := rand.New(rand.NewPCG(seed, 7))
	wave := waves(rnd, along)
	lumps := poured(method, byHand(method, pours, seed, bar, bars), rnd, wave, along)
	still, limits := settle(lumps, w, h)
	if fold <= 0 {
		return still
	}
	return folded(settled(lumps, limits), w, h, rand.New(rand.NewPCG(seed, 11)), along, fold*strength[method])
}

// unsteady is by how much of its share a pour comes and goes along the loaf, by the method:
// layers are spread, drops fall where they fall.
var unsteady = map[Method]float64{Layers: .06, Drops: .25, Pot: .12, Funnel: .08}

// byHand are the pours as they come to one bar: each a little more here and less there, so
// that every bar is full and the loaf has of each what was poured.
func byHand(method Method, pours []Pour, seed uint64, bar, bars int) []Pour {
	if bars < 2 {
		return pours
	}
	rnd := rand.New(rand.NewPCG(seed, 13))
	total, sum := 0.0, 0.0
	for _, p := range pours {
		total += p.Parts
	}
	more := make([]float64, len(pours)) // of the bar, in shares of it
	for i, p := range pours {
		at, turns := 2*math.Pi*rnd.Float64(), 1.5+rnd.Float64()
		come := func(bar int) float64 { return math.Sin(at + turns*math.Pi*float64(bar)/float64(bars-1)) }
		mean := 0.0
		for b := range bars {
			mean += come(b) / float64(bars)
		}
		more[i] = unsteady[method] * p.Parts / total * (come(bar) - mean)
		sum += more[i]
	}
	out := slices.Clone(pours)
	for i, p := range pours {
		out[i].Parts = total * (p.Parts/total + more[i] - p.Parts/total*sum)
	}
	return out
}

// strength is how much each method folds at most, in heights of the bar.
var strength = map[Method]float64{Layers: .1, Drops: .22, Pot: .2, Funnel: .16}

// waves is a gentle line across the bar, about ±1.
func waves(rnd *rand.Rand, along float64) func(x float64) float64 {
	var a, f, p [4]float64
	for i := range a {
		a[i], f[i] = (rnd.Float64()-.5)*1.2/float64(i+1), (1+1.3*float64(i))*math.Pi
		p[i] = 2*math.Pi*rnd.Float64() + along*(2+3*rnd.Float64())
	}
	// It is asked for often: a table of it, in proportion between its places.
	const from, to, places = -8.0, 20.0, 4096
	var table [places + 1]float64
	for k := range table {
		x := from + (to-from)*float64(k)/places
		for i := range a {
			table[k] += a[i] * math.Sin(f[i]*x+p[i])
		}
	}
	return func(x float64) float64 {
		at := (math.Max(from, math.Min(to, x)) - from) / (to - from) * places
		k := min(int(at), places-1)
		return table[k] + (at-float64(k))*(table[k+1]-table[k])
	}
}

// poured are the lumps of a batch, the last poured first.
func poured(method Method, pours []Pour, rnd *rand.Rand, wave func(float64) float64, along float64) []lump {
	var out []lump
	switch method {
	case Drops:
		for i := len(pours) - 1; i > 0; i-- {
			p := pours[i]
			// A drop sinks the deeper the more of it there is, and wanders a little.
			deep, px := .25+.5*rnd.Float64(), p.Place+.05*math.Sin(6*along+2*math.Pi*rnd.Float64())
			out = append(out, lump{p.Colour, p.Parts, i, func(x, y float64) float64 {
				stem := math.Abs(x-px-.04*wave(y)) / .07
				head := math.Hypot((x-px)/.2, (y-1+deep)/.16)
				if y > 1-deep {
					head = math.Min(head, stem+.4)
				}
				return head
			}})
		}
		out = append(out, lump{pours[0].Colour, pours[0].Parts, 0, func(x, y float64) float64 { return y }})
	case Funnel:
		for range funnelTurns {
			for i := len(pours) - 1; i >= 0; i-- {
				p := pours[i]
				px := p.Place + .03*math.Sin(5*along+float64(i))
				out = append(out, lump{p.Colour, p.Parts / funnelTurns, i, func(x, y float64) float64 {
					return math.Hypot((x-px)/.95, (1-y)/1.05) * (1 + .09*wave(.7*math.Atan2(x-px, 1.05-y)))
				}})
			}
		}
	case Pot:
		// The pot's wedges, wound up by the spoon, come out from the rim inward.
		turn := 2*math.Pi*rnd.Float64() + 2.5*along
		for i := len(pours) - 1; i >= 0; i-- {
			out = append(out, lump{pours[i].Colour, pours[i].Parts, i, func(x, y float64) float64 {
				r := math.Min(1, math.Hypot((x-.5)/.75, (1-y)/1.1))
				around := math.Atan2(x-.5, 1.05-y)*2 + turn + 2*math.Pi*potTurns*(1-r) + .5*wave(2*r)
				_, f := math.Modf(around/(2*math.Pi) + 64)
				return -f
			}})
		}
	default:
		for i := len(pours) - 1; i >= 0; i-- {
			out = append(out, lump{pours[i].Colour, pours[i].Parts, i, func(x, y float64) float64 { return -y - .035*wave(x+float64(i)) }})
		}
	}
	return out
}

// settled is the colour at any place of the batter as it lies, across from the left and down, 0 to
// 1: that of the first lump that goes there as readily as to the last of its cells.
func settled(lumps []lump, limits []float64) func(x, y float64) int16 {
	last := lumps[len(lumps)-1]
	return func(x, y float64) int16 {
		var cost [MostPours]float64
		var known [MostPours]bool
		for i, l := range lumps {
			if !known[l.pour] {
				cost[l.pour], known[l.pour] = l.to(x, 1-y), true
			}
			if cost[l.pour] <= limits[i] {
				return int16(l.colour)
			}
		}
		return int16(last.colour)
	}
}

// settle gives each lump, in order, its share of the cells that are left, those it
// goes to most readily, and says up to where: between the last that it has and the next.
func settle(lumps []lump, w, h int) (out []int16, limits []float64) {
	out = make([]int16, w*h)
	left := make([]int, w*h)
	total := 0.0
	for i := range left {
		left[i] = i
	}
	for _, l := range lumps {
		total += l.parts
	}
	costs := map[int][]float64{} // by pour
	taken, due := 0, 0.0
	for _, l := range lumps {
		cost := costs[l.pour]
		if cost == nil {
			cost = make([]float64, w*h)
			for _, i := range left {
				cost[i] = l.to((float64(i%w)+.5)/float64(w), 1-(float64(i/w)+.5)/float64(h))
			}
			costs[l.pour] = cost
		}
		due += l.parts / total * float64(w*h)
		n := min(len(left), int(math.Round(due))-taken)
		cheapest(left, cost, n)
		most, next := math.Inf(-1), math.Inf(1)
		for _, i := range left[:n] {
			out[i] = int16(l.colour)
			most = math.Max(most, cost[i])
		}
		for _, i := range left[n:] {
			next = math.Min(next, cost[i])
		}
		if n > 0 && n < len(left) {
			most = (most + next) / 2
		}
		limits = append(limits, most)
		left, taken = left[n:], taken+n
	}
	for _, i := range left { // what rounding left
		out[i] = int16(lumps[len(lumps)-1].colour)
	}
	return out, limits
}

// cheapest brings the n cells of least cost to the front, in any order
// (quickselect: Hoare, 1961).
func cheapest(cells []int, cost []float64, n int) {
	for low, high := 0, len(cells)-1; low < high && n > 0 && n < len(cells); {
		pivot := cost[cells[low+(high-low)/2]]
		i, j := low, high
		for i <= j {
			for cost[cells[i]] < pivot {
				i++
			}
			for cost[cells[j]] > pivot {
				j--
			}
			if i <= j {
				cells[i], cells[j] = cells[j], cells[i]
				i, j = i+1, j-1
			}
		}
		switch {
		case n-1 <= j:
			high = j
		case n-1 >= i:
			low = i
		default:
			return
		}
	}
}

// folded carries the batter along a flow that nothing crosses at the walls and
// that keeps areas: a sum of rolls, sin(mπx)·sin(nπy), followed back step by step
// (midpoint rule).
func folded(still func(x, y float64) int16, w, h int, rnd *rand.Rand, along, much float64) []int16 {
	const steps = 24
	const most = 3 // rolls each way
	var rolls [most][most]float64
	for m := range most {
		for n := range most {
			a, p := rnd.NormFloat64()/float64((m+1)*(m+1)+(n+1)*(n+1)), 2*math.Pi*rnd.Float64()
			rolls[m][n] = a * math.Cos(p+1.6*along)
		}
	}
	// The sines and cosines of every column and row.
	waveTable := func(n int) (sin, cos [][most]float64) {
		sin, cos = make([][most]float64, n+1), make([][most]float64, n+1)
		for i := range sin {
			for m := range most {
				sin[i][m], cos[i][m] = math.Sincos(float64(m+1) * math.Pi * float64(i) / float64(n))
			}
		}
		return sin, cos
	}
	sinX, cosX := waveTable(w)
	sinY, cosY := waveTable(h)
	// The flow at the corners of cells, between them in proportion.
	vx, vy := make([]float64, (w+1)*(h+1)), make([]float64, (w+1)*(h+1))
	fastest := 1e-9
	for j := range h + 1 {
		for i := range w + 1 {
			var u, v float64
			for m := range most {
				for n := range most {
					u += rolls[m][n] * float64(n+1) * math.Pi * sinX[i][m] * cosY[j][n]
					v -= rolls[m][n] * float64(m+1) * math.Pi * cosX[i][m] * sinY[j][n]
				}
			}
			vx[j*(w+1)+i], vy[j*(w+1)+i] = u, v
			fastest = math.Max(fastest, math.Hypot(u, v))
		}
	}
	dt := 6 * much / fastest / steps
	flow := func(x, y float64) (float64, float64) {
		fx, fy := math.Max(0, math.Min(.999999, x))*float64(w), math.Max(0, math.Min(.999999, y))*float64(h)
		i, j := int(fx), int(fy)
		a, b := fx-float64(i), fy-float64(j)
		at := j*(w+1) + i
		mix := func(f []float64) float64 {
			return (1-b)*((1-a)*f[at]+a*f[at+1]) + b*((1-a)*f[at+w+1]+a*f[at+w+2])
		}
		return mix(vx), mix(vy)
	}
	// Where the batter came from is smooth: it is followed at every fourth place, and
	// taken in proportion between.
	const every = 4
	nw, nh := w/every+2, h/every+2
	fromX, fromY := make([]float64, nw*nh), make([]float64, nw*nh)
	for j := range nh {
		for i := range nw {
			x, y := float64(i*every)/float64(w), float64(j*every)/float64(h)
			for range steps {
				u, v := flow(x, y)
				u, v = flow(x-u*dt/2, y-v*dt/2)
				x, y = x-u*dt, y-v*dt
			}
			fromX[j*nw+i], fromY[j*nw+i] = x, y
		}
	}
	out := make([]int16, w*h)
	for j := range h {
		b := (float64(j) + .5) / every
		bj := int(b)
		b -= float64(bj)
		for i := range w {
			a := (float64(i) + .5) / every
			ai := int(a)
			a -= float64(ai)
			at := bj*nw + ai
			mix := func(f []float64) float64 {
				return (1-b)*((1-a)*f[at]+a*f[at+1]) + b*((1-a)*f[at+nw]+a*f[at+nw+1])
			}
			out[j*w+i] = still(math.Max(0, math.Min(1, mix(fromX))), math.Max(0, math.Min(1, mix(fromY))))
		}
	}
	return out
}
