// Package values is the stage on which colours lie from dark to light: the run
// and its strays, and numeric ramps. Its pages lie in the room page.
package values

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/material"
	"lampfern/core/value"
	"lampfern/core/words"
	"lampfern/plan"
)

const Key = "values"

// Section is what the stage keeps of a plan.
type Section struct {
	Run   Run    `json:"run,omitzero"`
	Ramps []Ramp `json:"ramps,omitempty"`
}

// Of is the stage's section of a plan.
func Of(p *plan.Plan) *Section { return plan.Of[Section](p, Key) }

func (s *Section) Check() error {
	if err := soundRun(&s.Run); err != nil {
		return err
	}
	return soundRamps(s.Ramps)
}

// Refer implements plan.Referrer: cards set aside are named by token.
func (s *Section) Refer(f func(uint) (uint, bool)) {
	kept := s.Run.Aside[:0:0]
	for _, a := range s.Run.Aside {
		var id uint
		if n, err := fmt.Sscanf(a.Token, "m%d", &id); n == 1 && err == nil {
			now, ok := f(id)
			if !ok {
				continue
			}
			a.Token = fmt.Sprintf("m%d", now)
		}
		kept = append(kept, a)
	}
	s.Run.Aside = kept
}

// soundRamps tidies ramps and refuses what cannot be.
func soundRamps(all []Ramp) error {
	for i := range all {
		r := &all[i]
		r.Name = strings.Join(strings.Fields(r.Name), " ")
		if r.Name == "" || utf8.RuneCountInString(r.Name) > material.MaxName {
			return words.Refuse("Give the ramp a name of at most %d characters.", material.MaxName)
		}
		if err := r.Recipe.Check(); err != nil {
			return words.Refuse("This ramp is not possible: %s.", err)
		}
		if !(r.Band >= 0 && r.Band <= mostBand) {
			return words.Refuse("The extra bands are 0 to %g apart in lightness.", mostBand)
		}
		if r.Up.Lighten != 0 || r.Down.Lighten != 0 {
			return words.Refuse("The lighter and darker bands have the same distance: give one number.")
		}
		b := r.Balance
		for _, v := range []float64{r.Shift.Lighten, r.Shift.Clear, r.Up.Clear, r.Down.Clear, b.Shadows.Red, b.Shadows.Yellow, b.Mids.Red,
			b.Mids.Yellow, b.Lights.Red, b.Lights.Yellow} {
			if !(math.Abs(v) <= mostShift) {
				return words.Refuse("Shifts and balances are from −%g to %g.", mostShift, mostShift)
			}
		}
		if !(math.Abs(r.Shift.Turn) <= 360 && math.Abs(r.Up.Turn) <= 360 && math.Abs(r.Down.Turn) <= 360) {
			return words.Refuse("A ramp can be turned by 360° at most.")
		}
	}
	return nil
}

// soundRun refuses a run that cannot be.
func soundRun(r *Run) error {
	switch {
	case !slices.Contains([]string{"", FromTray, FromScraps, FromShelf}, r.Source):
		return words.Refuse("A gradient is built from the tray, the scrap page or the shelf.")
	case r.Start != "" && !slices.Contains(value.Starts(), r.Start):
		return words.Refuse("A gradient is built from the dark end, the light end or the middle.")
	case r.Steps < 0 || r.Steps > MostSteps:
		return words.Refuse("Ask for 1 to %d steps, or leave it empty.", MostSteps)
	case len(r.Aside) > MostRun:
		return words.Refuse("%d cards are set aside. Restore some first.", len(r.Aside))
	}
	return nil
}

// Run says which colours a plan's run is made of and how it is built.
type Run struct {
	Source string     `json:"source,omitempty"` // tray when empty, scraps or shelf
	Family string     `json:"family,omitempty"` // of the shelf
	Kind   string     `json:"kind,omitempty"`
	Text   string     `json:"text,omitempty"`
	Steps  int        `json:"steps,omitempty"` // wanted, 0 for as many as there are cards
	Start  string     `json:"start,omitempty"` // dark when empty, light or middle
	Seen   bool       `json:"seen,omitempty"`  // steps are even in ΔE00, not in L*
	Aside  []RunAside `json:"aside,omitempty"`
}

// RunAside is a colour set aside from the run, with the reason in words.
type RunAside struct {
	Token  string  `json:"token"` // names the card: material, tray or scrap
	Name   string  `json:"name"`
	Reason string  `json:"reason"`
	L      float64 `json:"l"`
	A      float64 `json:"a"`
	B      float64 `json:"b"`
}

// Ramp is a numeric ramp from one middle colour. Band is the offset of its
// lighter and darker rows in L*, 0 for none.
type Ramp struct {
	Key     int           `json:"key"`
	Name    string        `json:"name"`
	Middle  plan.Wish     `json:"middle"` // name and colour; its key means nothing
	Recipe  value.Recipe  `json:"recipe"`
	Band    float64       `json:"band,omitempty"`
	Up      value.Shift   `json:"up,omitzero"`   // turn and clearness of the lighter band
	Down    value.Shift   `json:"down,omitzero"` // and of the darker one
	Shift   value.Shift   `json:"shift"`
	Balance value.Balance `json:"balance"`
}
