package piece

import "math"

// Resized is one setting changed so that some parts take another share.
type Resized struct {
	Setting  Setting
	From, To float64 // the setting's values
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
// it is. Of lengths equally good the least changed is taken. It reports false
// when no length brings them nearer than they are.
func Resize(template string, settings map[string]float64, of func(part string) bool, want float64) (Resized, bool) {
	share := func(v map[string]float64) float64 {
		p, err := Build(template, v)
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
	best, found := Resized{Share: share(settings)}, false
	change := func(r Resized) float64 { return math.Abs(math.Log(r.To / r.From)) }
	for _, t := range Templates() {
		if t.Key != template {
			continue
		}
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
				return Resized{s, from, v[s.Key], share(v)}
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
