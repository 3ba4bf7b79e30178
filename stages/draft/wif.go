package draft

import (
	"bytes"
	"context"
	"fmt"
	"slices"

	"lampfern/core/craft/weaving"
	"lampfern/core/piece"
	"lampfern/core/weave"
	"lampfern/core/words"
	"lampfern/exchange"
	"lampfern/plan"
)

// usualSett is the threads in 10 mm of a draft that does not say.
const usualSett = 5.0

// BringWIF makes a weaving draft the plan's cloth, with its colours in the tray.
// It says what was mended.
type BringWIF struct{ File plan.File }

func (e *BringWIF) Take(f plan.File) { e.File = f }

func (e BringWIF) Do(d *plan.Draft) (string, error) {
	w, err := plan.Read(d, func(ctx context.Context) (exchange.Weaving, error) {
		return exchange.ReadWIF(ctx, bytes.NewReader(e.File.Data))
	})
	if err != nil {
		return "", err
	}
	mended := ""
	if w.SinkingMended {
		mended = " It is for a sinking shed, so the tie-up was reversed."
	}
	if w.EmptyEnds > 0 {
		mended += fmt.Sprintf(" %s without a shaft skipped.", words.Plural(w.EmptyEnds, "end is", "ends are"))
	}
	if w.EmptyPicks > 0 {
		mended += fmt.Sprintf(" %s that lift nothing skipped.", words.Plural(w.EmptyPicks, "pick is", "picks are"))
	}
	in := plan.Input[weaving.Cloth](d.Plan)
	in.Draft = &weave.Draft{Threading: period(w.Draft.Threading), TieUp: w.Draft.TieUp, Treadling: period(w.Draft.Treadling)}
	in.Warp, in.Weft = exchange.Stripes(repeated(w.Warp)), exchange.Stripes(repeated(w.Weft))
	if err := in.Check(); err != nil {
		return "", words.Refuse("Not imported: %s.", err)
	}
	settings := piece.Values{"structure": weaving.OwnDraft()}
	settings["width"], settings["ends"] = sized(len(w.Warp), w.EndsPer10mm, 3000)
	settings["length"], settings["picks"] = sized(len(w.Weft), w.PicksPer10mm, 10_000)
	cards := map[string]int{}
	for y, c := range w.Yarns {
		cards[fmt.Sprintf("yarn%d", y+1)] = d.CardFor(c.Lab(), fmt.Sprintf("Draft yarn %s", weave.Letter(y)))
	}
	name := w.Title
	if name == "" {
		name = "a draft"
	}
	d.Say(fmt.Sprintf("Draft imported: %d ends, %d picks, %d shafts.%s", len(w.Warp), len(w.Weft), w.Draft.Shafts(), mended))
	return "import " + name, d.Refit("cloth", settings, &in, cards)
}

// sized is how long so many threads are in mm, and their sett, within what a cloth
// may be.
func sized(threads int, sett, most float64) (mm, per10 float64) {
	if !(sett >= 0.2 && sett <= 40) {
		sett = usualSett
	}
	n := float64(threads)
	for _, limit := range []float64{10, most} { // closer, or wider apart, to fit
		if out := n * 10 / sett; limit == 10 && out < limit || limit == most && out > limit {
			sett = n * 10 / limit
		}
	}
	return n * 10 / sett, sett
}

// period is the shortest beginning of a list that repeats all through it.
func period(all []int) []int {
	for n := 1; n <= len(all)/2; n++ {
		if !slices.ContainsFunc(indices(len(all)-n), func(i int) bool { return all[i] != all[i+n] }) {
			return all[:n]
		}
	}
	return all
}

// repeated is period of what is repeated whole, and else all of it.
func repeated(all []int) []int {
	if one := period(all); len(all)%len(one) == 0 {
		return one
	}
	return all
}

func indices(n int) []int {
	out := make([]int, n)
	for i := range out {
		out[i] = i
	}
	return out
}

// WIF is the plan's cloth as a weaving draft.
func WIF(p *plan.Plan) ([]byte, error) {
	v, err := Cloth(p)
	if err != nil {
		return nil, err
	}
	set, in := p.Values(), plan.Input[weaving.Cloth](p)
	_, warp, weft, err := in.Threads(set)
	if err != nil {
		return nil, err
	}
	w := exchange.Weaving{Title: p.Plan.Name, Draft: v.Draft, EndsPer10mm: set["ends"], PicksPer10mm: set["picks"]}
	at := map[int16]int{}
	for _, y := range v.Yarns {
		lab := plan.LooseThread
		if y.Card != nil {
			lab = y.Card.Colour
		}
		rgb, _ := lab.RGB()
		at[int16(y.Yarn)] = len(w.Yarns)
		w.Yarns = append(w.Yarns, rgb)
	}
	for _, y := range warp {
		w.Warp = append(w.Warp, at[y])
	}
	for _, y := range weft {
		w.Weft = append(w.Weft, at[y])
	}
	var b bytes.Buffer
	err = exchange.WriteWIF(&b, w)
	return b.Bytes(), err
}
