package proportion

import (
	"fmt"
	"slices"
	"strings"

	"lampfern/core/balance"
	"lampfern/core/craft"
	"lampfern/core/note"
	"lampfern/core/wheel"
	"lampfern/core/words"
	"lampfern/plan"
)

// focusNotes says whether the eye goes where the brief wants it, strongest pull
// first. The brief names parts or cards in the maker's words.
func focusNotes(p *plan.Plan, pulls []PullView) []note.Note {
	if len(pulls) < 2 {
		return nil
	}
	var notes []note.Note
	first := pulls[0]
	called := func(words string, v PullView) string { // what the brief calls it
		if strings.EqualFold(words, v.Name) {
			return ""
		}
		return fmt.Sprintf(" (%s)", words)
	}
	if at := named(pulls, p.Asked().Focus); at >= 0 && at == named(pulls, p.Asked().Quiet) {
		return []note.Note{{ID: "brief-both", Grade: note.Fix, Aside: -1, About: pulls[at].Name, Cards: []int{pulls[at].Index},
			Words: fmt.Sprintf(" is on both the focal point (%s) and the background (%s). Change one of them.",
				p.Asked().Focus, p.Asked().Quiet)}}
	}
	if at := named(pulls, p.Asked().Focus); at > 0 {
		said := called(p.Asked().Focus, pulls[at])
		n := note.Note{ID: "brief-focus", Grade: note.Fix, Aside: -1, About: pulls[at].Name, Cards: []int{pulls[at].Index},
			Words: fmt.Sprintf(" should be the focal point%s, but %s draws the eye first. Make it bolder, or give it more room.", said, first.Name)}
		if swapMends(p, pulls[at], first) {
			n.Swap = []int{pulls[at].Index, first.Index}
			n.Words = fmt.Sprintf(" should be the focal point%s, but %s draws the eye first. Swap them, or make it bolder.", said, first.Name)
		}
		notes = append(notes, n)
	} else if at == 0 && pulls[1].Strong*balance.FocusClear <= 1 {
		notes = append(notes, note.Note{ID: "brief-focus-met", Grade: note.Fine, Aside: -1, About: first.Name,
			Words: fmt.Sprintf(" (%s of the piece) draws the eye first, as you asked%s, %s.", words.PerCent(first.Share),
				called(p.Asked().Focus, first), balance.Lead(first.Pull, pulls[1].Pull, pulls[1].Name))})
	}
	if at := named(pulls, p.Asked().Quiet); at >= 0 && pulls[at].Strong >= balance.RecedesBelow {
		said := called(p.Asked().Quiet, pulls[at])
		n := note.Note{ID: "brief-quiet", Grade: note.Consider, Aside: -1, About: pulls[at].Name, Cards: []int{pulls[at].Index},
			Words: fmt.Sprintf(" should stay in the background%s, but still draws the eye.", said)}
		if at == 0 {
			n.Words = fmt.Sprintf(" should stay in the background%s, but draws the eye first.", said)
		}
		notes = append(notes, n)
	}
	return notes
}

// swapMends reports whether what the brief wants as the focus takes the first look once it
// and what does so now have traded places: the part it names, or the card.
func swapMends(p *plan.Plan, wanted, first PullView) bool {
	labs := p.Labs()
	labs[wanted.Index], labs[first.Index] = labs[first.Index], labs[wanted.Index]
	place := wanted.Index
	if strings.Contains(strings.ToLower(p.Asked().Focus), strings.ToLower(wanted.Name)) {
		place = first.Index
	}
	return balance.FirstLook(p.Layout(), labs)[0].Part == place
}

// named finds the pull whose card or part the words speak of; −1 for none.
func named(pulls []PullView, words string) int {
	words = strings.ToLower(words)
	if words == "" {
		return -1
	}
	return slices.IndexFunc(pulls, func(v PullView) bool {
		return strings.Contains(words, strings.ToLower(v.Name)) ||
			slices.ContainsFunc(v.Parts, func(part string) bool { return strings.Contains(words, strings.ToLower(part)) })
	})
}

// PullView is one card where the eye goes.
type PullView struct {
	plan.TrayCard
	Index  int // in the tray
	Pull   balance.Pull
	Strong float64 // pull as a share of the strongest, 0 to 1
	Words  string
}

