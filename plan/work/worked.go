package work

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"lampfern/core/colour"
	"lampfern/plan"
)

// Worked is a plan that was judged.
type Worked struct {
	plan.Summary
	Verdict Verdict
	Scheme  string
	Mood    string
	Lead    string // the family of its leading colour, empty for none
	Telling int    // how much it has in common with another plan
	Alike   string // what, in words
}

// Sought is what judged plans are looked for by; what is empty leaves none out.
type Sought struct{ Craft, Scheme, Mood, Lead, Again, Words string }

// AllWorked are the plans that have a verdict, the newest first.
func AllWorked(ctx context.Context, k *plan.Desk) (out []Worked, err error) {
	all, err := plan.EverySection[Section](ctx, k, Key)
	if err != nil {
		return nil, err
	}
	plans, err := k.Plans(ctx)
	if err != nil {
		return nil, err
	}
	for _, s := range plans {
		if of := all[s.ID]; of != nil && of.Verdict.Given() {
			p, err := k.Open(ctx, s.ID)
			if err != nil {
				return nil, err
			}
			w := Worked{Summary: s, Verdict: of.Verdict, Scheme: p.Lit(), Mood: p.Asked().Mood}
			if p.Lead != nil {
				w.Lead = string(colour.Family(p.Lead.Colour))
			}
			out = append(out, w)
		}
	}
	slices.SortStableFunc(out, func(a, b Worked) int { return cmp.Compare(b.Verdict.On, a.Verdict.On) })
	return out, nil
}

// Find are those of some judged plans that are sought.
func Find(all []Worked, by Sought) (out []Worked) {
	for _, w := range all {
		text := strings.ToLower(w.Name + " " + w.Verdict.Words + " " + w.Verdict.Otherwise)
		held := true
		for _, one := range strings.Fields(strings.ToLower(by.Words)) {
			held = held && strings.Contains(text, one)
		}
		for _, c := range [][2]string{{by.Craft, w.Craft}, {by.Scheme, w.Scheme}, {by.Mood, w.Mood}, {by.Lead, w.Lead}, {by.Again, w.Verdict.Again}} {
			held = held && (c[0] == "" || c[0] == c[1])
		}
		if held {
			out = append(out, w)
		}
	}
	return out
}

// mostTelling is how many earlier plans a brief offers.
const mostTelling = 2

// Telling are the earlier plans that say most to a new one: of its craft, its scheme, its
// mood or its leading colour.
func Telling(ctx context.Context, k *plan.Desk, p *plan.Plan) ([]Worked, error) {
	all, err := AllWorked(ctx, k)
	if err != nil {
		return nil, err
	}
	lead := ""
	if p.Lead != nil {
		lead = string(colour.Family(p.Lead.Colour))
	}
	for i := range all {
		w := &all[i]
		var alike []string
		for _, c := range []struct {
			a, b, said string
			weight     int
		}{{w.Craft, p.Craft, "the same craft", 4}, {w.Scheme, p.Lit(), "the same scheme", 2}, {w.Mood, p.Asked().Mood, "the same mood", 2}, {w.Lead, lead, fmt.Sprintf("%s leads too", w.Lead), 1}} {
			if c.a != "" && c.a == c.b {
				w.Telling += c.weight
				alike = append(alike, c.said)
			}
		}
		w.Alike = strings.Join(alike, ", ")
	}
	all = slices.DeleteFunc(all, func(w Worked) bool { return w.ID == p.ID || w.Telling == 0 })
	slices.SortStableFunc(all, func(a, b Worked) int { return cmp.Compare(b.Telling, a.Telling) })
	return all[:min(len(all), mostTelling)], nil
}

// OnDay is the day of a verdict.
func (v Verdict) OnDay() string {
	if at, err := time.Parse(time.DateOnly, v.On); err == nil {
		return at.Format("2 January 2006")
	}
	return ""
}
