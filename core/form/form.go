// Package form reads what a maker typed: numbers with a point or a comma, lists,
// places on a drawing. What cannot be read is told in a sentence that says what
// to write instead.
package form

import (
	"fmt"
	"math"
	"net/url"
	"reflect"
	"strconv"
	"strings"

	"lampfern/core/words"
)

// Reader is something that reads more of a form than its tags say. Read is
// called after Fill has filled in the tagged fields.
type Reader interface{ Read(f *Form) error }

// Form is a form as it was sent. It remembers the first thing that could not be
// read; Err returns it.
type Form struct {
	values url.Values
	err    error
}

// New returns a form of the values sent, each cleaned (words.Clean).
func New(values url.Values) *Form {
	clean := url.Values{}
	for key, all := range values {
		for _, v := range all {
			clean.Add(key, words.Clean(v))
		}
	}
	return &Form{values: clean}
}

// Err is the first thing that could not be read, as a words.Refusal, or nil.
func (f *Form) Err() error { return f.err }

func (f *Form) bad(format string, args ...any) {
	if f.err == nil {
		f.err = words.Refuse(format, args...)
	}
}

// Text is a field as it was sent.
func (f *Form) Text(field string) string { return f.values.Get(field) }

// Texts are all values of a field.
func (f *Form) Texts(field string) []string { return f.values[field] }

// Has reports whether a field is there and not empty.
func (f *Form) Has(field string) bool { return strings.TrimSpace(f.values.Get(field)) != "" }

// Yes reports whether a field says yes: anything but nothing and 0.
func (f *Form) Yes(field string) bool { v := f.values.Get(field); return v != "" && v != "0" }

// Int is a whole number.
func (f *Form) Int(field string) int {
	n, err := strconv.Atoi(strings.TrimSpace(f.values.Get(field)))
	if err != nil {
		f.bad("%s must be a whole number.", words.Capital(named(field)))
	}
	return n
}

// Number is a decimal number; empty is what it is otherwise.
func (f *Form) Number(field string, otherwise float64) float64 {
	typed := strings.TrimSpace(f.values.Get(field))
	if typed == "" {
		return otherwise
	}
	return f.number(typed, named(field))
}

func (f *Form) number(typed, what string) float64 {
	v, err := strconv.ParseFloat(strings.Replace(typed, ",", ".", 1), 64)
	if err != nil || math.IsInf(v, 0) || math.IsNaN(v) {
		f.bad("“%s” is not a number: write the %s in figures.", typed, what)
		return 0
	}
	return v
}

// Numbers are the fields whose names begin with prefix, by the rest of the name.
func (f *Form) Numbers(prefix string) map[string]float64 {
	out := map[string]float64{}
	for field := range f.values {
		if key, is := strings.CutPrefix(field, prefix); is {
			typed := strings.TrimSpace(f.values.Get(field))
			if typed == "" {
				f.bad("Write the %s in figures: the field is empty.", named(key))
			}
			out[key] = f.number(typed, named(key))
		}
	}
	return out
}

// Cells are places counted from 0, written "x.y x.y".
func (f *Form) Cells(field string) [][2]int {
	var out [][2]int
	for _, w := range strings.Fields(f.values.Get(field)) {
		x, y, _ := strings.Cut(w, ".")
		a, errA := strconv.Atoi(x)
		b, errB := strconv.Atoi(y)
		if errA != nil || errB != nil {
			f.bad("Those stitches are not known. Load the page again.")
		}
		out = append(out, [2]int{a, b})
	}
	return out
}

// Corners are places in mm, written "x,y x,y".
func (f *Form) Corners(field string) [][2]float64 {
	var out [][2]float64
	for _, w := range strings.Fields(f.values.Get(field)) {
		x, y, _ := strings.Cut(w, ",")
		a, errA := strconv.ParseFloat(x, 64)
		b, errB := strconv.ParseFloat(y, 64)
		if errA != nil || errB != nil || math.IsInf(a, 0) || math.IsInf(b, 0) || math.IsNaN(a) || math.IsNaN(b) {
			f.bad("%q is not a corner: write each as two numbers in mm with a comma between, such as 0,0 100,0 100,50.", w)
		}
		out = append(out, [2]float64{a, b})
	}
	return out
}

// Keys are names with a whole number each, written "name.3 name.4"; nil for none.
func (f *Form) Keys(field string) map[string]int {
	var out map[string]int
	for _, w := range strings.Fields(f.values.Get(field)) {
		name, number, _ := strings.Cut(w, ".")
		n, err := strconv.Atoi(number)
		if err != nil {
			f.bad("That direction is not known. Load the page again.")
		}
		if out == nil {
			out = map[string]int{}
		}
		out[name] = n
	}
	return out
}

func named(field string) string { return strings.NewReplacer("_", " ", "-", " ").Replace(field) }

// Fill fills in the fields of the struct that to points to by their tags:
//
//	Key  int     `form:"key"`            // a whole number, which must be there
//	Turn int     `form:"turn,optional"`  // 0 when it is not
//	Wide float64 `form:"wide,optional"`
//	On   bool    `form:"on"`             // anything but nothing and 0
//	All  []string `form:"part"`          // every value
//
// and then lets it read the rest, when it is a Reader. Embedded structs are filled in
// likewise. The error is a
// words.Refusal. A tag on a field of any other kind is a fault of the program
// and panics.
func (f *Form) Fill(to any) error {
	f.fill(reflect.ValueOf(to).Elem())
	if r, is := to.(Reader); is && f.err == nil {
		if err := r.Read(f); err != nil {
			return err
		}
	}
	return f.err
}

func (f *Form) fill(v reflect.Value) {
	for i := range v.NumField() {
		if v.Type().Field(i).Anonymous {
			f.fill(v.Field(i))
			continue
		}
		tag, tagged := v.Type().Field(i).Tag.Lookup("form")
		if !tagged {
			continue
		}
		name, how, _ := strings.Cut(tag, ",")
		if how == "optional" && !f.Has(name) {
			continue
		}
		switch at := v.Field(i); at.Kind() {
		case reflect.String:
			at.SetString(f.Text(name))
		case reflect.Bool:
			at.SetBool(f.Yes(name))
		case reflect.Int:
			at.SetInt(int64(f.Int(name)))
		case reflect.Uint:
			at.SetUint(uint64(max(0, f.Int(name))))
		case reflect.Float64:
			if !f.Has(name) {
				f.bad("Write the %s in figures.", named(name))
			}
			at.SetFloat(f.Number(name, 0))
		case reflect.Slice:
			at.Set(reflect.ValueOf(f.Texts(name)))
		default:
			panic(fmt.Sprintf("form: %s.%s cannot be filled in", v.Type(), v.Type().Field(i).Name))
		}
	}
}
