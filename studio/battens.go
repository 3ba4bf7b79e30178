package studio

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/balance"
	"lampfern/core/piece"
	"lampfern/store"
)

// Limits of a share that can be asked for, and how near counts as reached.
const (
	leastBatten, mostBatten = 0.002, 0.98
	battenReached           = 0.005
)

// TakeShare brings a card of the tray as near to a share of the piece as one
// change can: one length of the piece resized, or parts given other cards. It
// says what changed. A share that nothing brings nearer is refused.
func (s *Studio) TakeShare(ctx context.Context, id uint, revision int64, key int, share float64) (words string, err error) {
	err = s.Change(ctx, id, revision, func(d *draft) (string, error) {
		words, err = d.takeShare(key, share)
		return words, err
	})
	return words, err
}

func (d *draft) takeShare(key int, want float64) (string, error) {
	if !(want >= leastBatten && want <= mostBatten) {
		return "", refuse("A colour can take from %g to %g%% of a piece: choose a share between.", 100*leastBatten, 100*mostBatten)
	}
	_, card, err := d.entry(key)
	if err != nil {
		return "", err
	}
	p, err := d.chosenPiece()
	if err != nil {
		return "", err
	}
	fill, now := make([]int, len(p.Parts)), 0.0
	for i, part := range p.Parts {
		fill[i] = -1
		if at := slices.IndexFunc(d.plan.Fills, func(f store.Fill) bool { return f.Part == part.Key }); at >= 0 {
			fill[i] = d.plan.Fills[at].EntryKey
		}
		if fill[i] == key {
			now += p.Shares[i]
		}
	}
	if math.Abs(now-want) < battenReached {
		return "", refuse("%s takes %s of the piece already.", card.Name, percent(now))
	}
	resized, canResize := piece.Resize(d.plan.Template, d.plan.Settings, d.plan.Own, func(part string) bool {
		return slices.ContainsFunc(d.plan.Fills, func(f store.Fill) bool { return f.Part == part && f.EntryKey == key })
	}, want)
	held := make([]bool, len(p.Parts))
	for i, part := range p.Parts {
		held[i] = d.pinned(part.Key) || len(d.grouped(part.Key)) > 1
	}
	other := balance.Exchange(p.Shares, fill, held, key, want)
	then := 0.0
	for i, k := range other {
		if k == key {
			then += p.Shares[i]
		}
	}
	miss := func(share float64) float64 { return math.Abs(share - want) }
	switch {
	case canResize && (other == nil || miss(resized.Share) < battenReached || miss(resized.Share) <= miss(then)):
		if resized.Own != nil {
			d.plan.Own = *resized.Own
			return fmt.Sprintf("%s takes %s: %s", card.Name, percent(resized.Share), resized.Words), nil
		}
		settings := map[string]float64{resized.Setting.Key: resized.To}
		for k, v := range d.plan.Settings {
			if k != resized.Setting.Key {
				settings[k] = v
			}
		}
		d.plan.Settings = settings
		return fmt.Sprintf("%s takes %s: %s", card.Name, percent(resized.Share), resized.Words), nil
	case other == nil:
		return "", refuse("Nothing this piece can do brings %s nearer to %s: it takes %s now. Other numbers of parts, or another piece, may.", card.Name, percent(want), percent(now))
	}
	var changed []string
	for i, k := range other {
		if k == fill[i] {
			continue
		}
		_, c, err := d.entry(k)
		if err != nil {
			return "", err
		}
		at := slices.IndexFunc(d.plan.Fills, func(f store.Fill) bool { return f.Part == p.Parts[i].Key })
		if at < 0 {
			d.plan.Fills = append(d.plan.Fills, store.Fill{Part: p.Parts[i].Key, EntryKey: k})
		} else {
			d.plan.Fills[at].EntryKey = k
		}
		changed = append(changed, fmt.Sprintf("%s to the %s", c.Name, p.Parts[i].Name))
	}
	return fmt.Sprintf("%s takes %s: %s", card.Name, percent(then), strings.Join(changed, ", ")), nil
}

// percent writes a share as the stage does: whole, and with a tenth when small.
func percent(share float64) string {
	if share < 0.1 {
		return fmt.Sprintf("%.1f%%", 100*share)
	}
	return fmt.Sprintf("%.0f%%", 100*share)
}
