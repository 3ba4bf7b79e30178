package balance

import (
	"cmp"
	"fmt"
	"slices"

	"lampfern/core/colour"
	"lampfern/core/note"
	"lampfern/core/value"
	"lampfern/core/wheel"
	"lampfern/core/words"
)

// Asked is what the maker wants of the whole. The zero value with Focus −1
// asks for nothing.
type Asked struct {
	Colours int  // at most so many colours, 0 when any number will do
	Focus   int  // the colour meant as focus, −1 when none is named
	Muted   bool // soft colours only are wanted
	Even    bool // values close together are wanted
	One     bool // one temperature is wanted: by the scheme, or by the brief
	School  wheel.School
}

// Thresholds of the notes on the whole. Starting values.
const (
	flatBelow       = 30.0 // range of L*
	mutedBelow      = 20.0 // strongest C*ab
	touchBelow      = 0.03 // share of the other temperature in the coloured area
	overpowersFrom  = 3.0  // share × clearness over that of the focus
	strongChroma    = 20.0 // C*ab from which a colour can overpower
	standsForShares = 0.6  // two colours of an association together
	standsForThree  = 0.85 // three of one together
	standsForEach   = 0.1
)

// Whole says what the placed colours do together: whether the
// values carry, whether all is soft or of one temperature, what overpowers the
// focus, whether there are too many, and what they may be taken for.
func Whole(l Layout, cs []Colour, asked Asked) []note.Note {
	var placed []int
	for i := range cs {
		if l.Share[i] > 0 {
			placed = append(placed, i)
		}
	}
	if len(placed) < 2 {
		return nil
	}
	labs := make([]colour.Lab, len(cs))
	for i := range cs {
		labs[i] = cs[i].Lab
	}
	var notes []note.Note
	add := func(id string, g note.Grade, about, words string, colours ...int) {
		notes = append(notes, note.Note{ID: id, Grade: g, About: about, Words: words, Cards: colours, Aside: -1})
	}
	low, high, strongest := placed[0], placed[0], placed[0]
	for _, i := range placed {
		if cs[i].Lab.L < cs[low].Lab.L {
			low = i
		}
		if cs[i].Lab.L > cs[high].Lab.L {
			high = i
		}
		if cs[i].Lab.Chroma() > cs[strongest].Lab.Chroma() {
			strongest = i
		}
	}
	if span := cs[high].Lab.L - cs[low].Lab.L; span < flatBelow && !asked.Even {
		add("flat", note.Consider, "The values",
			fmt.Sprintf(" span only %.1f steps, from %s to %s, so it will look flat from a distance. Add something darker or lighter.", span/10, cs[low].Name,
				cs[high].Name), low, high)
	}
	if c := cs[strongest].Lab.Chroma(); c < mutedBelow && !asked.Muted {
		add("muted", note.Consider, "Everything", " is muted. One clear colour, even a little, would lift it.", strongest)
	}
	if n, ok := oneTemperature(l, cs, asked); ok {
		notes = append(notes, n)
	}
	if n, ok := overpowering(l, cs, labs, placed, asked.Focus); ok {
		notes = append(notes, n)
	}
	if asked.Colours > 0 && len(placed) > asked.Colours {
		least := slices.MinFunc(placed, func(a, b int) int { return cmp.Compare(l.Share[a], l.Share[b]) })
		notes = append(notes, note.Note{ID: "toomany", Grade: note.Consider, About: words.Capital(words.Counted(len(placed), "colour", "colours")),
			Words: fmt.Sprintf(" are used and your brief asks for %s. %s matters least.", words.Count(asked.Colours), cs[least].Name), Cards: []int{least},
			Aside: least})
	}
	if a, ok := TakenFor(l, labs); ok {
		notes = append(notes, a.note(cs))
	}
	read := value.CheckShares(labs, l.Share)
	add("key", note.Fine, words.Capital(read.KeyWord()), fmt.Sprintf(" overall (%.1f), in %s.", read.Mean, read.GroupWords()))
	return notes
}

func oneTemperature(l Layout, cs []Colour, asked Asked) (note.Note, bool) {
	if !asked.School.Divides() {
		return note.Note{}, false
	}
	t := Temperatures(l, cs, asked.School)
	for _, pair := range [][2]wheel.Temperature{{wheel.Warm, wheel.Cool}, {wheel.Cool, wheel.Warm}} {
		if t[pair[0]] > touchBelow && t[pair[1]] < touchBelow*(t[pair[0]]+t[pair[1]]) {
			n := note.Note{ID: "temperature", Warm: pair[0] == wheel.Warm, Grade: note.Consider, Aside: -1, About: "Everything",
				Words: fmt.Sprintf(" here is %s. A little of something %s would lift it.", pair[0], pair[1])}
			if asked.One {
				n.ID, n.Grade = "calm", note.Fine
				n.Words = fmt.Sprintf(" here is %s: calm on purpose.", pair[0])
			}
			return n, true
		}
	}
	return note.Note{}, false
}

func overpowering(l Layout, cs []Colour, labs []colour.Lab, placed []int, focus int) (note.Note, bool) {
	force := func(i int) float64 { return l.Share[i] * cs[i].Lab.Force() }
	if focus < 0 || force(focus) == 0 {
		return note.Note{}, false
	}
	if FirstLook(l, labs)[0].Part == focus { // a spark that leads is what was wanted
		return note.Note{}, false
	}
	most := slices.MaxFunc(placed, func(a, b int) int { return cmp.Compare(force(a), force(b)) })
	if most == focus || cs[most].Lab.Chroma() < strongChroma || force(most) < overpowersFrom*force(focus) {
		return note.Note{}, false
	}
	return note.Note{ID: "overpowers:" + cs[most].Key, Grade: note.Consider, About: cs[most].Name, Cards: []int{most, focus}, Aside: -1,
		Words: fmt.Sprintf(" overpowers %s, the focal point. Give it less room, or choose a softer card.", cs[focus].Name)}, true
}
