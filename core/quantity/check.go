package quantity

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"sync"
)

// Amount is so much of a name; Amounts are amounts by name, in the order they were given.
type (
	Amount struct {
		Name string
		N    float64
	}
	Amounts []Amount
)

// of is the amount of a name, and whether there is one.
func (a Amounts) of(name string) (float64, bool) {
	at := slices.IndexFunc(a, func(o Amount) bool { return o.Name == name })
	if at < 0 {
		return 0, false
	}
	return a[at].N, true
}

// sum is all of them together.
func (a Amounts) sum() (sum float64) {
	for _, o := range a {
		sum += o.N
	}
	return sum
}

// names are the names, in order.
func (a Amounts) names() (out []string) {
	for _, o := range a {
		out = append(out, o.Name)
	}
	return out
}

// rule is what an input may be, read off the tag of its field: the plain name first, and after it,
// with ; between, any of
//
//	0 to 20, over 0 to 20   bounds of a number; with over the low one itself is not allowed
//	whole                   a whole number
//	length                  bounds are inches, and larger where the inputs are in cm
//	usual 2 4               what most makers use
//	unit g                  of the bounds, in words
//	one a b                 one of these
//	or 3, or                it may be left out, and is this then, or nothing
//	none                    a list that may be empty, or left out
//	unit-names              one of the units there are
//
// A pointer, true or false, and a number that is 0 when left out may be left out too.
type rule struct {
	name, plain, unit                   string
	field                               int
	optional, over, whole, length, none bool
	low, high                           float64
	usual                               []float64
	choices                             []string
	def                                 string
}

// ruled are the rules of types that were read.
var ruled sync.Map

// rulesOf are the rules of the fields of a type, in order.
func rulesOf(t reflect.Type) []rule {
	if known, is := ruled.Load(t); is {
		return known.([]rule)
	}
	var out []rule
	for i := range t.NumField() {
		f := t.Field(i)
		if tag := f.Tag.Get("in"); tag != "" {
			out = append(out, readRule(i, f, tag))
		}
	}
	ruled.Store(t, out)
	return out
}

func readRule(at int, f reflect.StructField, tag string) rule {
	clauses := strings.Split(tag, "; ")
	r := rule{name: f.Tag.Get("json"), plain: clauses[0], field: at, optional: f.Type.Kind() == reflect.Pointer ||
		f.Type.Kind() == reflect.Bool}
	number := func(text string) float64 {
		v, err := strconv.ParseFloat(text, 64)
		if err != nil {
			panic(fmt.Sprintf("the bounds of %s are not numbers: %s", r.name, tag))
		}
		return v
	}
	for _, c := range clauses[1:] {
		words := strings.Fields(c)
		switch words[0] {
		case "whole":
			r.whole = true
		case "length":
			r.length = true
		case "none":
			r.none, r.optional = true, true
		case "or":
			r.optional, r.def = true, strings.Join(words[1:], " ")
		case "unit-names":
			r.choices = unitNames()
		case "one":
			r.choices = words[1:]
		case "unit":
			r.unit = " " + words[1]
		case "usual":
			r.usual = []float64{number(words[1]), number(words[2])}
		case "over":
			r.over, r.low, r.high = true, number(words[1]), number(words[3])
		default:
			r.low, r.high = number(words[0]), number(words[2])
		}
	}
	return r
}

const centimetres = 2.54 // in an inch

// ready fills what was left out of inputs, which are a pointer to a struct, with what is usual, and
// checks them against their rules in order. It warns of given values that few makers use.
func ready(in any, notes *Notes) error {
	notes.Warnings = []Warning{}
	if bad := check(reflect.ValueOf(in).Elem(), nil, "", 1, notes); bad != nil {
		return bad
	}
	return nil
}

// take takes inputs as they were read into a pointer to a struct.
func take(to any, in Inputs) *Fault {
	if in == nil {
		in = Inputs{}
	}
	return check(reflect.ValueOf(to).Elem(), in, "", 1, new(Notes))
}

