// Package brief holds what a maker asks of a plan before any colour is chosen:
// moods, soft limits on value, clearness and contrast, families ruled out, and
// the dealing of a hand outside the maker's habits.
//
// Limits never forbid: a colour outside is kept and told why. Which materials a
// maker owns, and where a brief is kept, are not known here.
package brief

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/colour"
	"lampfern/core/wheel"
)

// Limits are soft bounds. Values run 0 (black) to 10 (white), clearness 0 to
// 100 per cent, contrast is the spread of value a palette should have. A range
// from 0 to its most asks for nothing.
type Limits struct {
	ValueFrom    float64             `json:"value_from"`
	ValueTo      float64             `json:"value_to"`
	ClearFrom    float64             `json:"clear_from"`
	ClearTo      float64             `json:"clear_to"`
	ContrastFrom float64             `json:"contrast_from"`
	ContrastTo   float64             `json:"contrast_to"`
	Out          []colour.FamilyName `json:"out,omitempty"`     // families ruled out
	Schemes      []string            `json:"schemes,omitempty"` // favoured
	Warm         bool                `json:"warm,omitempty"`    // hue bias; both or neither asks for nothing
	Cool         bool                `json:"cool,omitempty"`
}

// UnmarshalJSON reads limits; what is left out asks for nothing.
func (l *Limits) UnmarshalJSON(data []byte) error {
	type plain Limits
	free := plain(Free())
	if err := json.Unmarshal(data, &free); err != nil {
		return fmt.Errorf("reading limits: %w", err)
	}
	*l = Limits(free)
	return nil
}

// Most of each range.
const (
	MostValue = 10.0
	MostClear = 100.0
)

// Free are limits that ask for nothing.
func Free() Limits { return Limits{ValueTo: MostValue, ClearTo: MostClear, ContrastTo: MostValue} }

// Check says in a sentence what cannot be.
func (l Limits) Check() error {
	for _, r := range []struct {
		name           string
		from, to, most float64
	}{{"value", l.ValueFrom, l.ValueTo, MostValue}, {"clearness", l.ClearFrom, l.ClearTo, MostClear},
		{"contrast", l.ContrastFrom, l.ContrastTo, MostValue}} {
		switch {
		case !(r.from >= 0 && r.to <= r.most):
			return fmt.Errorf("the %s must be between 0 and %g", r.name, r.most)
		case !(r.from <= r.to):
			return fmt.Errorf("the %s goes from %g to %g: put the smaller number first", r.name, r.from, r.to)
		}
	}
	for _, f := range l.Out {
		if !slices.Contains(colour.Families(), f) {
			return fmt.Errorf("there is no family called %q", f)
		}
	}
	if len(l.Out) == len(colour.Families()) {
		return fmt.Errorf("every family is avoided: allow at least one")
	}
	for _, s := range l.Schemes {
		if _, err := wheel.Scheme(s, 0, wheel.Pigment); err != nil {
			return err
		}
	}
	return nil
}

// Ask reports whether the limits ask for anything of a single colour.
func (l Limits) Ask() bool {
	return l.ValueFrom > 0 || l.ValueTo < MostValue || l.ClearFrom > 0 || l.ClearTo < MostClear || len(l.Out) > 0
}

// Outside says why a colour lies outside the limits, in a few words such as
// "too dark"; empty when it does not. Clearness is not asked of neutrals, which
// belong to every palette.
func (l Limits) Outside(c colour.Lab) string {
	if !l.Ask() {
		return ""
	}
	return l.OutsideAs(c, c.Clearness(), colour.Family(c))
}

// OutsideAs is Outside for a colour whose clearness, 0 to 1, and family are
// known already.
func (l Limits) OutsideAs(c colour.Lab, clearness float64, family colour.FamilyName) string {
	var why []string
	v := c.Value()
	switch {
	case v < l.ValueFrom:
		why = append(why, "too dark")
	case v > l.ValueTo:
		why = append(why, "too light")
	}
	if !c.Neutral() {
		switch k := 100 * clearness; {
		case k < l.ClearFrom:
			why = append(why, "too muted")
		case k > l.ClearTo && l.ClearTo < MostClear: // outside sRGB there is more than all
			why = append(why, "too clear")
		}
	}
	if slices.Contains(l.Out, family) {
		why = append(why, string(family)+", a colour to avoid")
	}
	return strings.Join(why, " and ")
}

