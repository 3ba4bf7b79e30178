package together

import (
	"context"
	"fmt"
	"slices"

	"lampfern/core/balance"
	"lampfern/core/words"
	"lampfern/plan"
)

// Fewer is the set in fewer colours.
type Fewer struct {
	balance.Few
	N     int
	Words []string // what is kept and what is lost
	Gone  []string // names of the cards that go
}

// sizes are the numbers of cards that a set is tried with.
var sizes = []int{5, 4, 3, 2}

// InFewer tries the set with five, four, three and two of its cards. It may take a moment; ctx ends
// it early with what was found.
func InFewer(ctx context.Context, p *plan.Plan, pieces []plan.Whole) (out []Fewer) {
	for _, n := range sizes {
		few, ok := fewer(ctx, p, pieces, n)
		if ok {
			said, gone := fewWords(p, pieces, few)
			out = append(out, Fewer{few, n, said, gone})
		}
	}
	return out
}

func fewer(ctx context.Context, p *plan.Plan, pieces []plan.Whole, n int) (balance.Few, bool) {
	var set []balance.Coloured
	for _, w := range pieces {
		pc := w.Plan.Piece
		set = append(set, balance.Coloured{Layout: pc.Layout(), Fill: w.Plan.Fill(),
			Times: w.Made()})
	}
	var must []int
	for i, t := range p.Tray {
		if !t.Movable() {
			must = append(must, i)
		}
	}
	return balance.Fewer(set, p.Labs(), n, must, func() bool { return ctx.Err() != nil })
}

// namedAtMost is how many lost edges, and parts, are named.
const namedAtMost = 3

func fewWords(p *plan.Plan, pieces []plan.Whole, few balance.Few) (said, gone []string) {
	var keep []string
	used := map[int]bool{}
	for _, w := range pieces {
		for _, at := range w.Plan.Fill() {
			if at >= 0 {
				used[at] = true
			}
		}
	}
	for i, t := range p.Tray {
		switch {
		case slices.Contains(few.Cards, i):
			keep = append(keep, t.Name)
		case used[i]:
			gone = append(gone, t.Name)
		}
	}
	out := []string{fmt.Sprintf("Keeps %s, without %s.", words.All(keep), words.All(gone))}
	switch {
	case len(few.Edges) == 0:
		out = append(out, "Every edge still shows.")
	default:
		var named []string
		for _, e := range few.Edges[:min(len(few.Edges), namedAtMost)] {
			pc := pieces[e.Piece].Plan.Piece
			named = append(named, fmt.Sprintf("%s on %s (%s)", pc.Parts[e.A].Name, pc.Parts[e.B].Name, pieces[e.Piece].Name))
		}
		if more := len(few.Edges) - namedAtMost; more > 0 {
			named = append(named, words.Count(more)+" more")
		}
		out = append(out, fmt.Sprintf("%s: %s.", words.Capital(words.Plural(len(few.Edges), "edge disappears", "edges disappear")),
			words.All(named)))
	}
	if lost := vanished(pieces, few); len(lost) > 0 {
		shown := lost[:min(len(lost), namedAtMost)]
		if more := len(lost) - len(shown); more > 0 {
			shown = append(slices.Clone(shown), words.Count(more)+" more")
		}
		out = append(out, fmt.Sprintf("%s into its surroundings: %s.", words.Capital(words.Plural(len(lost), "part vanishes", "parts vanish")),
			words.All(shown)))
	}
	for _, i := range few.Focus[:min(len(few.Focus), namedAtMost)] {
		if was, now := firstOf(p, pieces[i], pieces[i].Plan.Fill()), firstOf(p, pieces[i], few.Fill[i]); was != now {
			out = append(out, fmt.Sprintf("In %s the eye now goes to the %[3]s instead of the %[2]s.", pieces[i].Name, was, now))
		} else {
			out = append(out, fmt.Sprintf("In %s the %s barely %s out now.", pieces[i].Name, was, words.Agree(was, "stands", "stand")))
		}
	}
	if more := len(few.Focus) - namedAtMost; more > 0 {
		out = append(out, fmt.Sprintf("The focal point moves in %s.", words.Plural(more, "more piece", "more pieces")))
	}
	if len(few.Focus) == 0 {
		leads := slices.ContainsFunc(pieces, func(w plan.Whole) bool {
			pulls := balance.FirstLook(w.Plan.Layout(), w.Plan.Labs())
			return len(pulls) > 1 && pulls[1].Pull > 0 && pulls[0].Pull >= balance.FocusClear*pulls[1].Pull
		})
		out = append(out, map[bool]string{true: "The focal point stays.", false: "Nothing stands out, as before."}[leads])
	}
	return append(out, fmt.Sprintf("Overall change: ΔE %.0f.", few.Moved)), gone
}

