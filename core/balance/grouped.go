package balance

import (
	"fmt"
	"slices"
	"strings"

	"lampfern/core/note"
	"lampfern/core/words"
)

// pairsNamed is how many pairs of a note about many are named.
const pairsNamed = 4

// gather says in one sentence what notes of one kind say of many pairs: how its words begin
// after the number, and what they end with.
type gather struct{ one, joint, begin, end string }

var gathered = map[string]gather{
	"lost": {"edges", "on", " disappear because the values are too close: ", "."},
	"soft": {"edges", "on", " will be soft: ", "."},
	"vibrates": {"edges", "on", " shimmer, strong opposites of the same value: ",
		". Make one lighter or darker, or add a line between them."},
	"confused": {"edges", "on", " look the same to some eyes: ", ". Make one lighter or darker."},
	"compete":  {"pairs", "with", " compete, both clear and of similar value and area: ", ". Give one far more room, or soften it."},
}

// Grouped makes one note of those of one kind about several pairs, in the place of the
// first. Its colours are those of its pairs in turn, so that the first two are the first
// pair; of cards too alike, all of them, the one with the least room first.
func Grouped(notes []note.Note, l Layout, cs []Colour) []note.Note {
	of := map[string][]note.Note{}
	for _, n := range notes {
		of[n.Kind()] = append(of[n.Kind()], n)
	}
	var out []note.Note
	for _, n := range notes {
		k := n.Kind()
		all := of[k]
		g, pairs := gathered[k]
		switch {
		case len(all) < 2 || !pairs && k != "alike":
			out = append(out, n)
		case all[0].ID != n.ID: // said with the first
		case k == "alike":
			out = append(out, alikes(all, l, cs))
		default:
			out = append(out, together(all, g, cs))
		}
	}
	return out
}

// together is one note for several pairs.
func together(all []note.Note, g gather, cs []Colour) note.Note {
	out := all[0]
	out.Cards = nil
	var named, ids []string
	for _, n := range all {
		ids = append(ids, strings.TrimPrefix(n.ID, n.Kind()+":"))
		out.Cards = append(out.Cards, n.Cards...)
		said := fmt.Sprintf("%s %s %s", cs[n.Cards[0]].Name, g.joint, cs[n.Cards[1]].Name)
		if n.Detail != "" {
			said += " (" + n.Detail + ")"
		}
		named = append(named, said)
	}
	if more := len(named) - pairsNamed; more > 1 {
		named = append(named[:pairsNamed], words.Count(more)+" more")
	}
	out.ID = note.ID(out.Kind(), ids...)
	out.About = words.Capital(words.Count(len(all))) + " " + g.one
	out.Words = g.begin + words.All(named) + g.end
	return out
}

// alikes is one note for cards that lie too near one another, by the groups in which each is
// too near another.
func alikes(all []note.Note, l Layout, cs []Colour) note.Note {
	group := make([]int, len(cs))
	for i := range group {
		group[i] = i
	}
	for _, n := range all {
		a, b := group[n.Cards[0]], group[n.Cards[1]]
		for i := range group {
			if group[i] == b {
				group[i] = a
			}
		}
	}
	var out note.Note
	var said, keys []string
	for g := range cs {
		var names []string
		for i := range cs {
			if group[i] != g {
				continue
			}
			names = append(names, cs[i].Name)
			if slices.ContainsFunc(all, func(n note.Note) bool { return slices.Contains(n.Cards, i) }) {
				out.Cards = append(out.Cards, i)
				keys = append(keys, cs[i].Key)
			}
		}
		if len(names) > 1 {
			said = append(said, words.All(names))
		}
	}
	l.leastFirst(out.Cards)
	out.ID, out.Grade, out.Aside = note.ID("alike", keys...), note.Consider, out.Cards[0]
	out.About = words.Capital(words.Count(len(out.Cards))) + " cards"
	out.Words = fmt.Sprintf(" will read as fewer colours (under ΔE %g): %s.", alikeApart, strings.Join(said, "; "))
	return out
}
