package plan

import (
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"reflect"
	"strings"

	"lampfern/core/craft"
	"lampfern/core/piece"
	"lampfern/core/words"
)

// inputName names the section of what the maker put into patterns.
const inputName = "input"

// input is what the maker put into patterns, one object for all of them. What
// belongs to one is read when it is first asked for: a drawing of thousands of
// corners is costly, and most requests do not need it.
type input struct {
	doc  []byte // as it is kept, empty for nothing
	sum  *docSum
	read []any // pointers to what was read of it
}

// docSum names a document by its content.
type docSum [sha256.Size]byte

// docSum is the name of what the maker put in, worked out once.
func (p *Plan) docSum() docSum {
	if p.put.sum == nil {
		sum := docSum(sha256.Sum256(p.put.doc))
		p.put.sum = &sum
	}
	return *p.put.sum
}

// Input is what the maker put into the pattern whose input is an I. Its slices are
// shared: change a copy, and hand it to Draft.Put.
func Input[I any](p *Plan) I { return *p.put.as(new(I)).(*I) }

// as is what was put into the pattern whose input is of the type of fresh, which is
// a pointer.
func (in *input) as(fresh any) any {
	for _, r := range in.read {
		if reflect.TypeOf(r) == reflect.TypeOf(fresh) {
			return r
		}
	}
	if len(in.doc) > 0 {
		// It was written by this program and built from before it was shown.
		_ = json.Unmarshal(in.doc, fresh)
	}
	in.read = append(in.read, fresh)
	return fresh
}

// inputOf is what was put into a pattern; nil for one that takes nothing.
func (p *Plan) inputOf(t piece.Pattern) piece.Input {
	if t.Input == nil {
		return nil
	}
	return p.put.as(t.Input()).(piece.Input)
}

// inputs are what was put into all patterns that take anything.
func (p *Plan) inputs() []piece.Input {
	var out []piece.Input
	for _, t := range craft.Patterns() {
		if in := p.inputOf(t); in != nil {
			out = append(out, in)
		}
	}
	return out
}

// setInput writes what is put into one pattern; what is in others stays.
func (p *Plan) setInput(in piece.Input) error {
	doc := map[string]json.RawMessage{}
	if len(p.put.doc) > 0 {
		if err := json.Unmarshal(p.put.doc, &doc); err != nil {
			return fmt.Errorf("reading what was put into patterns: %w", err)
		}
	}
	v := reflect.ValueOf(in).Elem()
	for i := range v.NumField() {
		name, _, _ := strings.Cut(v.Type().Field(i).Tag.Get("json"), ",")
		delete(doc, name)
		if v.Field(i).IsZero() {
			continue
		}
		text, err := json.Marshal(v.Field(i).Interface())
		if err != nil {
			return fmt.Errorf("writing what was put into the piece: %w", err)
		}
		doc[name] = text
	}
	p.put = input{read: []any{in}}
	if len(doc) == 0 {
		return nil
	}
	text, err := json.Marshal(doc)
	if err != nil {
		return fmt.Errorf("writing what was put into patterns: %w", err)
	}
	p.put.doc = text
	return nil
}

// checkInputs refuses an input that no piece can be made of.
func (p *Plan) checkInputs() error {
	for _, t := range craft.Patterns() {
		if t.Input == nil || len(p.put.doc) == 0 {
			continue
		}
		in := t.Input()
		if err := json.Unmarshal(p.put.doc, in); err != nil {
			return words.Refuse("The piece’s settings in the file cannot be read. Save the plan again.")
		}
		if err := in.Check(); err != nil {
			return words.Refuse("The piece in the file is not possible: %s.", err)
		}
	}
	return nil
}

// Put is what was put into the plan's pattern; nil for one that takes nothing.
func (p *Plan) Put() piece.Input {
	t, err := craft.Pattern(p.Pattern)
	if err != nil {
		return nil
	}
	return p.inputOf(t)
}

// Put writes what is put into the pattern of that input, which may be another than
// the plan's.
func (d *Draft) Put(in piece.Input) error { return d.Plan.setInput(in) }

// InputEdit is an edit of what the maker puts into the plan's pattern, whose input
// is an I: change is given a copy of it, and the piece is made anew. A plan that has
// another pattern is refused.
func InputEdit[I any](label string, change func(d *Draft, in *I) error) Doing {
	return func(d *Draft) (string, error) {
		t, err := d.pattern()
		if err != nil {
			return "", err
		}
		in, is := any(new(I)).(piece.Input)
		if t.Input == nil || !is || reflect.TypeOf(t.Input()) != reflect.TypeOf(in) {
			return "", words.Refuse("The piece was changed in the meantime. Load the page again.")
		}
		copied := Input[I](d.Plan)
		if err := change(d, &copied); err != nil {
			return "", err
		}
		return label, d.Recast(any(&copied).(piece.Input))
	}
}

// pattern is the plan's pattern; a plan without one is refused.
func (d *Draft) pattern() (piece.Pattern, error) {
	if d.Plan.Pattern == "" {
		return piece.Pattern{}, words.Refuse("Choose a piece first.")
	}
	return craft.Pattern(d.Plan.Pattern)
}

// Values are all settings of the plan's pattern; none without one.
func (p *Plan) Values() piece.Values {
	t, err := craft.Pattern(p.Pattern)
	if err != nil {
		return nil
	}
	v, err := t.Values(p.Settings)
	if err != nil { // they were checked when they were set
		return nil
	}
	return v
}

// Set sets a setting of the piece.
func (d *Draft) Set(key string, v float64) {
	settings := piece.Values{key: v}
	for k, old := range d.Plan.Settings {
		if k != key {
			settings[k] = old
		}
	}
	d.Plan.Settings = settings
}
