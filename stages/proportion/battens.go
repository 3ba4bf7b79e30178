package proportion

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/balance"
	"lampfern/core/craft"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
)

// Limits of a share that can be asked for, and how near counts as reached.
const (
	leastBatten, mostBatten = 0.002, 0.98
	battenReached           = 0.005
)

// TakeShare brings a card of the tray as near to a share of the piece, in per
// cent, as one change can: one length of the piece resized, or parts given other
// cards. It says what changed. A share that nothing brings nearer is refused.
type TakeShare struct {
	Key   int     `form:"key"`
	Share float64 `form:"share,optional"`
}

func (e TakeShare) Do(d *plan.Draft) (string, error) {
	label, err := takeShare(d, e.Key, e.Share/100)
	if err == nil {
		d.Say(label + ".")
	}
	return label, err
}

func takeShare(d *plan.Draft, key int, want float64) (string, error) {
	if !(want >= leastBatten && want <= mostBatten) {
		return "", words.Refuse("Choose a share from %g to %g%% of the piece.", 100*leastBatten, 100*mostBatten)
	}
	_, card, err := d.Entry(key)
	if err != nil {
		return "", err
	}
	p, err := d.ChosenPiece()
	if err != nil {
		return "", err
	}
	fill, now := make([]int, len(p.Parts)), 0.0
	for i, part := range p.Parts {
		fill[i] = -1
		if at := slices.IndexFunc(d.Plan.Fills, func(f plan.Fill) bool { return f.Part == part.Key }); at >= 0 {
			fill[i] = d.Plan.Fills[at].EntryKey
		}
		if fill[i] == key {
			now += p.Shares[i]
		}
	}
	if math.Abs(now-want) < battenReached {
		return "", words.Refuse("%s is %s of the piece already.", card.Name, words.PerCentFine(now))
	}
	t, err := craft.Pattern(d.Plan.Pattern)
	if err != nil {
		return "", err
	}
	resized, canResize := piece.Resize(t.Divided(d.Plan.Splits), d.Plan.Settings, d.Plan.Put(), func(part string) bool {
		return slices.ContainsFunc(d.Plan.Fills, func(f plan.Fill) bool { return f.Part == part && f.EntryKey == key })
	}, want)
	held := make([]bool, len(p.Parts))
	for i, part := range p.Parts {
		held[i] = d.Stays(part.Key) || len(d.Grouped(part.Key)) > 1 || piece.IsTone(part.Key)
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
		if resized.Input != nil {
			if err := d.Put(resized.Input); err != nil {
				return "", err
			}
			return fmt.Sprintf("%s takes %s: %s", card.Name, words.PerCentFine(resized.Share), resized.Words), nil
		}
		settings := map[string]float64{resized.Setting.Key: resized.To}
		for k, v := range d.Plan.Settings {
			if k != resized.Setting.Key {
				settings[k] = v
			}
		}
		d.Plan.Settings = settings
		return fmt.Sprintf("%s takes %s: %s", card.Name, words.PerCentFine(resized.Share), resized.Words), nil
	case other == nil:
		return "",
			words.Refuse("%s cannot come nearer to %s on this piece; it has %s now. Change the number of parts, or choose another piece.",
				card.Name, words.PerCentFine(want), words.PerCentFine(now))
	}
	var changed []string
	for i, k := range other {
		if k == fill[i] {
			continue
		}
		_, c, err := d.Entry(k)
		if err != nil {
			return "", err
		}
		at := slices.IndexFunc(d.Plan.Fills, func(f plan.Fill) bool { return f.Part == p.Parts[i].Key })
		if at < 0 {
			d.Plan.Fills = append(d.Plan.Fills, plan.Fill{Part: p.Parts[i].Key, EntryKey: k})
		} else {
			d.Plan.Fills[at].EntryKey = k
		}
		changed = append(changed, fmt.Sprintf("%s to the %s", c.Name, p.Parts[i].Name))
	}
	return fmt.Sprintf("%s takes %s: %s", card.Name, words.PerCentFine(then), strings.Join(changed, ", ")), nil
}
