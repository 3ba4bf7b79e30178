package proportion

import (
	"fmt"
	"math"
	"slices"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/note"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

// Mend is the one thing a maker could do about a note: look at a list of the
// shelf, put a material in a card's place, go to the ways round, leave a part open, or look
// from afar. Setting aside and swapping are told by the note itself.
type Mend struct {
	Label    string
	Find     *shelf.Query
	Card     int // the key of the card whose place Material takes
	Material uint
	Ways     bool
	Open     string // the part that is left open, by key
	Own      bool   // where what the maker puts into the piece is edited
	Far      float64
	Swaps    []plan.Substitute // cards that give way
	Size     *shelf.Card       // a print whose size is asked for
}

// MendOf tells what could be done about a note on the whole piece; nil when the
// note tells it itself, nothing need be done, or nothing here mends it.
func MendOf(p *plan.Plan, n note.Note) *Mend {
	if n.Grade == note.Fine || n.Aside >= 0 || n.Swap != nil {
		return nil
	}
	switch n.Kind() {
	case "lost", "soft", "confused", "vibrates":
		if len(n.Cards) < 2 {
			return nil
		}
		m := partInValue(p, n.Cards[0], n.Cards[1])
		if m == nil && swapMendsNote(p, n.Kind()) {
			return &Mend{Label: "Show other arrangements", Ways: true}
		}
		if m == nil {
			m = anyInValue(p, p.Tray[n.Cards[1]])
		}
		if m != nil && len(n.Cards) > 2 {
			m.Label += " for " + p.Tray[n.Cards[0]].Name
		}
		return m
	case "compete":
		for _, c := range p.Competing() {
			if said := slices.Collect(slices.Chunk(n.Cards, 2)); len(c.Swaps) > 0 && slices.ContainsFunc(said, func(pair []int) bool {
				one, two := p.Tray[pair[0]].Key, p.Tray[pair[1]].Key
				return one == c.Lesser.Key && two == c.Other.Key || one == c.Other.Key && two == c.Lesser.Key
			}) {
				return &Mend{Label: "Use " + plan.Told(c.Swaps), Swaps: c.Swaps}
			}
		}
	case "flat":
		low := p.Tray[n.Cards[0]].Colour.L
		if low > 100-p.Tray[n.Cards[1]].Colour.L {
			return offer(p, shelf.Query{Value: shelf.StepNames[0]}, "very dark")
		}
		return offer(p, shelf.Query{Value: shelf.StepNames[shelf.ValueSteps-1]}, "very light")
	case "muted":
		return offer(p, shelf.Query{Clearness: "clear"}, "clear")
	case "temperature":
		families := []colour.FamilyName{colour.Orange, colour.Red, colour.Yellow}
		if n.Warm {
			families = []colour.FamilyName{colour.Blue, colour.Green, colour.Violet}
		}
		for _, f := range families {
			if m := offer(p, shelf.Query{Family: string(f)}, string(f)); m != nil {
				return m
			}
		}
	case "takenfor":
		return otherCard(p, n)
	case "printsize":
		t := p.Tray[n.Cards[0]]
		if t.ID == 0 {
			return nil
		}
		return &Mend{Label: "Give its size", Size: t.Card}
	case "nofocus":
		if len(n.Cards) < 2 || p.Piece == nil {
			return nil
		}
		if swapMendsNote(p, n.Kind()) {
			return &Mend{Label: "Show other arrangements", Ways: true}
		}
		return tryOthers(p, slices.Index(p.Fill(), n.Cards[1]))
	case "brief-focus":
		return tryOthers(p, slices.Index(p.Fill(), n.Cards[0]))
	case "brief-quiet":
		if swapQuietens(p, n.Cards[0]) {
			return &Mend{Label: "Show other arrangements", Ways: true}
		}
		return tryOthers(p, slices.Index(p.Fill(), n.Cards[0]))
	case "face", "lostparts":
		return tryOthers(p, n.Parts[0])
	case "nomesh":
		return &Mend{Label: "Import it", Own: true}
	case "unseen":
		return &Mend{Label: "Open the drawing", Own: true}
	case "float":
		return &Mend{Label: "Open the chart", Own: true}
	case "warpfloat", "weftfloat":
		return &Mend{Label: "Open the draft", Own: true}
	case "brief-far":
		return &Mend{Label: "See it from there", Far: p.Asked().Distance}
	}
	return nil
}

// tryOthers leaves a part open for other cards; nil without a part.
func tryOthers(p *plan.Plan, part int) *Mend {
	if part < 0 {
		return nil
	}
	of := p.Piece.Parts[part]
	return &Mend{Label: "Try other cards on " + words.The(of.Name), Open: of.Key}
}

// mostSwapped is the most placed cards for which every trade of two is tried.
const mostSwapped = 12

// swaps calls f with the layout and the tray's colours after every trade of two placed cards
// that are not pinned, until f is content; it reports whether it was.
func swaps(p *plan.Plan, f func(l balance.Layout, cs []balance.Colour) bool) bool {
	if p.Piece == nil {
		return false
	}
	l, cs := p.Layout(), p.Colours()
	pinned := map[int]bool{}
	for i, at := range p.Fill() {
		pinned[at] = pinned[at] || slices.Contains(p.Pinned, p.Piece.Parts[i].Key) || at >= 0 && !p.Tray[at].Movable()
	}
	var placed []int
	for i := range cs {
		if l.Share[i] > 0 && !pinned[i] {
			placed = append(placed, i)
		}
	}
	if len(placed) > mostSwapped {
		return false
	}
	for at, i := range placed {
		for _, j := range placed[at+1:] {
			cs[i].Lab, cs[j].Lab = cs[j].Lab, cs[i].Lab
			good := f(l, cs)
			cs[i].Lab, cs[j].Lab = cs[j].Lab, cs[i].Lab
			if good {
				return true
			}
		}
	}
	return false
}

// swapMendsNote reports whether some trade of two cards leaves fewer notes of a kind, and no
// more lost edges.
func swapMendsNote(p *plan.Plan, kind string) bool {
	eye := p.Eye()
	count := func(l balance.Layout, cs []balance.Colour, of string) (n int) {
		all := balance.Notes(l, cs)
		if of == "vibrates" {
			all = balance.PairNotes(l, cs, eye)
		}
		for _, one := range all {
			if one.Kind() == of {
				n++
			}
		}
		return n
	}
	if p.Piece == nil {
		return false
	}
	was, lost := count(p.Layout(), p.Colours(), kind), count(p.Layout(), p.Colours(), "lost")
	return swaps(p, func(l balance.Layout, cs []balance.Colour) bool {
		return count(l, cs, kind) < was && count(l, cs, "lost") <= lost
	})
}

// swapQuietens reports whether the place of a card recedes after some trade of two.
func swapQuietens(p *plan.Plan, at int) bool {
	return swaps(p, func(l balance.Layout, cs []balance.Colour) bool {
		labs := make([]colour.Lab, len(cs))
		for i := range cs {
			labs[i] = cs[i].Lab
		}
		pulls := balance.FirstLook(l, labs)
		for _, pull := range pulls {
			if pull.Part == at {
				return pull.Pull < balance.RecedesBelow*pulls[0].Pull
			}
		}
		return false
	})
}

// otherCard puts the nearest card in the place of one of an association's, the one with the
// least room first, with which nothing is called to mind any more.
func otherCard(p *plan.Plan, n note.Note) *Mend {
	const looked, least = 60, 6.0
	l, labs := p.Layout(), p.Labs()
	for _, at := range n.Cards {
		if !p.Tray[at].Movable() {
			continue
		}
		was := labs[at]
		for _, near := range p.Offers().Nearest(was, looked, p.Tray[at].ID) {
			if near.Apart < least || p.Holds(near.ID) || near.Discontinued {
				continue
			}
			labs[at] = near.Colour
			_, still := balance.TakenFor(l, labs)
			labs[at] = was
			if !still {
				return &Mend{Label: fmt.Sprintf("Use %s for %s", near.Name, p.Tray[at].Name), Card: p.Tray[at].Key, Material: near.ID}
			}
		}
	}
	return nil
}

// partInValue offers cards of a's family that are far enough from b in value; nil where
// there are none.
func partInValue(p *plan.Plan, a, b int) *Mend {
	const enough = 20.0 // L*
	ca, cb := p.Tray[a], p.Tray[b]
	var best *Mend
	most := 0
	for i, name := range shelf.StepNames {
		foot, top := 0.0, 100.0
		if i > 0 {
			foot = shelf.StepTops[i-1]
		}
		if i < shelf.ValueSteps-1 {
			top = shelf.StepTops[i]
		}
		middle := (foot + top) / 2
		if away := middle - cb.Colour.L; away > -enough && away < enough {
			continue
		}
		word := "darker"
		if middle > ca.Colour.L {
			word = "lighter"
		}
		q := shelf.Query{Family: string(ca.Family), Kind: ca.Kind, Value: name}
		if ca.Kind == shelf.FreeKind {
			q.Kind = ""
		}
		n := 0
		for at, many := range p.Offers().Shelf().Counts() {
			if at.Family == ca.Family && at.Step == i && (q.Kind == "" || at.Kind == q.Kind) {
				n += many
			}
		}
		if n > most {
			most = n
			best = &Mend{Label: fmt.Sprintf("Show %s %s %s", words.Count(most), word, words.Colours(ca.Family, most)), Find: &q}
		}
	}
	return best
}

// anyInValue offers the value in which most cards of any family lie that are far enough from
// a card in value; nil where there are none.
func anyInValue(p *plan.Plan, from plan.TrayCard) *Mend {
	const enough = 25.0 // L*
	var best *Mend
	most := 0
	for i, name := range shelf.StepNames {
		n := 0
		for _, c := range p.Offers().Cards() {
			if shelf.StepNames[shelf.StepOf(c.Colour.L)] == name && math.Abs(c.Colour.L-from.Colour.L) >= enough && !p.Holds(c.ID) {
				n++
			}
		}
		if n <= most || shelf.StepOf(from.Colour.L) == i {
			continue
		}
		if m := offer(p, shelf.Query{Value: name}, name); m != nil {
			most, best = n, m
		}
	}
	return best
}

// offer is a list of the shelf, when there is anything on it of what the plan is made of:
// of the kind of which there is most.
func offer(p *plan.Plan, q shelf.Query, said string) *Mend {
	of := map[string]int{}
	most, keep := "", q.Keep()
	for _, c := range p.Offers().Cards() {
		if keep(c) {
			of[c.Kind]++
			if of[c.Kind] > of[most] {
				most = c.Kind
			}
		}
	}
	if most == "" {
		return nil
	}
	noun := "cards"
	if of[most] == 1 {
		noun = "card"
	}
	q.Kind = most
	return &Mend{Label: fmt.Sprintf("Show %s %s %s", words.Count(of[most]), said, noun), Find: &q}
}
