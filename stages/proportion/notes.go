package proportion

import (
	"fmt"

	"lampfern/core/balance"
	"lampfern/core/words"
	"lampfern/plan"
)

// longestFloat is the float from which threads catch, in threads.
const longestFloat = 5

// cautions are the usual cautions of crafts that can hurt, shown until they are
// hidden.
var cautions = map[string]string{
	"soap":           "raw soap is hot and burns skin and eyes, and fine mica and pigment are dust not to be breathed.",
	"painted models": "solvents and airbrush mist want air and a mask, and blades cut.",
	"printed parts":  "nozzles and beds are hot, and uncured resin is not for the skin.",
	"garment":        "cutters and needles are sharp, and dyes and mordants are not for the kitchen's pots.",
	"quilt":          "rotary cutters are sharp: close them between cuts.",
	"weaving":        "dyes and mordants are not for the kitchen's pots, and their dust is not to be breathed.",
	"cards":          "blades are sharp, and some markers' solvents want air.",
}

// caution is the usual caution of the plan's craft.
func caution(p *plan.Plan) []balance.Note {
	words, is := cautions[p.Craft]
	if !is {
		return nil
	}
	return []balance.Note{{ID: "caution:" + p.Craft, Severity: balance.Fine, Aside: -1, About: "With care", Words: ": " + words + " Supplier data sheets, local rules and licensed practice decide."}}
}

// pieceNotes say what the piece itself makes of the tray: parts that cannot be
// seen, cards without a part, and threads that float too far.
func pieceNotes(p *plan.Plan) []balance.Note {
	var notes []balance.Note
	add := func(id string, s balance.Severity, about, words string) {
		notes = append(notes, balance.Note{ID: id, Severity: s, Aside: -1, About: about, Words: words})
	}
	if p.Piece.Missing {
		add("nomesh", balance.Fix, "The mesh of "+p.Own().Solid.Name, " is not kept here, and boxes stand in for its bodies: bring it in again, and the parts keep their names and cards.")
	}
	for i, share := range p.Piece.Shares {
		if share == 0 {
			said, severity := " is wholly covered and has no area: raise it in the drawing, or take it away.", balance.Fix
			if p.Template == "solid" {
				said, severity = " is not seen from any side: its card will not show.", balance.Fine
			}
			add("unseen:"+p.Piece.Parts[i].Key, severity, words.Capital("the "+p.Piece.Parts[i].Name), said)
		}
	}
	if len(p.Piece.Parts) == 1 {
		add("onepart", balance.Fine, "The piece has one part", ": nothing lies beside it, so nothing can lead and no edge be lost.")
	}
	var idle []string
	placed := 0
	for _, t := range p.Tray {
		if len(t.Parts) == 0 {
			idle = append(idle, t.Name)
		} else {
			placed++
		}
	}
	if n := len(idle); n > 0 && len(p.Fills) > 0 {
		verb, mend := "s of the tray have", "give them parts, or set them aside"
		if n == 1 {
			verb, mend = " of the tray has", "give it a part, or set it aside"
		}
		add("idle:"+fmt.Sprint(n), balance.Fine, words.Capital(words.Count(n))+" card"+verb, fmt.Sprintf(" no part in this piece (%s): %s.", words.List(idle), mend))
	}
	if parts := len(p.Piece.Parts); placed > 0 && parts > len(p.Tray) {
		add("shared", balance.Fine, fmt.Sprintf("%d parts", parts), fmt.Sprintf(" and %s: some cards take several parts.", cardsWord(len(p.Tray))))
	}
	switch p.Template {
	case "stranded":
		if n, row := plan.Chart(p.Own()).LongestFloat(); n > longestFloat {
			add("float", balance.Consider, fmt.Sprintf("Row %d of the chart", row), fmt.Sprintf(" carries a yarn behind %d stitches: catch it on the way, or break the stretch.", n))
		}
	case "cloth":
		floatNotes(p, add)
	}
	return notes
}

func cardsWord(n int) string {
	if n == 1 {
		return "1 card"
	}
	return fmt.Sprintf("%d cards", n)
}

func floatNotes(p *plan.Plan, add func(id string, s balance.Severity, about, words string)) {
	_, d, _, _, err := p.Threads()
	if err != nil {
		return
	}
	for _, f := range []struct {
		n             int
		id, one, over string
	}{{d.Floats().Warp, "warpfloat", "A thread of the warp", "picks"}, {d.Floats().Weft, "weftfloat", "A thread of the weft", "ends"}} {
		switch {
		case f.n < 0:
			add(f.id, balance.Fix, f.one, " is never tied down and would lie loose: mark it in the draft so that it goes over and under.")
		case f.n > longestFloat:
			add(f.id, balance.Consider, f.one, fmt.Sprintf(" floats over %d %s: it will catch and wear. Tie it down sooner, or set the threads closer.", f.n, f.over))
		}
	}
}
