// Package weaving is the craft of weaving: its cloth, thread by thread, and what a
// weaver puts into it.
package weaving

import (
	"fmt"

	"lampfern/core/note"
	"lampfern/core/piece"
	"lampfern/core/weave"
)

// Craft is weaving.
func Craft() piece.Craft {
	return piece.Craft{Name: "weaving", Kinds: []string{"yarn", "thread", "pigment or dye"}, From: 2, To: 4,
		Patterns: []piece.Pattern{clothPattern}, Together: together, Asks: asks, Needs: needs, Work: work, Sitting: piece.LintFirst, Fit: fit,
		OwnOnly: true}
}

// together are the weaves with the first thread as warp, that of the cloth first.
func together(in piece.Input, v piece.Values) []piece.Together {
	var out []piece.Together
	for _, s := range weave.Structures() {
		out = append(out, piece.Together{Key: s.Key, Name: s.Name, Share: s.WarpShare()})
	}
	cloth, is := in.(*Cloth)
	if !is {
		return out
	}
	if cloth.Draft != nil {
		out = append(out, piece.Together{Key: "own", Name: "your own draft", Share: cloth.Draft.WarpShare()})
	}
	if at := int(v["structure"]); at < len(out) {
		out[0], out[at] = out[at], out[0]
	}
	return out
}

// Cloth is what a weaver puts into a cloth: the order of its threads, and a draft.
type Cloth struct {
	Warp  []weave.Stripe `json:"warp,omitempty"`
	Weft  []weave.Stripe `json:"weft,omitempty"`
	Draft *weave.Draft   `json:"draft,omitempty"`
}

func (in *Cloth) Check() error {
	for _, order := range [][]weave.Stripe{in.Warp, in.Weft} {
		if order != nil {
			if err := weave.CheckOrder(order); err != nil {
				return err
			}
		}
	}
	if in.Draft != nil {
		return in.Draft.Check()
	}
	return nil
}

// Orders are the orders of the threads, the usual ones where none was put in.
func (in *Cloth) Orders() (warp, weft []weave.Stripe) {
	warp = []weave.Stripe{{Yarn: 0, Threads: 16}, {Yarn: 1, Threads: 6}, {Yarn: 2, Threads: 2}, {Yarn: 1, Threads: 6}}
	weft = []weave.Stripe{{Yarn: 0, Threads: 40}, {Yarn: 3, Threads: 4}}
	if in.Warp != nil {
		warp = in.Warp
	}
	if in.Weft != nil {
		weft = in.Weft
	}
	return warp, weft
}

// OwnDraft is the value of the setting "structure" that stands for the weaver's own
// draft.
func OwnDraft() float64 { return float64(len(weave.Structures())) }

// Drafted is the draft in use with a structure, by the value of that setting.
func (in *Cloth) Drafted(structure float64) weave.Draft {
	all := weave.Structures()
	switch at := int(structure); {
	case at < len(all):
		return all[at].Draft
	case in.Draft != nil:
		return *in.Draft
	}
	return all[0].Draft
}

// restripe scales the stripes of some yarns, warp and weft alike.
func restripe(v piece.Values, in *Cloth, of func(part string) bool, want float64) (piece.Resized, bool) {
	yarns, any := piece.YarnsOf(of, piece.YarnKey)
	if !any {
		return piece.Resized{}, false
	}
	warp, weft := in.Orders()
	return piece.Restripe(func(scale float64) (piece.Piece, piece.Resized, error) {
		then := *in
		then.Warp, then.Weft = weave.Scaled(warp, yarns, scale), weave.Scaled(weft, yarns, scale)
		p, err := cloth(v, &then)
		return p, piece.Resized{Input: &then, Words: fmt.Sprintf("warp %s, weft %s", weave.OrderText(then.Warp), weave.OrderText(then.Weft))}, err
	}, of, want)
}

// longestFloat is the float from which threads catch, in threads.
const longestFloat = 5

// floats warns of threads that float too far.
func floats(_ piece.Piece, v piece.Values, in *Cloth) []note.Note {
	var out []note.Note
	float := in.Drafted(v["structure"]).Floats()
	for _, f := range []struct {
		n             int
		id, one, over string
	}{{float.Warp, "warpfloat", "A thread of the warp", "picks"}, {float.Weft, "weftfloat", "A thread of the weft", "ends"}} {
		switch {
		case f.n < 0:
			out = append(out, note.Note{ID: f.id, Grade: note.Fix, About: f.one,
				Words: " is never tied down and would be loose. Mark it in the draft so that it goes over and under."})
		case f.n > longestFloat:
			out = append(out, note.Note{ID: f.id, Grade: note.Consider, About: f.one,
				Words: fmt.Sprintf(" floats over %d %s: it will catch and wear. Tie it down sooner, or set the threads closer.", f.n, f.over)})
		}
	}
	return out
}
