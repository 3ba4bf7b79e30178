package plan

import (
	"context"
	"fmt"
	"slices"
	"time"

	"lampfern/core/balance"
	"lampfern/core/colour"
	"lampfern/core/craft"
)

// Ways searches every way round, or remembers a search that was made: taking one
// of the ways changes none of them. ctx ends a search early with the best found so
// far, which is not remembered.
func (k *Desk) Ways(ctx context.Context, l balance.Layout, labs []colour.Lab, asked balance.WaysAsked) balance.Found {
	key := fmt.Sprint(l, labs, asked.Focus, asked.Quiet, asked.Pinned, asked.Shares, asked.Kept)
	if found, known := k.ways.Get(key); known {
		return found
	}
	found := balance.Ways(l, labs, asked, func() bool { return ctx.Err() != nil })
	if ctx.Err() == nil {
		k.ways.Add(key, found)
	}
	return found
}

// bestWithin bounds the search for the arrangement that a plan opens on.
const bestWithin = 300 * time.Millisecond

// Best is the arrangement that a piece opens on: for each part the index of its colour, the largest part quiet, one
// part leading and no edge lost, as far as the colours let it; nil where there is nothing to choose. The first colour
// is in it.
func (k *Desk) Best(ctx context.Context, pc *Piece, labs []colour.Lab) []int {
	if len(labs) < 2 || len(pc.Parts) < 2 {
		return nil
	}
	ground := 0
	for i, s := range pc.Shares {
		if s > pc.Shares[ground] {
			ground = i
		}
	}
	ctx, cancel := context.WithTimeout(ctx, bestWithin)
	defer cancel()
	found := k.Ways(ctx, pc.Layout(), labs, balance.WaysAsked{Focus: -1, Quiet: []int{ground}})
	if len(found.Ways) == 0 {
		return nil
	}
	best := slices.IndexFunc(found.Ways, func(w balance.Way) bool { return slices.Contains(w.Fill, 0) })
	return found.Ways[max(0, best)].Fill
}

// arrange gives the parts of a piece that has no cards yet the cards of the tray in their best arrangement.
func (d *Draft) arrange(pc *Piece) {
	t, err := craft.Pattern(d.Plan.Pattern)
	if err != nil || t.Run != "" || slices.ContainsFunc(d.Plan.Fills, func(f Fill) bool { return pc.Part(f.Part) >= 0 }) {
		return // a run has an order of its own
	}
	d.Plan.Fills = nil
	var keys []int
	var labs []colour.Lab
	for _, e := range d.Plan.Entries {
		if c, err := d.Plan.cardHere(e); err == nil && e.Movable() {
			keys, labs = append(keys, e.Key), append(labs, c.Colour)
		}
	}
	for i, at := range d.Desk.Best(d.Ctx, pc, labs) {
		if !pc.Covered(i) && !slices.Contains(d.Plan.Last, pc.Parts[i].Key) {
			d.Plan.Fills = append(d.Plan.Fills, Fill{Part: pc.Parts[i].Key, EntryKey: keys[at]})
		}
	}
	d.SortFills()
}
