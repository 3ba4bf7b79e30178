package piece

import (
	"errors"
	"strings"

	"lampfern/core/quantity"
	"lampfern/core/words"
)

// Making is a thing as it is to be made, when it is asked how much it takes.
type Making struct {
	Piece  Piece
	Values Values
	Input  Input
	Lists  map[string][]Row // the maker's own, by the craft's Lists
	Of     []int            // the card of each part, −1 for none
	Cards  []Taken          // the cards that parts take
	Asked  Values           // what the piece cannot know, by the craft's Asks; whole and within bounds
	Times  int              // how many are made, at least 1
}

// Taken is a card that parts take.
type Taken struct {
	Name string  // unlike that of any other
	Kind string  // of material; empty for no material has this colour yet
	Pack float64 // what one holds, 0 when not known

	Quarters bool // it is cloth that is kept in fat quarters

	Dose    float64 // at which its colour was tried, 0 when not known
	DoseOf  string  // the basis of that, of material.DoseBases
	Limit   float64 // that its supplier allows, 0 when not known
	LimitOf string  // the basis of that
	Plain   bool    // it is the colour of the bare batch: nothing goes into its part
}

// Portion is the part of a batch that one card colours.
type Portion struct {
	Mould  float64 // g that go into the mould of the piece
	Second float64 // g beyond that, which fill a second mould
	Dose   float64 // of all that colours it, in g per kg of oils
	Told   bool    // the dose is the card's own; else the usual one
}

// Need is how much of one card a thing takes, or of something that has no card.
type Need struct {
	Card     int      // −1 for none
	Name     string   // of what has no card
	Kind     string   // of material
	Amount   float64  // with the allowance, not rounded, in the kind's base unit
	Spare    float64  // what of it is allowance
	Step     float64  // that it is sold by, in that unit; 0 for whole packs
	Working  []string // a line a step
	Warnings []string // sentences
	Problem  string   // why it cannot be told; the amount is 0 then
	At       string   // the key of what is asked that is at fault; empty for none of it
	Cuts     []Cut    // on the width of the bolt
	Wide     float64  // of the bolt in cm; 0 where nothing is cut from one
	Sizes    []Size   // ready-made parts that it is made up of
	Portion  *Portion // of the batch that it colours; nil where nothing is made in a batch
}

// Fit is a change of a piece's settings that the maker's own figures ask for, and why:
// what it is about, and how the sentence goes on.
type Fit struct {
	About, Words, Label string
	Settings            Values
}

// Size is a ready-made part that a need is made up of, and how many of it.
type Size struct {
	Part  string
	Count float64
}

// Allow says that an allowance of so many per cent is in the amount.
func (n *Need) Allow(percent float64) { n.Spare = n.Amount * percent / (100 + percent) }

// Cut is a piece as it lies on the bolt, in cm from its corner.
type Cut struct{ X, Y, W, H float64 }

// AreasOf is the area of each card in mm².
func (m Making) AreasOf() []float64 {
	out := make([]float64, len(m.Cards))
	for part, a := range m.Piece.Areas() {
		if at := m.Of[part]; at >= 0 {
			out[at] += a
		}
	}
	return out
}

// CardOf is the card of a part by its key, −1 for none.
func (m Making) CardOf(key string) int {
	for i, p := range m.Piece.Parts {
		if p.Key == key {
			return m.Of[i]
		}
	}
	return -1
}

// Pack is what one pack of a card holds, or the usual where that is not known.
func (m Making) Pack(card int, usual float64) float64 {
	if card >= 0 && m.Cards[card].Pack > 0 {
		return m.Cards[card].Pack
	}
	return usual
}

// Work works a formula out and takes its working and warnings into the need. Where something is
// wrong with the inputs, that is its problem.
func Work[I any, O interface{ Noted() quantity.Notes }](n *Need, formula func(I) (O, error), in I) (O, bool) {
	out, err := formula(in)
	if err != nil {
		n.Fail(err)
		return out, false
	}
	for _, line := range out.Noted().Working {
		n.Working = append(n.Working, line.String())
	}
	n.Warn(out.Noted())
	return out, true
}

// Sew is the thread of a length of seam in m, sewn in lockstitch.
func (n *Need) Sew(long float64) {
	if got, ok := Work(n, quantity.Thread, quantity.ThreadIn{Seams: []quantity.Seam{{Length: long, Stitch: "lockstitch"}}}); ok {
		n.Amount = got.Exact.WithWaste
		n.Spare = n.Amount - got.Exact.Thread
	}
}

// Share takes the working of a formula that several cards share: what is of the card's name, and of
// the whole.
func (n *Need) Share(notes quantity.Notes, name string) {
	for _, line := range notes.Working {
		if line.Of == name || line.Of == "" {
			n.Working = append(n.Working, line.String())
		}
	}
	n.Warn(notes)
}

// Fail says why a need cannot be worked out, and what of that was asked.
func (n *Need) Fail(err error) {
	n.Problem = words.Capital(err.Error())
	var fault *quantity.Fault
	if errors.As(err, &fault) {
		n.At = askedAs[fault.Field[strings.LastIndex(fault.Field, ".")+1:]]
	}
}

// Warn takes the warnings of a formula, as sentences.
func (n *Need) Warn(notes quantity.Notes) {
	for _, w := range notes.Warnings {
		if said := w.Words(); said != "" && w != quantity.LongestPartRules { // which the working says
			n.Warnings = append(n.Warnings, said)
		}
	}
}

// askedAs are the keys under which crafts ask for what formulas take.
var askedAs = map[string]string{"wof": "wof", "finished_w": "wof", "reed_width_cm": "reed", "width_cm": "width", "fabric_width_cm": "width",
	"recipe_total_g": "total",
	"rate":           "rate", "w_mm": "sheet_w", "margin_mm": "sheet_w", "colours": "apart"}

// Cut in two of the trade.
const (
	MetreStep  = 0.1    // m that cloth is sold by
	EighthYard = 0.1143 // an eighth of a yard in m
	FatQuarter = 0.25   // m of the whole width that a fat quarter is, half as wide and 50 cm high
)

// SoldBy is the setting of how cloth is sold, and ClothStep its step in m.
func SoldBy() Setting { return Choice("sold", "buy in", "0.1 m", "1/8 yd") }

// ClothStep is the step that cloth is sold by, in m.
func (m Making) ClothStep() float64 {
	if m.Asked["sold"] == 1 {
		return EighthYard
	}
	return MetreStep
}

// Usual are settings at their usual values, but for those that are given and within
// their bounds.
func Usual(all []Setting, given Values) Values {
	out := Values{}
	for _, s := range all {
		out[s.Key] = s.Default
		if v, there := given[s.Key]; there && v >= s.Min && v <= s.Max {
			out[s.Key] = v
		}
	}
	return out
}
