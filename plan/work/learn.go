package work

import (
	"context"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/store"
)

// Least is from how many cases on something is learned.
const Least = 5

// Lesson is what finished work taught: how it is planned with now and how it would be.
type Lesson struct {
	Key     string
	About   string
	Words   string // as the end of a sentence that begins with About
	N       int    // cases it rests on
	After   float64
	Known   bool // there are enough cases
	Taken   bool // it is planned with
	Refused bool

	kind, of string
	camera   shelf.Camera
}

// The kinds of lessons.
const (
	speedLesson  = "speed"
	wasteLesson  = "waste"
	cameraLesson = "camera"
	doubtLesson  = "doubt"
)

// Answer takes a lesson, refuses it, or takes it back.
func (l Lesson) Answer(p *Prefs, how string) error {
	if how == "take" && !l.Known {
		return words.Refuse("Only %s so far: at least %d are needed before anything is suggested.", words.Plural(l.N, "case", "cases"), Least)
	}
	p.Refused = slices.DeleteFunc(p.Refused, func(k string) bool { return k == l.refusal() })
	if how == "refuse" {
		p.Refused = append(p.Refused, l.refusal())
	}
	set := func(m *map[string]float64) {
		kept := map[string]float64{}
		for k, v := range *m {
			kept[k] = v
		}
		delete(kept, l.of)
		if how == "take" {
			kept[l.of] = l.After
		}
		*m = kept
	}
	switch l.kind {
	case speedLesson:
		set(&p.Speed)
	case wasteLesson:
		set(&p.Waste)
	case doubtLesson:
		set(&p.Doubt)
	case cameraLesson:
		p.camera = &shelf.Camera{}
		if how == "take" {
			p.camera = &l.camera
		}
	}
	return nil
}

// refusal names a lesson as it was refused: one that says something else is offered again.
func (l Lesson) refusal() string { return fmt.Sprintf("%s %.2g", l.Key, l.After) }

