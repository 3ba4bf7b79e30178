package soap

import (
	"fmt"
	"maps"
	"math"
	"sync"

	"lampfern/core/piece"
	"lampfern/core/pour"
)

var pouredPattern = piece.Pattern{Key: "poured", Name: "Poured soap",
	Words: "an impression of the bars of a loaf, from the parts of batter and how they are poured",
	Settings: []piece.Setting{piece.Choice("method", "poured", pour.Methods()...), piece.MM("width", "bar width", 20, 200, 75),
		piece.MM("height", "bar height", 20, 200, 95), piece.Whole("bars", "bars", 1, 24, 8), piece.Whole("fold", "folds", 0, 10, 5),
		piece.Whole("seed", "seed", 1, mostSeed, 1)},
	Input: func() piece.Input { return &Poured{} }, Make: piece.MakeWith(poured), Resize: piece.ResizeWith(repour),
	Bars: bars, Pours: trials}

const mostSeed = 9999

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
	cell, tall, across := laid(v)
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

// laid is the width of a cell in mm, how many cells a bar is high, and how many bars lie in
// a row.
func laid(v piece.Values) (cell float64, tall, across int) {
	cell = v["width"] / barCells
	return cell, max(8, int(v["height"]/cell+.5)), min(int(v["bars"]), int(math.Ceil(math.Sqrt(rowToHigh*v["bars"]))))
}

// bars are the shares of the batters in each bar.
func bars(p piece.Piece, v piece.Values) [][]float64 {
	_, tall, across := laid(v)
	var out [][]float64
	for bar := range int(v["bars"]) {
		share := make([]float64, len(p.Parts))
		x0, y0 := bar%across*(barCells+barGap), bar/across*(tall+barGap)
		for y := range tall {
			for _, part := range p.Cells.Part[(y0+y)*p.Cells.Across+x0:][:barCells] {
				if part >= 0 {
					share[part] += 1 / float64(tall*barCells)
				}
			}
		}
		out = append(out, share)
	}
	return out
}

// seedsTried is how many seeds of each way of pouring are compared.
const seedsTried = 3

// trials are every way of pouring, each with the seed in use and those after it.
func trials(v piece.Values) []piece.Trial {
	var out []piece.Trial
	for method, name := range pour.Methods() {
		for k := range seedsTried {
			set := maps.Clone(v)
			set["method"], set["seed"] = float64(method), v["seed"]+float64(k)
			if set["seed"] > mostSeed {
				set["seed"] -= mostSeed
			}
			out = append(out, piece.Trial{Name: fmt.Sprintf("%s, seed %g", name, set["seed"]), Set: set})
		}
	}
	return out
}
