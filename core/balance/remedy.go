package balance

import (
	"cmp"
	"math"
	"slices"

	"lampfern/core/colour"
	"lampfern/core/wheel"
)

// Remedy is a changed colour with which a pair no longer competes.
type Remedy struct {
	Words  string // how it differs, such as "softer"
	Colour colour.Lab
	Change float64 // ΔE00 from what it was
}

// What is past a limit is past it by so much, so that rounding to hex does not bring it back.
const (
	pastPlaces    = 0.05
	pastForce     = 0.02
	pastLightness = 1.0
)

// Remedies are the changes of a that stop it from competing with b, the least first: turned to an
// opposite or a neighbour, softened, lighter or darker, by as little as will do and by more.
func (e Eye) Remedies(a, b colour.Lab) []Remedy {
	const steps = 4
	from := a.OKLCh()
	var all []Remedy
	for i := range steps {
		more := float64(i)
		soft := colour.OKLCh{L: from.L, C: from.C * (competeForce - pastForce - .1*more) / a.Force(), H: from.H}.Lab()
		all = append(all, Remedy{Words: "softer", Colour: soft},
			Remedy{Words: "darker", Colour: AtLightness(a, b.L-competeLightness-pastLightness-5*more)},
			Remedy{Words: "lighter", Colour: AtLightness(a, b.L+competeLightness+pastLightness+5*more)})
		for _, places := range []float64{oppositeFrom + pastPlaces + more/3, competeFrom - pastPlaces - more/3} {
			c := e.turned(a, b, places)
			all = append(all, Remedy{Words: "turned " + e.toward(a, c), Colour: c})
		}
	}
	return e.mend(all, a, b)
}

// mend keeps the remedies that work, the least first.
func (e Eye) mend(all []Remedy, a, b colour.Lab) []Remedy {
	all = slices.DeleteFunc(all, func(r Remedy) bool {
		now, _ := e.Judge(r.Colour, b, 0, 0, true)
		return r.Colour.L < 0 || r.Colour.L > 100 || now == Competes || now == Vibrates
	})
	for i := range all {
		all[i].Change = colour.DeltaE2000(a, all[i].Colour)
	}
	slices.SortStableFunc(all, func(a, b Remedy) int { return cmp.Compare(a.Change, b.Change) })
	return all
}

// Both are changes of each of two colours that settle them together, where one alone would be
// large: each turned half as far away from the other as opposites need, and softened with it, or
// each softened half.
func (e Eye) Both(a, b colour.Lab) (ofA, ofB Remedy, ok bool) {
	half := (wheel.Apart(e.place(a), e.place(b)) + oppositeFrom + pastPlaces) / 2
	x, y := eased(e.turned(a, b, half), math.Abs(a.L-b.L)), eased(e.turned(b, a, half), math.Abs(a.L-b.L))
	ofA = Remedy{"turned " + e.toward(a, x), x, colour.DeltaE2000(a, x)}
	ofB = Remedy{"turned " + e.toward(b, y), y, colour.DeltaE2000(b, y)}
	now, _ := e.Judge(x, y, 0, 0, true)
	return ofA, ofB, now != Competes && now != Vibrates && now != ""
}

// eased is a colour softened so far that an opposite holds it, and does not shimmer beside it where
// the two are so many L* apart.
func eased(c colour.Lab, apart float64) colour.Lab {
	lch := c.OKLCh()
	k := math.Min(1, (softForce-pastForce)/c.Force())
	if apart < vibratesLightness {
		k = math.Min(k, (vibratesChroma-1)/c.Chroma())
	}
	return colour.OKLCh{L: lch.L, C: lch.C * k, H: lch.H}.Lab()
}

// turned is a colour turned until it lies so many places from another, on its own side of it, as
// light and at most as strong.
func (e Eye) turned(c, from colour.Lab, places float64) colour.Lab {
	lch, side := c.OKLCh(), 1.0
	if wheel.Turn(e.place(c), -e.place(from)) > wheel.Places/2 {
		side = -1
	}
	hue := e.on().Hue(wheel.Turn(e.place(from), side*places))
	return colour.OKLCh{L: lch.L, C: math.Min(lch.C, colour.MaxChroma(lch.L, hue)), H: hue}.Lab()
}

// toward names the place that a colour was turned to.
func (e Eye) toward(was, is colour.Lab) string {
	step := 0.5
	if wheel.Turn(e.place(is), -e.place(was)) > wheel.Places/2 {
		step = -0.5
	}
	return "toward " + e.on().Name(wheel.Turn(e.place(is), step))
}
