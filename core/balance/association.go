package balance

import (
	"fmt"
	"slices"

	"lampfern/core/colour"
	"lampfern/core/note"
	"lampfern/core/words"
)

// Association is what colours may be taken for: an id, the thing in words, and the colours
// that make it, by index, the one with the least room first.
type Association struct {
	ID, Words string
	Colours   []int
}

// look is what a colour must be to call something to mind.
type look int

const (
	clearOf look = iota // clear, of one of the families
	pastelOf
	blackest
	whitest
)

// Where black and white are really so, and where tints are pastels.
const (
	blackUnder  = 22.0 // L*
	whiteOver   = 92.0 // L*
	plainUnder  = 8.0  // C*ab of both
	pastelFrom  = 75.0 // L*
	pastelForce = 12.0 // C*ab: below it is no tint
)

// asks is one colour of an association.
type asks struct {
	look     look
	families []colour.FamilyName
}

func (a asks) meets(c colour.Lab) bool {
	switch a.look {
	case blackest:
		return c.L < blackUnder && c.Chroma() < plainUnder
	case whitest:
		return c.L > whiteOver && c.Chroma() < plainUnder
	case pastelOf:
		return c.L >= pastelFrom && c.Chroma() >= pastelForce && slices.Contains(a.families, colour.Family(c))
	}
	return c.Clearness() >= colour.ClearFrom && slices.Contains(a.families, colour.Family(c))
}

func pure(f ...colour.FamilyName) asks   { return asks{clearOf, f} }
func pastel(f ...colour.FamilyName) asks { return asks{pastelOf, f} }

var black, white = asks{look: blackest}, asks{look: whitest}

// associations are sets of colours that many take for something else; the first that is
// met is told. Those of three come before their pairs.
var associations = []struct {
	id, words string
	of        []asks
}{
	{"emblem", "a political emblem in some places", []asks{black, white, pure(colour.Red)}},
	{"flag", "a national flag", []asks{pure(colour.Red), white, pure(colour.Blue)}},
	{"flag", "a national flag", []asks{pure(colour.Green), white, pure(colour.Orange)}},
	{"flag", "a national flag", []asks{black, pure(colour.Red), pure(colour.Yellow)}},
	{"warning", "hazard stripes", []asks{pure(colour.Yellow), black}},
	{"winter", "the winter holidays", []asks{pure(colour.Red), pure(colour.Green)}},
	{"autumn", "the autumn holidays", []asks{pure(colour.Orange), black}},
	{"festival", "festival red and gold", []asks{pure(colour.Red), pure(colour.Yellow)}},
	{"hearts", "hearts", []asks{pure(colour.Red), pure(colour.Pink)}},
	{"spring", "the spring holidays", []asks{pure(colour.Yellow), pure(colour.Violet)}},
	{"newborn", "baby clothes", []asks{pastel(colour.Pink), pastel(colour.Blue, colour.BlueGreen)}},
}

// rainbow are the families of which five, clear, make a rainbow.
var rainbow = []colour.FamilyName{colour.Red, colour.Orange, colour.Yellow, colour.Green, colour.Blue, colour.Violet}

const rainbowFrom = 5

// mourning is the share of real white from which a piece is white for mourning.
const mourning = 0.9

// TakenFor finds what the colours with the most room may be taken for, told only where
// they are clear, or really black and white. c holds a colour each.
func TakenFor(l Layout, c []colour.Lab) (Association, bool) {
	var main []int
	for i := range c {
		if l.Share[i] >= standsForEach {
			main = append(main, i)
		}
	}
	for _, a := range associations {
		of, room := []int{}, 0.0
		for _, want := range a.of {
			at := slices.IndexFunc(main, func(i int) bool { return !slices.Contains(of, i) && want.meets(c[i]) })
			if at < 0 {
				break
			}
			of = append(of, main[at])
			room += l.Share[main[at]]
		}
		// Three colours are a flag where nothing else has room beside them.
		enough := standsForShares
		if len(a.of) > 2 {
			enough = standsForThree
		}
		if len(of) == len(a.of) && room >= enough {
			return Association{a.id, a.words, l.leastFirst(of)}, true
		}
	}
	var bow []int
	for _, f := range rainbow {
		for i := range c {
			if l.Share[i] > 0 && pure(f).meets(c[i]) {
				bow = append(bow, i)
				break
			}
		}
	}
	if len(bow) >= rainbowFrom {
		return Association{"rainbow", "a rainbow", l.leastFirst(bow)}, true
	}
	for i := range c {
		if l.Share[i] >= mourning && white.meets(c[i]) {
			return Association{"mourning", "white for mourning in some places", []int{i}}, true
		}
	}
	return Association{}, false
}

// note tells an association in one sentence, which accuses nobody.
func (a Association) note(cs []Colour) note.Note {
	var names []string
	for _, i := range a.Colours[1:] {
		names = append(names, cs[i].Name)
	}
	n := note.Note{ID: "takenfor:" + a.ID, Grade: note.Consider, About: cs[a.Colours[0]].Name, Cards: a.Colours, Aside: -1}
	switch len(a.Colours) {
	case 1:
		n.Words = fmt.Sprintf(" almost everywhere may remind people of %s. If you don’t want that, give another card more room.", a.Words)
	default:
		n.Words = fmt.Sprintf(" with %s may remind people of %s. If you don’t want that, change one card.", words.All(names), a.Words)
	}
	return n
}
