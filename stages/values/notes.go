package values

import (
	"fmt"
	"math"
	"slices"

	"lampfern/core/colour"
	"lampfern/core/note"
	"lampfern/core/value"
	"lampfern/core/words"
	"lampfern/plan"
)

// Near-white, in L* and C*ab.
const (
	nearWhiteL = 88.0
	nearWhiteC = 12.0
)

func runNotes(p *plan.Plan, v *RunView, cards []RunCard) []RunNote {
	var notes []RunNote
	add := func(id string, g note.Grade, about, words string, args ...any) *RunNote {
		notes = append(notes, RunNote{Note: note.Note{ID: id, Grade: g, About: about, Words: fmt.Sprintf(words, args...), Aside: -1}})
		return &notes[len(notes)-1]
	}
	switch {
	case len(cards) == 0:
		return nil
	case len(cards) == 1:
		add("run-one", note.Consider, cards[0].Name, " is one card. A gradient needs at least three: add a darker and a lighter one.")
	case len(cards) == 2:
		r := colour.Beside(cards[0].Reads, cards[1].Reads)
		add("run-two", note.Fine, cards[0].Name, " compared with %s: %s", cards[1].Name, r.Words())
	case v.Run.High-v.Run.Low < 1 && v.allAlike(cards):
		add("run-alike", note.Consider, "All of these", " are the same colour.")
		return visibleRun(p, v, notes)
	}
	if v.Mixed {
		add("run-mixed", note.Fine, "Mixed hues", ": judged by value only. Choose one colour family to check undertones.")
	} else if v.Fitted {
		strayNotes(p, v, cards, &notes)
	}
	if n := len(v.Run.Order); n > 1 {
		dark, light := cards[v.Run.Order[0]], cards[v.Run.Order[n-1]]
		add("run-range", note.Fine, dark.Name, " is the darkest at %.1f and %s the lightest at %.1f.", dark.Reads.Value(), light.Name,
			light.Reads.Value())
	}
	for i := range v.Gaps {
		g := &v.Gaps[i]
		id := note.ID("run-gap", note.Pair(g.From.Token, g.To.Token))
		about := fmt.Sprintf("Gap from %.1f to %.1f", g.From.Reads.Value(), g.To.Reads.Value())
		if v.Mixed {
			add(id, note.Consider, "Big step", " from %s to %s (%.1f). Add one around value %.1f.", g.From.Name, g.To.Name, g.By, g.Chit.Value)
			continue
		}
		switch len(g.Near) {
		case 0:
			add(id, note.Consider, about, ", and you own nothing for it. Look for %s at about %.1f.", words.AFamily(g.Chit.Family), g.Chit.Value)
		case 1:
			add(id, note.Consider, about, ": %s would fill it.", g.Near[0].Name).Near = g.Near
		default:
			add(id, note.Consider, about, ": %s or %s would fill it.", g.Near[0].Name, g.Near[1].Name).Near = g.Near
		}
	}
	if n := len(v.Crowds); n > 1 {
		var names []string
		for _, c := range v.Crowds {
			for _, one := range c {
				if !slices.Contains(names, one.Name) {
					names = append(names, one.Name)
				}
			}
		}
		add("run-crowds", note.Consider, words.All(names), " bunch together. You could drop some.").Token = v.Crowds[0][1].Token
	}
	for _, c := range v.Crowds {
		if len(v.Crowds) > 1 {
			break // said of all together
		}
		add(note.ID("run-crowd", note.Pair(c[0].Token, c[1].Token)), note.Consider, c[0].Name,
			" and %s bunch together. You could drop one.", c[1].Name).Token = c[1].Token
	}
	whiteNotes(p, v, cards, &notes)
	if k := Of(p).Run.Steps; k > len(cards) && v.Fitted {
		add("run-steps", note.Fine, fmt.Sprintf("%d steps", k), " from %d cards: the rest are the nearest you own.", len(cards))
	}
	if len(cards) > 1 && v.Checked.Contrast*10 < value.FlatBelow {
		add("run-flat", note.Consider, "The whole gradient", " spans only %.1f value steps, so it will look flat from a distance.", v.Checked.Contrast)
	}
	if len(v.Run.Strays)+len(v.Gaps)+len(v.Crowds) == 0 && v.Fitted && !v.Mixed {
		add("run-clean", note.Fine, "The gradient", " steps evenly.")
	}
	return visibleRun(p, v, notes)
}

