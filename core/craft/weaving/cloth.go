package weaving

import (
	"fmt"
	"math"

	"lampfern/core/piece"
	"lampfern/core/weave"
)

// Structures of a cloth by the choice that names them; the last is the maker's
// own draft.
func structureNames() []string {
	var names []string
	for _, s := range weave.Structures() {
		names = append(names, s.Name)
	}
	return append(names, "your own draft")
}

var clothPattern = piece.Pattern{Key: "cloth", Name: "Woven cloth",
	Words: "a scarf, towel or length in its true threads: stripes across the warp, stripes along the weft, and a structure",
	Settings: []piece.Setting{piece.MM("width", "width on the loom", 10, 3000, 220), piece.MM("length", "length on the loom", 10, 10_000, 1500),
		per10("ends", "ends in 10 mm", 0.2, 40, 4), per10("picks", "picks in 10 mm", 0.2, 40, 4),
		piece.Choice("structure", "structure", structureNames()...)},
	Input: func() piece.Input { return &Cloth{} }, Make: piece.MakeWith(cloth), Resize: piece.ResizeWith(restripe),
	Cautions: piece.CautionsWith(floats)}

func per10(key, name string, from, to, usual float64) piece.Setting {
	return piece.Setting{Key: key, Name: name, Min: from, Max: to, Default: usual}
}

// Threads are the draft of a cloth by its settings, and its threads: warp and weft in order over the
// whole cloth, by yarn. An order is never cut off: of its whole repeats as many are laid as come
// nearest to the width or the length.
func (in *Cloth) Threads(v piece.Values) (d weave.Draft, warp, weft []int16, err error) {
	d = in.Drafted(v["structure"])
	if err = d.Check(); err != nil {
		return d, nil, nil, err
	}
	warpOrder, weftOrder := in.Orders()
	ends, picks := wholeRepeats(warpOrder, v["width"]/10*v["ends"]), wholeRepeats(weftOrder, v["length"]/10*v["picks"])
	switch {
	case ends*picks > piece.MostCells:
		return d, nil, nil,
			fmt.Errorf("a cloth of %d ends and %d picks is too much to draw thread by thread: plan a part of it, with at most %d crossings",
				ends, picks, piece.MostCells)
	}
	return d, weave.Expand(warpOrder, ends), weave.Expand(weftOrder, picks), nil
}

// wholeRepeats are the threads of as many whole repeats of an order as come nearest to so many, one
// at least.
func wholeRepeats(order []weave.Stripe, threads float64) int {
	n := weave.Count(order)
	return n * max(1, int(math.Round(threads/float64(n))))
}

// cloth is a part a yarn; a yarn's area is the area of the crossings where it is
// on top.
func cloth(v piece.Values, in *Cloth) (piece.Piece, error) {
	d, warp, weft, err := in.Threads(v)
	if err != nil {
		return piece.Piece{}, err
	}
	var used [weave.MostYarns]bool
	for _, threads := range [][]int16{warp, weft} {
		for _, y := range threads {
			used[y] = true
		}
	}
	parts, of := piece.YarnParts(used)
	p := piece.OfCells(piece.Woven, len(warp), len(weft), 10/v["ends"], 10/v["picks"], parts)
	for i, y := range d.Drawdown(warp, weft) {
		p.Cells.Part[i] = of[y]
	}
	p.Cells.Up = d.Ups(len(warp), len(weft))
	return p, nil
}
