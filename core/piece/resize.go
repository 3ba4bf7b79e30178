package piece

import (
	"fmt"
	"math"

	"lampfern/core/pour"
	"lampfern/core/weave"
)

// Resized is one setting changed, or the stripes of a cloth, so that some parts
// take another share.
type Resized struct {
	Setting  Setting
	From, To float64 // the setting's values
	Own      *Own    // with the stripes changed; nil when a setting is
	Words    string  // what changed
	Share    float64 // what the parts then take together
}

// Steps of the search for a size, and how it is rounded, in mm.
const (
	resizeSteps = 40
	resizeRound = 0.5
	resizeEven  = 0.003 // shares that differ by less are equally near
)

// Resize finds the one length among a template's settings that brings the
// parts for which of is true nearest to the share wanted, 0 to 1, all else as
// it is, or in a cloth the widths of their stripes. Of lengths equally good the least changed is taken. It reports false
// when no length brings them nearer than they are.
func Resize(template string, settings map[string]float64, own Own, of func(part string) bool, want float64) (Resized, bool) {
	share := func(v map[string]float64) float64 {
		p, err := Build(template, v, own)
		if err != nil {
			return math.Inf(1)
		}
		sum := 0.0
		for i, s := range p.Shares() {
			if of(p.Parts[i].Key) {
				sum += s
			}
		}
		return sum
	}
	if template == clothTemplate.Key || template == rowsTemplate.Key {
		return restripe(template, settings, own, of, want)
	}
	if template == pouredTemplate.Key {
		return repour(own, of, want)
	}
	best, found := Resized{Share: share(settings)}, false
	change := func(r Resized) float64 { return math.Abs(math.Log(r.To / r.From)) }
	if t, err := Find(template); err == nil {
		for _, s := range t.Settings {
			if s.Unit != "mm" {
				continue
			}
			from, given := settings[s.Key]
			if !given {
				from = s.Default
			}
			v := map[string]float64{}
			for k, x := range settings {
				v[k] = x
			}
			try := func(x float64) Resized {
				v[s.Key] = math.Min(s.Max, math.Max(s.Min, math.Round(x/resizeRound)*resizeRound))
				return Resized{Setting: s, From: from, To: v[s.Key], Share: share(v),
					Words: fmt.Sprintf("%s from %g to %g mm", s.Name, from, v[s.Key])}
			}
			miss := func(r Resized) float64 { return math.Abs(r.Share - want) }
			low, high := math.Log(s.Min), math.Log(s.Max)
			near := try(from)
			for round := 0; round < 2; round++ {
				step := (high - low) / resizeSteps
				for k := range resizeSteps + 1 {
					if r := try(math.Exp(low + step*float64(k))); miss(r) < miss(near)-1e-9 {
						near = r
					}
				}
				low, high = math.Max(math.Log(s.Min), math.Log(near.To)-step), math.Min(math.Log(s.Max), math.Log(near.To)+step)
			}
			switch {
			case near.To == from:
			case miss(near) < miss(best)-resizeEven, found && miss(near) < miss(best)+resizeEven && change(near) < change(best):
				best, found = near, true
			}
		}
	}
	return best, found
}

// repour gives some colours of a batter other parts, so that they take the share
// wanted of it.
func repour(own Own, of func(part string) bool, want float64) (Resized, bool) {
	pours := own.Pours
	if pours == nil {
		pours = UsualPours()
	}
	sum, rest := 0.0, 0.0
	for _, p := range pours {
		if of(batterKey(p.Colour)) {
			sum += p.Parts
		} else {
			rest += p.Parts
		}
	}
	if sum == 0 || rest == 0 || !(want > 0 && want < 1) {
		return Resized{}, false
	}
	scale := want / (1 - want) * rest / sum
	own.Pours = nil
	then := 0.0
	for _, p := range pours {
		if of(batterKey(p.Colour)) {
			p.Parts = math.Max(.01, math.Round(100*p.Parts*scale)/100)
			then += p.Parts
		}
		own.Pours = append(own.Pours, p)
	}
	return Resized{Own: &own, Words: "pours " + pour.Text(own.Pours), Share: then / (then + rest)}, pour.Check(own.Pours) == nil
}

// Search for the widths of stripes: how far they are scaled at most, and how often
// what is left is halved.
const (
	stripeScale    = 12.0
	stripeHalvings = 14
)

// restripe scales the stripes of some yarns of a cloth, warp and weft alike, or of
// row stripes.
func restripe(template string, settings map[string]float64, own Own, of func(part string) bool, want float64) (Resized, bool) {
	key, rows := yarnKey, template == rowsTemplate.Key
	if rows {
		key = stripeKey
		v, err := rowsTemplate.Values(settings)
		if err != nil {
			return Resized{}, false
		}
		if own.Rows == nil {
			own.Rows = RowOrder(v)
		}
	}
	var yarns [weave.MostYarns]bool
	any := false
	for y := range yarns {
		yarns[y] = of(key(y))
		any = any || yarns[y]
	}
	if !any {
		return Resized{}, false
	}
	warp, weft := UsualCloth()
	if own.Warp != nil {
		warp = own.Warp
	}
	if own.Weft != nil {
		weft = own.Weft
	}
	try := func(scale float64) Resized {
		then, words := own, ""
		if rows {
			then.Rows = scaled(own.Rows, yarns, scale)
			words = "rows " + weave.OrderText(then.Rows)
		} else {
			then.Warp, then.Weft = scaled(warp, yarns, scale), scaled(weft, yarns, scale)
			words = fmt.Sprintf("warp %s, weft %s", weave.OrderText(then.Warp), weave.OrderText(then.Weft))
		}
		p, err := Build(template, settings, then)
		if err != nil {
			return Resized{Share: math.Inf(1)}
		}
		r := Resized{Own: &then, Words: words}
		for i, s := range p.Shares() {
			if of(p.Parts[i].Key) {
				r.Share += s
			}
		}
		return r
	}
	// The wider the stripes, the larger the share: halve towards it.
	best, found := try(1), false
	low, high := -math.Log(stripeScale), math.Log(stripeScale)
	for range stripeHalvings {
		middle := (low + high) / 2
		r := try(math.Exp(middle))
		if math.Abs(r.Share-want) < math.Abs(best.Share-want)-1e-9 {
			best, found = r, math.Abs(r.Share-want) < math.Abs(best.Share-want)-resizeEven || found
		}
		if r.Share < want {
			low = middle
		} else {
			high = middle
		}
	}
	return best, found
}

// scaled are stripes with those of some yarns made wider or narrower, never
// thinner than a thread.
func scaled(order []weave.Stripe, yarns [weave.MostYarns]bool, scale float64) []weave.Stripe {
	out := make([]weave.Stripe, len(order))
	for i, s := range order {
		if yarns[s.Yarn] {
			s.Threads = min(weave.MostThreads, max(1, int(math.Round(float64(s.Threads)*scale))))
		}
		out[i] = s
	}
	return out
}
