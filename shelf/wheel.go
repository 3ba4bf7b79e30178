package shelf

import (
	"cmp"
	"math"
	"slices"
	"sort"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/wheel"
)

// ValueSteps are the five steps of value along a frond, dark at the centre, by
// their upper L*.
var StepTops = [ValueSteps]float64{24, 42, 60, 78, 101}

// ValueSteps is the number of value steps on a frond.
const ValueSteps = 5

// StepNames name the steps of value, dark to light.
var StepNames = [ValueSteps]string{"very dark", "dark", "middle", "light", "very light"}

// StepOf is the value step of an L*, from 0, the darkest.
func StepOf(l float64) int {
	for i, top := range StepTops {
		if l < top {
			return i
		}
	}
	return ValueSteps - 1
}

// ClearSide is the clearness from which a colour hangs on a frond's clear side.
const ClearSide = 0.5

// Leaflet is one place on a frond: a step of value, greyed or clear.
type Leaflet struct {
	Step      int
	Clear     bool
	Ideal     colour.Lab // the colour that belongs there
	Family    colour.FamilyName
	Clearness float64 // of the ideal
	Cards     []*Card // those owned, nearest to the ideal first
}

// Frond is one of the twelve places of the wheel with its leaflets, dark to
// light, greyed before clear.
type Frond struct {
	Place    int
	Name     string
	Leaflets [2 * ValueSteps]Leaflet
}

// Fronds hangs the shelf on a wheel: every card with a hue on the leaflet it
// belongs to. It is worked out once for a shelf.
func (sh *Shelf) Fronds(w wheel.Wheel) [wheel.Places]Frond { return sh.fronds[w.Number()]() }

func (sh *Shelf) hang(w wheel.Wheel) [wheel.Places]Frond {
	var fronds [wheel.Places]Frond
	for i := range fronds {
		f := &fronds[i]
		f.Place, f.Name = i, w.Name(float64(i))
		f.Leaflets = Leaflets(w, float64(i))
	}
	for _, c := range sh.Cards {
		if c.Neutral {
			continue
		}
		f := &fronds[int(math.Round(c.Place(w)))%wheel.Places]
		l := &f.Leaflets[leaflet(c)]
		l.Cards = append(l.Cards, c)
	}
	for i := range fronds {
		for j := range fronds[i].Leaflets {
			l := &fronds[i].Leaflets[j]
			apart := make(map[*Card]float64, len(l.Cards))
			for _, c := range l.Cards {
				apart[c] = colour.DeltaE2000(c.Colour, l.Ideal)
			}
			sort.SliceStable(l.Cards, func(a, b int) bool { return apart[l.Cards[a]] < apart[l.Cards[b]] })
		}
	}
	return fronds
}

func leaflet(c *Card) int {
	at := 2 * StepOf(c.Colour.L)
	if c.Clearness >= ClearSide {
		at++
	}
	return at
}

// Leaflets are the empty leaflets of a place, with what belongs on each.
func Leaflets(w wheel.Wheel, place float64) [2 * ValueSteps]Leaflet {
	var out [2 * ValueSteps]Leaflet
	for b := range ValueSteps {
		for side := range 2 {
			l := Leaflet{Step: b, Clear: side == 1}
			l.Ideal, l.Clearness = Ideal(w, place, b, l.Clear)
			l.Family = colour.Family(l.Ideal)
			out[2*b+side] = l
		}
	}
	return out
}

// Ideal is the colour that belongs on a leaflet and its clearness: the place's
// hue at the middle of its step, at most or at a third of the chroma sRGB holds
// there.
func Ideal(w wheel.Wheel, place float64, b int, clear bool) (colour.Lab, float64) {
	l := [ValueSteps]float64{0.30, 0.45, 0.60, 0.75, 0.89}[b]
	share := 0.33
	if clear {
		share = 0.92
	}
	h := w.Hue(place)
	return colour.OKLCh{L: l, C: share * colour.MaxChroma(l, h), H: h}.Lab(), share
}

// BetweenPlaces begins the name of a place that lies between two.
const BetweenPlaces = "between"

// IdealName names a free colour of a leaflet as the field does: a tint is
// light, a shade dark, a tone greyed.
func IdealName(place string, step int, clear bool) string {
	kinds := toneNames
	if clear {
		kinds = clearNames
	}
	kind := kinds[step]
	if strings.HasPrefix(place, BetweenPlaces) || clear && step == ValueSteps/2 {
		return kind + " " + place
	}
	return kind + " of " + place
}

// What leaflets are called, from dark to light: greyed and clear.
var (
	toneNames  = [ValueSteps]string{"Very dark tone", "Dark tone", "Tone", "Light tone", "Very light tone"}
	clearNames = [ValueSteps]string{"Deep shade", "Shade", "Clear", "Tint", "Pale tint"}
)

