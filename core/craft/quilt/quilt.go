// Package quilt is the craft of quilting: its pieces.
package quilt

import (
	"math"

	"lampfern/core/piece"
)

// Craft is quilting.
func Craft() piece.Craft {
	return piece.Craft{Name: "quilt", Kinds: []string{"fabric", "thread", "notion"}, From: 3, To: 7,
		Care:     "Rotary cutters are sharp: close them between cuts. Irons are hot. Use spray baste with ventilation and away from flames.",
		Patterns: []piece.Pattern{curtainPattern, stripsPattern, ninePatchPattern, trianglesPattern, geesePattern, logCabinPattern, starPattern},
		Asks:     asks, Needs: needs, Work: work}
}

// quiltingLines is how many lines of quilting cross the longer side.
const quiltingLines = 9

// sewn is a quilt with its seams, and with quilting in lines aslant over all of it.
func sewn(build func(v piece.Values) piece.Piece) func(v piece.Values) piece.Piece {
	return func(v piece.Values) piece.Piece {
		p := build(v)
		p.Lines = p.Seams()
		w, h := p.Width, p.Height
		apart := math.Max(w, h) / quiltingLines
		for c := apart / 2; c < w+h; c += apart { // where x + y is c
			p.Lines = append(p.Lines, piece.Line{Through: []piece.Point{piece.At(min(c, w), max(0, c-w)), piece.At(max(0, c-h), min(c, h))}, Dashed: true})
		}
		return p
	}
}
