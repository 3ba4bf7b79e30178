package cards

import "lampfern/core/piece"

// work is the order of work of a set of cards.
func work(m piece.Making) []piece.Task {
	n := float64(m.Times)
	return []piece.Task{
		piece.Do("cut", "Cut and score; envelopes", piece.There, piece.Agreed).Takes(3, 2, 6).For(n, "cards"),
		piece.Do("lines", "Stamp or draw the lines, in inks that will not run", "cut").Takes(5, 2, 15).For(n, "cards").Waits("ink", 10, 2,
			60),
		piece.Do("colour", "Background and colour, lightest first", "lines").Takes(25, 10, 60).For(n, "cards").Waits("dry", 30, 10, 120),
		piece.Do("stick", "Stick, tie, finish", "colour").Takes(8, 4, 20).For(n, "cards").Waits("glue", 1*piece.Hour, .5*piece.Hour,
			3*piece.Hour),
	}
}
