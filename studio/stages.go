package studio

import (
	"fmt"
	"slices"

	"lampfern/core/balance"
	"lampfern/core/wheel"
)

// alikeInTray notes cards of the tray that will read as one.
func alikeInTray(p *Plan) []balance.Note {
	return slices.DeleteFunc(balance.Notes(emptyLayout(len(p.Tray)), p.colours()), func(n balance.Note) bool { return n.Aside < 0 })
}

func emptyLayout(n int) balance.Layout {
	l := balance.Layout{Share: make([]float64, n), Border: make([][]float64, n)}
	for i := range l.Border {
		l.Border[i] = make([]float64, n)
	}
	return l
}

func (p *Plan) colours() []balance.Colour {
	out := make([]balance.Colour, len(p.Tray))
	for i, t := range p.Tray {
		out[i] = balance.Colour{Key: fmt.Sprint(t.Key), Name: t.Name, Parts: joinWords(t.Parts), Lab: t.Colour}
	}
	return out
}

// joinWords lists words as a sentence does.
func joinWords(words []string) string {
	switch n := len(words); {
	case n == 0:
		return ""
	case n == 1:
		return words[0]
	case n <= 3:
		out := words[0]
		for _, w := range words[1 : n-1] {
			out += ", " + w
		}
		return out + " and " + words[n-1]
	default:
		return fmt.Sprintf("%s, %s and %d more", words[0], words[1], n-2)
	}
}

// visible leaves out the notes that the maker hid.
func (p *Plan) visible(notes []balance.Note) []balance.Note {
	return slices.DeleteFunc(notes, func(n balance.Note) bool { return slices.Contains(p.Dismissed, n.ID) })
}

// PullView is one card where the eye goes.
type PullView struct {
	TrayCard
	Index  int     // in the tray
	Strong float64 // pull as a share of the strongest, 0 to 1
	Words  string
}

// HiddenNote is a note that the maker hid, with the reason given.
type HiddenNote struct {
	balance.Note
	Remark string
}

// ProportionView is what the proportion stage shows.
type ProportionView struct {
	Fill   []int // for each part the index of its card in the tray, or −1
	Empty  int   // parts without a card
	Pulls  []PullView
	Notes  []balance.Note
	Hidden []HiddenNote // that the maker hid
	Warm   float64
	Cool   float64
	Grey   float64
	Extent []balance.Extent // shares beside those of equal force; nil when there is nothing to weigh
}

// Proportion works out the proportion stage; the plan must have a piece.
func (p *Plan) Proportion() ProportionView {
	v := ProportionView{Fill: p.fill()}
	for _, at := range v.Fill {
		if at < 0 {
			v.Empty++
		}
	}
	layout, labs := p.layout(), p.labs()
	top := 0.0
	for _, pull := range balance.FirstLook(layout, labs) {
		if layout.Share[pull.Part] == 0 {
			continue
		}
		top = max(top, pull.Pull)
		strong := 0.0
		if top > 0 {
			strong = pull.Pull / top
		}
		v.Pulls = append(v.Pulls, PullView{TrayCard: p.Tray[pull.Part], Index: pull.Part, Strong: strong, Words: pullWords(len(v.Pulls), strong)})
	}
	if len(v.Pulls) > 1 && v.Pulls[1].Strong*balance.FocusClear > 1 {
		v.Pulls[0].Words, v.Pulls[1].Words = "no clear first", "no clear first"
	}
	notes := append(append(p.pieceNotes(), p.focusNotes(v.Pulls)...), balance.Notes(layout, p.colours())...)
	notes = append(notes, balance.Whole(layout, p.colours(), p.asked(v.Pulls))...)
	notes = append(append(notes, p.farNotes()...), p.caution()...)
	slices.SortStableFunc(notes, func(a, b balance.Note) int { return gravity(a.Severity) - gravity(b.Severity) })
	v.Notes = p.visible(slices.Clone(notes))
	for _, n := range notes {
		if slices.Contains(p.Dismissed, n.ID) {
			v.Hidden = append(v.Hidden, HiddenNote{n, p.Remarks[n.ID]})
		}
	}
	t := balance.Temperatures(layout, labs, p.school())
	v.Extent = balance.Extension(layout, labs)
	v.Warm, v.Cool, v.Grey = t[wheel.Warm], t[wheel.Cool], t[wheel.Neutral]
	return v
}

// gravity orders notes: what to mend before what to consider, what is well last.
func gravity(s balance.Severity) int {
	return slices.Index([]balance.Severity{balance.Fix, balance.Consider, balance.Fine}, s)
}

// Limits of the brief from which on a reading is what was asked for.
const (
	mutedAsked = 40.0 // clearness at most, of 100
	evenAsked  = 3.5  // value steps of contrast at most
)

// asked is what the brief asks of the whole piece.
func (p *Plan) asked(pulls []PullView) balance.Asked {
	limits := p.Brief.Limit()
	out := balance.Asked{Colours: p.Brief.Count, Focus: -1, School: p.school(), Muted: limits.ClearTo <= mutedAsked, Even: limits.ContrastTo <= evenAsked}
	if at := named(pulls, p.Brief.Focus); at >= 0 {
		out.Focus = pulls[at].Index
	}
	return out
}

func pullWords(rank int, strong float64) string {
	switch {
	case rank == 0:
		return "first look"
	case strong < balance.RecedesBelow:
		return "recedes"
	case rank == 1:
		return "second"
	}
	return "then this"
}
