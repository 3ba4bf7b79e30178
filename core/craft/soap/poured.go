package soap

import (
	"fmt"
	"math"
	"sync"

	"lampfern/core/piece"
	"lampfern/core/pour"
)

var pouredPattern = piece.Pattern{Key: "poured", Name: "Poured soap",
	Words:    "a likeness of the bars of a loaf, by the parts of the batter and the way they are poured",
	Settings: []piece.Setting{piece.Choice("method", "poured", pour.Methods()...), piece.MM("width", "bar width", 20, 200, 75), piece.MM("height", "bar height", 20, 200, 95), piece.Whole("bars", "bars", 1, 24, 8), piece.Whole("fold", "folds", 0, 10, 5), piece.Whole("seed", "seed", 1, 9999, 1)},
	Input:    func() piece.Input { return &Poured{} }, Make: piece.MakeWith(poured), Resize: piece.ResizeWith(repour)}

// Shape of a loaf's drawing: cells across the face of a bar, and the gap between
// bars, in cells.
const (
	barCells  = 140
	barGap    = 8
	rowToHigh = 1.7 // bars in a row to rows of bars
)

func batterKey(c int) string { return fmt.Sprintf("batter%d", c+1) }

// poured is a part a colour of the batter, with its area in all bars together.
func poured(v piece.Values, in *Poured) (piece.Piece, error) {
	pours := in.pours()
	var parts []piece.Part
	var of [pour.MostColours]int16
	for c := range of {
		of[c] = -1
		for _, p := range pours {
			if p.Colour == c {
				of[c] = int16(len(parts))
				parts = append(parts, piece.Named(batterKey(c), fmt.Sprintf("batter %c", 'A'+c)))
				break
			}
		}
	}
	bars := int(v["bars"])
	cell := v["width"] / barCells
	tall := max(8, int(v["height"]/cell+.5))
	across := min(bars, int(math.Ceil(math.Sqrt(rowToHigh*float64(bars)))))
	down := (bars + across - 1) / across
	p := piece.OfCells(piece.Flat, across*(barCells+barGap)-barGap, down*(tall+barGap)-barGap, cell, v["height"]/float64(tall), parts)
	p.Cells.Empty()
	var wait sync.WaitGroup
	for bar := range bars {
		wait.Go(func() {
			face := pour.Face(pour.Method(v["method"]), pours, uint64(v["seed"]), v["fold"]/10, bar, bars, barCells, tall)
			x0, y0 := bar%across*(barCells+barGap), bar/across*(tall+barGap)
			for i, c := range face {
				p.Cells.Part[(y0+i/barCells)*p.Cells.Across+x0+i%barCells] = of[c]
			}
		})
	}
	wait.Wait()
	return p, nil
}
