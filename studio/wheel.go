package studio

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/wheel"
	"lampfern/store"
)

// Bands are the five steps of value along a frond, dark at the centre, by
// their upper L*.
var bandTops = [Bands]float64{24, 42, 60, 78, 101}

// Bands is the number of value steps on a frond.
const Bands = 5

// BandNames name the steps of value, dark to light.
var BandNames = [Bands]string{"very dark", "dark", "middle", "light", "very light"}

func band(l float64) int {
	for i, top := range bandTops {
		if l < top {
			return i
		}
	}
	return Bands - 1
}

// clearSide is the clearness from which a colour hangs on a frond's clear side.
const clearSide = 0.5

// Leaflet is one place on a frond: a step of value, greyed or clear.
type Leaflet struct {
	Band      int
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
	Leaflets [2 * Bands]Leaflet
}

// Fronds hangs the shelf on a wheel: every card with a hue on the leaflet it
// belongs to. It is worked out once for a shelf.
func (sh *Shelf) Fronds(w wheel.Wheel) [wheel.Places]Frond { return sh.fronds[w.Number()]() }

func (sh *Shelf) hang(w wheel.Wheel) [wheel.Places]Frond {
	var fronds [wheel.Places]Frond
	for i := range fronds {
		f := &fronds[i]
		f.Place, f.Name = i, w.Name(float64(i))
		f.Leaflets = leaflets(w, float64(i))
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
	at := 2 * band(c.Colour.L)
	if c.Clearness >= clearSide {
		at++
	}
	return at
}

// leaflets are the empty leaflets of a place, with what belongs on each.
func leaflets(w wheel.Wheel, place float64) [2 * Bands]Leaflet {
	var out [2 * Bands]Leaflet
	for b := range Bands {
		for side := range 2 {
			l := Leaflet{Band: b, Clear: side == 1}
			l.Ideal, l.Clearness = ideal(w, place, b, l.Clear)
			l.Family = colour.Family(l.Ideal)
			out[2*b+side] = l
		}
	}
	return out
}

// ideal is the colour that belongs on a leaflet and its clearness: the place's
// hue at the middle of its band, at most or at a third of the chroma sRGB holds
// there.
func ideal(w wheel.Wheel, place float64, b int, clear bool) (colour.Lab, float64) {
	l := [Bands]float64{0.30, 0.45, 0.60, 0.75, 0.89}[b]
	share := 0.33
	if clear {
		share = 0.92
	}
	h := w.Hue(place)
	return colour.OKLCh{L: l, C: share * colour.MaxChroma(l, h), H: h}.Lab(), share
}

// IdealName names a free colour of a leaflet as the field does: a tint is
// light, a shade dark, a tone greyed.
func IdealName(place string, band int, clear bool) string {
	kinds := [Bands]string{"Very dark tone", "Dark tone", "Tone", "Light tone", "Very light tone"}
	if clear {
		kinds = [Bands]string{"Deep shade", "Shade", "Clear", "Tint", "Pale tint"}
	}
	kind := kinds[band]
	if strings.HasPrefix(place, betweenPlaces) || clear && band == Bands/2 {
		return kind + " " + place
	}
	return kind + " of " + place
}

// betweenPlaces begins the name of a place that lies between two.
const betweenPlaces = "between"

// matchWithin is how far, in places of 30°, a card may lie from a lit place to
// match it.
const matchWithin = 0.5

// PlaceView is one place of the scheme with what the shelf has for it.
type PlaceView struct {
	Index   int // in the scheme
	Place   float64
	Name    string // "red-violet", or "between red and red-violet"
	IsLead  bool
	Off     bool               // the maker turned it off
	Nudge   float64            // degrees the maker moved it, clockwise
	Ideals  [2 * Bands]Leaflet // its free colours, tints, tones and shades
	Matches []*Card            // best first
	Nearest *Card              // the nearest hue, when nothing matches
	Lacks   []Lack             // what the shelf does not have there
}

// Lack is a colour of a lit place that the shelf does not have.
type Lack struct {
	Name   string // "dark red-violet"
	Short  string // "dark", or "any" when there is nothing at all
	Colour colour.Lab
	Words  string // what comes closest
	Wished bool   // it is on the wish list
}

// WheelView is what the wheel stage shows.
type WheelView struct {
	Wheel      wheel.Wheel
	School     wheel.School
	Fronds     [wheel.Places]Frond
	Scheme     string // empty when none is lit
	LeadPlace  float64
	LeadKnown  bool  // the light has a colour it starts from
	Start      *Card // that colour: the lead, or the boldest
	Turned     bool  // the light is turned away from it
	Lit        []PlaceView
	Neutrals   []*Card // for the achromatic scheme
	Notes      []balance.Note
	Made       *Made // what the tray's cards make; nil for an empty tray
	Warm       float64
	Cool       float64
	Grey       float64
	ByArea     bool        // the shares above are of the piece, else of the cards
	Warmest    []TrayCard  // of the tray, warmest first
	Competing  []Competing // pairs of the tray
	Free       []FreeView  // free colours of the tray with what could take their place
	Bridge     *BridgeView // how two cards of the tray are brought together
	Bridgeable []TrayCard  // cards with a hue
}

// Made is the scheme that the cards of a tray come nearest to.
type Made struct {
	wheel.Likeness
	Words   string
	Missing []PlaceView // what would complete it
	Turn    int         // whole places that lay the light on it, from where it starts
}

// Wheel works out the wheel stage. bridge names two cards of the tray, by key,
// to bring together; zeros leave the choice to the program.
func (p *Plan) Wheel(bridge [2]int) (WheelView, error) {
	w := p.OnWheel()
	v := WheelView{Wheel: w, School: p.school(), Fronds: p.Shelf.Fronds(w), Scheme: p.Scheme}
	v.LeadPlace = float64(p.Turn)
	boldest := p.boldest()
	v.Start = p.Lead
	if p.FromBoldest && boldest != nil && p.Scheme != sparkScheme {
		v.Start = boldest
	}
	if v.Start != nil && !v.Start.Neutral {
		v.LeadKnown, v.Turned = true, p.Turn != 0
		v.LeadPlace = wheel.Turn(v.Start.Place(w), float64(p.Turn))
	}
	p.relations(&v, bridge)
	if p.Scheme == "" {
		v.Notes = p.visible(append(p.briefNotes(), alikeInTray(p)...))
		return v, nil
	}
	places, err := w.Scheme(p.Scheme, v.LeadPlace, variant(p.Plan))
	if err != nil {
		return v, fmt.Errorf("lighting the scheme: %w", err)
	}
	if p.FromBoldest && boldest != nil && p.Scheme == sparkScheme {
		places[len(places)-1] = wheel.Turn(boldest.Place(w), wheel.Places/2)
	}
	for i, at := range places {
		lead := wheel.Apart(at, v.LeadPlace) < 1e-9
		pl := PlaceView{Index: i, IsLead: lead}
		for _, a := range p.Adjusted {
			if a.Index == i {
				pl.Off, pl.Nudge = a.Off, a.Nudge
			}
		}
		v.Lit = append(v.Lit, p.place(pl, wheel.Turn(at, pl.Nudge/degreesPerPlace)))
	}
	if len(places) == 0 {
		for _, c := range p.Shelf.Cards {
			if c.Neutral {
				v.Neutrals = append(v.Neutrals, c)
			}
		}
		sort.SliceStable(v.Neutrals, func(i, j int) bool { return v.Neutrals[i].Colour.L < v.Neutrals[j].Colour.L })
	}
	v.Notes = p.visible(slices.Concat(p.wheelNotes(v), p.briefNotes(), alikeInTray(p)))
	return v, nil
}

// sparkScheme is the one whose complement alone can go by the boldest card.
const sparkScheme = "analogous with a complement"

const degreesPerPlace = 30.0

// place fills in what a place of the scheme has.
func (p *Plan) place(pl PlaceView, at float64) PlaceView {
	w := p.OnWheel()
	pl.Place, pl.Name = at, w.Describe(at)
	if pl.Off {
		return pl
	}
	pl.Ideals = leaflets(w, at)
	if p.Nearest {
		pl.Matches = p.Shelf.nearestTo(pl.Ideals)
	} else {
		pl.Matches = p.Shelf.matches(w, at)
	}
	pl.Nearest = p.Shelf.nearestHue(w, at)
	hueFirst := pl.Matches
	if p.Nearest {
		hueFirst = p.Shelf.matches(w, at)
	}
	pl.Lacks = p.lacks(pl, hueFirst)
	return pl
}

// boldest is the card with a hue of the tray that is bolder than all others,
// nil when the tray has none.
func (p *Plan) boldest() *Card {
	var best *Card
	most := math.Inf(-1)
	for i, b := range balance.Boldness(p.labs()) {
		if t := p.Tray[i]; !t.Neutral && b > most {
			best, most = t.Card, b
		}
	}
	return best
}

// goRound lists the cards with a hue by their place on a wheel.
func (sh *Shelf) goRound(w wheel.Wheel) []*Card {
	all := slices.DeleteFunc(slices.Clone(sh.Cards), func(c *Card) bool { return c.Neutral })
	slices.SortStableFunc(all, func(a, b *Card) int { return cmp.Compare(a.Place(w), b.Place(w)) })
	return all
}

// within lists the cards no further than reach from a place, in places.
func (sh *Shelf) within(w wheel.Wheel, place, reach float64) []*Card {
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

// matches lists the cards within 15° of a place: round after round the nearest
// hue from each leaflet, so that value and clearness are spread.
func (sh *Shelf) matches(w wheel.Wheel, place float64) []*Card {
	type match struct {
		card  *Card
		apart float64
	}
	nearer := func(a, b match) int { return cmp.Compare(a.apart, b.apart) }
	var by [2 * Bands][]match
	total := 0
	for _, c := range sh.within(w, place, matchWithin) {
		at := leaflet(c)
		by[at] = append(by[at], match{c, wheel.Apart(c.Place(w), place)})
		total++
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

// nearestTo lists the card nearest by ΔE00 to each free colour of a place, the
// nearest of all first.
func (sh *Shelf) nearestTo(ideals [2 * Bands]Leaflet) []*Card {
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

// nearestHue is the card whose hue lies nearest to a place, nil when none has one.
func (sh *Shelf) nearestHue(w wheel.Wheel, place float64) *Card {
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

func (p *Plan) wheelNotes(v WheelView) []balance.Note {
	var notes []balance.Note
	if p.Lead != nil && p.Lead.Neutral && v.Start == p.Lead {
		words := " is neutral and has no place on the wheel: the light starts at " + v.Wheel.Name(v.LeadPlace) + ". Turn it to the hue it should lean to, or go by value alone with the achromatic scheme."
		if u := p.Lead.Colour.Undertone(); u != "" {
			words = fmt.Sprintf(" is neutral, with an undertone of %s: the light starts at %s. Turn it to the hue it should lean to, or go by value alone with the achromatic scheme.", u, v.Wheel.Name(v.LeadPlace))
		}
		notes = append(notes, balance.Note{ID: "neutral-lead", Severity: balance.Consider, About: p.Lead.Name, Words: words, Aside: -1})
	}
	lit, whole := 0, true
	for _, pl := range v.Lit {
		if pl.Off {
			continue
		}
		lit++
		if len(pl.Lacks) == 0 {
			continue
		}
		whole = false
		l := pl.Lacks[0]
		notes = append(notes, balance.Note{ID: "gap:" + l.Name, Severity: balance.Consider, Aside: -1, About: "Nothing on the shelf", Words: " is " + l.Name + "." + l.Words})
	}
	if lit > 0 && whole {
		notes = append(notes, balance.Note{ID: "whole", Severity: balance.Fine, About: "Every lit place", Words: " is on the shelf in dark, middle and light, clear and greyed.", Aside: -1})
	}
	if n := p.Brief.Count; lit > 0 && n > lit {
		notes = append(notes, balance.Note{ID: "more-colours", Severity: balance.Consider, Aside: -1, About: "The brief",
			Words: fmt.Sprintf(" asks for %d colours and this scheme lights %d: take tints, tones and shades of its places, or neutrals, for the rest.", n, lit)})
	}
	return notes
}

// thirds are the value ranges a place should offer: dark, middle, light, by
// L*.
var thirds = [3]struct {
	name      string
	low, high float64
	band      int // whose ideal stands for the range
}{{"dark", 0, 40, 1}, {"middle", 40, 66, 2}, {"light", 66, 101, 3}}

// gapSlack is how far, in L*, a card may miss a range and still serve it.
const gapSlack = 3.0

// lacks says what the shelf does not have for a lit place: nothing at all, a
// range of value, or any clear or any greyed card. Light comes first.
func (p *Plan) lacks(pl PlaceView, matches []*Card) []Lack {
	if len(matches) == 0 {
		l := Lack{Name: pl.Name, Short: "any", Colour: pl.Ideals[2*(Bands/2)+1].Ideal}
		if pl.Nearest != nil {
			at := pl.Nearest.Place(p.OnWheel())
			l.Words = fmt.Sprintf(" The nearest hue is %s, %s, %.0f° round the wheel.", pl.Nearest.Name,
				p.OnWheel().Describe(at), degreesPerPlace*wheel.Apart(at, pl.Place))
		}
		return p.wished([]Lack{l})
	}
	named := func(word string) string {
		if strings.HasPrefix(pl.Name, betweenPlaces) {
			return word + ", " + pl.Name
		}
		return word + " " + pl.Name
	}
	var out []Lack
	for i := len(thirds) - 1; i >= 0; i-- {
		t := thirds[i]
		best, off := (*Card)(nil), math.Inf(1)
		for _, c := range matches {
			if d := max(t.low-c.Colour.L, c.Colour.L-t.high, 0); d < off {
				best, off = c, d
			}
		}
		if off < gapSlack {
			continue
		}
		word := "darker"
		if best.Colour.L > t.high {
			word = "lighter"
		}
		out = append(out, Lack{Name: named(t.name), Short: t.name, Colour: pl.Ideals[2*t.band+1].Ideal, Words: fmt.Sprintf(" Closest is %s, %.1f value steps %s.", best.Name, off/10, word)})
	}
	for _, side := range []struct {
		name  string
		clear bool
	}{{"clear", true}, {"greyed", false}} {
		if slices.ContainsFunc(matches, func(c *Card) bool { return (c.Clearness >= clearSide) == side.clear }) {
			continue
		}
		at := 2 * (Bands / 2)
		if side.clear {
			at++
		}
		out = append(out, Lack{Name: named(side.name), Short: side.name, Colour: pl.Ideals[at].Ideal})
	}
	return p.wished(out)
}

func (p *Plan) wished(all []Lack) []Lack {
	for i := range all {
		all[i].Wished = slices.ContainsFunc(p.Wishes, func(w store.Wish) bool { return w.Name == all[i].Name })
	}
	return all
}