// vanished are the parts of which every edge that was seen is lost, each with its piece.
func vanished(pieces []plan.Whole, few balance.Few) (out []string) {
	for i, w := range pieces {
		pc := w.Plan.Piece
		lost := map[[2]int]bool{}
		for _, e := range few.Edges {
			if e.Piece == i {
				lost[[2]int{e.A, e.B}], lost[[2]int{e.B, e.A}] = true, true
			}
		}
		for a, part := range pc.Parts {
			any, left := false, false
			for b, length := range pc.Borders[a] {
				if length <= 0 || few.Fill[i][a] < 0 || few.Fill[i][b] < 0 {
					continue
				}
				if lost[[2]int{a, b}] {
					any = true
				} else if few.Fill[i][a] != few.Fill[i][b] {
					left = true
				}
			}
			if any && !left {
				out = append(out, fmt.Sprintf("%s (%s)", part.Name, w.Name))
			}
		}
	}
	return out
}

// firstOf names the parts of a piece that the eye finds first in a colouring of it.
func firstOf(p *plan.Plan, w plan.Whole, fill []int) string {
	pc := w.Plan.Piece
	l := pc.Layout().Merge(fill, len(p.Tray))
	first := -1
	for _, pull := range balance.FirstLook(l, w.Plan.Labs()) {
		if l.Share[pull.Part] > 0 {
			first = pull.Part
			break
		}
	}
	var on []string
	for i, at := range fill {
		if at == first && first >= 0 {
			on = append(on, pc.Parts[i].Name)
		}
	}
	return words.List(on)
}

// MostFewer is among how many cards in use fewer are looked for.
const MostFewer = balance.MostFewer

// InUse is how many cards the pieces use.
func InUse(pieces []plan.Whole) int {
	used := map[int]bool{}
	for _, w := range pieces {
		for _, at := range w.Plan.Fill() {
			if at >= 0 {
				used[at] = true
			}
		}
	}
	return len(used)
}

// OneLess is the set without the card that it would miss least; ok is false where there is none.
func OneLess(ctx context.Context, p *plan.Plan, pieces []plan.Whole) (out Fewer, ok bool) {
	n := InUse(pieces) - 1
	few, ok := fewer(ctx, p, pieces, n)
	if !ok {
		return Fewer{}, false
	}
	said, gone := fewWords(p, pieces, few)
	return Fewer{few, n, said, gone}, true
}

// of is what an edit makes of the set in n cards: for each piece that is not left out, by its key,
// which part takes which card.
func of(d *plan.Draft, n int) (cards []string, fills map[int]map[string]int, err error) {
	p, err := d.View()
	if err != nil {
		return nil, nil, err
	}
	pieces, err := d.Desk.Set(p)
	if err != nil {
		return nil, nil, err
	}
	if InUse(pieces) > MostFewer {
		return nil, nil,
			words.Refuse("The set uses more than %d cards. Give some parts the same card first.", MostFewer)
	}
	few, ok := fewer(d.Ctx, p, pieces, n)
	if !ok {
		return nil, nil, words.Refuse("The set uses only %s, so it cannot have fewer.",
			words.Plural(n, "card", "cards"))
	}
	fills = map[int]map[string]int{}
	for i, w := range pieces {
		fills[w.Key] = map[string]int{}
		for part, at := range few.Fill[i] {
			if at >= 0 {
				fills[w.Key][w.Plan.Piece.Parts[part].Key] = p.Tray[at].Key
			}
		}
	}
	for _, at := range few.Cards {
		cards = append(cards, p.Tray[at].Name)
	}
	return cards, fills, nil
}

// TakeFewer colours every piece of the set with so many cards.
type TakeFewer struct {
	N int `form:"n"`
}

func (e TakeFewer) Do(d *plan.Draft) (string, error) {
	cards, fills, err := of(d, e.N)
	if err != nil {
		return "", err
	}
	d.Recolour(fills)
	return "colour the set with " + words.All(cards), nil
}

// KeepFewer keeps the set in so many cards as a colourway of the set.
type KeepFewer struct {
	N int `form:"n"`
}

func (e KeepFewer) Do(d *plan.Draft) (string, error) {
	_, fills, err := of(d, e.N)
	if err != nil {
		return "", err
	}
	return "save the set in " + words.Plural(e.N, "card", "cards"), d.KeepSet("In "+words.Plural(e.N, "card", "cards"), fills)
}

// KeepSet keeps the set as it is coloured now as a colourway of the set.
type KeepSet struct {
	Name string `form:"name,optional"`
}

func (e KeepSet) Do(d *plan.Draft) (string, error) {
	p, err := d.View()
	if err != nil {
		return "", err
	}
	pieces, err := d.Desk.Set(p)
	if err != nil {
		return "", err
	}
	whole, any := map[int]map[string]int{}, false
	for _, w := range pieces {
		whole[w.Key] = map[string]int{}
		for _, f := range w.Plan.Fills {
			whole[w.Key][f.Part] = f.EntryKey
			any = true
		}
	}
	if !any {
		return "", words.Refuse("Colour a piece of the set first.")
	}
	if err := d.KeepSet(e.Name, whole); err != nil {
		return "", err
	}
	return "save the colourway " + d.Plan.Colourways[len(d.Plan.Colourways)-1].Name, nil
}
