// Package note is what is said of a plan: one form for every room, with one scale of how grave it is.
// What finds something says it by kind, cards, parts and figures; the sentence is made with it and
// never read back.
package note

import (
	"fmt"
	"hash/fnv"
	"slices"
	"strings"
)

// Grade tells how a note is meant.
type Grade int

// The grades, the least grave first.
const (
	Fine Grade = iota
	Consider
	Fix
)

// String names the grade.
func (g Grade) String() string { return [...]string{"fine", "consider", "fix"}[g] }

// Shape is how a grade is drawn: a full, half or open disc.
func (g Grade) Shape() string { return [...]string{"open", "half", "full"}[g] }

// Note is one short sentence. About names what it starts with; Words goes on from there.
type Note struct {
	ID     string // kind and keys, the same while they stay the same; made by ID
	Grade  Grade
	About  string
	Words  string
	Cards  []int  // concerned, by their place in what was read; of pairs, pair after pair
	Parts  []int  // of the piece, by index
	Warm   bool   // of a temperature: all is warm, not cool
	Detail string // of a pair, in a few words, where it stands among others
	Aside  int    // the card that could be set aside to mend it, or −1
	Swap   []int  // two cards that could change places to mend it, or nil
	Offers []Offer
}

// Offer is a change that a note offers.
type Offer struct {
	Do, Label string
	See       string // the query of the page that shows it first; empty for none
}

// Kind is what the note is about, such as lost.
func (n Note) Kind() string {
	kind, _, _ := strings.Cut(n.ID, ":")
	return kind
}

// longest is how long the keys of an ID become before they are shortened.
const longest = 120

// Pair is the key of two of something, or of more, whichever comes first.
func Pair(keys ...string) string {
	return strings.Join(slices.Sorted(slices.Values(keys)), ":")
}

// ID is the ID of a note about keys, in whatever order they are given.
func ID(kind string, keys ...string) string {
	keys = slices.Sorted(slices.Values(keys))
	id := strings.Join(keys, ",")
	if len(id) > longest {
		sum := fnv.New64a()
		_, _ = sum.Write([]byte(id)) // which never fails
		id = fmt.Sprintf("%x", sum.Sum(nil))
	}
	return kind + ":" + id
}

// Sorted is an ID whose keys stand in the order that ID gives them; earlier programs kept them as
// they came.
func Sorted(id string) string {
	kind, rest, several := strings.Cut(id, ":")
	if !several {
		return id
	}
	keys := strings.Split(rest, ",")
	for i, k := range keys {
		if of := strings.Split(k, ":"); len(of) > 1 {
			slices.Sort(of)
			keys[i] = strings.Join(of, ":")
		}
	}
	return ID(kind, keys...)
}

// ByGrade sorts the gravest first; those of one grade stay as they are.
func ByGrade(all []Note) {
	slices.SortStableFunc(all, func(a, b Note) int { return int(b.Grade - a.Grade) })
}
