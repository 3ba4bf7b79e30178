package wheel

import "math"

// Hue is a colour among others: its place, and how much it weighs, such as its share times its chroma.
type Hue struct{ Place, Weight float64 }

// Likeness is the scheme that colours make, or come nearest to.
type Likeness struct {
	Scheme  string
	Variant Variant
	Named   bool      // they make it; else they only come nearest to it
	Lead    float64   // the place the scheme starts from
	Off     float64   // how far the colours lie from the lit places, mean by weight, in places of 30°
	Missing []float64 // lit places that no colour serves: what would complete it
	Outside []int     // colours that belong to none of its places, by index

	outside, most float64 // the share of the weight outside; how far the farthest within is off
}

// What a form of a scheme is charged for, in places of 30°. Starting values.
const (
	outsideFrom   = 0.75 // from its nearest lit place a colour does not belong
	chargeOutside = 0.6  // for each colour outside
	chargeMissing = 0.3  // for each lit place without a colour
	chargePlace   = 0.04 // for each place lit, so that the plainer scheme wins
)

// When a scheme is named: of up to four hues each lies at its place, and little lies outside.
const (
	mostOutside = 0.15      // of the weight
	atPlace     = 10.0 / 30 // places from its own
	fewHues     = 4
)

// tenth is, for five hues and more, the mean deviation that one in ten sets of as many random hues keeps
// under in the best of all schemes that they fill, in places of 30°: what is no nearer is chance. From a
// seeded simulation, which a test repeats; from seven on, one hue of equal weight may lie outside.
var tenth = []float64{5: 0.23, 6: 0.28, 7: 0.19, 8: 0.21, 9: 0.26, 10: 0.30, 11: 0.36}

// makes reports whether colours, so many of them, make the scheme they are laid on.
func (l Likeness) makes(hues int) bool {
	switch {
	case len(l.Missing) > 0 || l.outside > mostOutside:
		return false
	case hues <= fewHues:
		return l.most <= atPlace
	}
	return l.Off <= tenth[min(hues, len(tenth)-1)]
}

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

// Recognise finds the scheme that colours make, wherever it starts: each form is laid so that every colour in
// turn sits on every one of its places, shifted to the mean of what is left, and charged for colours off and
// outside it and for places it leaves empty. One is named only where every place of it is taken, at most 15 %
// of the weight lies outside, and the colours lie nearer than chance would have them; else the scheme is the one
// they come nearest to. Without any colour there is nothing to recognise.
func Recognise(hues []Hue) (Likeness, bool) {
	best, least := Likeness{}, math.Inf(1)
	names, variants := forms()
	for i, name := range names {
		steps, err := schemeSteps(name, variants[i])
		if err != nil {
			continue
		}
		for _, h := range hues {
			for _, s := range steps {
				l, charge := lay(hues, steps, Turn(h.Place, -s))
				l.Scheme, l.Variant, l.Named = name, variants[i], l.makes(len(hues))
				if l.Named == best.Named && charge < least-1e-9 || l.Named && !best.Named {
					best, least = l, charge
				}
			}
		}
	}
	return best, len(hues) > 0
}

// lay puts a scheme down at a lead, shifts it once to fit, and says what it is
// charged.
func lay(hues []Hue, steps []float64, lead float64) (Likeness, float64) {
	shift, within, all := 0.0, 0.0, 0.0
	low, high := outsideFrom, -outsideFrom
	for _, h := range hues {
		all += h.Weight
		if _, off := nearestStep(h.Place, steps, lead); math.Abs(off) < outsideFrom {
			shift, within = shift+off*h.Weight, within+h.Weight
			low, high = min(low, off), max(high, off)
		}
	}
	l := Likeness{Lead: lead}
	switch {
	case within == 0:
	case len(hues) <= fewHues: // of few, the farthest counts
		l.Lead = Turn(lead, (low+high)/2)
	default:
		l.Lead = Turn(lead, shift/within)
	}
	served := make([]bool, len(steps))
	within = 0
	for i, h := range hues {
		at, off := nearestStep(h.Place, steps, l.Lead)
		if off = math.Abs(off); off >= outsideFrom {
			l.Outside = append(l.Outside, i)
			l.outside += h.Weight / all
			continue
		}
		served[at] = true
		within += h.Weight
		l.Off += off * h.Weight
		l.most = max(l.most, off)
	}
	if within > 0 {
		l.Off /= within
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