// Worn is a palette as moods ask about it: its colours by name, and how much of it is warm and how
// much cool, 0 to 1; Divided is false where the maker's school does not divide them.
type Worn struct {
	Names      []string
	Colours    []colour.Lab
	Warm, Cool float64
	Divided    bool
}

// Misses says what keeps a palette from these limits, in a few words each; nil where it meets them.
// name is what the limits are called.
func (l Limits) Misses(w Worn, name string) (out []string) {
	low, high := MostValue, 0.0
	for i, c := range w.Colours {
		low, high = math.Min(low, c.Value()), math.Max(high, c.Value())
		if why := l.Outside(c); why != "" {
			out = append(out, w.Names[i]+" is "+why)
		}
	}
	spread := math.Round(10*(high-low)) / 10
	switch {
	case len(w.Colours) < 2:
	case spread < l.ContrastFrom:
		out = append(out, fmt.Sprintf("it spans only %.1f value steps (at least %g)", spread, l.ContrastFrom))
	case spread > l.ContrastTo:
		out = append(out, fmt.Sprintf("it spans %.1f value steps (at most %g)", spread, l.ContrastTo))
	}
	if w.Divided && l.Warm != l.Cool && (l.Warm && w.Warm < w.Cool || l.Cool && w.Cool < w.Warm) {
		out = append(out, fmt.Sprintf("%s should be %s", name, map[bool]string{true: "warm", false: "cool"}[l.Warm]))
	}
	return out
}

// Brief is what a maker says of a thing before any colour is chosen. All of it
// may stay empty.
type Brief struct {
	For      string  `json:"for,omitempty"` // whom
	Season   string  `json:"season,omitempty"`
	Place    string  `json:"place,omitempty"`    // where it will be seen
	Lamp     string  `json:"lamp,omitempty"`     // under which lamp, by key
	Distance float64 `json:"distance,omitempty"` // from how far, in m
	Mood     string  `json:"mood,omitempty"`     // whose limits were taken
	Limits   *Limits `json:"limits,omitempty"`   // nil asks for nothing
	Count    int     `json:"count,omitempty"`    // colours wanted
	Focus    string  `json:"focus,omitempty"`    // part or colour that the eye should find first
	Quiet    string  `json:"quiet,omitempty"`    // part or colour that should stay back
	Budget   float64 `json:"budget,omitempty"`   // in the maker's money
}

// Bounds of a brief's own fields.
const (
	maxField    = 200  // characters
	maxDistance = 1000 // m
	maxBudget   = 1e7
)

// Limit is what the brief asks of colours; free limits when it asks nothing.
func (b Brief) Limit() Limits {
	if b.Limits == nil {
		return Free()
	}
	return *b.Limits
}

// Tidy trims the brief's words and says in a sentence what cannot be.
func (b *Brief) Tidy() error {
	for name, f := range map[string]*string{"for whom": &b.For, "season": &b.Season, "place": &b.Place, "focus": &b.Focus, "quiet": &b.Quiet,
		"mood": &b.Mood} {
		*f = strings.Join(strings.Fields(*f), " ")
		if utf8.RuneCountInString(*f) > maxField {
			return fmt.Errorf("%q is longer than %d characters: shorten it", name, maxField)
		}
	}
	switch {
	case b.Lamp != "" && !slices.ContainsFunc(colour.Lamps(), func(l colour.Lamp) bool { return l.Key == b.Lamp }):
		return fmt.Errorf("the lamp %q is not known: choose one from the list", b.Lamp)
	case !(b.Distance >= 0 && b.Distance <= maxDistance):
		return fmt.Errorf("the viewing distance must be between 0 and %d m", maxDistance)
	case !(b.Budget >= 0 && b.Budget <= maxBudget):
		return fmt.Errorf("the budget must be a number from 0 to %.0f", float64(maxBudget))
	case b.Count < 0 || b.Count > MostColours:
		return fmt.Errorf("the number of colours must be between %d and %d, or empty", FewestColours, MostColours)
	}
	return b.Limit().Check()
}

// playClear is the clearness from which on a mood that favours colours far apart is one of play.
const playClear = 45.0

// Play reports whether the limits ask for clear colours that talk to one another: at least so clear, and
// a scheme of colours far apart.
func (l Limits) Play() bool {
	return l.ClearFrom >= playClear && slices.ContainsFunc(l.Schemes, func(s string) bool { return s == "triadic" || s == "square" })
}

