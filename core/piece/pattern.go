package piece

import (
	"fmt"
	"math"
	"slices"

	"lampfern/core/mesh"
	"lampfern/core/note"
	"lampfern/core/weave"
)

// Craft is one kind of making. Its package lies in core/craft.
type Craft struct {
	Name     string    // as the maker reads it, and as plans keep it
	Kinds    []string  // of material that its things are usually made of, of material.Kinds
	From, To int       // a sensible number of colours to begin with
	Care     string    // what can hurt in its steps, in sentences; empty for nothing. What its materials do is of their kinds
	Cautions []string  // what is read of that before one begins, in sentences; nil where Care says all
	Patterns []Pattern // its pieces, in the order they are offered

	// Together are the ways two threads come together in a craft worked in threads, the
	// usual one first; nil in any other craft. in and v are of the plan's pattern, which
	// may be of another craft.
	Together func(in Input, v Values) []Together

	// Asks are what a thing of this craft cannot know and its quantities need, and Lists
	// what the maker may have written down of it.
	Asks  []Setting
	Lists []List
	// Tones says that a part can be laid in more than one tone, as with a brush.
	Tones bool
	// Stitched says that a line of stitches along the edge of a part can be a part.
	Stitched bool
	// Needs is how much the thing takes of each card, and of what has none; nil where
	// that cannot be told.
	Needs func(m Making) []Need
	// Fit is what the maker's own figures ask of the piece's settings; nil for nothing, or
	// where they ask nothing.
	Fit func(m Making) *Fit
	// Sitting is in which order its colours are taken up within a sitting, and why.
	Sitting Sitting
	Inside  []string // keys of parts from the inside out, where that is its order
	// Work is its order of work, from what is drawn; nil where that cannot be told.
	Work func(m Making) []Task
	// Batch is how colourants go into what is made in one batch, as into batter, by what was asked:
	// a mix is a share of the batch, and a need is of all that colours it together. nil in any other.
	Batch func(asked Values) Batch
	// OwnOnly says that Needs knows the patterns of this craft alone.
	OwnOnly bool
}

// Batch is how colourants go into a batch.
type Batch struct {
	Oils float64 // % of the batch that is oils
	Dose float64 // of a colourant whose own is not known, in g per kg of oils
}

// Owns reports whether a pattern is one of the craft's.
func (c Craft) Owns(pattern string) bool {
	return slices.ContainsFunc(c.Patterns, func(p Pattern) bool { return p.Key == pattern })
}

// Together is a way two threads come together, and the share of the face that the
// first of them shows, 0 to 1.
type Together struct {
	Key, Name string
	Share     float64
}

// Values are numbers by the key of their setting.
type Values map[string]float64

// Setting is one number a pattern can be built with. With Choices the number
// is the index of the one chosen.
type Setting struct {
	Key, Name, Unit   string
	Min, Max, Default float64
	Whole             bool // only whole numbers
	Choices           []string

	// When is the setting that it hangs on, and the choices of that for which it is
	// asked; empty for always.
	When string
	Is   []float64

	// Row is the need that it alone changes: what that is called, a part of the piece that it is of,
	// or the kind of material; empty for all of them.
	Row string
}

// Wanted reports whether a setting is asked for beside these values.
func (s Setting) Wanted(v Values) bool { return s.When == "" || slices.Contains(s.Is, v[s.When]) }

// If is the setting, asked for where another one is one of some choices.
func (s Setting) If(key string, is ...float64) Setting {
	s.When, s.Is = key, is
	return s
}

// In is the setting, as one that changes the need of a row alone.
func (s Setting) In(row string) Setting {
	s.Row = row
	return s
}

// Pattern is a piece that can be built from settings and, for some, from what the
// maker puts in, and be resized.
type Pattern struct {
	Key, Name string
	Words     string   // what it is, as the end of a sentence
	Face      []string // the keys of its parts that can lie next to a face, the nearest first; nil for none
	Run       string   // how the keys of its parts for a run from dark to light begin; empty for none
	Settings  []Setting

	// Input is an empty input; nil for a pattern that its settings alone decide.
	Input func() Input
	// Make builds the piece. Values are whole and within bounds, and the input is
	// checked; it is what Input returns, with something in it or not.
	Make func(v Values, in Input) (Piece, error)
	// Resize is as the function Resize, for a pattern that is not resized by a length
	// among its settings; nil for one that is.
	Resize func(v Values, in Input, of func(part string) bool, want float64) (Resized, bool)
	// Bars are the shares of the parts in each of the alike things that are cut from the
	// piece, such as the bars of a loaf, and Pours the settings of a piece of the same with
	// which to compare them; nil where nothing alike is cut.
	Bars  func(p Piece, v Values) [][]float64
	Pours func(v Values) []Trial
	// Cautions are what its maker should know of the piece as it is; nil for none.
	Cautions func(p Piece, v Values, in Input) []note.Note
}

// Trial is settings to be compared with others, and what they are in words.
type Trial struct {
	Name string
	Set  Values
}

// Input is what a maker puts into a pattern beside numbers. Inputs are kept as JSON,
// those of one plan together in one object, so that the names of their fields
// differ from one pattern to another. They are pointers to their type.
type Input interface {
	// Check says in one sentence what keeps it from being used.
	Check() error
}

