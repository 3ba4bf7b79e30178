package draft

import (
	"fmt"
	"slices"
	"strings"

	"lampfern/core/craft/weaving"
	"lampfern/core/weave"
	"lampfern/core/words"
	"lampfern/plan"
)

// SetOrders writes the order of the warp's and the weft's stripes, as
// weave.ParseOrder reads them.
type SetOrders struct {
	Warp string `form:"warp"`
	Weft string `form:"weft"`
}

func (e SetOrders) Do(d *plan.Draft) (string, error) {
	return plan.InputEdit("order the threads", func(d *plan.Draft, in *weaving.Cloth) (err error) {
		for _, o := range []struct {
			name, text, sett string
			to               *[]weave.Stripe
		}{{"warp", e.Warp, "ends", &in.Warp}, {"weft", e.Weft, "picks", &in.Weft}} {
			if *o.to, err = weave.ParseOrder(o.text, d.Plan.Values()[o.sett]); err != nil {
				return words.Refuse("The order of the %s cannot be read: %s.", o.name, err)
			}
		}
		return nil
	})(d)
}

// TurnOrder turns the order of the warp round, or of the weft.
type TurnOrder struct {
	Weft bool
}

func (e TurnOrder) Do(d *plan.Draft) (string, error) {
	return plan.InputEdit("reverse the order of the threads", func(_ *plan.Draft, in *weaving.Cloth) error {
		in.Warp, in.Weft = in.Orders()
		to := &in.Warp
		if e.Weft {
			to = &in.Weft
		}
		*to = slices.Clone(*to)
		slices.Reverse(*to)
		return nil
	})(d)
}

// WeaveAsWarped gives the weft the order of the warp.
type WeaveAsWarped struct{}

func (WeaveAsWarped) Do(d *plan.Draft) (string, error) {
	return plan.InputEdit("weave as warped", func(_ *plan.Draft, in *weaving.Cloth) error {
		in.Warp, in.Weft = in.Orders()
		in.Weft = in.Warp
		return nil
	})(d)
}

// FitStripes widens the stripes of the warp in proportion, or narrows them, until its ends come
// nearest to the width that is set.
type FitStripes struct{}

func (FitStripes) Do(d *plan.Draft) (string, error) {
	return plan.InputEdit("fit the stripes to the width", func(d *plan.Draft, in *weaving.Cloth) error {
		in.Warp, in.Weft = in.Orders()
		v := d.Plan.Values()
		var every [weave.MostYarns]bool
		for i := range every {
			every[i] = true
		}
		want := v["width"] / 10 * v["ends"]
		in.Warp = weave.Scaled(in.Warp, every, want/float64(weave.Count(in.Warp)))
		d.Say(fmt.Sprintf("The warp is %s: %d ends.", weave.OrderText(in.Warp), weave.Count(in.Warp)))
		return nil
	})(d)
}

// clothDraft is the draft in use, for changing.
func clothDraft(d *plan.Draft, in *weaving.Cloth) weave.Draft {
	from := in.Drafted(d.Plan.Values()["structure"])
	out := weave.Draft{Threading: slices.Clone(from.Threading), Treadling: slices.Clone(from.Treadling)}
	for _, t := range from.TieUp {
		out.TieUp = append(out.TieUp, slices.Clone(t))
	}
	return out
}

// SetDraft writes a draft: shafts of the ends, shafts of each treadle with
// commas between treadles, treadles of the picks.
type SetDraft struct {
	Threading string `form:"threading"`
	TieUp     string `form:"tieup"`
	Treadling string `form:"treadling"`
}

func (e SetDraft) Do(d *plan.Draft) (string, error) {
	return plan.InputEdit("write the draft", func(d *plan.Draft, in *weaving.Cloth) (err error) {
		var w weave.Draft
		if w.Threading, err = weave.Numbers(e.Threading); err != nil {
			return words.Refuse("The threading cannot be read: %s.", err)
		}
		if w.Treadling, err = weave.Numbers(e.Treadling); err != nil {
			return words.Refuse("The treadling cannot be read: %s.", err)
		}
		for _, t := range strings.FieldsFunc(e.TieUp, func(r rune) bool { return r == ',' || r == ';' || r == '/' }) {
			shafts, err := weave.Numbers(t)
			if err != nil {
				return words.Refuse("The tie-up cannot be read: %s.", err)
			}
			w.TieUp = append(w.TieUp, slices.DeleteFunc(shafts, func(s int) bool { return s == 0 }))
		}
		in.Draft = &w
		d.Set("structure", weaving.OwnDraft())
		return nil
	})(d)
}

// DraftGrid is one of the grids of a draft.
type DraftGrid string

// The grids: ends by shafts, treadles by shafts, treadles by picks.
const (
	ThreadingGrid DraftGrid = "threading"
	TieUpGrid     DraftGrid = "tie-up"
	TreadlingGrid DraftGrid = "treadling"
)

// MarkDraft marks a square of a grid, or clears one of the tie-up that is
// marked. An end has one shaft and a pick one treadle. Counted from 1.
type MarkDraft struct {
	Grid   DraftGrid `form:"grid"`
	Across int       `form:"across"`
	Down   int       `form:"down"`
}

func (e MarkDraft) Do(d *plan.Draft) (string, error) {
	return plan.InputEdit("mark the "+string(e.Grid), func(d *plan.Draft, in *weaving.Cloth) error {
		w := clothDraft(d, in)
		outside := words.Refuse("That square is not in the draft.")
		switch e.Grid {
		case ThreadingGrid: // across is the end, down the shaft
			if e.Across < 1 || e.Across > len(w.Threading) || e.Down < 1 || e.Down > weave.MostShafts {
				return outside
			}
			w.Threading[e.Across-1] = e.Down
		case TreadlingGrid:
			if e.Down < 1 || e.Down > len(w.Treadling) || e.Across < 1 || e.Across > len(w.TieUp) {
				return outside
			}
			w.Treadling[e.Down-1] = e.Across
		case TieUpGrid:
			if e.Across < 1 || e.Across > len(w.TieUp) || e.Down < 1 || e.Down > weave.MostShafts {
				return outside
			}
			t := w.TieUp[e.Across-1]
			if slices.Contains(t, e.Down) {
				t = slices.DeleteFunc(t, func(s int) bool { return s == e.Down })
			} else {
				t = append(t, e.Down)
				slices.Sort(t)
			}
			w.TieUp[e.Across-1] = t
		default:
			return outside
		}
		in.Draft = &w
		d.Set("structure", weaving.OwnDraft())
		return nil
	})(d)
}
