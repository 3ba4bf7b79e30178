package plan

import (
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/piece"
	"lampfern/core/words"
)

// mostPartName is how long the name of a part may be, in characters.
const mostPartName = 40

// PartNamed finds the part of a name among parts that the maker named, capitals
// aside, and adds one where there is none.
func PartNamed(parts []piece.Part, name string) (all []piece.Part, at int, err error) {
	name = strings.Join(strings.Fields(name), " ")
	if name == "" || utf8.RuneCountInString(name) > mostPartName {
		return nil, 0, words.Refuse("Name the part of this outline, such as leaf, in at most %d characters.", mostPartName)
	}
	if at := slices.IndexFunc(parts, func(p piece.Part) bool { return strings.EqualFold(p.Name, name) }); at >= 0 {
		return parts, at, nil
	}
	return AddPart(parts, name), len(parts), nil
}

// AddPart adds a part of a name under a key of its own.
func AddPart(parts []piece.Part, name string) []piece.Part {
	n := 1
	for slices.ContainsFunc(parts, func(p piece.Part) bool { return p.Key == fmt.Sprintf("part%d", n) }) {
		n++
	}
	return append(parts, piece.Part{Key: fmt.Sprintf("part%d", n), Name: name})
}

// UsedParts leaves out the parts in which nothing lies; of is the part of each
// thing, and is numbered anew.
func UsedParts(parts []piece.Part, of []int) []piece.Part {
	for at := len(parts) - 1; at >= 0; at-- {
		if slices.Contains(of, at) {
			continue
		}
		parts = slices.Delete(parts, at, at+1)
		for i := range of {
			if of[i] > at {
				of[i]--
			}
		}
	}
	return parts
}