// ProportionView is what the proportion stage shows.
type ProportionView struct {
	Fill   []int // for each part the index of its card in the tray, or −1
	Empty  int   // parts without a card
	Pulls  []PullView
	Notes  []note.Note
	Hidden []plan.HiddenNote // that the maker hid
	Warm   float64
	Cool   float64
	Grey   float64
	Extent []balance.Extent // shares beside those of equal force; nil when there is nothing to weigh
}

// Proportion works out the proportion stage; the plan must have a piece.
func Proportion(p *plan.Plan) ProportionView {
	v := ProportionView{Fill: p.Fill()}
	for i, at := range v.Fill {
		if at < 0 && !p.Piece.Covered(i) && !slices.Contains(p.Last, p.Piece.Parts[i].Key) {
			v.Empty++
		}
	}
	layout, labs := p.Layout(), p.Labs()
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
		v.Pulls = append(v.Pulls, PullView{TrayCard: p.Tray[pull.Part], Index: pull.Part, Pull: pull, Strong: strong, Words: pullWords(len(v.Pulls), strong)})
	}
	if len(v.Pulls) > 1 && v.Pulls[1].Strong*balance.FocusClear > 1 {
		v.Pulls[0].Words, v.Pulls[1].Words = "tied", "tied"
	}
	notes := append(append(pieceNotes(p), focusNotes(p, v.Pulls)...), balance.Notes(layout, p.Colours())...)
	if named(v.Pulls, p.Asked().Focus) >= 0 { // said beside what the brief wants
		notes = slices.DeleteFunc(notes, func(n note.Note) bool { return n.Kind() == "focus" })
	}
	notes = append(notes, balance.PairNotes(layout, p.Colours(), p.Eye())...)
	notes = append(notes, balance.Whole(layout, p.Colours(), asked(p, v.Pulls))...)
	notes = append(append(append(notes, farNotes(p)...), surfaceNotes(p)...), care(p)...)
	if graded(p) { // what else is wrong is meant in a run
		notes = slices.DeleteFunc(notes, func(n note.Note) bool { return slices.Contains(meantInRuns, n.Kind()) })
	}
	note.ByGrade(notes)
	notes = balance.Grouped(notes, layout, p.Colours())
	v.Notes = p.Visible(slices.Clone(notes))
	for _, n := range notes {
		if slices.Contains(p.Dismissed, n.ID) {
			v.Hidden = append(v.Hidden, plan.HiddenNote{Note: n, Remark: p.Remarks[n.ID]})
		}
	}
	t := balance.Temperatures(layout, p.Colours(), p.School())
	v.Extent = balance.Extension(layout, labs)
	v.Warm, v.Cool, v.Grey = t[wheel.Warm], t[wheel.Cool], t[wheel.Neutral]
	return v
}

// meantInRuns are the kinds of notes that a piece made from a run is not told.
var meantInRuns = []string{"soft", "temperature", "nofocus", "focus"}

// graded reports whether the piece is made from a run: its pattern is for one, and its parts rise or
// fall in value in their order.
func graded(p *plan.Plan) bool {
	t, err := craft.Pattern(p.Pattern)
	if err != nil || t.Run == "" {
		return false
	}
	var run []float64
	for i, at := range p.Fill() {
		if at < 0 || !strings.HasPrefix(p.Piece.Parts[i].Key, t.Run) {
			continue
		}
		run = append(run, p.Tray[at].Colour.L)
	}
	up := slices.IsSorted(run)
	slices.Reverse(run)
	return len(run) > 2 && (up || slices.IsSorted(run))
}

// Limits of the brief from which on a reading is what was asked for.
const (
	mutedAsked = 40.0 // clearness at most, of 100
	evenAsked  = 3.5  // value steps of contrast at most
)

// asked is what the brief asks of the whole piece.
func asked(p *plan.Plan, pulls []PullView) balance.Asked {
	limits := p.Asked().Limit()
	out := balance.Asked{Colours: p.Asked().Count, Focus: -1, School: p.School(), Muted: limits.ClearTo <= mutedAsked,
		Even: limits.ContrastTo <= evenAsked, One: p.OneTemperature()}
	if at := named(pulls, p.Asked().Focus); at >= 0 {
		out.Focus = pulls[at].Index
	}
	return out
}

func pullWords(rank int, strong float64) string {
	if strong < balance.RecedesBelow {
		return "background"
	}
	return words.Ordinal(rank + 1)
}
