package values

import (
	"fmt"
	"slices"
	"strings"

	"lampfern/core/craft"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
)

// RunFrom chooses where the run's colours come from; of the shelf, which.
type RunFrom struct {
	Source string `form:"source"`
	Family string `form:"family"`
	Kind   string `form:"kind"`
	Text   string `form:"text"`
}

func (e RunFrom) Do(d *plan.Draft) (string, error) {
	r := &Of(d.Plan).Run
	r.Source, r.Family, r.Kind, r.Text = e.Source, "", "", ""
	if e.Source == FromShelf {
		r.Family, r.Kind, r.Text = e.Family, e.Kind, strings.TrimSpace(e.Text)
	}
	return "build the gradient from the " + e.Source, nil
}

// RunSteps asks for so many steps, 0 for as many as suit, even in value or as
// seen, built from an end or the middle.
type RunSteps struct {
	Steps int    `form:"steps,optional"`
	Start string `form:"start"`
	Seen  bool   `form:"seen"`
}

func (e RunSteps) Do(d *plan.Draft) (string, error) {
	Of(d.Plan).Run.Steps, Of(d.Plan).Run.Start, Of(d.Plan).Run.Seen = e.Steps, e.Start, e.Seen
	return "change the steps", nil
}

// LeaveOut sets a colour of the run aside, for a reason: the maker's, or what
// the run says of it.
type LeaveOut struct {
	Token  string `form:"token"`
	Reason string `form:"reason"`
}

func (e LeaveOut) Do(d *plan.Draft) (string, error) {
	p, err := d.View()
	if err != nil {
		return "", err
	}
	v := Values(p, "")
	at := slices.IndexFunc(v.Cards, func(c RunCard) bool { return c.Token == e.Token })
	if at < 0 {
		return "", words.Refuse("That card is no longer in the gradient.")
	}
	c := v.Cards[at]
	if e.Reason = strings.Join(strings.Fields(e.Reason), " "); e.Reason == "" {
		e.Reason = c.Words
	}
	if e.Reason == "" {
		e.Reason = "set aside by hand"
	}
	if len([]rune(e.Reason)) > plan.MaxRemark {
		return "", words.Refuse("The reason is longer than %d characters: shorten it.", plan.MaxRemark)
	}
	Of(d.Plan).Run.Aside = append(Of(d.Plan).Run.Aside, RunAside{Token: e.Token, Name: c.Name, Reason: e.Reason, L: c.Reads.L, A: c.Reads.A,
		B: c.Reads.B})
	return "set " + c.Name + " aside from the gradient", nil
}

// PutBack takes a colour back into the run.
type PutBack struct {
	Token string `form:"token"`
}

func (e PutBack) Do(d *plan.Draft) (string, error) {
	at := slices.IndexFunc(Of(d.Plan).Run.Aside, func(a RunAside) bool { return a.Token == e.Token })
	if at < 0 {
		return "", words.Refuse("That card is not set aside.")
	}
	name := Of(d.Plan).Run.Aside[at].Name
	Of(d.Plan).Run.Aside = slices.Delete(Of(d.Plan).Run.Aside, at, at+1)
	return "put " + name + " back into the gradient", nil
}

// stripPattern is the pattern of a strip piece, and its setting for how many.
const stripPattern, stripSetting = "strips", "strips"

// Strips are the cards of the run that a strip piece would show, strays left out, and
// how many such a piece takes.
func (v RunView) Strips() (run []RunCard, fewest, most int) {
	for _, c := range v.Cards {
		if c.Lean == "" {
			run = append(run, c)
		}
	}
	t, err := craft.Pattern(stripPattern)
	if err != nil {
		return nil, 0, 0
	}
	for _, set := range t.Settings {
		if set.Key == stripSetting {
			fewest, most = int(set.Min), int(set.Max)
		}
	}
	return run, fewest, most
}

// MakesStrips reports whether a strip piece can show the run.
func (v RunView) MakesStrips() bool {
	run, fewest, most := v.Strips()
	return len(run) >= fewest && len(run) <= most
}

// MakeStrips makes the run a strip piece: its cards, dark to light, in a strip
// each, strays left out. Cards that are not in the tray come into it.
type MakeStrips struct{}

func (MakeStrips) Do(d *plan.Draft) (string, error) {
	p, err := d.View()
	if err != nil {
		return "", err
	}
	run, fewest, most := Values(p, "").Strips()
	if len(run) < fewest || len(run) > most {
		return "", words.Refuse("A strip quilt takes %d to %d cards and the gradient has %d. Set some aside, or add more.", fewest, most, len(run))
	}
	var keys []int
	for _, c := range run {
		if err := d.Take(c.Card); err != nil {
			return "", err
		}
		at := slices.IndexFunc(d.Plan.Entries, func(e plan.Entry) bool {
			return e.MaterialID != nil && *e.MaterialID == c.ID || e.MaterialID == nil && c.ID == 0 && e.Name == c.Name && e.L == c.Colour.L
		})
		keys = append(keys, d.Plan.Entries[at].Key)
	}
	if _, err := (plan.ChoosePiece{Pattern: stripPattern, Settings: piece.Values{stripSetting: float64(len(run))}}).Do(d); err != nil {
		return "", err
	}
	for i, key := range keys {
		if _, err := (plan.FillPart{Part: fmt.Sprintf("strip%d", i+1), Key: key}).Do(d); err != nil {
			return "", err
		}
	}
	return "use the gradient as a strip quilt", nil
}
