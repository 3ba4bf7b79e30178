package other

import "lampfern/core/piece"

// work is the least that anything takes: the maker names the steps.
func work(m piece.Making) []piece.Task {
	return []piece.Task{
		piece.Do("make", "Make it", piece.There, piece.Agreed).Takes(240, 60, 1200).For(float64(m.Times), "pieces"),
	}
}