func (v *RunView) allAlike(cards []RunCard) bool {
	for _, c := range cards[1:] {
		if colour.DeltaE2000(cards[0].Reads, c.Reads) >= 1 {
			return false
		}
	}
	return true
}

// strayNotes says what does not belong, and whether there are two runs.
func strayNotes(p *plan.Plan, v *RunView, cards []RunCard, notes *[]RunNote) {
	add := func(n note.Note, token string) {
		n.Aside = -1
		*notes = append(*notes, RunNote{Note: n, Token: token})
	}
	if v.Run.Neutral {
		words := " are neutral, with no undertone."
		if u := v.Run.Undertone; u != "" {
			words = fmt.Sprintf(" are neutral, with a %s undertone.", u)
		}
		add(note.Note{ID: "run-neutral", Grade: note.Fine, About: "These", Words: words}, "")
		for _, i := range v.Run.Order {
			if u := cards[i].Reads.Undertone(); u != "" && v.Run.Undertone != "" && u != v.Run.Undertone && cards[i].Reads.Chroma() >= 2 {
				add(note.Note{ID: "run-undertone:" + cards[i].Token, Grade: note.Consider, About: cards[i].Name,
					Words: fmt.Sprintf(" has a %s undertone; the others are %s.", u, v.Run.Undertone)}, cards[i].Token)
			}
		}
		return
	}
	second := map[int]bool{}
	if v.Run.Second != nil {
		var names []string
		for _, i := range v.Run.Second {
			second[i] = true
			names = append(names, cards[i].Name)
		}
		at := cards[v.Run.Second[len(v.Run.Second)/2]]
		add(note.Note{ID: "run-second", Grade: note.Consider, About: "There are two gradients here",
			Words: fmt.Sprintf(": %s lean %s. Set them aside, or use them as a gradient of their own.", words.List(names),
				colour.Family(at.Reads))}, "")
	}
	for _, s := range v.Run.Strays {
		if second[s.Index] {
			continue
		}
		c := cards[s.Index]
		n := note.Note{ID: "run-stray:" + c.Token, Grade: note.Fix, About: c.Name}
		switch s.Lean {
		case value.Grey:
			n.Words = " is noticeably greyer than its neighbours."
		case value.Strong:
			n.Words = " is noticeably stronger than its neighbours."
		default:
			n.Words = fmt.Sprintf(" leans %s.", s.Lean)
		}
		add(n, c.Token)
	}
}

// whiteNotes tells how near-whites read beside their darker neighbour.
func whiteNotes(p *plan.Plan, v *RunView, cards []RunCard, notes *[]RunNote) {
	for at, i := range v.Run.Order {
		c := cards[i]
		if at == 0 || c.Reads.L < nearWhiteL || c.Reads.Chroma() >= nearWhiteC || c.Lean != "" {
			continue
		}
		under := c.Reads.Undertone()
		below := cards[v.Run.Order[at-1]]
		n := note.Note{ID: "run-white:" + c.Token, Grade: note.Fine, Aside: -1, About: c.Name}
		switch {
		case under == "":
			n.Words = fmt.Sprintf(" is a clean near-white; beside %s it reads white.", below.Name)
		case !below.Reads.Neutral() && math.Abs(colour.HueBetween(c.Reads.OKLCh().H, below.Reads.OKLCh().H)) < 40:
			n.Words = fmt.Sprintf(" is barely %s, but beside %s it reads %s.", under, below.Name, colour.Family(below.Reads))
		default:
			n.Words = fmt.Sprintf(" has a %s undertone that will show beside %s.", under, below.Name)
		}
		*notes = append(*notes, RunNote{Note: n})
	}
}

// visibleRun leaves out the notes that the maker hid.
func visibleRun(p *plan.Plan, v *RunView, notes []RunNote) []RunNote {
	if n, ok := p.ContrastNote(); ok && (Of(p).Run.Source == "" || Of(p).Run.Source == FromTray) {
		notes = append(notes, RunNote{Note: n})
	}
	shown := slices.DeleteFunc(slices.Clone(notes), func(n RunNote) bool { return slices.Contains(p.Dismissed, n.ID) })
	v.Hidden = len(notes) - len(shown)
	slices.SortStableFunc(shown, func(a, b RunNote) int { return int(b.Grade - a.Grade) })
	return shown
}
