package brief

import (
	"slices"
	"strings"

	"lampfern/core/colour"
)

// Taste is what a maker says to like and to dislike, in words. Of those, the families, the
// words of clearness and value, warm and cool are understood.
type Taste struct {
	Like    string `json:"like,omitempty"`
	Dislike string `json:"dislike,omitempty"`
}

// Odds of what is liked and disliked, beside 1.
const (
	likedOdds    = 2.5
	dislikedOdds = 0.15
)

// understood are the words of a text that say something of a colour.
func understood(text string) []string {
	var out []string
	for _, w := range strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !(r >= 'a' && r <= 'z' || r == '-') }) {
		if w = strings.TrimSuffix(w, "s"); w == "gray" {
			w = "grey"
		}
		if meant(w) != nil && !slices.Contains(out, w) {
			out = append(out, w)
		}
	}
	return out
}

// meant is what a word means of a colour, nil for a word that means nothing here.
func meant(word string) func(c Card) bool {
	if slices.Contains(colour.Families(), colour.FamilyName(word)) {
		return func(c Card) bool { return string(c.Family) == word }
	}
	switch word {
	case "clear", "bright":
		return func(c Card) bool { return c.Clearness >= colour.ClearFrom }
	case "soft":
		return func(c Card) bool { return !c.Neutral && colour.ClearnessWord(c.Clearness) == "soft" }
	case "greyed", "muted", "dull":
		return func(c Card) bool { return !c.Neutral && colour.ClearnessWord(c.Clearness) == "muted" }
	case "dark":
		return func(c Card) bool { return c.Lab.L < darkBelow }
	case "light", "pale":
		return func(c Card) bool { return c.Lab.L > lightAbove }
	case "neutral":
		return func(c Card) bool { return c.Neutral }
	}
	return nil
}

// Where dark and light begin, in L*.
const (
	darkBelow  = 40.0
	lightAbove = 70.0
)

// Reading is one word of a taste and how many of some cards it speaks of.
type Reading struct {
	Word  string
	Liked bool
	Cards int
}

// Read tells which words of a taste are understood, and of how many cards each speaks.
func (t Taste) Read(cards []Card) []Reading {
	var out []Reading
	for _, side := range []struct {
		text  string
		liked bool
	}{{t.Like, true}, {t.Dislike, false}} {
		for _, w := range understood(side.text) {
			r := Reading{Word: w, Liked: side.liked}
			for _, c := range cards {
				if meant(w)(c) {
					r.Cards++
				}
			}
			out = append(out, r)
		}
	}
	return out
}

// odds is what the taste makes of a card beside another.
func (t Taste) odds() func(c Card) float64 {
	like, dislike := understood(t.Like), understood(t.Dislike)
	return func(c Card) float64 {
		o := 1.0
		for _, w := range like {
			if meant(w)(c) {
				o *= likedOdds
			}
		}
		for _, w := range dislike {
			if meant(w)(c) {
				o *= dislikedOdds
			}
		}
		return o
	}
}
