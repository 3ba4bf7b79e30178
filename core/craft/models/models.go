// Package models is the craft of painting models: its pieces.
package models

import "lampfern/core/piece"

// Craft is painting models.
func Craft() piece.Craft {
	return piece.Craft{Name: "painted models", Kinds: []string{"paint", "pigment or dye"}, From: 3, To: 7,
		Care:     "Mind the blades. Sand resin, putty and plastic wet, and wear a mask.",
		Patterns: []piece.Pattern{boatPattern, figurePattern, vanPattern},
		Tones:    true, Asks: asks, Needs: needs, Work: work, Sitting: piece.InsideOut,
		Inside: []string{"skin", "hair", "tunic", "trousers", "boots", "belt", "cloak", "hat", "staff", "base"}}
}
