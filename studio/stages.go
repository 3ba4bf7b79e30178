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
	"lampfern/core/value"
	"lampfern/core/wheel"
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
	Band  int
	Clear bool
	Ideal colour.Lab // the colour that belongs there
	Cards []*Card    // those owned, nearest to the ideal first
}

// Frond is one of the twelve places of the wheel with its leaflets, dark to
// light, greyed before clear.
type Frond struct {
	Place    int
	Name     string
	Leaflets [2 * Bands]Leaflet
}

// Fronds hangs the shelf on the pigment wheel: every card with a hue on the
// leaflet it belongs to. It is worked out once for a shelf.
func (sh *Shelf) Fronds() [wheel.Places]Frond { return sh.fronds() }

func (sh *Shelf) hang() [wheel.Places]Frond {
	var fronds [wheel.Places]Frond
	for i := range fronds {
		f := &fronds[i]
		f.Place, f.Name = i, wheel.Pigment.Name(float64(i))
		for b := range Bands {
			for side := range 2 {
				f.Leaflets[2*b+side] = Leaflet{Band: b, Clear: side == 1, Ideal: ideal(float64(i), b, side == 1)}
			}
		}
	}
	for _, c := range sh.Cards {
		if c.Neutral {
			continue
		}
		f := &fronds[int(math.Round(c.Place))%wheel.Places]
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

// ideal is the colour that belongs on a leaflet: the place's hue at the middle
// of its band, at most or at a third of the chroma sRGB holds there.
func ideal(place float64, b int, clear bool) colour.Lab {
	l := [Bands]float64{0.30, 0.45, 0.60, 0.75, 0.89}[b]
	share := 0.33
	if clear {
		share = 0.92
	}
	h := wheel.Pigment.Hue(place)
	return colour.OKLCh{L: l, C: share * colour.MaxChroma(l, h), H: h}.Lab()
}

// matchWithin is how far, in places of 30°, a card may lie from a lit place to
// match it.
const matchWithin = 0.5

// PlaceView is one lit place with what the shelf has for it.
type PlaceView struct {
	Place   float64
	Name    string // "red-violet", or "between red and red-violet"
	IsLead  bool
	Matches []*Card // spread over value and clearness, best first
	Nearest *Card   // the nearest hue, when nothing matches
}

// WheelView is what the wheel stage shows.
type WheelView struct {
	Fronds    [wheel.Places]Frond
	Scheme    string // empty when none is lit
	LeadPlace float64
	LeadKnown bool // the lead colour has a place of its own
	Turned    bool // the light is turned away from it
	Lit       []PlaceView
	Neutrals  []*Card // for the achromatic scheme
	Notes     []balance.Note
}

// Wheel works out the wheel stage.
func (p *Plan) Wheel() (WheelView, error) {
	v := WheelView{Fronds: p.Shelf.Fronds(), Scheme: p.Scheme}
	v.LeadPlace = float64(p.Turn)
	if p.Lead != nil && !p.Lead.Neutral {
		v.LeadKnown, v.Turned = true, p.Turn != 0
		v.LeadPlace = wheel.Turn(p.Lead.Place, float64(p.Turn))
	}
	if p.Scheme == "" {
		return v, nil
	}
	places, err := wheel.Pigment.Scheme(p.Scheme, v.LeadPlace, variant(p.Plan))
	if err != nil {
		return v, fmt.Errorf("lighting the scheme: %w", err)
	}
	for _, at := range places {
		v.Lit = append(v.Lit, PlaceView{Place: at, Name: wheel.Pigment.Describe(at), IsLead: wheel.Apart(at, v.LeadPlace) < 1e-9,
			Matches: p.Shelf.matches(at), Nearest: p.Shelf.nearestHue(at)})
	}
	if len(places) == 0 {
		for _, c := range p.Shelf.Cards {
			if c.Neutral {
				v.Neutrals = append(v.Neutrals, c)
			}
		}
		sort.SliceStable(v.Neutrals, func(i, j int) bool { return v.Neutrals[i].Colour.L < v.Neutrals[j].Colour.L })
	}
	v.Notes = p.visible(append(p.wheelNotes(v), alikeInTray(p)...))
	return v, nil
}

// matches lists the cards within 15° of a place: round after round the nearest
// hue from each leaflet, so that value and clearness are spread.
func (sh *Shelf) matches(place float64) []*Card {
	type match struct {
		card  *Card
		apart float64
	}
	nearer := func(a, b match) int { return cmp.Compare(a.apart, b.apart) }
	var by [2 * Bands][]match
	total := 0
	for _, c := range sh.Cards {
		if c.Neutral {
			continue
		}
		if d := wheel.Apart(c.Place, place); d <= matchWithin {
			at := leaflet(c)
			by[at] = append(by[at], match{c, d})
			total++
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

func (sh *Shelf) nearestHue(place float64) *Card {
	var best *Card
	for _, c := range sh.Cards {
		if !c.Neutral && (best == nil || wheel.Apart(c.Place, place) < wheel.Apart(best.Place, place)) {
			best = c
		}
	}
	return best
}

func (p *Plan) wheelNotes(v WheelView) []balance.Note {
	var notes []balance.Note
	if p.Lead != nil && p.Lead.Neutral {
		words := " is neutral and has no place on the wheel: the light starts at " + wheel.Pigment.Name(v.LeadPlace) + "."
		if u := p.Lead.Colour.Undertone(); u != "" {
			words = fmt.Sprintf(" is neutral, with an undertone of %s: the light starts at %s.", u, wheel.Pigment.Name(v.LeadPlace))
		}
		notes = append(notes, balance.Note{ID: "neutral-lead", Severity: balance.Consider, About: p.Lead.Name, Words: words, Aside: -1})
	}
	whole := len(v.Lit) > 0
	for _, pl := range v.Lit {
		n, ok := gap(pl)
		if ok {
			notes = append(notes, n)
		}
		whole = whole && !ok
	}
	if whole {
		notes = append(notes, balance.Note{ID: "whole", Severity: balance.Fine, About: "Every lit place", Words: " is on the shelf in dark, middle and light.", Aside: -1})
	}
	return notes
}

// thirds are the value ranges a place should offer: dark, middle, light, by
// L*.
var thirds = [3]struct {
	name      string
	low, high float64
}{{"dark", 0, 40}, {"middle", 40, 66}, {"light", 66, 101}}

// gapSlack is how far, in L*, a card may miss a range and still serve it.
const gapSlack = 3.0

// gap says what the shelf lacks for a lit place.
func gap(pl PlaceView) (balance.Note, bool) {
	n := balance.Note{ID: "gap:" + pl.Name, Severity: balance.Consider, Aside: -1}
	if len(pl.Matches) == 0 {
		n.About, n.Words = "Nothing on the shelf", fmt.Sprintf(" is %s.", pl.Name)
		if pl.Nearest != nil {
			n.Words += fmt.Sprintf(" The nearest hue is %s, %s, %.0f° round the wheel.", pl.Nearest.Name,
				wheel.Pigment.Describe(pl.Nearest.Place), 30*wheel.Apart(pl.Nearest.Place, pl.Place))
		}
		return n, true
	}
	for i := len(thirds) - 1; i >= 0; i-- {
		t := thirds[i]
		best, off := (*Card)(nil), math.Inf(1)
		for _, c := range pl.Matches {
			d := max(t.low-c.Colour.L, c.Colour.L-t.high, 0)
			if d < off {
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
		n.ID += ":" + t.name
		n.About = "Nothing on the shelf"
		wanted := fmt.Sprintf("a %s %s", t.name, pl.Name)
		if strings.HasPrefix(pl.Name, "between") {
			wanted = t.name + " and " + pl.Name
		}
		n.Words = fmt.Sprintf(" is %s. Closest is %s, %.1f value steps %s.", wanted, best.Name, off/10, word)
		return n, true
	}
	return n, false
}

// alikeInTray notes cards of the tray that will read as one.
func alikeInTray(p *Plan) []balance.Note {
	return slices.DeleteFunc(balance.Notes(emptyLayout(len(p.Tray)), p.colours()), func(n balance.Note) bool { return n.Aside < 0 })
}

func emptyLayout(n int) balance.Layout {
	l := balance.Layout{Share: make([]float64, n), Border: make([][]float64, n)}
	for i := range l.Border {
		l.Border[i] = make([]float64, n)
	}
	return l
}

func (p *Plan) colours() []balance.Colour {
	out := make([]balance.Colour, len(p.Tray))
	for i, t := range p.Tray {
		out[i] = balance.Colour{Key: fmt.Sprint(t.Key), Name: t.Name, Parts: joinWords(t.Parts), Lab: t.Colour}
	}
	return out
}

// joinWords lists words as a sentence does.
func joinWords(words []string) string {
	switch n := len(words); {
	case n == 0:
		return ""
	case n == 1:
		return words[0]
	case n <= 3:
		out := words[0]
		for _, w := range words[1 : n-1] {
			out += ", " + w
		}
		return out + " and " + words[n-1]
	default:
		return fmt.Sprintf("%s, %s and %d more", words[0], words[1], n-2)
	}
}

// visible leaves out the notes that the maker hid.
func (p *Plan) visible(notes []balance.Note) []balance.Note {
	return slices.DeleteFunc(notes, func(n balance.Note) bool { return slices.Contains(p.Dismissed, n.ID) })
}

// ValuesView is what the values stage shows.
type ValuesView struct {
	value.Spread
	Notes []balance.Note
}

// Values works out the values stage.
func (p *Plan) Values() ValuesView {
	v := ValuesView{Spread: value.Read(p.labs())}
	if v.Outside {
		return v
	}
	note := func(id string, s balance.Severity, about, words string, args ...any) {
		v.Notes = append(v.Notes, balance.Note{ID: id, Severity: s, About: about, Words: fmt.Sprintf(words, args...), Aside: -1})
	}
	dark, light := p.Tray[v.Order[0]], p.Tray[v.Order[len(v.Order)-1]]
	if v.Flat() {
		note("flat", balance.Consider, dark.Name, " to %s is only %.1f value steps: from a distance the piece will look flat.", light.Name, (v.High-v.Low)/10)
	} else {
		note("range", balance.Fine, dark.Name, " is the darkest at %.1f and %s the lightest at %.1f.", dark.Colour.Value(), light.Name, light.Colour.Value())
	}
	if v.Uneven {
		a, b := p.Tray[v.Jump[0]], p.Tray[v.Jump[1]]
		note(fmt.Sprintf("jump:%d:%d", a.Key, b.Key), balance.Consider, a.Name, " to %s is the longest jump, %.1f value steps: a card near %.1f would fill it.",
			b.Name, v.JumpBy/10, (a.Colour.L+b.Colour.L)/20)
	}
	for _, pair := range v.Crowds {
		a, b := p.Tray[pair[0]], p.Tray[pair[1]]
		note(fmt.Sprintf("crowd:%d:%d", a.Key, b.Key), balance.Consider, a.Name, " and %s are equally light (%.1f and %.1f): only hue tells them apart.",
			b.Name, a.Colour.Value(), b.Colour.Value())
	}
	v.Notes = p.visible(v.Notes)
	return v
}

// PullView is one card where the eye goes.
type PullView struct {
	TrayCard
	Index  int     // in the tray
	Strong float64 // pull as a share of the strongest, 0 to 1
	Words  string
}

// ProportionView is what the proportion stage shows.
type ProportionView struct {
	Fill   []int // for each part the index of its card in the tray, or −1
	Empty  int   // parts without a card
	Pulls  []PullView
	Notes  []balance.Note
	Hidden int // notes the maker hid
	Warm   float64
	Cool   float64
	Grey   float64
}

// Proportion works out the proportion stage; the plan must have a piece.
func (p *Plan) Proportion() ProportionView {
	v := ProportionView{Fill: p.fill()}
	for _, at := range v.Fill {
		if at < 0 {
			v.Empty++
		}
	}
	layout, labs := p.layout(), p.labs()
	top := 0.0
	for _, pull := range balance.FirstLook(layout, labs) {
		if layout.Share[pull.Part] == 0 {
			continue
		}
		top = max(top, pull.Pull)
		strong := 0.0
		if top > 0 {
			strong = pull.Pull / top
		}
		v.Pulls = append(v.Pulls, PullView{TrayCard: p.Tray[pull.Part], Index: pull.Part, Strong: strong, Words: pullWords(len(v.Pulls), strong)})
	}
	if len(v.Pulls) > 1 && v.Pulls[1].Strong*balance.FocusClear > 1 {
		v.Pulls[0].Words, v.Pulls[1].Words = "no clear first", "no clear first"
	}
	notes := balance.Notes(layout, p.colours())
	v.Notes = p.visible(slices.Clone(notes))
	v.Hidden = len(notes) - len(v.Notes)
	t := balance.Temperatures(layout, labs, wheel.Pigment)
	v.Warm, v.Cool, v.Grey = t[wheel.Warm], t[wheel.Cool], t[wheel.Neutral]
	return v
}

func pullWords(rank int, strong float64) string {
	switch {
	case rank == 0:
		return "first look"
	case strong < balance.RecedesBelow:
		return "recedes"
	case rank == 1:
		return "second"
	}
	return "then this"
}