// The following are looked for in inputs.
type (
	// Written is an input that is written as one line of text.
	Written interface {
		Input
		// Copy is a copy, to be written to.
		Copy() Written
		// Line is the text, the usual one where nothing was put in.
		Line(v Values) string
		// Write takes the text in, or says what is wrong with it. Without a text the
		// input is as it was before anything was put in.
		Write(text string, v Values) error
		Asks() Asking
		// Advice is what to know of the line, in sentences, the last of which an example
		// ends; empty for nothing.
		Advice(v Values) (heading, text, example string)
	}
	// Pictured is an input with photos in it. Show calls f for each, by its hash, and
	// lets go of those for which f returns false.
	Pictured interface {
		Show(f func(hash string) bool)
	}
	// Bodied is an input made of closed bodies, those of a mesh or the usual ones.
	Bodied interface {
		Input
		Bodies() []Bulk
	}
	// Meshed is an input whose bodies are those of a mesh, which is kept beside the
	// plans. A mesh that is given is not kept with the input.
	Meshed interface {
		Input
		Model() Model
		Give(m *mesh.Mesh) Meshed
	}
)

// Bulk is a closed body: the part that it is of, its volume in cm³, its surface in cm²,
// and from where up to where it stands, in mm.
type Bulk struct {
	Name            string
	Part            int
	Volume, Surface float64
	From, To        float64
}

// Asking is how a line of text is asked for.
type Asking struct {
	Field string // its name
	Take  string // what the press says that takes it in
	Clear string // what the press says that takes it away; empty where it cannot be
	Done  string // what was then done, for undo
}

// Model is the file of a mesh. The zero value is none.
type Model struct {
	File   string // by its hash
	Kind   string // stl or 3mf
	Name   string
	Bodies int
}

// Values are all settings of the pattern, those left out at their usual value;
// one out of range is an error in plain words.
func (t Pattern) Values(settings Values) (Values, error) {
	v := Values{}
	for _, s := range t.Settings {
		x, given := settings[s.Key]
		if !given {
			x = s.Default
		}
		if !(x >= s.Min && x <= s.Max) || s.Whole && x != math.Trunc(x) {
			kind := "a number"
			if s.Whole {
				kind = "a whole number"
			}
			return nil, fmt.Errorf("%s: choose %s from %g to %g, not %g", s.Name, kind, s.Min, s.Max, x)
		}
		v[s.Key] = x
	}
	return v, nil
}

// Build makes the piece of a pattern. Settings left out take their defaults, and a
// nil input is an empty one. A setting out of range, or an input that cannot be
// used, is an error in plain words.
func (t Pattern) Build(settings Values, in Input) (Piece, error) {
	v, err := t.Values(settings)
	if err != nil {
		return Piece{}, err
	}
	if in == nil && t.Input != nil {
		in = t.Input()
	}
	if in != nil {
		if err := in.Check(); err != nil {
			return Piece{}, err
		}
	}
	p, err := t.Make(v, in)
	if err != nil {
		return Piece{}, err
	}
	p.Pattern, p.Name = t.Key, t.Name
	return p, nil
}

// Divided is the pattern with splits made of its parts.
func (t Pattern) Divided(all []Split) Pattern {
	if len(all) == 0 || t.Make == nil {
		return t
	}
	whole := t.Make
	t.Make = func(v Values, in Input) (Piece, error) {
		p, err := whole(v, in)
		return p.Divided(all), err
	}
	return t
}

// Plain is the Make of a pattern that numbers alone decide.
func Plain(build func(v Values) Piece) func(Values, Input) (Piece, error) {
	return func(v Values, _ Input) (Piece, error) { return build(v), nil }
}

// Whole is a setting that takes whole numbers.
func Whole(key, name string, from, to, usual float64) Setting {
	return Setting{Key: key, Name: name, Min: from, Max: to, Default: usual, Whole: true}
}

// MM is a setting that is a length in millimetres.
func MM(key, name string, from, to, usual float64) Setting {
	return Setting{Key: key, Name: name, Unit: "mm", Min: from, Max: to, Default: usual}
}

// Choice is a setting that chooses one thing; the first is the usual one.
func Choice(key, name string, choices ...string) Setting {
	return Setting{Key: key, Name: name, Max: float64(len(choices) - 1), Whole: true, Choices: choices}
}

// Parts are parts by key and name in turn.
func Parts(keysAndNames ...string) []Part {
	var out []Part
	for i := 0; i+1 < len(keysAndNames); i += 2 {
		out = append(out, Part{keysAndNames[i], keysAndNames[i+1]})
	}
	return out
}

// YarnParts are the parts of yarns that are used, by letter, and the part of each
// yarn.
func YarnParts(used [weave.MostYarns]bool) (parts []Part, of [weave.MostYarns]int16) {
	for y, on := range used {
		if on {
			of[y] = int16(len(parts))
			parts = append(parts, Part{YarnKey(y), "yarn " + weave.Letter(y)})
		}
	}
	return parts, of
}

// YarnKey is the key of the part of a yarn, counted from 0.
func YarnKey(yarn int) string { return fmt.Sprintf("yarn%d", yarn+1) }

// MakeWith is the Make of a pattern whose input is of type *I.
func MakeWith[I any](build func(v Values, in *I) (Piece, error)) func(Values, Input) (Piece, error) {
	return func(v Values, in Input) (Piece, error) { return build(v, any(in).(*I)) }
}

// ResizeWith is the Resize of a pattern whose input is of type *I.
func ResizeWith[I any](resize func(v Values, in *I, of func(part string) bool, want float64) (Resized, bool)) func(Values, Input,
	func(string) bool, float64) (Resized, bool) {
	return func(v Values, in Input, of func(string) bool, want float64) (Resized, bool) {
		return resize(v, any(in).(*I), of, want)
	}
}

// CautionsWith are the Cautions of a pattern whose input is of type *I.
func CautionsWith[I any](say func(p Piece, v Values, in *I) []note.Note) func(Piece, Values, Input) []note.Note {
	return func(p Piece, v Values, in Input) []note.Note { return say(p, v, any(in).(*I)) }
}