// Lessons are what the finished work of a plan's craft taught, and what all work taught of
// colours.
func Lessons(ctx context.Context, k *plan.Desk, p *plan.Plan) (out []Lesson, err error) {
	all, err := plan.EverySection[Section](ctx, k, Key)
	if err != nil {
		return nil, err
	}
	var rows []store.Plan
	var prefs Prefs
	var camera shelf.Camera
	err = k.Store.View(ctx, func(tx store.Tx) (err error) {
		if prefs, err = PrefsOf(tx); err != nil {
			return err
		}
		if camera, err = shelf.CameraOf(tx); err != nil {
			return err
		}
		if rows, err = tx.Plans(); err != nil {
			return fmt.Errorf("reading the plans: %w", err)
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	var mine, every []*Section
	for _, r := range rows {
		if s := all[r.ID]; s != nil {
			every = append(every, s)
			if r.Craft == p.Craft {
				mine = append(mine, s)
			}
		}
	}
	out = append(speeds(p.Craft, mine, prefs), wastes(p.Craft, mine, prefs)...)
	out = append(append(out, cameras(every, camera)...), doubts(every, prefs)...)
	slices.SortStableFunc(out, func(a, b Lesson) int {
		if a.Known == b.Known {
			return 0
		}
		return map[bool]int{true: -1, false: 1}[a.Known]
	})
	for i := range out {
		out[i].Refused = slices.Contains(prefs.Refused, out[i].refusal())
	}
	return out, nil
}

// speeds are how long the steps of a craft really take.
func speeds(craft string, all []*Section, prefs Prefs) (out []Lesson) {
	type of struct {
		st    Step
		rates []float64
	}
	var keys []string
	by := map[string]*of{}
	for _, s := range all {
		for _, st := range s.Steps {
			if st.Shared() || st.Done == nil || st.Took == 0 || st.Count == 0 || st.Own || st.Edited || float64(st.Took) <= st.Fixed {
				continue
			}
			key := st.Base()
			if by[key] == nil {
				st.Name = st.bare()
				by[key] = &of{st: st}
				keys = append(keys, key)
			}
			by[key].rates = append(by[key].rates, (float64(st.Took)-st.Fixed)/st.Count)
		}
	}
	for _, key := range keys {
		one := by[key]
		l := Lesson{Key: speedLesson + ":" + SpeedKey(craft, key), About: one.st.Name, N: len(one.rates), Known: len(one.rates) >= Least,
			kind: speedLesson, of: SpeedKey(craft, key)}
		per := ""
		if one.st.Per != "" {
			per = " for one of the " + one.st.Per
		}
		mid, low, high := spread(one.rates)
		l.After = mid
		_, l.Taken = prefs.Speed[l.of]
		l.Words = fmt.Sprintf(": %s so far.", words.Plural(l.N, "time", "times"))
		if l.Known {
			l.Words = fmt.Sprintf(" took %s%s in %d plans (%s to %s), planned %s.", small(mid), per, l.N, small(low), small(high),
				small(one.st.Each))
			if l.Taken {
				l.Words = fmt.Sprintf(" is planned with %s%s, as in your last %d plans (%s to %s).", small(prefs.Speed[l.of]), per, l.N, small(low),
					small(high))
			}
		}
		out = append(out, l)
	}
	return out
}

// small is a length of time that may be seconds.
func small(minutes float64) string {
	switch {
	case minutes < 1:
		return fmt.Sprintf("%.2g s", minutes*60)
	case minutes < 10:
		return fmt.Sprintf("%.2g min", minutes)
	}
	return words.Minutes(minutes)
}

// spread is the median of some figures, and the least and most.
func spread(all []float64) (mid, low, high float64) {
	s := slices.Sorted(slices.Values(all))
	n := len(s)
	if n == 0 {
		return 0, 0, 0
	}
	return (s[(n-1)/2] + s[n/2]) / 2, s[0], s[n-1]
}

// wastes are how much more was used than was reckoned without any allowance.
func wastes(craft string, all []*Section, prefs Prefs) []Lesson {
	var more []float64
	for _, s := range all {
		for _, u := range s.Used {
			more = append(more, 100*(u.Really/u.Reckoned-1))
		}
	}
	if len(more) == 0 {
		return nil
	}
	mid, low, high := spread(more)
	l := Lesson{Key: wasteLesson + ":" + craft, About: "Waste", N: len(more), Known: len(more) >= Least, After: max(0, math.Round(mid)),
		kind: wasteLesson, of: craft}
	_, l.Taken = prefs.Waste[craft]
	l.Words = fmt.Sprintf(": %s so far of what you actually used.", words.Plural(l.N, "case", "cases"))
	if l.Known {
		l.Words = fmt.Sprintf(": you used %.0f%% more than the exact amount in %d cases (%.0f to %.0f%%). Buy would allow %.0f%% extra.", mid, l.N,
			low, high, l.After)
		if l.Taken {
			l.Words = fmt.Sprintf(": Buy allows %.0f%% extra in this craft, as you used in %d cases.", prefs.Waste[craft], l.N)
		}
	}
	return []Lesson{l}
}

// cameras are how colours read from photos differ from those that a reader found on the
// same thing.
func cameras(all []*Section, now shelf.Camera) []Lesson {
	var photos, readers []colour.Lab
	for _, s := range all {
		for _, m := range s.Made {
			if m.How != "photo" {
				continue
			}
			for _, r := range s.Made {
				if r.How == "reader" && r.Card == m.Card && r.Part == m.Part && r.Washed == m.Washed {
					photos, readers = append(photos, m.Colour), append(readers, r.Colour)
				}
			}
		}
	}
	n := len(photos)
	if n == 0 {
		return nil
	}
	l := Lesson{Key: cameraLesson, About: "Photos", N: n, Known: n >= Least, Taken: now.Pairs > 0, kind: cameraLesson}
	l.Words = fmt.Sprintf(": %s of photo and reader so far.", words.Plural(n, "pair", "pairs"))
	if !l.Known {
		return []Lesson{l}
	}
	shift, before, after := CameraFit(photos, readers)
	l.camera = shelf.Camera{Shift: shift, Doubt: after, Pairs: n}
	l.After = after
	l.Words = fmt.Sprintf(" read %s (%d pairs with the reader). Corrected, they are %.1f off instead of %.1f.", leaning(shift), n, after, before)
	if l.Taken {
		l.Words = fmt.Sprintf(" are corrected by %d pairs with the reader: %.1f off instead of %.1f.", now.Pairs,
			now.Doubt, before)
	}
	return []Lesson{l}
}

// CameraFit is what has to be added to colours read from photos to come near those of a
// reader, in the mean of CIELAB, and how far they are off before and after it, in mean
// ΔE00, each pair left out of its own shift.
func CameraFit(photos, readers []colour.Lab) (shift colour.Lab, before, after float64) {
	n := float64(len(photos))
	var sum colour.Lab
	for i, p := range photos {
		sum.L += readers[i].L - p.L
		sum.A += readers[i].A - p.A
		sum.B += readers[i].B - p.B
	}
	for i, p := range photos {
		r := readers[i]
		without := shelf.Camera{Shift: colour.Lab{L: (sum.L - r.L + p.L) / (n - 1), A: (sum.A - r.A + p.A) / (n - 1),
			B: (sum.B - r.B + p.B) / (n - 1)}}
		before += colour.DeltaE2000(p, r) / n
		after += colour.DeltaE2000(without.Right(p), r) / n
	}
	return colour.Lab{L: sum.L / n, A: sum.A / n, B: sum.B / n}, before, after
}

// leaning says how photos are off that a shift would right.
func leaning(shift colour.Lab) string {
	var said []string
	for _, s := range []struct {
		v        float64
		too, not string
	}{{-shift.L, "light", "dark"}, {-shift.A, "red", "green"}, {-shift.B, "yellow", "blue"}} {
		switch {
		case s.v >= 1:
			said = append(said, fmt.Sprintf("%.0f too %s", s.v, s.too))
		case s.v <= -1:
			said = append(said, fmt.Sprintf("%.0f too %s", -s.v, s.not))
		}
	}
	if said == nil {
		return "accurate on average"
	}
	return strings.Join(said, ", ")
}

// doubts are how far cards were off that were known in one way.
func doubts(all []*Section, prefs Prefs) (out []Lesson) {
	by := map[string][]float64{}
	for _, s := range all {
		for _, m := range s.Made {
			if m.Source != "" && m.How == "reader" && !m.Washed {
				by[m.Source] = append(by[m.Source], colour.DeltaE2000(m.Colour, m.Asked))
			}
		}
	}
	for _, source := range slices.Sorted(maps.Keys(by)) {
		mid, low, high := spread(by[source])
		l := Lesson{Key: doubtLesson + ":" + source, About: "Colours " + material.Material{Source: source}.SourceWordsBare(), N: len(by[source]),
			Known: len(by[source]) >= Least, After: math.Round(10*mid) / 10, kind: doubtLesson, of: source}
		_, l.Taken = prefs.Doubt[source]
		l.Words = fmt.Sprintf(": %s of finished colours so far.", words.Plural(l.N, "reading", "readings"))
		if l.Known {
			l.Words = fmt.Sprintf(" came out %.1f off in %d readings (%.1f to %.1f). Sign-off sheets would state this.", mid, l.N, low, high)
			if l.Taken {
				l.Words = fmt.Sprintf(" are stated as accurate to about %.1f on sheets, as in %d readings.", prefs.Doubt[source], l.N)
			}
		}
		out = append(out, l)
	}
	return out
}
