package work

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"lampfern/core/colour"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

// Worked is a plan that was judged.
type Worked struct {
	plan.Summary
	Verdict
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
			out = append(out, Worked{Summary: s, Verdict: of.Verdict})
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
		for _, c := range [][2]string{{by.Craft, w.Craft}, {by.Scheme, w.Scheme}, {by.Mood, w.Mood}, {by.Lead, w.Lead},
			{by.Again, w.Verdict.Again}} {
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
	now := AsItIs(p)
	for i := range all {
		w := &all[i]
		var alike []string
		for _, c := range []struct {
			a, b, said string
			weight     int
		}{{w.Craft, p.Craft, "the same craft", 4}, {w.Scheme, now.Scheme, "the same scheme", 2}, {w.Mood, now.Mood, "the same mood", 2},
			{w.Lead, now.Lead, fmt.Sprintf("%s is dominant too", w.Lead), 1}} {
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

// AsItIs is a verdict that says nothing yet, of a plan as it is.
func AsItIs(p *plan.Plan) Verdict {
	v := Verdict{Scheme: p.Lit(), Mood: p.Asked().Mood}
	if p.Lead != nil {
		v.Lead = string(colour.Family(p.Lead.Colour))
	}
	return v
}

// WithCard are the judged plans that have a material in their tray.
func WithCard(ctx context.Context, k *plan.Desk, id uint) ([]Worked, error) {
	all, err := AllWorked(ctx, k)
	return slices.DeleteFunc(all, func(w Worked) bool {
		return !slices.ContainsFunc(w.Cards, func(c *shelf.Card) bool { return c.ID == id })
	}), err
}

// Liked are the materials of judged plans that would be made again, each with the newest
// such plan's name.
func Liked(ctx context.Context, k *plan.Desk) (map[uint]string, error) {
	all, err := AllWorked(ctx, k)
	out := map[uint]string{}
	for _, w := range slices.Backward(all) {
		for _, c := range w.Cards {
			if w.Again == Agains()[0] && c.ID != 0 {
				out[c.ID] = w.Name
			}
		}
	}
	return out, err
}

// OnDay is the day of a verdict.
func (v Verdict) OnDay() string {
	if at, err := time.Parse(time.DateOnly, v.On); err == nil {
		return words.Date(at)
	}
	return ""
}
