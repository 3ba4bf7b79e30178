package material

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/colour"
	"lampfern/core/words"
)

// Unit is a unit stock is counted in; Base is how many of the kind's base unit
// it holds.
type Unit struct {
	Name string
	Base float64
}

// Stock says how a kind of material is counted: its units, the first being the
// base, and the word for one pack, whose content each material tells; empty
// when it is not sold in packs.
type Stock struct {
	Units []Unit
	Pack  string
}

// Sizes of units: international yard and pound (1959), US customary fluid
// ounce.
const (
	metresPerYard      = 0.9144
	metresPerInch      = 0.0254
	gramsPerOunce      = 28.349523125
	gramsPerPound      = 453.59237
	millilitresPerFlOz = 29.5735295625
)

var (
	lengths = []Unit{{"m", 1}, {"cm", 0.01}, {"yd", metresPerYard}, {"in", metresPerInch}}
	cloths  = append(slices.Clone(lengths), Unit{Quarter, 0.25}) // half as wide as the cloth, and 50 cm
	weights = []Unit{{"g", 1}, {"kg", 1000}, {"oz", gramsPerOunce}, {"lb", gramsPerPound}}
	volumes = []Unit{{"ml", 1}, {"l", 1000}, {"fl oz", millilitresPerFlOz}}
	pieces  = []Unit{{"pieces", 1}, {"dozen", 12}}
)

// Quarter is the unit of cloth that is kept in fat quarters.
const Quarter = "fat quarter"

// StockOf says how a kind is counted.
func StockOf(kind string) Stock {
	switch kind {
	case "fabric":
		return Stock{cloths, ""}
	case "yarn":
		return Stock{weights, "ball"}
	case "thread":
		return Stock{lengths, "spool"}
	case "soap colourant", "pigment or dye":
		return Stock{weights, "jar"}
	case "paint":
		return Stock{volumes, "pot"}
	case "filament":
		return Stock{weights, "spool"}
	case "paper":
		return Stock{[]Unit{{"sheets", 1}}, "pack"}
	}
	return Stock{pieces, "box"}
}

// Convert turns an amount of one unit into another of the same kind; pack is
// the content of one pack in the base unit. A unit the kind does not have, or
// a pack of unknown content, is an error that says what to do.
func (s Stock) Convert(amount float64, from, to string, pack float64) (float64, error) {
	a, err := s.base(from, pack)
	if err != nil {
		return 0, err
	}
	b, err := s.base(to, pack)
	if err != nil {
		return 0, err
	}
	return amount * a / b, nil
}

func (s Stock) base(unit string, pack float64) (float64, error) {
	if unit == "" {
		return 1, nil
	}
	for _, u := range s.Units {
		if u.Name == unit {
			return u.Base, nil
		}
	}
	if unit != s.Pack {
		return 0, fmt.Errorf("the unit %q is not used for this kind: choose one of %s", unit, strings.Join(s.Names(), ", "))
	}
	if !(pack > 0) {
		return 0, fmt.Errorf("say how many %s one %s holds", s.Units[0].Name, s.Pack)
	}
	return pack, nil
}

// Names lists the units, the pack last.
func (s Stock) Names() []string {
	var out []string
	for _, u := range s.Units {
		out = append(out, u.Name)
	}
	if s.Pack != "" {
		out = append(out, s.Pack)
	}
	return out
}

// spellings are other words for units and packs, in the singular.
var spellings = map[string][]string{"m": {"metre", "meter"}, "yd": {"yard"}, "g": {"gram", "gramme"}, "kg": {"kilo"}, "ml": {"millilitre"},
	"l": {"litre"}, "in": {"inch"}, "pieces": {"piece", "pc", "pcs"}, "sheets": {"sheet"}, "ball": {"skein", "hank", "cone"},
	"spool": {"reel", "cone"}, "pot": {"tube", "bottle"}, "jar": {"pot", "tub", "bag"}, "oz": {"ounce"}, "lb": {"pound"}}

// UnitOf is the unit or pack of a kind that a word stands for, such as balls or metres; empty for none.
func UnitOf(kind, word string) string {
	word = strings.ToLower(strings.TrimSpace(word))
	one := strings.TrimSuffix(word, "s")
	for _, name := range StockOf(kind).Names() {
		if word == name || one == name || one == strings.TrimSuffix(name, "s") || slices.Contains(spellings[name], word) ||
			slices.Contains(spellings[name], one) {
			return name
		}
	}
	return ""
}

// UsualPack is what one pack of a kind usually holds, in its base unit, where lists count packs and do not say: a ball of
// yarn 50 g, a pot of paint 17 ml, a spool of filament 1 kg; 0 for a kind without one.
func UsualPack(kind string) float64 {
	return map[string]float64{"yarn": 50, "paint": 17, "filament": 1000}[kind]
}