// check checks inputs against their rules; scale is what bounds that are lengths are multiplied by.
// With given inputs it takes these in first.
func check(v reflect.Value, given Inputs, prefix string, scale float64, notes *Notes) *Fault {
	rules := rulesOf(v.Type())
	for _, one := range given {
		if !slices.ContainsFunc(rules, func(r rule) bool { return r.name == one.Name }) {
			return fault("unknown_field", prefix+one.Name, "I do not know the entry %s. Check the spelling.", prefix+one.Name)
		}
	}
	for _, r := range rules {
		f, at := v.Field(r.field), prefix+r.name
		if given != nil {
			raw, there := given.get(r.name)
			switch {
			case there:
				if bad := r.take(f, at, raw, scale, notes); bad != nil {
					return bad
				}
			case !r.optional:
				return fault("missing", at, "Please give the %s.", r.plain)
			}
		}
		if bad := r.sound(f, at, scale, notes); bad != nil {
			return bad
		}
		if r.name == "unit" && f.String() == "cm" {
			scale = centimetres
		}
	}
	return nil
}

func (r rule) wrong(at, what string) *Fault {
	return fault("wrong_type", at, "The %s should be %s.", r.plain, what)
}

func (r rule) nothing(at string) *Fault {
	return fault("empty", at, "The %s has nothing in it.", r.plain)
}

// take takes one raw value into a field.
func (r rule) take(f reflect.Value, at string, raw any, scale float64, notes *Notes) *Fault {
	if f.Kind() == reflect.Pointer {
		f.Set(reflect.New(f.Type().Elem()))
		f = f.Elem()
	}
	switch f.Kind() {
	case reflect.Float64:
		n, bad := r.number(at, raw)
		f.SetFloat(n)
		return bad
	case reflect.String:
		s, is := raw.(string)
		if !is || r.choices == nil && strings.TrimSpace(s) == "" {
			return r.wrong(at, "a name")
		}
		if r.choices != nil && !slices.Contains(r.choices, s) {
			return fault("unknown_choice", at, "%s is not one of: %s.", s, strings.Join(r.choices, ", "))
		}
		f.SetString(s)
		return nil
	case reflect.Bool:
		b, is := raw.(bool)
		if !is {
			return r.wrong(at, "yes or no")
		}
		f.SetBool(b)
		return nil
	}
	if f.Type() == reflect.TypeFor[Amounts]() {
		return r.takeAmounts(f, at, raw)
	}
	all, is := raw.([]any)
	if !is {
		return r.wrong(at, "a list")
	}
	out := reflect.MakeSlice(f.Type(), len(all), len(all))
	for i, one := range all {
		here := fmt.Sprintf("%s[%d]", at, i)
		if out.Index(i).Kind() == reflect.String {
			s, is := one.(string)
			if !is {
				return fault("wrong_type", here, "Each of the %s should be a name.", r.plain)
			}
			out.Index(i).SetString(s)
			continue
		}
		in, is := one.(Inputs)
		if !is {
			return fault("wrong_type", here, "A line of the %s should be a list of entries.", r.plain)
		}
		if bad := check(out.Index(i), in, here+".", scale, notes); bad != nil {
			return bad
		}
	}
	f.Set(out)
	return nil
}

// takeAmounts takes amounts by name into a field; of one that is given twice the last counts.
func (r rule) takeAmounts(f reflect.Value, at string, raw any) *Fault {
	in, is := raw.(Inputs)
	if !is {
		return r.wrong(at, "amounts by name")
	}
	var out Amounts
	for _, one := range in {
		n, bad := r.each(one.Name).number(at+"."+one.Name, one.Value)
		if bad != nil {
			return bad
		}
		if k := slices.IndexFunc(out, func(a Amount) bool { return a.Name == one.Name }); k >= 0 {
			out[k].N = n
			continue
		}
		out = append(out, Amount{one.Name, n})
	}
	f.Set(reflect.ValueOf(out))
	return nil
}

// each is the rule of the amount of one name.
func (r rule) each(name string) rule {
	r.plain += " of " + name
	return r
}

