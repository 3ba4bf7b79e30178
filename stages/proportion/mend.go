package proportion

import (
	"fmt"
	"strings"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

// Mend is the one thing a maker could do about a note: look at a list of the
// shelf, put a material in a card's place, go to the ways round, or look from
// afar. Setting aside and swapping are told by the note itself.
type Mend struct {
	Label    string
	Find     *shelf.Query
	Card     int // the key of the card whose place Material takes
	Material uint
	Ways     bool
	Own      bool // where what the maker puts into the piece is edited
	Far      float64
}

// MendOf tells what could be done about a note on the whole piece; nil when the
// note tells it itself or nothing need be done.
func MendOf(p *plan.Plan, n balance.Note) *Mend {
	if n.Severity == balance.Fine || n.Aside >= 0 || n.Swap != nil {
		return nil
	}
	kind, _, _ := strings.Cut(n.ID, ":")
	switch kind {
	case "lost", "soft", "confused":
		if len(n.Colours) == 2 {
			return partInValue(p, n.Colours[0], n.Colours[1])
		}
	case "compete":
		for _, c := range p.Competing() {
			lesser, other := p.Tray[n.Colours[0]].Key, p.Tray[n.Colours[1]].Key
			if c.Lesser.Key == lesser && c.Other.Key == other && len(c.Near) > 0 {
				return &Mend{Label: "Take " + c.Near[0].Name + " instead", Card: lesser, Material: c.Near[0].ID}
			}
		}
		return &Mend{Label: "Show the ways round", Ways: true}
	case "flat":
		low := p.Tray[n.Colours[0]].Colour.L
		if low > 100-p.Tray[n.Colours[1]].Colour.L {
			return offer(p, shelf.Query{Value: shelf.StepNames[0]}, "very dark")
		}
		return offer(p, shelf.Query{Value: shelf.StepNames[shelf.ValueSteps-1]}, "very light")
	case "muted":
		return offer(p, shelf.Query{Clearness: "clear"}, "clear")
	case "temperature":
		families := []colour.FamilyName{colour.Orange, colour.Red, colour.Yellow}
		if strings.Contains(n.About, "warm") {
			families = []colour.FamilyName{colour.Blue, colour.Green, colour.Violet}
		}
		for _, f := range families {
			if m := offer(p, shelf.Query{Family: string(f)}, string(f)); m != nil {
				return m
			}
		}
	case "nofocus", "takenfor", "brief-quiet":
		return &Mend{Label: "Show the ways round", Ways: true}
	case "nomesh":
		return &Mend{Label: "Bring it in", Own: true}
	case "unseen":
		return &Mend{Label: "Open the drawing", Own: true}
	case "float":
		return &Mend{Label: "Open the chart", Own: true}
	case "warpfloat", "weftfloat":
		return &Mend{Label: "Open the draft", Own: true}
	case "brief-far":
		return &Mend{Label: "Look from there", Far: p.Asked().Distance}
	}
	return nil
}

// partInValue offers cards of a's family that are far enough from b in value.
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
		for at, many := range p.Shelf.Counts() {
			if at.Family == ca.Family && at.Step == i && (q.Kind == "" || at.Kind == q.Kind) {
				n += many
			}
		}
		if n > most {
			most = n
			best = &Mend{Label: fmt.Sprintf("Show %s %s %s", words.Count(most), word, words.Colours(ca.Family, most)), Find: &q}
		}
	}
	if best == nil {
		return &Mend{Label: "Show the ways round", Ways: true}
	}
	return best
}

// offer is a list of the shelf, when there is anything on it.
func offer(p *plan.Plan, q shelf.Query, said string) *Mend {
	found, _ := p.Shelf.Find(q)
	if len(found) == 0 {
		return nil
	}
	noun := "cards"
	if len(found) == 1 {
		noun = "card"
	}
	return &Mend{Label: fmt.Sprintf("Show %s %s %s", words.Count(len(found)), said, noun), Find: &q}
}
