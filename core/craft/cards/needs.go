package cards

import (
	"fmt"
	"math"

	"lampfern/core/piece"
	"lampfern/core/quantity"
)

// asks are what a card cannot know.
var asks = []piece.Setting{
	{Key: "sheet_w", Name: "sheet width", Unit: "mm", Min: 10, Max: 3000, Default: 210},
	{Key: "sheet_h", Name: "sheet height", Unit: "mm", Min: 10, Max: 3000, Default: 297},
	piece.Choice("base", "card base", "none", "folded, of its own paper", "flat, of its own paper").In("Card base"),
	{Key: "gap", Name: "gap between pieces", Unit: "mm", Min: 0, Max: 50, Default: 3},
	{Key: "spoil", Name: "extra for mistakes", Unit: "%", Min: 0, Max: 100, Default: 5},
	{Key: "coats", Name: "marker coats", Min: 1, Max: 20, Default: 1, Whole: true, Row: marker},
	{Key: "cover", Name: "one marker covers", Unit: "cm²", Min: 1, Max: 1e7, Default: 5000, Row: marker},
}

// marker is the kind that is coloured with, not cut.
const marker = "marker or pencil"

// needs are the sheets that each card is cut of, the markers that it is coloured with,
// and the envelopes.
func needs(m piece.Making) []piece.Need {
	areas := m.AreasOf()
	var out []piece.Need
	for card, c := range m.Cards {
		n := piece.Need{Card: card, Kind: "paper"}
		if c.Kind == marker {
			n.Kind = marker
			if res, ok := piece.Work(&n, quantity.Markers, quantity.MarkersIn{Area: areas[card] / 100 * float64(m.Times),
				Coats: new(m.Asked["coats"]), Coverage: new(m.Asked["cover"])}); ok {
				n.Amount = res.Exact.Markers
				n.Allow(10)
			}
			out = append(out, n)
			continue
		}
		var pieces []quantity.SheetPiece
		counts := map[[2]float64]int{}
		var sizes [][2]float64
		for _, r := range m.Piece.Cutouts() {
			if m.Of[r.Part] == card {
				w, h := r.Boxed()
				size := [2]float64{math.Ceil(w - 1e-6), math.Ceil(h - 1e-6)}
				if counts[size] == 0 {
					sizes = append(sizes, size)
				}
				counts[size] += m.Times
			}
		}
		for _, s := range sizes {
			pieces = append(pieces, quantity.SheetPiece{W: s[0], H: s[1], Count: float64(counts[s])})
		}
		if len(pieces) > 0 {
			sheets(&n, m, pieces)
		}
		out = append(out, n)
	}
	if base := m.Asked["base"]; base > 0 {
		out = append(out, baseOf(m, base == 1))
	}
	if tape := tapeOf(m); tape.Amount > 0 {
		out = append(out, tape)
	}
	return append(out, piece.Need{Card: -1, Name: "Envelopes", Kind: "notion", Amount: float64(m.Times), Working: []string{"one per card"}})
}

// sheets are the sheets that pieces are cut of.
func sheets(n *piece.Need, m piece.Making, pieces []quantity.SheetPiece) {
	if res, ok := piece.Work(n, quantity.Sheets, quantity.SheetsIn{SheetW: new(m.Asked["sheet_w"]), SheetH: new(m.Asked["sheet_h"]),
		Gutter:   m.Asked["gap"],
		SpoilPct: new(m.Asked["spoil"]), Pieces: pieces}); ok {
		n.Amount = res.Rounded.Sheets
	}
}

// tapeRoll is the length of a roll of double-sided tape in m.
const tapeRoll = 10.0

// tapeOf is the tape that cut pieces are stuck on with: round the outline of each.
func tapeOf(m piece.Making) piece.Need {
	n := piece.Need{Card: -1, Name: "Double-sided tape", Kind: "notion"}
	long := 0.0
	for _, c := range m.Piece.Cutouts() {
		if card := m.Of[c.Part]; card >= 0 && m.Cards[card].Kind != marker {
			long += c.Round() / 1000 * float64(m.Times)
		}
	}
	n.Amount = long / tapeRoll
	n.Working = []string{fmt.Sprintf("round the outline of every cut piece: %.3g m, from rolls of %g m", long, tapeRoll)}
	return n
}

// baseOf is the paper of what the scene is laid on.
func baseOf(m piece.Making, folded bool) piece.Need {
	n := piece.Need{Card: -1, Name: "Card base", Kind: "paper"}
	res, ok := piece.Work(&n, quantity.CardLayers, quantity.CardLayersIn{CardW: math.Max(10, m.Piece.Width),
		CardH: math.Max(10, m.Piece.Height),
		Count: float64(m.Times), Layers: []string{"base"}, Folded: &folded})
	if ok {
		cut := res.Rounded.Pieces[0]
		sheets(&n, m, []quantity.SheetPiece{{W: cut.W, H: cut.H, Count: cut.Count}})
	}
	return n
}
