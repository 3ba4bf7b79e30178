package weaving

import (
	"lampfern/core/piece"
)

// work is the order of work of a cloth, by its ends and picks.
func work(m piece.Making) []piece.Task {
	cloth, is := m.Input.(*Cloth)
	if !is {
		return nil
	}
	warp, weft := cloth.Orders()
	changes := func(all []int) (n float64) {
		for i := 1; i < len(all); i++ {
			if all[i] != all[i-1] {
				n++
			}
		}
		return n
	}
	var w, f []int
	for _, s := range warp {
		w = append(w, s.Yarn)
	}
	for _, s := range weft {
		f = append(f, s.Yarn)
	}
	grow := 1 / (1 - m.Asked["shrink"]/100)
	ends := m.Values["ends"] * m.Values["width"] / 10 * grow / (1 - m.Asked["draw_in"]/100)
	long := (m.Values["length"]/10*grow/(1-m.Asked["take_up"]/100)*float64(m.Times) + m.Asked["loom"] + m.Asked["sample"]) / 100
	picks := m.Values["picks"] * m.Values["length"] / 10 * grow * float64(m.Times)
	repeats := func(all []int, threads float64, stripes int) float64 { // the order goes on over the whole
		if stripes == 0 {
			return 0
		}
		return (changes(all) + 1) * threads / float64(stripes)
	}
	sum := func(weft bool) (n int) {
		all := warp
		if weft {
			_, all = cloth.Orders()
		}
		for _, s := range all {
			n += s.Threads
		}
		return n
	}
	turns := 0.0
	if len(weft) > 1 {
		turns = repeats(f, picks, sum(true))
	}
	stripes := 0.0
	if len(warp) > 1 {
		stripes = repeats(w, ends, sum(false))
	}
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
