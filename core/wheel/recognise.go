package wheel

import "math"

// Likeness is the scheme that colours come nearest to.
type Likeness struct {
	Scheme  string
	Variant Variant
	Lead    float64   // the place the scheme starts from
	Off     float64   // how far the colours lie from the lit places, mean, in places of 30°
	Missing []float64 // lit places that no colour serves: what would complete it
	Outside []int     // colours that belong to none of its places, by index
}

// What a form of a scheme is charged for, in places of 30°. Starting values.
const (
	outsideFrom   = 0.75 // from its nearest lit place a colour does not belong
	chargeOutside = 0.6  // for each colour outside
	chargeMissing = 0.3  // for each lit place without a colour
	chargePlace   = 0.04 // for each place lit, so that the plainer scheme wins
)

// forms lists every scheme that lights hues, in each form with a shape of its
// own.
func forms() (names []string, variants []Variant) {
	for _, s := range Schemes() {
		if len(s.steps) == 0 {
			continue
		}
		if s.Name != "analogous" {
			names, variants = append(names, s.Name), append(variants, Variant{})
			continue
		}
		for n := 2; n <= 5; n++ {
			names, variants = append(names, s.Name), append(variants, Variant{Neighbours: n})
		}
	}
	return names, variants
}

// Recognise finds the scheme whose places the colours at these places come
// nearest to, wherever it starts: each form is laid so that every colour in
// turn sits on every one of its places, shifted to the mean of what is left,
// and charged for colours off and outside it and for places it leaves empty.
// Without any place there is nothing to recognise.
func Recognise(places []float64) (Likeness, bool) {
	best, least := Likeness{}, math.Inf(1)
	names, variants := forms()
	for i, name := range names {
		steps, err := schemeSteps(name, variants[i])
		if err != nil {
			continue
		}
		for _, p := range places {
			for _, s := range steps {
				l, charge := lay(places, steps, Turn(p, -s))
				if charge < least-1e-9 {
					l.Scheme, l.Variant = name, variants[i]
					best, least = l, charge
				}
			}
		}
	}
	return best, len(places) > 0
}

// lay puts a scheme down at a lead, shifts it once to fit, and says what it is
// charged.
func lay(places, steps []float64, lead float64) (Likeness, float64) {
	shift, n := 0.0, 0.0
	for _, p := range places {
		if _, off := nearestStep(p, steps, lead); math.Abs(off) < outsideFrom {
			shift, n = shift+off, n+1
		}
	}
	l := Likeness{Lead: lead}
	if n > 0 {
		l.Lead = Turn(lead, shift/n)
	}
	served := make([]bool, len(steps))
	for i, p := range places {
		at, off := nearestStep(p, steps, l.Lead)
		if math.Abs(off) >= outsideFrom {
			l.Outside = append(l.Outside, i)
			continue
		}
		served[at] = true
		l.Off += math.Abs(off)
	}
	if in := len(places) - len(l.Outside); in > 0 {
		l.Off /= float64(in)
	}
	for i, s := range steps {
		if !served[i] {
			l.Missing = append(l.Missing, Turn(l.Lead, s))
		}
	}
	return l, l.Off + chargeOutside*float64(len(l.Outside)) + chargeMissing*float64(len(l.Missing)) + chargePlace*float64(len(steps))
}

// nearestStep is the step of a scheme laid at lead that a place is nearest to,
// and how far clockwise the place lies from it.
func nearestStep(place float64, steps []float64, lead float64) (at int, off float64) {
	off = math.Inf(1)
	for i, s := range steps {
		d := Turn(place, -lead-s)
		if d > Places/2 {
			d -= Places
		}
		if math.Abs(d) < math.Abs(off) {
			at, off = i, d
		}
	}
	return at, off
}
