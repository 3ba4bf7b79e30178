package weaving

import (
	"lampfern/core/piece"
	"lampfern/core/weave"
)

// work is the order of work of a cloth, by its ends and picks.
func work(m piece.Making) []piece.Task {
	cloth, is := m.Input.(*Cloth)
	if !is {
		return nil
	}
	got, err := wind(m, cloth)
	if err != nil {
		return nil
	}
	_, warp, weft, _ := cloth.Threads(m.Values)
	changes := func(threads []int16) float64 { return float64(len(weave.Stripes(threads)) - 1) }
	ends, long, picks := got.warp.Rounded.Ends, got.warp.Rounded.WarpLength/100, got.weft.Rounded.Picks
	turns, stripes := changes(weft)*float64(m.Times), changes(warp)
	return []piece.Task{
		piece.Do("warp", "Wind the warp", piece.There, piece.Agreed).Takes(.1, .067, .167).For(ends*long, "metres of end").And(2 * stripes),
		piece.Do("dress", "Dress the loom", "warp").Takes(1, .5, 2).For(ends, "ends").And(45).With("loom", "off"),
		piece.Do("sample", "Weave 20 cm, cut off, wash, judge the weft, tie on again", "dress").Takes(.1, .05, .25).For(20*m.Values["picks"],
			"picks").And(65).Waits("dry", 1*piece.Days, .5*piece.Days, 2*piece.Days).Maybe(false),
		piece.Do("weave", "Weave", "sample", "dress").Takes(.1, .05, .25).For(picks, "picks").And(turns / 6),
		piece.Do("off", "Off the loom, mend, hem or fringe", "weave").Takes(45, 30, 120).And(.5 * fringed(m, ends)),
		piece.Do("finish", "Wet finish", "off").Takes(45, 30, 90).Waits("dry", 1*piece.Days, .5*piece.Days, 3*piece.Days),
		piece.Do("press", "Press", "finish").Takes(20, 10, 40),
	}
}

// fringed are the ends that are knotted into a fringe.
func fringed(m piece.Making, ends float64) float64 {
	if m.Asked["fringe"] == 0 {
		return 0
	}
	return 2 * ends * float64(m.Times)
}
