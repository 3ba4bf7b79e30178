// Package quantity works out how much of each colour a thing takes, in the units it is
// cut and bought in: one file a craft, and one for the stock at home. Every formula is a
// function of its inputs, and gives exact values, rounded ones, warnings and the working.
//
// What a piece asks of these formulas, and what is on whose shelf, belongs elsewhere.
package quantity

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
)

// Notes are what a formula says beside its figures. Warnings are sorted, each once; Working is in
// the craft's words, a line a step, and Sold what is bought of it where nothing is on hand.
type Notes struct {
	Warnings []Warning `json:"warnings"`
	Working  []Line    `json:"working,omitempty"`
	Sold     []string  `json:"sold,omitempty"`
}

// Noted are the notes, for what holds them.
func (n Notes) Noted() Notes { return n }

// Line is a step of the working; Of is the colour or part that it is of, empty for the whole.
type Line struct{ Of, Words string }

// String is the line as it is read.
func (l Line) String() string {
	if l.Of == "" {
		return l.Words
	}
	return l.Of + ": " + l.Words
}

// MarshalText implements encoding.TextMarshaler.
func (l Line) MarshalText() ([]byte, error) { return []byte(l.String()), nil }

// ByColour are figures by the name of a colour.
type ByColour = map[string]float64

// Fault is what keeps a formula from being worked out: its kind, the input at fault, and
// a sentence that says what to do.
type Fault struct {
	Kind    string `json:"kind"`
	Field   string `json:"field"`
	Message string `json:"message"`
}

// Error is the sentence.
func (f *Fault) Error() string { return f.Message }

// formula works a formula out from inputs as they were read.
type formula func(Inputs) (any, error)

// of makes a formula of its function.
func of[I, O any](work func(I) (O, error)) formula {
	return func(in Inputs) (any, error) {
		var typed I
		if bad := take(&typed, in); bad != nil {
			return nil, bad
		}
		return work(typed)
	}
}

// formulas are the formulas by the names that outside checks call.
func formulas() map[string]formula {
	return map[string]formula{
		"quilt.cut": of(Cut), "quilt.strips": of(Strips), "quilt.fat_quarter": of(FatQuarters), "quilt.border": of(Border),
		"quilt.binding": of(Binding), "quilt.backing": of(Backing), "quilt.gradient": of(Gradient),
		"weave.sett": of(Sett), "weave.warp": of(Warp), "weave.weft": of(Weft), "weave.face_share": of(FaceShare),
		"knit.area": of(KnitArea), "knit.stripes": of(KnitStripes), "knit.stranded": of(KnitStranded),
		"garment.area": of(ClothByParts), "garment.table": of(ClothByTable), "garment.bias": of(Bias), "garment.thread": of(Thread),
		"soap.split": of(Batter), "soap.colourant": of(Colourant), "soap.swirl": of(Swirl),
		"model.paint": of(Paint), "model.mix_drops": of(Drops),
		"print.part": of(PrintPart), "print.multicolour": of(PrintColours), "print.spool": of(Spool),
		"card.layers": of(CardLayers), "card.sheets": of(Sheets), "card.marker": of(Markers), "brick.parts": of(Bricks),
		"stock.to_buy": of(ToBuy), "stock.lots": of(Lots), "stock.cost": of(Cost), "stock.convert": of(Convert),
	}
}

// Formulas are the names of all formulas, sorted.
func Formulas() []string { return slices.Sorted(maps.Keys(formulas())) }

// Compute works a formula out from a JSON object of its inputs, and returns
//
//	{"unrounded": {…}, "rounded": {…}, "warnings": […], "working": […]}
//
// or {"error": {"kind": …, "field": …, "message": …}}. The error tells of an unknown
// formula or of inputs that are no JSON object. It is for checks from outside: the program
// calls the functions.
func Compute(name string, inputs json.RawMessage) (json.RawMessage, error) {
	in, err := parse(inputs)
	if err != nil {
		return nil, err
	}
	work, is := formulas()[name]
	if !is {
		return nil, fmt.Errorf("there is no formula %q", name)
	}
	if name == "soap.split" || name == "soap.colourant" {
		err = lye(in)
	}
	var out any
	if err == nil {
		out, err = work(in)
	}
	if fault, is := err.(*Fault); is {
		out, err = struct {
			Error *Fault `json:"error"`
		}{fault}, nil
	}
	if err != nil {
		return nil, err
	}
	return json.Marshal(out)
}

