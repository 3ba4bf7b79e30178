package piece

import (
	"fmt"
	"math"

	"lampfern/core/weave"
)

// Resized is one setting changed, or what the maker put in, so that some parts take
// another share.
type Resized struct {
	Setting  Setting
	From, To float64 // the setting's values
	Input    Input   // changed; nil when a setting is
	Words    string  // what changed
	Share    float64 // what the parts then take together
}

// Steps of the search for a size, and how it is rounded, in mm.
const (
	resizeSteps = 40
	resizeRound = 0.5
	resizeEven  = 0.003 // shares that differ by less are equally near
)

// Share is what the parts for which of is true take of a piece together.
func (p Piece) Share(of func(part string) bool) float64 {
	sum := 0.0
	for i, s := range p.Shares() {
		if of(p.Parts[i].Key) {
			sum += s
		}
	}
	return sum
}

// Resize finds the one length among a pattern's settings that brings the
// parts for which of is true nearest to the share wanted, 0 to 1, all else as
// it is; a pattern with a Resize of its own has its own way. Of lengths equally
// good the least changed is taken. It reports false when nothing brings them
// nearer than they are.
func Resize(t Pattern, settings Values, in Input, of func(part string) bool, want float64) (Resized, bool) {
	if t.Resize != nil {
		v, err := t.Values(settings)
		if err != nil {
			return Resized{}, false
		}
		if in == nil && t.Input != nil {
			in = t.Input()
		}
		return t.Resize(v, in, of, want)
	}
	share := func(v Values) float64 {
		p, err := t.Build(v, in)
		if err != nil {
			return math.Inf(1)
		}
		return p.Share(of)
	}
	best, found := Resized{Share: share(settings)}, false
	change := func(r Resized) float64 { return math.Abs(math.Log(r.To / r.From)) }
	for _, s := range t.Settings {
		if s.Unit != "mm" {
			continue
		}
		from, given := settings[s.Key]
		if !given {
			from = s.Default
		}
		v := Values{}
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
		for range 2 {
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
	return best, found
}

// Search for the widths of stripes: how far they are scaled at most, and how often
// what is left is halved.
const (
	stripeScale    = 12.0
	stripeHalvings = 14
)

// Restripe finds the scale of stripes at which their parts come nearest to a share:
// the wider the stripes, the larger the share. try makes the piece with the stripes
// scaled. It reports false when no scale brings them nearer than they are.
func Restripe(try func(scale float64) (Piece, Resized, error), of func(part string) bool, want float64) (Resized, bool) {
	at := func(scale float64) Resized {
		p, r, err := try(scale)
		if err != nil {
			return Resized{Share: math.Inf(1)}
		}
		r.Share = p.Share(of)
		return r
	}
	best, found := at(1), false
	low, high := -math.Log(stripeScale), math.Log(stripeScale)
	for range stripeHalvings {
		middle := (low + high) / 2
		r := at(math.Exp(middle))
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

// YarnsOf are the yarns whose part is true, by the key of each yarn's part, and
// whether there is any.
func YarnsOf(of func(part string) bool, key func(yarn int) string) (yarns [weave.MostYarns]bool, any bool) {
	for y := range yarns {
		yarns[y] = of(key(y))
		any = any || yarns[y]
	}
	return yarns, any
}
