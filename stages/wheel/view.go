package wheel

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/note"
	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

// BetweenPlaces begins the name of a place that lies between two.
const BetweenPlaces = "between"

// PlaceView is one place of the scheme with what the shelf has for it.
type PlaceView struct {
	Index   int // in the scheme
	Place   float64
	Name    string // "red-violet", or "between red and red-violet"
	IsLead  bool
	Off     bool                                // the maker turned it off
	Nudge   float64                             // degrees the maker moved it, clockwise
	Ideals  [2 * shelf.ValueSteps]shelf.Leaflet // its free colours, tints, tones and shades
	Matches []*shelf.Card                       // best first
	Nearest *shelf.Card                         // the nearest hue, when nothing matches
	Lacks   []Lack                              // what the shelf does not have there
	ToMix   Lack                                // its colour, clear, near the value of the lead
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
	Wheel     wheel.Wheel
	School    wheel.School
	Fronds    [wheel.Places]shelf.Frond
	Scheme    string // empty when none is lit
	LeadPlace float64
	LeadKnown bool        // the light has a colour it starts from
	Start     *shelf.Card // that colour: the lead, or the boldest
	Turned    bool        // the light is turned away from it
	Lit       []PlaceView
	Neutrals  []*shelf.Card // for the achromatic scheme
	Notes     []note.Note
	Made      *Made // what the tray's cards make; nil for an empty tray
	Warm      float64
	Cool      float64
	Grey      float64
	ByArea    bool             // the shares above are of the piece, else of the cards
	Warmest   []plan.TrayCard  // of the tray, warmest first
	Pairs     []string         // what the other pairs of the tray do, in words, the weightiest first
	Competing []plan.Competing // pairs of the tray that something would settle
	Unsettled string           // the other pairs that compete, in words
	Free      []FreeView       // free colours of the tray with what could take their place
}

// Made is the scheme that the cards of a tray come nearest to.
type Made struct {
	wheel.Likeness
	Words   string
	Missing []PlaceView // what would complete it
	Turn    int         // whole places that lay the light on it, from where it starts
}

// Wheel works out the wheel stage.
func Wheel(p *plan.Plan) (WheelView, error) {
	w := p.OnWheel()
	v := WheelView{Wheel: w, School: p.School(), Fronds: p.Offers().Shelf().Fronds(w), Scheme: Of(p).Scheme}
	start, places, from, err := lit(p)
	if err != nil {
		return v, err
	}
	v.Start, v.LeadPlace = start, from
	if start != nil && !start.Neutral {
		v.LeadKnown, v.Turned = true, Of(p).Turn != 0
	}
	relations(p, &v)
	if Of(p).Scheme == "" {
		v.Notes = p.Visible(append(p.BriefNotes(), plan.AlikeInTray(p)...))
		return v, nil
	}
	for i, at := range places {
		lead := wheel.Apart(at, v.LeadPlace) < 1e-9
		pl := PlaceView{Index: i, IsLead: lead}
		for _, a := range Of(p).Adjusted {
			if a.Index == i {
				pl.Off, pl.Nudge = a.Off, a.Nudge
			}
		}
		v.Lit = append(v.Lit, place(p, pl, wheel.Turn(at, pl.Nudge/degreesPerPlace)))
	}
	if len(places) == 0 {
		for _, c := range p.Offers().Cards() {
			if c.Neutral {
				v.Neutrals = append(v.Neutrals, c)
			}
		}
		sort.SliceStable(v.Neutrals, func(i, j int) bool { return v.Neutrals[i].Colour.L < v.Neutrals[j].Colour.L })
	}
	v.Notes = p.Visible(slices.Concat(wheelNotes(p, v), p.BriefNotes(), plan.AlikeInTray(p)))
	return v, nil
}

// lit is the scheme's light: the card it starts from, nil for none, its places, none where no scheme is
// lit, and the first of them.
func lit(p *plan.Plan) (start *shelf.Card, places []float64, from float64, err error) {
	s, w := Of(p), p.OnWheel()
	from = float64(s.Turn)
	boldest := boldest(p)
	start = p.Lead
	if s.FromBoldest && boldest != nil && s.Scheme != sparkScheme {
		start = boldest
	}
	if start != nil && !start.Neutral {
		from = wheel.Turn(start.Place(w), from)
	}
	if s.Scheme == "" {
		return start, nil, from, nil
	}
	if places, err = w.Scheme(s.Scheme, from, s.variant()); err != nil {
		return start, nil, from, fmt.Errorf("lighting the scheme: %w", err)
	}
	if s.FromBoldest && boldest != nil && s.Scheme == sparkScheme {
		places[len(places)-1] = wheel.Turn(boldest.Place(w), wheel.Places/2)
	}
	return start, places, from, nil
}

// sparkScheme is the one whose complement alone can go by the boldest card.
const sparkScheme = "analogous with a complement"

const degreesPerPlace = 30.0

