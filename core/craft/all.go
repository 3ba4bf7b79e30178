// Package craft lists the crafts. Each is a package of its own below this one, with
// its pieces, what makers put into them, and what they should know of them; the
// types lie in piece.
package craft

import (
	"fmt"

	"lampfern/core/craft/building"
	"lampfern/core/craft/cards"
	"lampfern/core/craft/garment"
	"lampfern/core/craft/models"
	"lampfern/core/craft/other"
	"lampfern/core/craft/printed"
	"lampfern/core/craft/quilt"
	"lampfern/core/craft/soap"
	"lampfern/core/craft/weaving"
	"lampfern/core/craft/yarn"
	"lampfern/core/piece"
)

// All are the crafts, in the order of the gallery; the first is the usual one.
func All() []piece.Craft {
	return []piece.Craft{
		quilt.Craft(),
		yarn.Craft(),
		weaving.Craft(),
		garment.Craft(),
		soap.Craft(),
		models.Craft(),
		building.Craft(),
		printed.Craft(),
		cards.Craft(),
		other.Craft(),
	}
}

// Names are the names of the crafts, in that order.
func Names() []string {
	var out []string
	for _, c := range All() {
		out = append(out, c.Name)
	}
	return out
}

// Named is the craft of a name; false when there is none.
func Named(name string) (piece.Craft, bool) {
	for _, c := range All() {
		if c.Name == name {
			return c, true
		}
	}
	return piece.Craft{}, false
}

// Reckoning is the craft whose rules tell how much a piece takes: the plan's own, that of its pattern
// where the piece is of kinds of its own, or, where these do not know the piece, the one that goes by
// areas.
func Reckoning(name, pattern string, ownKinds bool) piece.Craft {
	of, _ := Named(name)
	if ownKinds && !of.Owns(pattern) {
		for _, c := range All() {
			if c.Owns(pattern) {
				of = c
			}
		}
	}
	if of.OwnOnly && !of.Owns(pattern) || of.Needs == nil {
		of, _ = Named("other")
	}
	return of
}

// Patterns are the patterns of all crafts.
func Patterns() []piece.Pattern {
	var out []piece.Pattern
	for _, c := range All() {
		out = append(out, c.Patterns...)
	}
	return out
}

// Pattern is the pattern of a key.
func Pattern(key string) (piece.Pattern, error) {
	for _, t := range Patterns() {
		if t.Key == key {
			return t, nil
		}
	}
	return piece.Pattern{}, fmt.Errorf("there is no piece called %q", key)
}