func (r rule) number(at string, raw any) (float64, *Fault) {
	switch n := raw.(type) {
	case float64:
		if !math.IsNaN(n) && !math.IsInf(n, 0) {
			return n, nil
		}
	}
	return 0, fault("not_a_number", at, "The %s must be a number; I read “%v”.", r.plain, raw)
}

// sound fills a field that was left out, and refuses what cannot be in it.
func (r rule) sound(f reflect.Value, at string, scale float64, notes *Notes) *Fault {
	if f.Kind() == reflect.Pointer {
		if !f.IsNil() {
			return r.sound(f.Elem(), at, scale, notes)
		}
		if r.def == "" {
			return nil
		}
		f.Set(reflect.New(f.Type().Elem()))
		if f = f.Elem(); f.Kind() == reflect.Bool {
			f.SetBool(r.def == "yes")
			return nil
		}
		n, err := strconv.ParseFloat(r.def, 64)
		if err != nil {
			panic(fmt.Sprintf("what %s is when it is left out is not a number: %s", r.name, r.def))
		}
		f.SetFloat(n)
		return nil
	}
	switch f.Kind() {
	case reflect.Float64:
		return r.within(f.Float(), at, scale, notes)
	case reflect.String:
		if f.String() == "" && r.optional {
			f.SetString(r.def)
			return nil
		}
		if r.choices != nil && !slices.Contains(r.choices, f.String()) {
			return fault("unknown_choice", at, "%s is not one of: %s.", f.String(), strings.Join(r.choices, ", "))
		}
		if strings.TrimSpace(f.String()) == "" {
			return r.wrong(at, "a name")
		}
	case reflect.Slice:
		if f.Len() == 0 && !r.none && !(r.optional && f.IsNil()) {
			return r.nothing(at)
		}
		for i := range f.Len() {
			one, here := f.Index(i), fmt.Sprintf("%s[%d]", at, i)
			var bad *Fault
			switch a, amount := one.Interface().(Amount); {
			case amount:
				bad = r.each(a.Name).within(a.N, at+"."+a.Name, scale, notes)
			case one.Kind() == reflect.Struct:
				bad = check(one, nil, here+".", scale, notes)
			case strings.TrimSpace(one.String()) == "":
				bad = fault("wrong_type", here, "Each of the %s should be a name.", r.plain)
			}
			if bad != nil {
				return bad
			}
		}
	}
	return nil
}

// within refuses a number that is not whole where it must be, or out of its bounds.
func (r rule) within(n float64, at string, scale float64, notes *Notes) *Fault {
	if _, bad := r.number(at, n); bad != nil {
		return bad
	}
	if r.whole && n != math.Trunc(n) {
		return fault("not_whole", at, "The %s must be a whole number; %s is not.", r.plain, n)
	}
	if !r.length {
		scale = 1
	}
	low, high := r.low*scale, r.high*scale
	switch {
	case n >= low && n <= high && !(r.over && n == low):
		if r.usual != nil && (n < r.usual[0]*scale-fit || n > r.usual[1]*scale+fit) {
			notes.warn(Warning("unusual:" + at))
		}
		return nil
	case n <= 0 && (r.over && low == 0 || r.whole && low == 1):
		return fault("not_positive", at, "The %s must be more than zero.", r.plain)
	case n < 0 && low == 0:
		return fault("negative", at, "The %s cannot be less than nothing.", r.plain)
	}
	return fault("out_of_range", at, "The %s is %s; it must be between %s and %s%s.", r.plain, n, low, high, r.unit)
}

// Input is a named input as it was read: a number, a text, true or false, Inputs, or a list of these.
type Input struct {
	Name  string
	Value any
}

// Inputs are the inputs of a formula, or of one line of a list, in the order they were given.
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
	list, in := []any{}, Inputs{}
	for d.More() {
		name := ""
		if open == '{' {
			key, err := d.Token()
			if err != nil {
				return nil, err
			}
			name = fmt.Sprint(key)
		}
		v, err := parseValue(d)
		if err != nil {
			return nil, err
		}
		list, in = append(list, v), append(in, Input{name, v})
	}
	if _, err = d.Token(); err != nil || open == '[' {
		return list, err
	}
	return in, nil
}
