package proportion

import (
	"lampfern/core/balance"
	"lampfern/core/words"
	"lampfern/plan"
)

// Reads says in a few words what a colouring of the piece does, and how many of its parts have no
// card. fill is the card of each part by its number in tray, −1 for none.
func Reads(p *plan.Plan, tray []plan.TrayCard, fill []int) string {
	empty := 0
	for _, at := range fill {
		if at < 0 {
			empty++
		}
	}
	said := ""
	if empty > 0 {
		said = words.Capital(words.Count(empty)) + " " + map[bool]string{true: "part has", false: "parts have"}[empty == 1] + " no colour. "
	}
	return said + p.Reads(tray, LayoutOf(p, fill, len(tray)))
}

// LayoutOf is the layout of so many cards in a colouring of the piece.
func LayoutOf(p *plan.Plan, fill []int, cards int) balance.Layout {
	return p.Piece.Layout().Merge(fill, cards)
}
