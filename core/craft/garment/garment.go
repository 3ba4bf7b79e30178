// Package garment is the craft of sewing clothes: its pieces.
package garment

import "lampfern/core/piece"

// Craft is sewing clothes.
func Craft() piece.Craft {
	return piece.Craft{Name: "garment", Kinds: []string{"fabric", "thread", "notion", "pigment or dye"}, From: 3, To: 5,
		Care:     "Cutters and needles are sharp, and irons are hot. Use spray baste with ventilation and away from flames.",
		Patterns: []piece.Pattern{dressPattern, jacketPattern, waistcoatPattern},
		Stitched: true, Asks: asks, Lists: lists, Needs: needs, Work: work}
}
