// Package material says what is known of one real material and what makes the
// record whole: its kind, finish, colour, how that colour was found and how
// far to trust it.
//
// Storing, finding and drawing materials belong elsewhere.
package material

import (
	"fmt"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"lampfern/core/colour"
	"lampfern/core/words"
)

// Material is one cloth, yarn, paint, part or other thing with one colour.
type Material struct {
	Name         string // the maker's own name, unique on the shelf
	Kind         string // one of Kinds
	Reference    string // the supplier's number for it
	Supplier     string
	Lot          string // dye lot or batch
	Finish       string // one of Finishes
	Colour       colour.Lab
	Source       string  // one of Sources by name
	Uncertainty  float64 // how far the colour may be off, ΔE00
	Discontinued bool
	Remark       string
	Pack         float64 // what one ball, spool, jar… holds, in the kind's base unit; 0 when not known
	Size         string  // width of a cloth, thickness of a yarn…, in the maker's words
	Repeat       float64 // repeat of a print in mm, 0 for none
	Lots         []Lot
	Further      []Further
	Picture      *Picture        // of a print, where one was taken
	Spectrum     colour.Spectrum // that it was measured with; all 0 for none
	Dose         Dose            // of what is put into a base by dose
}

// Dose is how much of a colourant its colour was tried with, and how much its supplier
// allows, each in a basis of its own: one of DoseBases. 0 is not known.
type Dose struct {
	Tried      float64 `json:"tried,omitempty"`
	TriedBasis string  `json:"tried_basis,omitempty"`
	Limit      float64 `json:"limit,omitempty"`
	LimitBasis string  `json:"limit_basis,omitempty"`
}

// DoseBases are what doses are reckoned by; the first two are of soap, the last of dye.
func DoseBases() []string { return []string{"% of batter", "g per kg of oils", "% of fibre"} }

// mostDose bounds a dose, in any basis.
const mostDose = 1000

// tidyDose takes the usual basis where none is given and checks the rest.
func (m *Material) tidyDose(p Problems) {
	d := &m.Dose
	for _, one := range []struct {
		of    *float64
		basis *string
	}{{&d.Tried, &d.TriedBasis}, {&d.Limit, &d.LimitBasis}} {
		if *one.of == 0 {
			*one.basis = ""
			continue
		}
		if !(*one.of > 0 && *one.of <= mostDose) {
			p["dose"] = fmt.Sprintf("A rate is more than 0 and at most %d. Write it in figures, or leave it empty.", mostDose)
		}
		oneOf(p, "dose", one.basis, DoseBases())
	}
}

// sameColour is how far a spectrum may be from the colour it stands for, in ΔE00.
const sameColour = 1.0

// Reflectance is the spectrum the material was measured with, or a smooth one of its
// colour.
func (m *Material) Reflectance() colour.Spectrum {
	if m.Spectrum != (colour.Spectrum{}) {
		return m.Spectrum
	}
	return colour.SpectrumOf(m.Colour)
}

// Picture is a part of a photo that shows a material, in shares of the photo's
// width and height.
type Picture struct {
	Photo      string // the photo's hash
	X, Y, W, H float64
	Wide       float64 // what the part measures across in mm, 0 when not known
}

// Kinds lists the kinds of material; the first is the default.
func Kinds() []string {
	return []string{"fabric", "yarn", "thread", "soap colourant", "paint", "marker or pencil", "filament",
		"building part", "paper", "notion", "pigment or dye", "other"}
}

// Finishes lists the surfaces; the first is the default.
func Finishes() []string {
	return []string{"matte", "satin", "gloss", "metallic", "shimmer", "translucent", "fuzzy"}
}

// Source is a way a colour was found.
type Source struct {
	Name        string
	Uncertainty float64 // default, ΔE00
	Words       string
}

// Sources lists the ways a colour is found, with what each is trusted to.
func Sources() []Source {
	return []Source{
		{"typed", 3, "typed in"},
		{"measured", 1, "measured with a reader"},
		{"photo", 4, "sampled from a photo"},
		{"supplier", 5, "the supplier's figure"},
		{"mixed", 3, "calculated from a mix"},
		{"estimated", 8, "estimated by eye"},
	}
}

// Limits of a record.
const (
	MaxName        = 60  // characters; what a card's tab holds in two lines
	MaxField       = 80  // characters of reference, supplier and lot
	MaxRemark      = 500 // characters
	MaxUncertainty = 50  // ΔE00
	maxPictured    = 1e5 // mm
)

// Problems maps the name of a field to one sentence that says what to do.
type Problems map[string]string

