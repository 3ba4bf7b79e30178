package building

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"

	"lampfern/core/piece"
)

// asks are what a front of parts cannot know.
var asks = []piece.Setting{
	{Key: "spares", Name: "spares", Unit: "%", Min: 0, Max: 100, Default: 5},
}

// needs are the parts of each card by their size, as the courses are laid.
func needs(m piece.Making) []piece.Need {
	type size struct{ w, h float64 }
	counts := make([]map[size]int, len(m.Cards))
	for _, r := range m.Piece.Regions {
		card := m.Of[r.Part]
		if card < 0 {
			continue
		}
		if counts[card] == nil {
			counts[card] = map[size]int{}
		}
		w, h := r.Boxed()
		counts[card][size{math.Round(10*w) / 10, math.Round(10*h) / 10}]++
	}
	var out []piece.Need
	for card, c := range m.Cards {
		n := piece.Need{Card: card, Kind: "building part"}
		var parts []any
		for _, s := range slices.SortedFunc(maps.Keys(counts[card]), func(a, b size) int { return cmp.Or(cmp.Compare(b.w, a.w), cmp.Compare(b.h, a.h)) }) {
			parts = append(parts, piece.Given("part", fmt.Sprintf("%g × %g mm", s.w, s.h), "colour", c.Name, "qty", counts[card][s]))
		}
		if len(parts) > 0 {
			if res, ok := n.Work("brick.parts", piece.Given("parts", parts, "copies", m.Times, "spares_pct", m.Asked["spares"])); ok {
				n.Amount = res.Rounded["buy_by_colour"].(map[string]float64)[c.Name]
			}
		}
		out = append(out, n)
	}
	return out
}
