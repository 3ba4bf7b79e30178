package studio

import (
	"fmt"
	"slices"
	"strings"

	"lampfern/core/value"
	"lampfern/store"
)

// soundRun refuses a run that cannot be.
func soundRun(r *store.Run) error {
	switch {
	case !slices.Contains([]string{"", FromTray, FromScraps, FromShelf}, r.Source):
		return refuse("A run is made from the tray, the scrap page or the shelf.")
	case r.Start != "" && !slices.Contains(value.Starts(), r.Start):
		return refuse("A run starts from the dark end, the light end or the middle.")
	case r.Steps < 0 || r.Steps > MostSteps:
		return refuse("Ask for 1 to %d steps, or leave it empty.", MostSteps)
	case len(r.Aside) > MostRun:
		return refuse("%d cards are set aside: put some back first.", len(r.Aside))
	}
	return nil
}

// RunFrom chooses where the run's colours come from; of the shelf, which.
func RunFrom(source, family, kind, text string) Edit {
	return func(d *draft) (string, error) {
		r := &d.plan.Run
		r.Source, r.Family, r.Kind, r.Text = source, "", "", ""
		if source == FromShelf {
			r.Family, r.Kind, r.Text = family, kind, strings.TrimSpace(text)
		}
		return "make the run from the " + source, nil
	}
}

// RunSteps asks for so many steps, 0 for as many as suit, even in value or as
// seen, built from an end or the middle.
func RunSteps(steps int, start string, seen bool) Edit {
	return func(d *draft) (string, error) {
		d.plan.Run.Steps, d.plan.Run.Start, d.plan.Run.Seen = steps, start, seen
		return "change the steps of the run", nil
	}
}

// LeaveOut sets a colour of the run aside, for a reason: the maker's, or what
// the run says of it.
func LeaveOut(token, reason string) Edit {
	return func(d *draft) (string, error) {
		p, err := d.studio.furnish(*d.plan, d.shelf)
		if err != nil {
			return "", err
		}
		v := p.Values("")
		at := slices.IndexFunc(v.Cards, func(c RunCard) bool { return c.Token == token })
		if at < 0 {
			return "", refuse("That card is no longer in the run.")
		}
		c := v.Cards[at]
		if reason = strings.Join(strings.Fields(reason), " "); reason == "" {
			reason = c.Words
		}
		if reason == "" {
			reason = "set aside by hand"
		}
		if len([]rune(reason)) > maxRemark {
			return "", refuse("The reason is longer than %d characters: shorten it.", maxRemark)
		}
		d.plan.Run.Aside = append(d.plan.Run.Aside, store.RunAside{Token: token, Name: c.Name, Reason: reason, L: c.Reads.L, A: c.Reads.A, B: c.Reads.B})
		return "set " + c.Name + " aside from the run", nil
	}
}

// PutBack takes a colour back into the run.
func PutBack(token string) Edit {
	return func(d *draft) (string, error) {
		at := slices.IndexFunc(d.plan.Run.Aside, func(a store.RunAside) bool { return a.Token == token })
		if at < 0 {
			return "", refuse("That card is not set aside.")
		}
		name := d.plan.Run.Aside[at].Name
		d.plan.Run.Aside = slices.Delete(d.plan.Run.Aside, at, at+1)
		return "put " + name + " back into the run", nil
	}
}

// MakeStrips makes the run a strip piece: its cards, dark to light, in a strip
// each, strays left out. Cards that are not in the tray come into it.
func MakeStrips() Edit {
	return func(d *draft) (string, error) {
		p, err := d.studio.furnish(*d.plan, d.shelf)
		if err != nil {
			return "", err
		}
		var run []RunCard
		for _, c := range p.Values("").Cards {
			if c.Lean == "" {
				run = append(run, c)
			}
		}
		const fewest, most = 3, 12
		if len(run) < fewest || len(run) > most {
			return "", refuse("A strip piece takes %d to %d cards and the run has %d: set some aside, or pull more.", fewest, most, len(run))
		}
		var keys []int
		for _, c := range run {
			if err := d.take(c.Card); err != nil {
				return "", err
			}
			at := slices.IndexFunc(d.plan.Entries, func(e store.Entry) bool {
				return e.MaterialID != nil && *e.MaterialID == c.ID || e.MaterialID == nil && c.ID == 0 && e.Name == c.Name && e.L == c.Colour.L
			})
			keys = append(keys, d.plan.Entries[at].Key)
		}
		if _, err := ChoosePiece("strips", map[string]float64{"strips": float64(len(run))})(d); err != nil {
			return "", err
		}
		for i, key := range keys {
			if _, err := Fill(fmt.Sprintf("strip%d", i+1), key)(d); err != nil {
				return "", err
			}
		}
		return "make the run a strip piece", nil
	}
}