// Renamed is the name of a free colour that is changed: one that was called by its leaflet
// is called by the one it lies nearest to now; any other keeps its name.
func Renamed(name string, c colour.Lab, w wheel.Wheel) string {
	for _, kind := range slices.Concat(toneNames[:], clearNames[:]) {
		if rest, is := strings.CutPrefix(name, kind+" "); is && (strings.HasPrefix(rest, "of ") || strings.HasPrefix(rest, BetweenPlaces) ||
			kind == clearNames[ValueSteps/2]) && !c.Neutral() {
			step := min(ValueSteps-1, int(c.L/100*ValueSteps))
			return IdealName(w.Describe(w.Place(c.OKLCh())), step, c.Clearness() >= colour.ClearFrom)
		}
	}
	return name
}

// MatchWithin is how far, in places of 30°, a card may lie from a lit place to
// match it.
const MatchWithin = 0.5

// goRound lists the cards with a hue by their place on a wheel.
func (sh *Shelf) goRound(w wheel.Wheel) []*Card {
	all := slices.DeleteFunc(slices.Clone(sh.Cards), func(c *Card) bool { return c.Neutral })
	slices.SortStableFunc(all, func(a, b *Card) int { return cmp.Compare(a.Place(w), b.Place(w)) })
	return all
}

// Within lists the cards no further than reach from a place, in places.
func (sh *Shelf) Within(w wheel.Wheel, place, reach float64) []*Card {
	all := sh.round[w.Number()]()
	from := func(p float64) int {
		return sort.Search(len(all), func(i int) bool { return all[i].Place(w) >= p })
	}
	after := func(p float64) int {
		return sort.Search(len(all), func(i int) bool { return all[i].Place(w) > p })
	}
	low, high := place-reach, place+reach
	switch {
	case low < 0:
		return slices.Concat(all[from(low+wheel.Places):], all[:after(high)])
	case high >= wheel.Places:
		return slices.Concat(all[from(low):], all[:after(high-wheel.Places)])
	}
	return all[from(low):after(high)]
}

// Matches lists the cards within 15° of a place: round after round the nearest
// hue from each leaflet, so that value and clearness are spread.
func (sh *Shelf) Matches(w wheel.Wheel, place float64) []*Card {
	type match struct {
		card  *Card
		apart float64
	}
	nearer := func(a, b match) int { return cmp.Compare(a.apart, b.apart) }
	var by [2 * ValueSteps][]match
	total := 0
	add := func(c *Card, apart float64) {
		at := leaflet(c)
		by[at] = append(by[at], match{c, apart})
		total++
	}
	for _, c := range sh.Within(w, place, MatchWithin) {
		if len(c.Further) == 0 || c.Printed() == nil {
			add(c, wheel.Apart(c.Place(w), place))
		}
	}
	for _, c := range sh.prints() {
		if apart, ok := c.fills(w, place); ok {
			add(c, apart)
		}
	}
	for i := range by {
		slices.SortStableFunc(by[i], nearer)
	}
	out := make([]*Card, 0, total)
	var turn []match
	for round := 0; len(out) < total; round++ {
		turn = turn[:0]
		for _, matches := range by {
			if round < len(matches) {
				turn = append(turn, matches[round])
			}
		}
		slices.SortStableFunc(turn, nearer)
		for _, m := range turn {
			out = append(out, m.card)
		}
	}
	return out
}

// fills reports whether one of a print's larger colours lies within 15° of a place, and how far from it.
func (c *Card) fills(w wheel.Wheel, place float64) (apart float64, ok bool) {
	apart = MatchWithin
	for _, f := range c.Printed() {
		if d := wheel.Apart(w.Place(f.Colour.OKLCh()), place); f.Share >= material.LargerPortion && !f.Colour.Neutral() && d <= apart {
			apart, ok = d, true
		}
	}
	return apart, ok
}

// NearestTo lists the card nearest by ΔE00 to each free colour of a place, the
// nearest of all first.
func (sh *Shelf) NearestTo(ideals [2 * ValueSteps]Leaflet) []*Card {
	var all []Near
	for _, l := range ideals {
		for _, n := range sh.Nearest(l.Ideal, 1, 0) {
			if !slices.ContainsFunc(all, func(o Near) bool { return o.Card == n.Card }) {
				all = append(all, n)
			}
		}
	}
	slices.SortStableFunc(all, func(a, b Near) int { return cmp.Compare(a.Apart, b.Apart) })
	out := make([]*Card, len(all))
	for i, n := range all {
		out[i] = n.Card
	}
	return out
}

// NearestHue is the card whose hue lies nearest to a place, nil when none has one.
func (sh *Shelf) NearestHue(w wheel.Wheel, place float64) *Card {
	all := sh.round[w.Number()]()
	if len(all) == 0 {
		return nil
	}
	at := sort.Search(len(all), func(i int) bool { return all[i].Place(w) >= place })
	next, before := all[at%len(all)], all[(at+len(all)-1)%len(all)]
	if wheel.Apart(before.Place(w), place) < wheel.Apart(next.Place(w), place) {
		return before
	}
	return next
}
