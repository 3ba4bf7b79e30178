// Package cards is the craft of making greeting cards: its pieces.
package cards

import "lampfern/core/piece"

// Craft is making cards.
func Craft() piece.Craft {
	return piece.Craft{Name: "cards", Kinds: []string{"paper", "marker or pencil", "notion"}, From: 3, To: 5,
		Care:     "Mind the blades. Use ventilation and a mask with airbrushes and spray glue.",
		Patterns: []piece.Pattern{scenePattern},
		Tones:    true, Asks: asks, Needs: needs, Work: work, Sitting: piece.CoveredFirst}
}
