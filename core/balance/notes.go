package balance

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/note"
	"lampfern/core/words"
)

// Thresholds of the notes, in L* and ΔE00.
const (
	lostLightness = 8.0
	lostApart     = 10.0
	softLightness = 15.0
	softApart     = 25.0 // without it, a third of all edges would be soft
	alikeApart    = 5.0
	EdgeMatters   = 0.02 // share of the shorter border along which parts must touch: corners that only meet do not count
)

// Colour is what Notes needs to know of one colour of a piece. Key must stay
// the same for the same card, so that a dismissed note stays dismissed.
type Colour struct {
	Key   string
	Name  string
	Parts string // the parts it fills, in words
	Lab   colour.Lab
	Faces []Face // of a print; nil of anything else
}

// Notes says what the colours do in the layout: lost and soft edges, edges
// that an eye with a colour-vision deficiency loses, colours too alike, and
// whether anything takes the first look. Colours with no share still take part
// in "too alike".
func Notes(l Layout, cs []Colour) []note.Note {
	notes := edges(l, cs)
	notes = append(notes, alike(cs, l)...)
	if n, ok := focus(l, cs); ok {
		notes = append(notes, n)
	}
	return notes
}

func edges(l Layout, cs []Colour) []note.Note {
	length := make([]float64, len(cs))
	for i := range cs {
		for j := range cs {
			length[i] += l.Border[i][j]
		}
	}
	var lost, soft, confused []note.Note
	for i := range cs {
		for j := range cs {
			// Name the smaller colour first: it is the one that sinks.
			if l.Share[i] > l.Share[j] || l.Share[i] == l.Share[j] && i >= j {
				continue
			}
			if l.Border[i][j] <= EdgeMatters*math.Min(length[i], length[j]) {
				continue
			}
			x, y := edge(cs[i], cs[j])
			dL, de := math.Abs(x.L-y.L), colour.DeltaE2000(x, y)
			n := note.Note{About: cs[i].Name, Cards: []int{i, j}, Aside: -1}
			switch {
			case dL < lostLightness && de < lostApart:
				n.ID, n.Grade = note.ID("lost", note.Pair(cs[i].Key, cs[j].Key)), note.Fix
				n.Detail = fmt.Sprintf("%.1f value steps", dL/10)
				n.Words = fmt.Sprintf(" on %s: the edge of the %s disappears (%.1f value steps).", cs[j].Name, cs[i].Parts, dL/10)
				lost = append(lost, n)
			case dL < softLightness && de < softApart:
				n.ID, n.Grade = note.ID("soft", note.Pair(cs[i].Key, cs[j].Key)), note.Consider
				n.Detail = fmt.Sprintf("%.1f value steps", dL/10)
				n.Words = fmt.Sprintf(" is %.1f value steps from %s, so the edge of the %s will be soft.", dL/10, cs[j].Name, cs[i].Parts)
				soft = append(soft, n)
			}
			if blind, weak := colour.Confused(x, y); len(blind) > 0 {
				words := strings.Join(blind, " or ") + " eye"
				if len(weak) > 0 {
					words += ", and to a " + strings.Join(weak, " or ") + " one too"
				}
				confused = append(confused, note.Note{ID: note.ID("confused", note.Pair(cs[i].Key, cs[j].Key)), Grade: note.Consider, About: cs[i].Name,
					Cards: []int{i, j}, Aside: -1, Detail: strings.Join(blind, ", "),
					Words: fmt.Sprintf(" and %s look the same to a %s. Make one lighter or darker.", cs[j].Name, words)})
			}
		}
	}
	return slices.Concat(lost, soft, confused)
}

func alike(cs []Colour, l Layout) []note.Note {
	var notes []note.Note
	for i := range cs {
		for j := i + 1; j < len(cs); j++ {
			x, y := edge(cs[i], cs[j])
			de := colour.DeltaE2000(x, y)
			if de >= alikeApart {
				continue
			}
			less, more := i, j
			if l.Share[i] > l.Share[j] {
				less, more = j, i
			}
			notes = append(notes, note.Note{
				ID: note.ID("alike", note.Pair(cs[i].Key, cs[j].Key)), Grade: note.Consider, About: cs[less].Name,
				Words: fmt.Sprintf(" and %s will read as one colour (ΔE %.0f).", cs[more].Name, de),
				Cards: []int{less, more}, Aside: less,
			})
		}
	}
	return notes
}

func focus(l Layout, cs []Colour) (note.Note, bool) {
	var placed []int
	for i := range cs {
		if l.Share[i] > 0 {
			placed = append(placed, i)
		}
	}
	if len(placed) < 2 {
		return note.Note{}, false
	}
	labs := make([]colour.Lab, len(cs))
	for i := range cs {
		labs[i] = cs[i].Lab
	}
	pulls := FirstLook(l, labs)
	first, second := pulls[0], pulls[1]
	if most := slices.MaxFunc(placed, func(a, b int) int {
		return cmp.Compare(colour.DeltaE2000(labs[first.Part], labs[a]), colour.DeltaE2000(labs[first.Part], labs[b]))
	}); colour.DeltaE2000(labs[first.Part], labs[most]) < alikeApart {
		return note.Note{}, false // they read as one colour, which is said
	}
	n := note.Note{About: cs[first.Part].Name, Cards: []int{first.Part, second.Part}, Aside: -1}
	if first.Pull < FocusClear*second.Pull || first.Pull == 0 {
		n.ID, n.Grade = "nofocus", note.Consider
		n.Words = fmt.Sprintf(" and %s compete, so nothing stands out. Make one bolder, or give it less room.", cs[second.Part].Name)
		return n, true
	}
	n.ID, n.Grade = "focus:"+cs[first.Part].Key, note.Fine
	n.Words = fmt.Sprintf(" (%s of the piece) draws the eye first, %s.", words.PerCent(l.Share[first.Part]), Lead(first, second, cs[second.Part].Name))
	return n, true
}

// Lead says by how much one colour leads another, of this name, and why.
func Lead(first, second Pull, name string) string {
	said := words.Times(ratio(first.Pull, second.Pull), "strongly") + " " + name
	if why := first.Why(second); why != "" {
		said += ": " + why
	}
	return said
}

func ratio(a, b float64) float64 {
	if b == 0 {
		return 1
	}
	return a / b
}
