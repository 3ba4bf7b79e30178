// Package building is the craft of building from ready-made parts: its pieces.
package building

import "lampfern/core/piece"

// Craft is building from parts.
func Craft() piece.Craft {
	return piece.Craft{Name: "building parts", Kinds: []string{"building part"}, From: 3, To: 5,
		Patterns: []piece.Pattern{housePattern},
		Asks:     asks, Lists: lists, Needs: needs, Work: work}
}
