package quantity

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
)

// Input is a named input: a number, a text, true or false, Inputs, or a list of these.
type Input struct {
	Name  string
	Value any
}

// Inputs are the inputs of a formula, or of one line of a list, in the order they were
// given.
type Inputs []Input

// get is the last value given under a name.
func (in Inputs) get(name string) (any, bool) {
	for i := len(in) - 1; i >= 0; i-- {
		if in[i].Name == name {
			return in[i].Value, in[i].Value != nil
		}
	}
	return nil, false
}

// kinds of inputs.
type kind int

const (
	number kind = iota
	whole
	text
	choice
	yesNo
	list    // of Inputs
	texts   // list of text
	amounts // Inputs whose values are numbers
)

// field is a row of the table of a formula's inputs.
type field struct {
	name     string
	plain    string // as a sentence names it
	unit     string
	kind     kind
	optional bool
	def      any // default; nil for none
	low      float64
	high     float64
	above    bool // the low end itself is not allowed
	length   bool // limits are inches, and larger where the call is in cm
	usual    []float64
	choices  []string
	of       []field
	empty    bool // the list or map may be empty
	wholes   bool // amounts by name are whole numbers
}

// num, count, word … begin rows of a table.
func num(name, plain, unit string, low, high float64) field {
	return field{name: name, plain: plain, unit: unit, kind: number, low: low, high: high}
}
func count(name, plain string, low, high float64) field {
	return field{name: name, plain: plain, kind: whole, low: low, high: high}
}
func word(name, plain string) field { return field{name: name, plain: plain, kind: text} }
func one(name, plain string, choices ...string) field {
	return field{name: name, plain: plain, kind: choice, choices: choices}
}
func yes(name, plain string, def bool) field {
	return field{name: name, plain: plain, kind: yesNo, optional: true, def: def}
}
func lines(name, plain string, of ...field) field {
	return field{name: name, plain: plain, kind: list, of: of}
}
func wordList(name, plain string) field { return field{name: name, plain: plain, kind: texts} }
func byName(name, plain, unit string, low, high float64) field {
	return field{name: name, plain: plain, unit: unit, kind: amounts, low: low, high: high}
}

// or gives a row a default, maybe one that is optional and has none.
func (f field) or(def any) field { f.optional, f.def = true, def; return f }

// over leaves the low end out.
func (f field) over() field { f.above = true; return f }

// by says that limits are lengths in inches.
func (f field) by() field { f.length = true; return f }

// most says what most makers use.
func (f field) most(low, high float64) field { f.usual = []float64{low, high}; return f }

// counted says that amounts by name are whole numbers.
func (f field) counted() field { f.wholes = true; return f }

// none lets a list be empty.
func (f field) none() field { f.empty, f.optional = true, true; return f }

// values are checked inputs.
type values struct {
	of    map[string]any
	given map[string]bool
}

func (v values) num(name string) float64 { n, _ := v.of[name].(float64); return n }
func (v values) text(name string) string { s, _ := v.of[name].(string); return s }
func (v values) yes(name string) bool    { b, _ := v.of[name].(bool); return b }
func (v values) has(name string) bool    { return v.given[name] }
func (v values) lines(name string) []values {
	l, _ := v.of[name].([]values)
	return l
}
func (v values) texts(name string) []string { l, _ := v.of[name].([]string); return l }
func (v values) amounts(name string) named {
	n, is := v.of[name].(named)
	if !is {
		return newNamed()
	}
	return n
}

const centimetres = 2.54 // in an inch

// check checks inputs against a table: names first, in the order they were given, then
// each row in order. scale is what limits that are lengths are multiplied by. It warns
// of given values that few makers use.
func check(fields []field, in Inputs, prefix string, scale float64) (v values, warned []string, bad *Fault) {
	v = values{of: map[string]any{}, given: map[string]bool{}}
	for _, one := range in {
		if !slices.ContainsFunc(fields, func(f field) bool { return f.name == one.Name }) {
			return v, nil, fault("unknown_field", prefix+one.Name, "I do not know the entry %s. Check the spelling.", prefix+one.Name)
		}
	}
	for _, f := range fields {
		at := prefix + f.name
		raw, given := in.get(f.name)
		if !given {
			switch {
			case !f.optional:
				return v, nil, fault("missing", at, "Please give the %s.", f.plain)
			case f.def != nil:
				v.of[f.name] = f.def
			}
			continue
		}
		v.given[f.name] = true
		if bad = v.take(f, at, raw, scale, &warned); bad != nil {
			return v, nil, bad
		}
		if f.name == "unit" && v.text("unit") == "cm" {
			scale = centimetres
		}
	}
	return v, warned, nil
}