// place fills in what a place of the scheme has.
func place(p *plan.Plan, pl PlaceView, at float64) PlaceView {
	w := p.OnWheel()
	pl.Place, pl.Name = at, w.Describe(at)
	if pl.Off {
		return pl
	}
	pl.Ideals = shelf.Leaflets(w, at)
	step := shelf.ValueSteps / 2
	if p.Lead != nil {
		for i := range shelf.ValueSteps {
			if math.Abs(pl.Ideals[2*i+1].Ideal.L-p.Lead.Colour.L) < math.Abs(pl.Ideals[2*step+1].Ideal.L-p.Lead.Colour.L) {
				step = i
			}
		}
	}
	pl.ToMix = Lack{Name: shelf.IdealName(pl.Name, step, true), Colour: pl.Ideals[2*step+1].Ideal}
	if Of(p).Nearest {
		pl.Matches = p.Offers().NearestTo(pl.Ideals)
	} else {
		pl.Matches = p.Offers().Matches(w, at)
	}
	pl.Nearest = p.Offers().NearestHue(w, at)
	hueFirst := pl.Matches
	if Of(p).Nearest {
		hueFirst = p.Offers().Matches(w, at)
	}
	pl.Lacks = lacks(p, pl, hueFirst)
	return pl
}

// boldest is the card with a hue of the tray that is bolder than all others,
// nil when the tray has none.
func boldest(p *plan.Plan) *shelf.Card {
	var best *shelf.Card
	most := math.Inf(-1)
	for i, b := range balance.Boldness(p.Labs()) {
		if t := p.Tray[i]; !t.Neutral && !t.Apart && b > most {
			best, most = t.Card, b
		}
	}
	return best
}

func wheelNotes(p *plan.Plan, v WheelView) []note.Note {
	var notes []note.Note
	if p.Lead != nil && p.Lead.Neutral && v.Start == p.Lead {
		words := " is neutral. Build by value alone, or choose an undertone."
		if u := p.Lead.Colour.Undertone(); u != "" {
			words = fmt.Sprintf(" is neutral with a %s undertone. Build by value alone, or choose another undertone.", u)
		}
		notes = append(notes, note.Note{ID: "neutral-lead", Grade: note.Consider, About: p.Lead.Name, Words: words, Aside: -1})
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
		notes = append(notes, note.Note{ID: "gap:" + l.Name, Grade: note.Consider, Aside: -1, About: ownNo(l.Name), Words: p.OfTypes() + "." + l.Words})
	}
	if lit > 0 && whole {
		notes = append(notes, note.Note{ID: "whole", Grade: note.Fine, About: "You own",
			Words: " a full range for this scheme.", Aside: -1})
	}
	if n := p.Asked().Count; lit > 0 && n > lit {
		notes = append(notes, note.Note{ID: "more-colours", Grade: note.Consider, Aside: -1, About: "Your brief",
			Words: fmt.Sprintf(" asks for %s and this scheme has %s. Use tints, tones, shades or neutrals for the others.",
				words.Counted(n, "colour", "colours"), words.Counted(lit, "hue", "hues"))})
	}
	return notes
}

// ownNo says that nothing of a name is owned: "You own no dark yellow", "You own nothing dark, between
// yellow and orange".
func ownNo(name string) string {
	if strings.Contains(name, BetweenPlaces) {
		return "You own nothing " + name
	}
	return "You own no " + name
}

// thirds are the value ranges a place should offer: dark, middle, light, by
// L*.
var thirds = [3]struct {
	name      string
	low, high float64
	band      int // whose ideal stands for the range
}{{"dark", 0, 40, 1}, {"mid-value", 40, 66, 2}, {"light", 66, 101, 3}}

// gapSlack is how far, in L*, a card may miss a range and still serve it.
const gapSlack = 3.0

// lacks says what the shelf does not have for a lit place: nothing at all, a
// range of value, or any clear or any greyed card. Light comes first.
func lacks(p *plan.Plan, pl PlaceView, matches []*shelf.Card) []Lack {
	if len(matches) == 0 {
		l := Lack{Name: pl.Name, Short: "any", Colour: pl.Ideals[2*(shelf.ValueSteps/2)+1].Ideal}
		if pl.Nearest != nil {
			at := pl.Nearest.Place(p.OnWheel())
			l.Words = fmt.Sprintf(" The nearest hue is %s, %s.", pl.Nearest.Name, p.OnWheel().Describe(at))
		}
		return wished(p, []Lack{l})
	}
	named := func(word string) string {
		if strings.HasPrefix(pl.Name, BetweenPlaces) {
			return word + ", " + pl.Name
		}
		return word + " " + pl.Name
	}
	var out []Lack
	for i := len(thirds) - 1; i >= 0; i-- {
		t := thirds[i]
		best, off := (*shelf.Card)(nil), math.Inf(1)
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
		out = append(out, Lack{Name: named(t.name), Short: t.name, Colour: pl.Ideals[2*t.band+1].Ideal,
			Words: fmt.Sprintf(" The closest is %s, %.1f steps %s.", best.Name, off/10, word)})
	}
	for _, side := range []struct {
		name  string
		clear bool
	}{{"clear", true}, {"muted", false}} {
		if slices.ContainsFunc(matches, func(c *shelf.Card) bool { return (c.Clearness >= shelf.ClearSide) == side.clear }) {
			continue
		}
		at := 2 * (shelf.ValueSteps / 2)
		if side.clear {
			at++
		}
		out = append(out, Lack{Name: named(side.name), Short: side.name, Colour: pl.Ideals[at].Ideal})
	}
	return wished(p, out)
}

func wished(p *plan.Plan, all []Lack) []Lack {
	for i := range all {
		all[i].Wished = slices.ContainsFunc(p.Wishes, func(w plan.Wish) bool { return w.Name == all[i].Name })
	}
	return all
}