// Error joins the sentences in a fixed order.
func (p Problems) Error() string {
	var keys, out []string
	for k := range p {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	for _, k := range keys {
		out = append(out, p[k])
	}
	return strings.Join(out, " ")
}

// Tidy trims the text fields, takes defaults for what is blank and checks the
// rest; the problems are nil when the record is whole.
func (m *Material) Tidy() Problems {
	for _, s := range []*string{&m.Name, &m.Kind, &m.Reference, &m.Supplier, &m.Lot, &m.Finish, &m.Source, &m.Remark, &m.Size} {
		*s = strings.Join(strings.FieldsFunc(words.Clean(*s), unicode.IsSpace), " ")
	}
	p := Problems{}
	switch {
	case m.Name == "":
		p["name"] = "Give the material a name."
	case utf8.RuneCountInString(m.Name) > MaxName:
		p["name"] = fmt.Sprintf("The name is longer than %d characters. Shorten it to fit a card.", MaxName)
	}
	oneOf(p, "kind", &m.Kind, Kinds())
	oneOf(p, "finish", &m.Finish, Finishes())
	var names []string
	for _, s := range Sources() {
		names = append(names, s.Name)
	}
	oneOf(p, "source", &m.Source, names)
	for field, s := range map[string]string{"reference": m.Reference, "supplier": m.Supplier, "lot": m.Lot, "size": m.Size} {
		if utf8.RuneCountInString(s) > MaxField {
			p[field] = fmt.Sprintf("The %s is longer than %d characters: shorten it.", field, MaxField)
		}
	}
	if utf8.RuneCountInString(m.Remark) > MaxRemark {
		p["remark"] = fmt.Sprintf("The note is longer than %d characters: shorten it.", MaxRemark)
	}
	if err := m.Colour.Check(); err != nil {
		p["colour"] = "That colour is not possible: " + err.Error() + "."
	}
	if m.Uncertainty == 0 {
		for _, s := range Sources() {
			if s.Name == m.Source {
				m.Uncertainty = s.Uncertainty
			}
		}
	}
	if !(m.Uncertainty >= 0 && m.Uncertainty <= MaxUncertainty) {
		p["uncertainty"] = fmt.Sprintf("The accuracy is a number from 0 to %d.", MaxUncertainty)
	}
	m.tidyStock(p)
	m.tidyDose(p)
	if m.Spectrum != (colour.Spectrum{}) && !(colour.DeltaE2000(m.Spectrum.Lab(), m.Colour) <= sameColour) {
		m.Spectrum = colour.Spectrum{} // the colour was changed since
	}
	if c := m.Picture; c != nil && !(c.X >= 0 && c.Y >= 0 && c.W > 0 && c.H > 0 && c.X+c.W <= 1.001 && c.Y+c.H <= 1.001 && c.Wide >= 0 &&
		c.Wide <= maxPictured && isHash(c.Photo)) {
		p["picture"] = "The picture must be a part of a photo that is saved here."
	}
	if len(p) == 0 {
		return nil
	}
	return p
}

// isHash reports whether s can be the name of a kept photo.
func isHash(s string) bool {
	return len(s) >= 4 && len(s) <= 64 && strings.Trim(s, "0123456789abcdef") == ""
}

func oneOf(p Problems, field string, v *string, allowed []string) {
	if *v == "" {
		*v = allowed[0]
		return
	}
	for _, a := range allowed {
		if strings.EqualFold(a, *v) {
			*v = a
			return
		}
	}
	p[field] = fmt.Sprintf("%[2]q is not a %[1]s. Choose one of %[3]s.", field, *v, strings.Join(allowed, ", "))
}

// SourceWordsBare says how a colour was found.
func (m Material) SourceWordsBare() string {
	for _, s := range Sources() {
		if s.Name == m.Source {
			return s.Words
		}
	}
	return m.Source
}

// SourceWords says how a colour was found and how far to trust it.
func (m Material) SourceWords() string {
	if slices.ContainsFunc(Sources(), func(s Source) bool { return s.Name == m.Source }) {
		return fmt.Sprintf("%s, accurate to about ΔE %g", m.SourceWordsBare(), m.Uncertainty)
	}
	return m.Source
}

// ChartKinds are the kinds of which a chart of layers is painted: those whose
// colour comes from how much of them is laid down.
func ChartKinds() []string {
	return []string{"marker or pencil", "paint", "pigment or dye", "soap colourant"}
}

// Shine is how much of the light that falls on it a finish throws back, 0 to 1.
func Shine(finish string) float64 {
	return map[string]float64{"satin": .2, "gloss": .6, "metallic": .95, "shimmer": .6}[finish]
}