// take checks one value and takes it in.
func (v values) take(f field, at string, raw any, scale float64, warned *[]string) *Fault {
	wrong := func(what string) *Fault {
		return fault("wrong_type", at, "The %s should be %s.", f.plain, what)
	}
	switch f.kind {
	case number, whole:
		n, bad := f.number(at, raw, scale)
		if bad != nil {
			return bad
		}
		v.of[f.name] = n
		if len(f.usual) == 2 {
			by := 1.0
			if f.length {
				by = scale
			}
			if n < f.usual[0]*by-fit || n > f.usual[1]*by+fit {
				*warned = append(*warned, "unusual:"+at)
			}
		}
	case text:
		s, is := raw.(string)
		if !is || strings.TrimSpace(s) == "" {
			return wrong("a name")
		}
		v.of[f.name] = s
	case choice:
		s, is := raw.(string)
		if !is {
			return wrong("a name")
		}
		if !slices.Contains(f.choices, s) {
			return fault("unknown_choice", at, "%s is not one of: %s.", s, strings.Join(f.choices, ", "))
		}
		v.of[f.name] = s
	case yesNo:
		b, is := raw.(bool)
		if !is {
			return wrong("yes or no")
		}
		v.of[f.name] = b
	case list:
		all, is := raw.([]any)
		if !is {
			return wrong("a list")
		}
		if len(all) == 0 && !f.empty {
			return fault("empty", at, "The %s has nothing in it.", f.plain)
		}
		out := []values{}
		for i, one := range all {
			here := fmt.Sprintf("%s[%d]", at, i)
			in, is := one.(Inputs)
			if !is {
				return fault("wrong_type", here, "A line of the %s should be a list of entries.", f.plain)
			}
			line, warnings, bad := check(f.of, in, here+".", scale)
			if bad != nil {
				return bad
			}
			out, *warned = append(out, line), append(*warned, warnings...)
		}
		v.of[f.name] = out
	case texts:
		all, is := raw.([]any)
		if !is {
			return wrong("a list")
		}
		if len(all) == 0 {
			return fault("empty", at, "The %s has nothing in it.", f.plain)
		}
		out := []string{}
		for i, one := range all {
			s, is := one.(string)
			if !is || strings.TrimSpace(s) == "" {
				return fault("wrong_type", fmt.Sprintf("%s[%d]", at, i), "Each of the %s should be a name.", f.plain)
			}
			out = append(out, s)
		}
		v.of[f.name] = out
	case amounts:
		in, is := raw.(Inputs)
		if !is {
			return wrong("amounts by name")
		}
		if len(in) == 0 && !f.empty {
			return fault("empty", at, "The %s has nothing in it.", f.plain)
		}
		out := newNamed()
		for _, one := range in {
			each := field{plain: f.plain + " of " + one.Name, unit: f.unit, kind: number, low: f.low, high: f.high, above: f.above}
			if f.wholes {
				each.kind = whole
			}
			n, bad := each.number(at+"."+one.Name, one.Value, scale)
			if bad != nil {
				return bad
			}
			if _, twice := out.of[one.Name]; !twice {
				out.names = append(out.names, one.Name)
			}
			out.of[one.Name] = n
		}
		v.of[f.name] = out
	}
	return nil
}

// number checks a number: its kind, that it is whole where it must be, its range.
func (f field) number(at string, raw any, scale float64) (float64, *Fault) {
	n, is := raw.(float64)
	if !is || math.IsNaN(n) || math.IsInf(n, 0) {
		return 0, fault("not_a_number", at, "The %s must be a number; I read “%v”.", f.plain, raw)
	}
	if f.kind == whole && n != math.Trunc(n) {
		return 0, fault("not_whole", at, "The %s must be a whole number; %s is not.", f.plain, n)
	}
	low, high := f.low, f.high
	if f.length {
		low, high = low*scale, high*scale
	}
	if n >= low && n <= high && !(f.above && n == low) {
		return n, nil
	}
	switch {
	case n <= 0 && (f.above && low == 0 || f.kind == whole && low == 1):
		return 0, fault("not_positive", at, "The %s must be more than zero.", f.plain)
	case n < 0 && low == 0:
		return 0, fault("negative", at, "The %s cannot be less than nothing.", f.plain)
	}
	return 0, fault("out_of_range", at, "The %s is %s; it must be between %s and %s%s.", f.plain, n, low, high, map[bool]string{true: "", false: " " + f.unit}[f.unit == ""])
}

// parse reads a JSON object with the order of its keys.
func parse(data []byte) (Inputs, error) {
	d := json.NewDecoder(bytes.NewReader(data))
	v, err := parseValue(d)
	if err != nil {
		return nil, fmt.Errorf("the inputs are not whole JSON: %w", err)
	}
	in, is := v.(Inputs)
	if !is {
		return nil, errors.New("the inputs must be a JSON object")
	}
	return in, nil
}

func parseValue(d *json.Decoder) (any, error) {
	t, err := d.Token()
	if err != nil {
		return nil, err
	}
	open, is := t.(json.Delim)
	if !is {
		return t, nil
	}
	if open == '[' {
		out := []any{}
		for d.More() {
			v, err := parseValue(d)
			if err != nil {
				return nil, err
			}
			out = append(out, v)
		}
		_, err = d.Token()
		return out, err
	}
	out := Inputs{}
	for d.More() {
		key, err := d.Token()
		if err != nil {
			return nil, err
		}
		v, err := parseValue(d)
		if err != nil {
			return nil, err
		}
		name, _ := key.(string)
		out = append(out, Input{name, v})
	}
	_, err = d.Token()
	return out, err
}
