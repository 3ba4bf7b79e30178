package building

import "lampfern/core/piece"

// work is the order of work of a model of building parts, by how many there are.
func work(m piece.Making) []piece.Task {
	parts := 0.0
	for _, n := range needs(m) {
		parts += n.Amount - n.Spare
	}
	return []piece.Task{
		piece.Do("sort", "Sort what you have").Takes(4.0/60, 2.0/60, 8.0/60).For(parts, "parts"),
		piece.Do("build", "Build", "sort", piece.There, piece.Agreed).Takes(.2, .1, .5).For(parts, "parts"),
	}
}