// Said is what a list says is there of a kind, such as 1 spool: a lot, or words for the remark where
// the kind is not counted so or it is not known what a pack holds.
func Said(kind string, n float64, unit string, pack float64) (lot Lot, remark string) {
	name := UnitOf(kind, unit)
	if _, err := StockOf(kind).base(name, pack); name == "" && unit != "" || err != nil {
		return Lot{}, fmt.Sprintf("%g %s on hand", n, unit)
	}
	return Lot{OnHand: n, Unit: name}, ""
}

// finishes are other words for finishes, and what lists shorten them to.
var finishes = map[string]string{"matt": "matte", "mat": "matte", "flat": "matte", "dull": "matte", "semi-gloss": "satin", "semigloss": "satin",
	"eggshell": "satin", "silk": "satin", "glossy": "gloss", "shiny": "gloss", "metal": "metallic", "foil": "metallic", "pearl": "shimmer",
	"pearlescent": "shimmer", "glitter": "shimmer", "iridescent": "shimmer", "clear": "translucent", "transparent": "translucent",
	"fuzz": "fuzzy", "brushed": "fuzzy", "hairy": "fuzzy", "mohair": "fuzzy"}

// FinishOf is the finish that a word stands for, or the word itself.
func FinishOf(word string) string {
	if name, known := finishes[strings.ToLower(strings.TrimSpace(word))]; known {
		return name
	}
	return word
}

// The states a lot can be in. A lot set aside as a mistake still counts as on
// hand: what is wrong for one plan may be right for another.
const (
	InUse   = "in use"
	UsedUp  = "used up"
	Mistake = "set aside as a mistake"
)

// StateWords are what a state is called to makers.
func StateWords(state string) string {
	if state == Mistake {
		return "do not use"
	}
	return state
}

// States lists the states of a lot; the first is the default.
func States() []string { return []string{InUse, UsedUp, Mistake} }

// Lot is what is on hand of one dye lot or batch.
type Lot struct {
	Name   string
	OnHand float64 // in Unit
	Unit   string  // one of the kind's; its base unit when empty
	Price  float64 // of one Unit, in the maker's own money; 0 when not known
	Place  string  // where it is kept
	State  string
	Colour *colour.Lab // when this lot was measured by itself
}

// Roles of a material's further colours.
const (
	Flash = "flash" // what metallic and shimmering things turn to in the light
	Print = "print" // one colour of a print, with its coverage
	Layer = "layer" // what two layers of a marker come to
)

// Roles lists the roles of further colours.
func Roles() []string { return []string{Flash, Print, Layer} }

// Further is one more colour of a material beside its face.
type Further struct {
	Role     string
	Colour   colour.Lab
	Coverage float64 // of a print colour, 0–1
}

// Portion is a colour and the share of a material's face it takes, 0–1.
type Portion struct {
	Colour colour.Lab
	Share  float64
}

// flashShare is how much of a shimmering face shows what it turns to.
const flashShare = 0.35

// Portions is what the face of a material shows: its colour, then its flash or
// its print colours by their coverage. The shares add up to 1; what a second
// layer comes to is no part of the face.
func (m Material) Portions() []Portion {
	var portions []Portion
	rest := 1.0
	for _, f := range m.Further {
		share := f.Coverage
		switch f.Role {
		case Layer:
			continue
		case Flash:
			share = flashShare
		}
		if share = min(share, rest); share > 0 {
			portions, rest = append(portions, Portion{f.Colour, share}), rest-share
		}
	}
	const crumb = 1e-6
	if rest > crumb {
		portions = append([]Portion{{m.Colour, rest}}, portions...)
	}
	return portions
}

// LargerPortion is the share from which a colour of a print makes an edge, and fills a place.
const LargerPortion = 0.15

// Printed are the colours of a print with their coverage, its ground too where the coverages leave some; nil
// for what is no print.
func (m Material) Printed() []Portion {
	if !slices.ContainsFunc(m.Further, func(f Further) bool { return f.Role == Print }) {
		return nil
	}
	return m.Portions()
}

// Unsized reports whether it is not known how large a print is: neither its picture's width nor its repeat.
func (m Material) Unsized() bool {
	return m.Printed() != nil && m.Repeat == 0 && (m.Picture == nil || m.Picture.Wide == 0)
}

