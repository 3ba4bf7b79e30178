package yarn

import (
	"math"

	"lampfern/core/piece"
)

// work is the order of work of something knitted, by its stitches.
func work(m piece.Making) []piece.Task {
	stitches, changes, each := 0.0, 0.0, piece.Spread{Usual: .04, Least: .025, Most: .083}
	switch in := m.Input.(type) {
	case *Rows:
		order := in.Rows
		if order == nil {
			order = RowOrder(m.Values)
		}
		for _, s := range order {
			stitches += float64(s.Threads) * m.Values["stitches"] * m.Values["repeats"]
		}
		if m.Asked["ends"] == 0 {
			changes = float64(len(order)) * m.Values["repeats"]
		}
	case *Stranded:
		chart := in.Stitches()
		for _, row := range chart {
			stitches += float64(len(row)) * m.Values["across"] * m.Values["up"]
		}
		changes = float64(len(m.Cards))
		each = piece.Spread{Usual: each.Usual * 1.4, Least: each.Least * 1.4, Most: each.Most * 1.4}
	default: // by its area, a jumper's on both sides
		if stitches = m.Piece.Area() / (usualStitch * usualRow); m.Piece.Pattern == jumperPattern.Key {
			stitches *= jumperSides
		}
		changes = float64(len(m.Piece.Regions))
		each = piece.Spread{Usual: 4.0 / 60, Least: 2.5 / 60, Most: 8.0 / 60}
	}
	times := float64(m.Times)
	return []piece.Task{
		piece.Do("swatch", "Swatch, washed and measured", piece.There).Takes(90, 45, 150).Waits("dry", 1*piece.Days, .5*piece.Days, 2*piece.Days),
		piece.Do("work", "Knit or crochet", "swatch", piece.Agreed).Takes(each.Usual, each.Least, each.Most).For(stitches*times, "stitches"),
		piece.Do("ends", "Weave in the ends", "work").Takes(2, 1, 4).For(2*times*math.Max(1, changes), "ends"),
		piece.Do("seam", "Seam", "ends").Takes(25, 15, 40).For(times*m.Piece.Height/1000, "metres").Maybe(false),
		piece.Do("block", "Block", "seam", "ends").Takes(30, 20, 60).Waits("dry", 1*piece.Days, 1*piece.Days, 3*piece.Days),
	}
}
