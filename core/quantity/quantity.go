// Package quantity works out how much of each colour a thing takes, in the units it is
// cut and bought in: one file a craft, and one for the stock at home. Every formula
// takes named inputs and gives exact values, rounded ones, warnings and the working.
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

// Result is what a formula gives. Unrounded is good for adding up and for the working,
// Rounded is what is cut or bought. Warnings are codes, sorted, each once; Working is in
// the craft's words, a line a step, and Sold what is bought of it where nothing is on hand.
type Result struct {
	Unrounded map[string]any `json:"unrounded"`
	Rounded   map[string]any `json:"rounded"`
	Warnings  []string       `json:"warnings"`
	Working   []string       `json:"working,omitempty"`
	Sold      []string       `json:"sold,omitempty"`
}

// Fault is what keeps a formula from being worked out: its kind, the input at fault, and
// a sentence that says what to do.
type Fault struct {
	Kind    string `json:"kind"`
	Field   string `json:"field"`
	Message string `json:"message"`
}

// Error is the sentence.
func (f *Fault) Error() string { return f.Message }

// formula is one formula: the table of its inputs, and how it is worked out once they
// are sound.
type formula struct {
	fields []field
	work   func(*call) *Fault
}

// call is a formula at work.
type call struct {
	values
	res Result
}

// Formulas are the names of all formulas, sorted.
func Formulas() []string { return slices.Sorted(maps.Keys(formulas())) }

func formulas() map[string]formula {
	all := map[string]formula{}
	for _, craft := range []map[string]formula{quilts(), weaving(), knitting(), garments(), soaps(), models(), prints(), cards(), bricks(), stocks()} {
		maps.Copy(all, craft)
	}
	return all
}

// Compute works a formula out from a JSON object of its inputs, and returns
//
//	{"unrounded": {…}, "rounded": {…}, "warnings": […], "working": […]}
//
// or {"error": {"kind": …, "field": …, "message": …}}. The error tells of an unknown
// formula or of inputs that are no JSON object.
func Compute(name string, inputs json.RawMessage) (json.RawMessage, error) {
	in, err := parse(inputs)
	if err != nil {
		return nil, err
	}
	res, err := Of(name, in)
	if fault, is := err.(*Fault); is {
		return json.Marshal(map[string]any{"error": fault})
	}
	if err != nil {
		return nil, err
	}
	return json.Marshal(res)
}

// known are the formulas, made once.
var known = formulas()

// Of works a formula out. What is wrong with the inputs is a *Fault.
func Of(name string, in Inputs) (Result, error) {
	f, is := known[name]
	if !is {
		return Result{}, fmt.Errorf("there is no formula %q", name)
	}
	if fault := lye(name, in); fault != nil {
		return Result{}, fault
	}
	c := &call{res: Result{Unrounded: map[string]any{}, Rounded: map[string]any{}, Warnings: []string{}}}
	var fault *Fault
	var warned []string
	if c.values, warned, fault = check(f.fields, in, "", 1); fault != nil {
		return Result{}, fault
	}
	c.res.Warnings = append(c.res.Warnings, warned...)
	if fault := f.work(c); fault != nil {
		return Result{}, fault
	}
	slices.Sort(c.res.Warnings)
	c.res.Warnings = slices.Compact(c.res.Warnings)
	return c.res, nil
}

// exact and round note results, warn a warning, and say a line of the working.
func (c *call) exact(name string, v any) { c.res.Unrounded[name] = v }
func (c *call) round(name string, v any) { c.res.Rounded[name] = v }
func (c *call) warn(code string)         { c.res.Warnings = append(c.res.Warnings, code) }
func (c *call) say(format string, args ...any) {
	c.res.Working = append(c.res.Working, fmt.Sprintf(format, figures(args)...))
}
func (c *call) sold(format string, args ...any) {
	c.res.Sold = append(c.res.Sold, fmt.Sprintf(format, figures(args)...))
}
func fault(kind, field, format string, args ...any) *Fault {
	return &Fault{kind, field, fmt.Sprintf(format, figures(args)...)}
}

// figures writes numbers among args as they are read: at most four decimals.
func figures(args []any) []any {
	out := make([]any, len(args))
	for i, a := range args {
		if v, is := a.(float64); is {
			a = figure(v)
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

// warnings are what codes mean to a maker; those of figures that few use are told apart.
var warnings = map[string]string{
	"not_on_ruler":         "A size is not marked on the ruler: cutting to the next mark makes the unit slightly large, to be trimmed.",
	"many_panels":          "More than three panels: wide backing cloth may be cheaper.",
	"thin_rung":            "A rung is so thin that its seam allowances overlap.",
	"very_dense":           "Warp and weft both cover the cloth whole: it can hardly be woven so close.",
	"open_cloth":           "The cloth is so open that what lies behind shows.",
	"small_swatch":         "The swatch is smaller than 100 cm²: knit a larger one for a truer figure.",
	"light_swatch":         "The swatch weighs less than 2 g, too little for a kitchen scale: knit a larger one.",
	"long_float":           "A float is longer than it should be: catch it on the way, or change the chart.",
	"longest_part_rules":   "The longest part decides the length, not the area.",
	"narrower_row_used":    "The row of the envelope for narrower cloth was taken.",
	"check_recipe":         "Oils are an unusual part of this batter: check the recipe.",
	"limit_unknown":        "Look up whether this colourant is permitted in soap that touches skin, and its highest rate.",
	"minimum_mix":          "So little cannot be used from the pot: the least useful quantity is taken.",
	"solid_part":           "The walls fill the part whole.",
	"flush_exceeds_part":   "More is flushed at changes of colour than is printed: colour by layer, or print separate parts.",
	"runs_out":             "The spool runs out during the print: change it, or print in two jobs; another batch may differ in colour.",
	"mixed_lots":           "Two dye lots would meet in this colour; keep them in different parts or alternate rows.",
	"stock_not_used":       "What is on hand is of another dye lot and is not used.",
	"lot_unknown":          "Ask the shop for the same dye lot as the one on hand.",
	"discontinued":         "It is no longer made.",
	"not_enough_available": "There is not enough to be had: choose another colour now, before starting.",
}

// Warned is a warning as a sentence; empty for one that only says that a figure is
// unusual.
func Warned(code string) string { return warnings[code] }
