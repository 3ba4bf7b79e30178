package soap

import "lampfern/core/piece"

// work is the order of work of a batch. Its cure is never shortened.
func work(m piece.Making) []piece.Task {
	bars := m.Values["bars"] * float64(m.Times)
	if bars == 0 {
		bars = m.Asked["bars"] * float64(m.Times)
	}
	const lye = "Lye burns: goggles and gloves, lye into water, never water into lye, and your own verified recipe."
	return []piece.Task{
		piece.Do("test", "Test bar of each colourant and scent", piece.There).Takes(90, 60, 120).InOneGo().Waits("its colours settle",
			5*piece.Days, 2*piece.Days, 7*piece.Days).Maybe(false).Caring(lye),
		piece.Do("ready", "Prepare colourants, mould, room", "test", piece.There, piece.Agreed).Takes(45, 30, 90),
		piece.Do("pour", "Make and pour", "ready").Takes(90, 60, 150).InOneGo().Within("in the mould", 1*piece.Days, 3*piece.Days).With("mould",
			"cut").Caring(lye),
		piece.Do("cut", "Cut, plane, stamp", "pour").Takes(2, 1, 4).For(bars, "bars").And(30).Waits("cure", 35*piece.Days, 28*piece.Days,
			56*piece.Days).Caring("It is still caustic: gloves."),
		piece.Do("cured", "Check and wrap", "cut").Takes(1, .5, 2).For(bars, "bars"),
	}
}
