package work

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
)

// Keys of steps that every craft has.
const (
	samplesKey = "samples"
	deckKey    = "deck"
	resultKey  = "result"
)

// unsure is from where a colour is looked at as a sample before all of it is ordered, in
// ΔE00.
const unsure = 4.0

// usualDelivery is how long what is ordered takes to come, in minutes.
var usualDelivery = piece.Spread{Usual: 5 * piece.Days, Least: 2 * piece.Days, Most: 21 * piece.Days}

// Order is the order of work of a plan from its own numbers: what is to be ordered, the
// client, the steps of its craft by what the piece takes, and the result. speed holds what
// the maker's own hours taught, by craft and step.
func Order(p *plan.Plan, s plan.Supply, speed map[string]float64) []Step {
	var out []Step
	add := func(t piece.Task) {
		st := Step{Key: t.Key, Name: t.Name, After: t.After, Each: t.Each.Usual, Count: t.Count, Per: t.Per, Fixed: t.Fixed, Least: t.Each.Least,
			Most: t.Each.Most,
			Wait: round(t.Wait.Usual), WaitFrom: round(t.Wait.Least), WaitTo: round(t.Wait.Most), Why: t.Why, Window: t.Window, Run: round(t.Run),
			OneGo: t.OneGo, Present: t.Present,
			Tool: t.Tool, Until: t.Until, Care: t.Care, Optional: t.Optional, Left: t.Off}
		if v, taught := speed[SpeedKey(p.Craft, t.Key)]; taught {
			st.Each = v
		}
		out = append(out, st)
	}
	dear := false
	for _, t := range p.Tray {
		dear = dear || len(t.Parts) > 0 && t.Uncertainty >= unsure
	}
	if len(s.Orders) > 0 {
		add(piece.Do(samplesKey, "Order samples and check them in person").Takes(30, 20, 60).Waits("delivery", usualDelivery.Usual,
			usualDelivery.Least, usualDelivery.Most).Maybe(!dear))
	}
	add(piece.Do(deckKey, "Swatch cards printed or painted", samplesKey).Takes(5, 3, 10).For(float64(s.Cards),
		"cards").And(30).Waits("paint dries", 1*piece.Hour, .5*piece.Hour, 4*piece.Hour).Maybe(true))
	add(piece.Do(piece.Agreed, "Sign-off: create the sheet and ask the client", samplesKey, deckKey).Takes(15, 10, 30).Waits("the client",
		3*piece.Days, 1*piece.Days, 14*piece.Days).Maybe(!p.Shown))
	var come []string
	for i, o := range s.Orders {
		wait, name := usualDelivery, "Order what is missing"
		if o.Seller != "" {
			name = "Order from " + o.Seller
		}
		if o.Days > 0 {
			d := float64(o.Days) * piece.Days
			wait = piece.Spread{Usual: d, Least: d, Most: 2 * d}
		}
		key := fmt.Sprintf("order%d", i+1)
		come = append(come, key)
		add(piece.Do(key, name, samplesKey, piece.Agreed).Takes(15, 10, 30).Waits("delivery", wait.Usual, wait.Least, wait.Most))
	}
	last := map[string]bool{}
	tasks := tasksOf(s.Pieces)
	for _, t := range tasks {
		if at := slices.Index(t.After, piece.There); at >= 0 {
			t.After = slices.Concat(t.After[:at:at], come, t.After[at+1:])
			if len(come) == 0 { // all is there, and was when the client was asked
				t.After = append(t.After, samplesKey)
			}
		}
		for _, before := range t.After {
			delete(last, before)
		}
		last[t.Key] = true
		add(t)
	}
	end := piece.Do(resultKey, "Photograph and log the result").Takes(20, 10, 40)
	for _, t := range tasks {
		if last[t.Key] {
			end.After = append(end.After, t.Key)
		}
	}
	add(end)
	return out
}

// ofPiece parts the key of a step from that of the piece that it is of, where a set has several.
const ofPiece = "."

// tasksOf are the tasks of each piece, one piece after another; those of a set of several say which
// they are of.
func tasksOf(pieces []plan.Made) (out []piece.Task) {
	for _, w := range pieces {
		if w.Craft.Work == nil {
			continue
		}
		own := w.Craft.Work(w.Making)
		within := map[string]bool{}
		for _, t := range own {
			within[t.Key] = true
		}
		key := func(k string) string {
			if w.Key > 1 && within[k] {
				return fmt.Sprintf("%s%s%d", k, ofPiece, w.Key)
			}
			return k
		}
		for _, t := range own {
			after := make([]string, len(t.After))
			for i, k := range t.After {
				after[i] = key(k)
			}
			t.After, t.Until = after, key(t.Until)
			t.Key = key(t.Key)
			if len(pieces) > 1 {
				t.Name += " (" + w.Name + ")"
			}
			out = append(out, t)
		}
	}
	return out
}

// Base is the key of a step without the piece of a set that it is of.
func (s Step) Base() string {
	key, _, _ := strings.Cut(s.Key, ofPiece)
	return key
}

// bare is its name without that.
func (s Step) bare() string {
	if at := strings.LastIndex(s.Name, " ("); at > 0 && strings.HasSuffix(s.Name, ")") {
		return s.Name[:at]
	}
	return s.Name
}

func round(v float64) int { return int(math.Round(v)) }

// SpeedKey names a step of a craft among what the maker's hours taught.
func SpeedKey(craft, step string) string {
	step, _, _ = strings.Cut(step, ofPiece) // alike for each piece of a set
	return craft + "/" + step
}

// Anew is the order of work made anew: what was done, left out, written and added by the
// maker stays; what the plan no longer asks for goes, unless something was done of it.
func (s *Section) Anew(fresh []Step) []Step {
	out := slices.Clone(fresh)
	var kept []Step
	for _, old := range s.Steps {
		at := slices.IndexFunc(out, func(st Step) bool { return st.Key == old.Key })
		switch {
		case at < 0 && (old.Own || old.Done != nil || old.Begun != nil):
			kept = append(kept, old)
		case at >= 0:
			st := &out[at]
			st.Begun, st.Done, st.Over, st.Took = old.Begun, old.Done, old.Over, old.Took
			if old.Edited {
				st.Name, st.Each, st.Count, st.Per, st.Fixed, st.Wait, st.After, st.Edited = old.Name, old.Each, old.Count, old.Per, old.Fixed,
					old.Wait, old.After, true
			}
			if st.Optional {
				st.Left = old.Left
			}
		}
	}
	return append(out, kept...)
}

// Differ says in which steps two orders of work are not alike, in sentences.
func Differ(now, fresh []Step) (out []string) {
	for _, f := range fresh {
		at := slices.IndexFunc(now, func(st Step) bool { return st.Key == f.Key })
		switch {
		case at < 0:
			out = append(out, fmt.Sprintf("%s is new.", f.Name))
		case now[at].Edited || now[at].Done != nil:
		case math.Abs(now[at].Work()-f.Work()) > math.Max(5, .05*f.Work()):
			out = append(out, fmt.Sprintf("%s takes %s, not %s.", f.Name, words.Minutes(f.Work()), words.Minutes(now[at].Work())))
		}
	}
	for _, st := range now {
		if !st.Own && st.Done == nil && !slices.ContainsFunc(fresh, func(f Step) bool { return f.Key == st.Key }) {
			out = append(out, fmt.Sprintf("%s is no longer needed.", st.Name))
		}
	}
	return out
}
