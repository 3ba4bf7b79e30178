// Package quilt is the craft of quilting: its pieces.
package quilt

import "lampfern/core/piece"

// Craft is quilting.
func Craft() piece.Craft {
	return piece.Craft{Name: "quilt", Kinds: []string{"fabric", "thread", "notion"}, From: 3, To: 7,
		Care:     "Rotary cutters are sharp: close them between cuts. Irons are hot, and spray baste wants air and no flame.",
		Patterns: []piece.Pattern{curtainPattern, stripsPattern, ninePatchPattern, trianglesPattern, geesePattern, logCabinPattern, starPattern},
		Asks:     asks, Needs: needs, Work: work}
}