// Mood is a named set of limits. It is a hint and never a palette.
type Mood struct {
	Name   string
	Words  string
	Limits Limits
}

// Moods lists the moods shipped, in the order they are offered.
func Moods() []Mood {
	m := func(name, words string, vFrom, vTo, cFrom, cTo, kFrom, kTo float64, bias string, schemes []string, out ...colour.FamilyName) Mood {
		return Mood{name, words, Limits{ValueFrom: vFrom, ValueTo: vTo, ClearFrom: cFrom, ClearTo: cTo, ContrastFrom: kFrom, ContrastTo: kTo,
			Warm: bias == "warm", Cool: bias == "cool", Schemes: schemes, Out: out}}
	}
	return []Mood{
		m("Hushed", "quiet neighbours, nothing loud", 2, 9, 0, 45, 0, 5, "", []string{"analogous", "monochromatic"}),
		m("First frost", "pale, cool and a little sharp", 4, 10, 0, 60, 3, 7, "cool", []string{"analogous", "achromatic"}, colour.Orange,
			colour.Brown),
		m("Hearth", "embers against a dark room", 0, 8, 25, 100, 4, 9, "warm", []string{"analogous with a complement", "analogous"}),
		m("Market day", "many clear colours, all at once", 2, 10, 55, 100, 4, 10, "", []string{"triadic", "square", "rectangle"}),
		m("Dusk", "what is left when the light goes", 0, 6, 0, 60, 2, 6, "cool", []string{"analogous", "split complementary"}, colour.Yellow),
		m("Nursery", "light, soft, no hard edge", 6, 10, 10, 60, 0, 4, "", []string{"every other", "analogous"}, colour.Black),
		m("Orchard", "leaf, bark, fruit", 1, 9, 20, 85, 4, 9, "warm", []string{"split complementary", "complementary"}),
		m("Deep water", "dark and clear from far down", 0, 6, 35, 100, 2, 6, "cool", []string{"analogous", "monochromatic"}),
		m("Meadow noon", "everything in full light", 4, 10, 45, 100, 3, 7, "", []string{"analogous with a complement", "triadic"}),
		m("Old paper", "colours softened by age", 3, 9, 0, 40, 2, 6, "warm", []string{"analogous", "complementary"}),
		m("Parade", "strong opposites, boldly used", 0, 10, 65, 100, 6, 10, "", []string{"complementary", "double complementary", "triadic"}),
		m("Clear winter", "snow, black branches, one berry", 0, 10, 0, 100, 7, 10, "cool", []string{"achromatic", "complementary"}),
		m("Harvest", "straw to russet, thick and warm", 1, 9, 30, 90, 4, 9, "warm", []string{"analogous", "every other"}, colour.Pink,
			colour.Violet),
		m("Rain window", "greys with a little blue and green in them", 2, 8, 0, 35, 1, 5, "cool", []string{"analogous", "monochromatic"}),
		m("Toy box", "plain bright hues that a child can name", 2, 10, 70, 100, 4, 10, "", []string{"triadic", "square"}),
		m("Velvet", "dark, rich and close", 0, 5, 40, 100, 1, 4, "", []string{"analogous", "split complementary"}),
		m("Shoreline", "sand, foam and a wide horizon", 4, 10, 5, 60, 3, 7, "", []string{"complementary", "analogous"}),
		m("Spice", "hot hues with earthy ones", 1, 8, 40, 100, 3, 8, "warm", []string{"analogous", "rectangle"}),
		m("Moss and stone", "greens and greys, low and even", 1, 7, 0, 50, 2, 6, "", []string{"analogous", "achromatic"}, colour.Pink,
			colour.Red),
		m("Lantern", "a small light in a large dark", 0, 9, 0, 100, 7, 10, "", []string{"analogous with a complement", "complementary"}),
		m("Plain sense", "a few good neutrals and one colour", 1, 10, 0, 100, 5, 10, "", []string{"monochromatic", "achromatic"}),
	}
}

// FindMood returns the mood of a name among those shipped and the maker's own,
// capitals aside.
func FindMood(name string, own []Mood) (Mood, bool) {
	for _, m := range append(slices.Clone(own), Moods()...) {
		if strings.EqualFold(m.Name, name) {
			return m, true
		}
	}
	return Mood{}, false
}

// Bounds of the number of colours of a palette.
const (
	FewestColours = 1
	MostColours   = 40
)