// ReadsAs is the one colour a material takes part with beside others: of a
// print, the mean of what its face shows by coverage, in linear light; of
// anything else its own colour.
func (m Material) ReadsAs() colour.Lab {
	printed := m.Printed()
	if printed == nil {
		return m.Colour
	}
	var sum colour.XYZ
	for _, b := range printed {
		x := b.Colour.XYZ()
		sum.X, sum.Y, sum.Z = sum.X+b.Share*x.X, sum.Y+b.Share*x.Y, sum.Z+b.Share*x.Z
	}
	return sum.Lab(colour.WhiteD65)
}

// Limits of stock.
const (
	MaxLots    = 40
	MaxFurther = 12
	maxOnHand  = 1e6
	maxPack    = 1e6
	maxRepeat  = 5000 // mm
)

func (m *Material) tidyStock(p Problems) {
	stock := StockOf(m.Kind)
	if !(m.Pack >= 0 && m.Pack <= maxPack) {
		p["pack"] = fmt.Sprintf("One %s holds %g: write a number of %s, or leave it empty.", stock.Pack, m.Pack, stock.Units[0].Name)
	}
	if !(m.Repeat >= 0 && m.Repeat <= maxRepeat) {
		p["repeat"] = fmt.Sprintf("The print repeat is from 0 to %d mm.", maxRepeat)
	}
	if len(m.Lots) > MaxLots {
		p["lots"] = fmt.Sprintf("One material has at most %d lots.", MaxLots)
		return
	}
	seen := map[string]bool{}
	for i := range m.Lots {
		l := &m.Lots[i]
		l.Name, l.Place = strings.Join(strings.Fields(words.Clean(l.Name)), " "), strings.Join(strings.Fields(words.Clean(l.Place)), " ")
		say := func(format string, args ...any) {
			which := fmt.Sprintf("Lot %q: ", l.Name)
			if l.Name == "" {
				which = "The lot without a name: "
			}
			p["lots"] = which + fmt.Sprintf(format, args...)
		}
		if l.Unit == "" {
			l.Unit = stock.Units[0].Name
		}
		if l.State == "" {
			l.State = InUse
		}
		if l.State == UsedUp {
			l.OnHand = 0
		}
		switch _, err := stock.base(l.Unit, m.Pack); {
		case utf8.RuneCountInString(l.Name) > MaxField || utf8.RuneCountInString(l.Place) > MaxField:
			say("its name and place may have %d characters each.", MaxField)
		case seen[strings.ToLower(l.Name)]:
			say("two lots have this name. Give each its own.")
		case !(l.OnHand >= 0 && l.OnHand <= maxOnHand) || math.IsNaN(l.OnHand):
			say("on hand must be a number from 0 up.")
		case !(l.Price >= 0 && l.Price <= maxOnHand):
			say("the price must be a number from 0 up.")
		case !slices.Contains(States(), l.State):
			say("choose one of %s.", strings.Join(States(), ", "))
		case err != nil:
			say("%s.", err)
		case l.Colour != nil && l.Colour.Check() != nil:
			say("its colour is not possible: %s.", l.Colour.Check())
		}
		seen[strings.ToLower(l.Name)] = true
	}
	if len(m.Further) > MaxFurther {
		p["further"] = fmt.Sprintf("One material has at most %d extra colours.", MaxFurther)
		return
	}
	covered := 0.0
	for _, f := range m.Further {
		switch {
		case !slices.Contains(Roles(), f.Role):
			p["further"] = fmt.Sprintf("An extra colour is one of %s.", strings.Join(Roles(), ", "))
		case f.Colour.Check() != nil:
			p["further"] = fmt.Sprintf("That extra colour is not possible: %s.", f.Colour.Check())
		case !(f.Coverage >= 0 && f.Coverage <= 1):
			p["further"] = "The coverage of a print colour is from 0 to 100 %."
		}
		covered += f.Coverage
	}
	if covered > 1.001 {
		p["further"] = fmt.Sprintf("The print colours cover %.0f %%. Together they can cover at most 100 %%.", 100*covered)
	}
}

// OnHand adds up what is on hand of every lot, in the kind's base unit.
func (m Material) OnHand() float64 {
	stock, sum := StockOf(m.Kind), 0.0
	for _, l := range m.Lots {
		if v, err := stock.Convert(l.OnHand, l.Unit, stock.Units[0].Name, m.Pack); err == nil {
			sum += v
		}
	}
	return sum
}

// OnHandWords says what is on hand, also in packs where one is known.
func (m Material) OnHandWords() string {
	stock, sum := StockOf(m.Kind), m.OnHand()
	said := fmt.Sprintf("%v %s", words.Figure(sum), stock.Units[0].Name)
	if stock.Pack != "" && m.Pack > 0 {
		said += fmt.Sprintf(", %.3g × %s", sum/m.Pack, stock.Pack)
	}
	return said
}
