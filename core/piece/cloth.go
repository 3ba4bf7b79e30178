package piece

import (
	"fmt"
	"math"

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

var clothTemplate = Template{"cloth", "Woven cloth", Weaving, "a scarf, towel or length in its true threads: stripes across the warp, stripes along the weft, and a structure",
	[]Setting{mm("width", "width", 10, 3000, 220), mm("length", "length", 10, 10_000, 1500), per10("ends", "ends in 10 mm", 0.2, 40, 4), per10("picks", "picks in 10 mm", 0.2, 40, 4),
		choice("structure", "structure", structureNames()...)}, cloth}

func per10(key, name string, from, to, usual float64) Setting {
	return Setting{Key: key, Name: name, Min: from, Max: to, Default: usual}
}

// UsualCloth is the order of threads of a cloth that has none of its own.
func UsualCloth() (warp, weft []weave.Stripe) {
	return []weave.Stripe{{Yarn: 0, Threads: 16}, {Yarn: 1, Threads: 6}, {Yarn: 2, Threads: 2}, {Yarn: 1, Threads: 6}}, []weave.Stripe{{Yarn: 0, Threads: 40}, {Yarn: 3, Threads: 4}}
}

// ClothDraft is the draft of a cloth by its settings, and its threads: warp and
// weft in order over the whole cloth, by yarn.
func ClothDraft(v map[string]float64, own Own) (d weave.Draft, warp, weft []int16, err error) {
	all := weave.Structures()
	at := int(v["structure"])
	switch {
	case at < len(all):
		d = all[at].Draft
	case own.Draft != nil:
		d = *own.Draft
	default:
		d = all[0].Draft
	}
	if err = d.Check(); err != nil {
		return d, nil, nil, err
	}
	ends, picks := int(math.Round(v["width"]/10*v["ends"])), int(math.Round(v["length"]/10*v["picks"]))
	switch {
	case ends < 1 || picks < 1:
		return d, nil, nil, fmt.Errorf("a cloth of %g × %g mm at this sett has no thread in one direction: make it larger or its threads closer", v["width"], v["length"])
	case ends*picks > MostCells:
		return d, nil, nil, fmt.Errorf("a cloth of %d ends and %d picks is more than can be drawn thread by thread: plan a part of it, of %d crossings or fewer", ends, picks, MostCells)
	}
	warpOrder, weftOrder := UsualCloth()
	if own.Warp != nil {
		warpOrder = own.Warp
	}
	if own.Weft != nil {
		weftOrder = own.Weft
	}
	return d, weave.Expand(warpOrder, ends), weave.Expand(weftOrder, picks), nil
}

// cloth is a part a yarn; a yarn's area is the area of the crossings where it is
// on top.
func cloth(v map[string]float64, own Own) (Piece, error) {
	d, warp, weft, err := ClothDraft(v, own)
	if err != nil {
		return Piece{}, err
	}
	var used [weave.MostYarns]bool
	for _, threads := range [][]int16{warp, weft} {
		for _, y := range threads {
			used[y] = true
		}
	}
	parts, of := lettered(used)
	p := newCells(Woven, len(warp), len(weft), v["width"]/float64(len(warp)), v["length"]/float64(len(weft)), parts)
	for i, y := range d.Drawdown(warp, weft) {
		p.Cells.Part[i] = of[y]
	}
	p.Cells.Up = d.Ups(len(warp), len(weft))
	return p, nil
}
