package piece

import (
	"fmt"
	"math"
	"sync"

	"lampfern/core/pour"
)

var pouredTemplate = Template{"poured", "Poured soap", Soap, "a likeness of the bars of a loaf, by the parts of the batter and the way they are poured",
	[]Setting{choice("method", "poured", pour.Methods()...), mm("width", "bar width", 20, 200, 75), mm("height", "bar height", 20, 200, 95), whole("bars", "bars", 1, 24, 8), whole("fold", "folds", 0, 10, 5), whole("seed", "seed", 1, 9999, 1)}, poured}

// Shape of a loaf's drawing: cells across the face of a bar, and the gap between
// bars, in cells.
const (
	barCells  = 140
	barGap    = 8
	rowToHigh = 1.7 // bars in a row to rows of bars
)

func batterKey(c int) string { return fmt.Sprintf("batter%d", c+1) }

// UsualPours is the batter of a loaf that has none of its own.
func UsualPours() []pour.Pour {
	return []pour.Pour{{Colour: 0, Parts: 4, Place: .5}, {Colour: 1, Parts: 2, Place: .35}, {Colour: 2, Parts: 1, Place: .65}}
}

// poured is a part a colour of the batter, with its area in all bars together.
func poured(v map[string]float64, own Own) (Piece, error) {
	pours := own.Pours
	if pours == nil {
		pours = UsualPours()
	}
	if err := pour.Check(pours); err != nil {
		return Piece{}, err
	}
	var parts []Part
	var of [pour.MostColours]int16
	for c := range of {
		of[c] = -1
		for _, p := range pours {
			if p.Colour == c {
				of[c] = int16(len(parts))
				parts = append(parts, Part{batterKey(c), fmt.Sprintf("batter %c", 'A'+c)})
				break
			}
		}
	}
	bars := int(v["bars"])
	cell := v["width"] / barCells
	tall := max(8, int(v["height"]/cell+.5))
	across := min(bars, int(math.Ceil(math.Sqrt(rowToHigh*float64(bars)))))
	down := (bars + across - 1) / across
	p := newCells(Flat, across*(barCells+barGap)-barGap, down*(tall+barGap)-barGap, cell, v["height"]/float64(tall), parts)
	p.Cells.empty()
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