// warn notes a warning; say a line of the working, sayOf one that is of a colour or part, and sold
// what is bought.
func (n *Notes) warn(w Warning) {
	if at, there := slices.BinarySearch(n.Warnings, w); !there {
		n.Warnings = slices.Insert(n.Warnings, at, w)
	}
}
func (n *Notes) say(format string, args ...any) { n.sayOf("", format, args...) }
func (n *Notes) sayOf(name, format string, args ...any) {
	n.Working = append(n.Working, Line{name, fmt.Sprintf(format, figures(args)...)})
}
func (n *Notes) sold(format string, args ...any) {
	n.Sold = append(n.Sold, fmt.Sprintf(format, figures(args)...))
}
func fault(kind, field, format string, args ...any) *Fault {
	return &Fault{kind, field, fmt.Sprintf(format, figures(args)...)}
}

// figures writes numbers among args as they are read: at most four decimals.
func figures(args []any) []any {
	out := make([]any, len(args))
	for i, a := range args {
		switch v := a.(type) {
		case float64:
			a = figure(v)
		case *float64:
			a = figure(*v)
		}
		out[i] = a
	}
	return out
}

// many is so many of something in words, such as 3 skeins.
func many(v float64, one string) string {
	if v == 1 {
		return "1 " + one
	}
	return figure(v) + " " + one + "s"
}

func figure(v float64) string {
	s := strconv.FormatFloat(v, 'f', 4, 64)
	s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
	if s == "-0" || s == "" {
		return "0"
	}
	return s
}

// Warning is a code of what should be known of a result.
type Warning string

// Warnings that what asks of stock looks for.
const (
	MixedLots          Warning = "mixed_lots"
	StockNotUsed       Warning = "stock_not_used"
	LotUnknown         Warning = "lot_unknown"
	Discontinued       Warning = "discontinued"
	NotEnoughAvailable Warning = "not_enough_available"
	LongestPartRules   Warning = "longest_part_rules"
)

// warnings are what codes mean to a maker; those of figures that few use are told apart.
var warnings = map[Warning]string{
	"not_on_ruler":       "A size is not marked on the ruler: cutting to the next mark makes the unit slightly large, to be trimmed.",
	"many_panels":        "More than three panels: wide backing cloth may be cheaper.",
	"thin_rung":          "A rung is so thin that its seam allowances overlap.",
	"very_dense":         "Warp and weft both cover the cloth whole: it can hardly be woven so close.",
	"open_cloth":         "The cloth is so open that what lies behind shows.",
	"small_swatch":       "The swatch is smaller than 100 cm²: knit a larger one for a truer figure.",
	"light_swatch":       "The swatch weighs less than 2 g, too little for a kitchen scale: knit a larger one.",
	"long_float":         "A float is longer than it should be: catch it on the way, or change the chart.",
	LongestPartRules:     "The longest part decides the length, not the area.",
	"narrower_row_used":  "The row of the envelope for narrower cloth was taken.",
	"check_recipe":       "Oils are an unusual part of this batter: check the recipe.",
	"limit_unknown":      "Look up whether this colourant is permitted in soap that touches skin, and its highest rate.",
	"minimum_mix":        "So little cannot be used from the pot: the least useful quantity is taken.",
	"solid_part":         "The walls fill the part whole.",
	"flush_exceeds_part": "More is flushed at changes of colour than is printed: colour by layer, or print separate parts.",
	"runs_out":           "The spool runs out during the print: change it, or print in two jobs; another batch may differ in colour.",
	MixedLots:            "Two dye lots would meet in this colour; keep them in different parts or alternate rows.",
	StockNotUsed:         "What is on hand is of another dye lot and is not used.",
	LotUnknown:           "Ask the shop for the same dye lot as the one on hand.",
	Discontinued:         "It is no longer made.",
	NotEnoughAvailable:   "There is not enough to be had: choose another colour now, before starting.",
}

// Words is the warning as a sentence; empty for one that only says that a figure is unusual.
func (w Warning) Words() string { return warnings[w] }
