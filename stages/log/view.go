package log

import (
	"context"
	"fmt"
	"slices"
	"time"

	"lampfern/core/note"
	"lampfern/core/piece"
	"lampfern/core/schedule"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/plan/work"
)

// View is what the log of a plan shows.
type View struct {
	*work.Section
	Planned *work.Planned // nil where there is no order of work
	Agenda  *work.Agenda
	Done    []Row
	Weeks   []Week
	Left    []Row // steps that are left out
	Sum     string
	Notes   []note.Note
	Anew    []string // how the order of work would differ, made anew
	Cannot  string   // why none can be made; empty where one can
	Others  bool     // other plans share the hours
	Diary   []Entry
	Halves  []Half
	Lessons []work.Lesson
}

// Needs reports whether a step comes after another.
func (r Row) Needs(key string) bool { return slices.Contains(r.After, key) }

// Prints reports whether some step has a tool that runs by itself.
func (v *View) Prints() bool {
	return slices.ContainsFunc(v.Steps, func(st work.Step) bool { return st.Present })
}

// Learned are the lessons that rest on enough, and Waiting those that do not yet.
func (v *View) Learned() []work.Lesson { return v.lessons(true) }

// Waiting are the lessons that do not rest on enough yet.
func (v *View) Waiting() []work.Lesson { return v.lessons(false) }

func (v *View) lessons(known bool) (out []work.Lesson) {
	for _, l := range v.Lessons {
		if l.Known == known {
			out = append(out, l)
		}
	}
	return out
}

// Week is a week of steps.
type Week struct {
	Monday time.Time
	Rows   []Row
}

// Row is a step as the stem shows it.
type Row struct {
	work.Step
	At      int
	Time    time.Time // by which it is placed on the stem
	When    string
	Work    string // how long it takes the hands, or took
	How     string // how that comes about
	Wait    string
	Slack   string
	Ample   bool // there is so much time that nobody need think of it
	Misfit  string
	State   string // done, begun, next, late or planned
	Waiting bool   // it is done and its wait is running
	Mine    bool   // it can be ticked: it is no step that ends by itself
}

// freshOrder is the order of work as the plan stands.
func freshOrder(ctx context.Context, k *plan.Desk, p *plan.Plan) ([]work.Step, error) {
	s, err := k.Supply(ctx, p)
	if err != nil {
		return nil, err
	}
	prefs, err := work.PrefsOf(k.Store.Read(ctx))
	if err != nil {
		return nil, err
	}
	return work.Order(p, s, prefs.Speed), nil
}

// Look is the log of a plan at a moment.
func Look(ctx context.Context, k *plan.Desk, p *plan.Plan, now time.Time) (*View, error) {
	v := &View{Section: work.Of(p)}
	var err error
	if v.Agenda, err = work.Schedule(ctx, k, now); err != nil {
		return nil, err
	}
	v.Planned = v.Agenda.Of(p.ID)
	fresh, err := freshOrder(ctx, k, p)
	if said, is := refusal(err); is {
		v.Cannot = said
	} else if err != nil {
		return nil, err
	}
	if len(v.Steps) > 0 && v.Cannot == "" {
		v.Anew = work.Differ(v.Steps, v.Section.Anew(fresh))
	}
	if v.Planned != nil {
		v.rows()
		v.onTime()
		v.Others = len(v.Agenda.Plans) > 1 && !v.Finished()
	}
	if v.Diary, _, err = Diary(ctx, k, p.ID); err != nil {
		return nil, err
	}
	v.Halves = one(Halves(p))
	if v.Lessons, err = work.Lessons(ctx, k, p); err != nil {
		return nil, err
	}
	return v, nil
}

// one leaves of several readings of a card the one that tells most: by the reader before
// others, and after the wash.
func one(all []Half) (out []Half) {
	rank := func(h Half) int {
		n := 0
		if h.How == work.Hows()[0] {
			n += 2
		}
		if h.Washed {
			n++
		}
		return n
	}
	for _, h := range all {
		at := slices.IndexFunc(out, func(o Half) bool { return o.Card == h.Card })
		switch {
		case at < 0:
			out = append(out, h)
		case rank(h) > rank(out[at]):
			out[at] = h
		}
	}
	return out
}

// mostThrown is how many entries that were thrown away are offered back.
const mostThrown = 3

func refusal(err error) (string, bool) {
	r, is := err.(words.Refusal)
	return string(r), is
}

// rows lays the steps out by the week in which they begin.
func (v *View) rows() {
	p := v.Planned
	next := p.Next()
	work := 0
	for i, st := range v.Steps {
		r := Row{Step: st, At: i, Work: words.Minutes(st.Work()), How: reckoned(st), Mine: true}
		if st.Work() == 0 { // nothing for the hands
			r.Work = ""
		}
		if st.Run > 0 && r.Work != "" {
			r.Work += ", then "
		}
		if st.Run > 0 {
			r.Work += words.Minutes(float64(st.Run)) + " unattended"
		}
		if st.Wait > 0 && !st.Left {
			r.Wait = waitWords(st)
		}
		if st.Left {
			v.Left = append(v.Left, r)
			continue
		}
		if at, ended := p.Ended(i); ended {
			r.State, r.Time = "done", at.In(v.Agenda.Now.Location())
			r.When = dayWords(r.Time, v.Agenda.Now)
			r.Work = ""
			if st.Took > 0 {
				r.Work = fmt.Sprintf("%s, planned %s", words.Minutes(float64(st.Took)), words.Minutes(st.Work()))
			}
			if free := p.Job.Steps[i].From + p.Job.Steps[i].Wait; free > schedule.At(v.Agenda.Now) && st.Over == nil && p.Job.Steps[i].Wait > 0 {
				r.Waiting = true
				r.Wait = fmt.Sprintf("%s until %s", words.Capital(st.Why), dayWords(v.Agenda.Moment(free), v.Agenda.Now))
			}
			r.Mine = st.Done != nil
			v.Done = append(v.Done, r)
			continue
		}
		work += p.Job.Steps[i].Work
		r.State = "planned"
		if st.Begun != nil {
			r.State = "begun"
			if st.Took > 0 {
				r.Work, r.How = fmt.Sprintf("%s so far, planned %s", words.Minutes(float64(st.Took)), words.Minutes(st.Work())), ""
			}
		}
		if i == next && r.State == "planned" {
			r.State = "next"
		}
		if p.Result.Err == nil {
			at := p.Result.Steps[i]
			r.Time, r.Misfit = v.Agenda.Moment(at.Start), at.Misfit
			r.When = whenWords(v.Agenda, at)
			if p.Job.Due != 0 && p.Late() == 0 {
				switch slack := at.Slack(); {
				case slack < 24*60:
					r.Slack = "no time in hand"
				default:
					r.Ample = slack >= ample
					r.Slack = fmt.Sprintf("start by %s (%s in hand)", dayWords(v.Agenda.Moment(at.Latest), v.Agenda.Now),
						words.Plural(slack/1440, "day", "days"))
				}
			}
		}
		monday := mondayOf(r.Time)
		at := len(v.Weeks)
		for k, w := range v.Weeks {
			if w.Monday.Equal(monday) {
				at = k
			}
		}
		if at == len(v.Weeks) {
			v.Weeks = append(v.Weeks, Week{Monday: monday})
		}
		v.Weeks[at].Rows = append(v.Weeks[at].Rows, r)
	}
	sortRows(v.Weeks, v.Done)
	v.Sum = fmt.Sprintf("%s left at %s a week", words.Minutes(float64(work)), words.Minutes(float64(v.Agenda.Prefs.Hours.Minutes())))
	if v.Finished() {
		v.Sum = "all steps are done"
	}
	if v.Due != "" {
		due, _ := time.ParseInLocation(time.DateOnly, v.Due, v.Agenda.Now.Location())
		v.Sum = fmt.Sprintf("Due %s · %s", dayWords(due, v.Agenda.Now), v.Sum)
	} else {
		v.Sum = words.Capital(v.Sum)
	}
}

// onTime says whether it will be finished in time, and what would mend it.
func (v *View) onTime() {
	p, a := v.Planned, v.Agenda
	say := func(g note.Grade, about, text string, offers ...note.Offer) {
		v.Notes = append(v.Notes, note.Note{Grade: g, About: about, Words: text, Aside: -1, Offers: offers})
	}
	if p.Result.Err != nil {
		text := words.Capital(p.Result.Err.Error()) + "."
		if a.Prefs.Hours.Minutes() == 0 {
			text = "Your week has no hours, so nothing can be scheduled. Add your hours below."
		}
		say(note.Fix, "", text)
		return
	}
	if v.Finished() {
		return
	}
	if at := v.Section.At(piece.Agreed); p.Asked.PlanID != 0 && p.Asked.Agreed == nil && at >= 0 && !v.Steps[at].Left {
		say(note.Consider, "Sign-off", ": the client has not agreed to the latest sheet. You may have to make it again.")
	}
	end := a.Moment(p.Result.End)
	late := p.Late()
	var due time.Time
	if p.Job.Due != 0 {
		due = a.Moment(p.Job.Due - 1)
	}
	switch {
	case p.Job.Due == 0:
		say(note.Fine, "", fmt.Sprintf("You will finish on %s. Add a due date to see how much time you have in hand.",
			dayWords(end, a.Now)))
	case p.Job.Due <= schedule.At(a.Now):
		say(note.Fix, "", fmt.Sprintf("It was due %s. You can finish on %s.", dayWords(due, a.Now),
			dayWords(end, a.Now)), wantFor(v.Section, a.Moment(a.Holds(p.ID, p.Result.End)-1), a.Now))
	case late > 0:
		when := daysWords(due, end)
		if when == "" {
			when = "hours"
		}
		say(note.Fix, "", fmt.Sprintf("At this pace: %s, %s late (%s).", dayWords(end, a.Now), when,
			words.Plural(p.Result.Tried, "order of steps tried", "orders of steps tried")))
		mends := a.Mends(p.ID)
		if len(mends) == 1 { // another day is always offered
			say(note.Consider, "", "No single change is enough.")
		}
		for _, m := range mends {
			v.mend(m, say)
		}
	default:
		if when := daysWords(end, due); when != "" {
			say(note.Fine, "", fmt.Sprintf("You will finish on %s, %s early.", dayWords(end, a.Now), when))
		} else {
			say(note.Fine, "", fmt.Sprintf("You will finish on %s, the due date.", dayWords(end, a.Now)))
		}
	}
	for i, st := range p.Result.Steps {
		if st.Misfit != "" && !p.Job.Steps[i].Ended {
			text := " " + st.Misfit + "."
			if v.Steps[i].Present && !v.Alone {
				text += " Give a longer sitting, or let it run unattended if that is safe."
			} else if v.Steps[i].OneGo {
				text += " Give one longer sitting; it cannot be split."
			}
			say(note.Consider, v.Steps[i].Name, text)
		}
	}
	v.tight(say)
}

// tight names the step with the least slack, and deliveries that come in time.
func (v *View) tight(say func(note.Grade, string, string, ...note.Offer)) {
	p, a := v.Planned, v.Agenda
	if p.Job.Due == 0 || p.Late() > 0 {
		return
	}
	least := -1
	for i, st := range p.Result.Steps {
		if p.Job.Steps[i].Ended || v.Steps[i].Left || p.Job.Steps[i].Work == 0 {
			continue
		}
		if least < 0 || st.Slack() < p.Result.Steps[least].Slack() {
			least = i
		}
	}
	if least < 0 {
		return
	}
	if slack := p.Result.Steps[least].Slack(); slack < 3*24*60 {
		said := "no time in hand"
		if slack >= 24*60 {
			said = words.Plural(slack/1440, "day", "days") + " in hand"
		}
		say(note.Consider, v.Steps[least].Name, fmt.Sprintf(" has %s. It is scheduled for %s.", said,
			dayWords(a.Moment(p.Result.Steps[least].Start), a.Now)))
	}
}

// mend says one thing that would bring the plan to its day.
func (v *View) mend(m schedule.Mend, say func(note.Grade, string, string, ...note.Offer)) {
	a := v.Agenda
	more := words.Minutes(float64(m.Minutes))
	switch m.Kind {
	case schedule.MoreHours:
		day := a.Moment(m.Sitting.From)
		say(note.Consider, "", fmt.Sprintf("%s more on %s would be enough.", words.Capital(more), dayWords(day, a.Now)),
			note.Offer{Do: fmt.Sprintf("do=more-hours&day=%s&minutes=%d", day.Format(time.DateOnly), m.Minutes),
				Label: "Add " + more + " on that day"})
	case schedule.EachDay:
		say(note.Consider, "", fmt.Sprintf("%s more in every sitting would be enough.", words.Capital(more)))
	case schedule.LeaveOut:
		say(note.Consider, v.Steps[m.Step].Name, " skipped would be enough.",
			note.Offer{Do: "do=leave-step&step=" + v.Steps[m.Step].Key, Label: "Skip this step"})
	case schedule.Sooner:
		if v.Steps[m.Step].Key == piece.Agreed {
			say(note.Consider, "The client", fmt.Sprintf(": a reply within %s would be enough.",
				words.Wait(float64(v.Steps[m.Step].WaitFrom))))
			return
		}
		say(note.Consider, "", "Ordering everything now, without waiting for samples or the client, would be enough.",
			note.Offer{Do: "do=order-now", Label: "Order now"})
	case schedule.WaitsAlone:
		say(note.Consider, "", fmt.Sprintf("More hours would not help: the waits alone last until %s.",
			dayWords(a.Moment(m.Due-1), a.Now)))
	case schedule.AnotherDay:
		day := a.Moment(m.Due - 1)
		say(note.Consider, "", "Or move the due date.", wantFor(v.Section, day, a.Now))
	}
}

// wantFor wants the plan for another day.
func wantFor(s *work.Section, day, now time.Time) note.Offer {
	act := fmt.Sprintf("do=wanted&due=%s&begin=%s", day.Format(time.DateOnly), s.Begin)
	if s.Alone {
		act += "&alone=1"
	}
	return note.Offer{Do: act, Label: "Move the date to " + dayWords(day, now)}
}

// reckoned says how a step's work comes about.
func reckoned(st work.Step) string {
	return piece.Task{Each: piece.Spread{Usual: st.Each}, Count: st.Count, Per: st.Per, Fixed: st.Fixed}.Reckoned()
}

func waitWords(st work.Step) string {
	why := st.Why
	if why == "" {
		why = "wait"
	}
	if st.Window {
		return fmt.Sprintf("%s: go on after %s, before %s", words.Capital(why), words.Wait(float64(st.WaitFrom)), words.Wait(float64(st.WaitTo)))
	}
	said := fmt.Sprintf("%s: %s", words.Capital(why), words.Wait(float64(st.Wait)))
	if st.WaitTo > st.WaitFrom && !st.Edited {
		said += fmt.Sprintf(" (%s to %s)", shortWait(st.WaitFrom), words.Wait(float64(st.WaitTo)))
	}
	return said
}

func shortWait(minutes int) string {
	if minutes == 0 {
		return "none"
	}
	return words.Wait(float64(minutes))
}

// ample is from how much time in hand, in minutes, nobody need think of it.
const ample = 14 * 24 * 60

// whenWords say when a step is done.
func whenWords(a *work.Agenda, at schedule.Placed) string {
	from, to := a.Moment(at.Start), a.Moment(at.End)
	switch {
	case len(at.Parts) == 0:
		return dayWords(from, a.Now)
	case len(at.Parts) == 1:
		return fmt.Sprintf("%s, %s", dayWords(from, a.Now), from.Format("15:04"))
	}
	if from.Format(time.DateOnly) == to.Format(time.DateOnly) {
		return fmt.Sprintf("%s, from %s", dayWords(from, a.Now), from.Format("15:04"))
	}
	return fmt.Sprintf("%s to %s, %d sittings", dayWords(from, a.Now), dayWords(to, a.Now), len(at.Parts))
}

// dayWords are a day as a maker reads it, with its year where that is another.
func dayWords(day, now time.Time) string {
	if day.Year() != now.Year() {
		return words.DayAndYear(day)
	}
	return words.Day(day)
}

// daysWords are how many days lie between two moments; empty for none.
func daysWords(a, b time.Time) string {
	y, m, d := a.Date()
	from := time.Date(y, m, d, 0, 0, 0, 0, time.UTC)
	y, m, d = b.Date()
	n := int(time.Date(y, m, d, 0, 0, 0, 0, time.UTC).Sub(from).Hours() / 24)
	if n == 0 {
		return ""
	}
	return words.Plural(n, "day", "days")
}

func mondayOf(t time.Time) time.Time {
	y, m, d := t.Date()
	return time.Date(y, m, d-(int(t.Weekday())+6)%7, 0, 0, 0, 0, t.Location())
}

// sortRows puts steps into the order of their times.
func sortRows(weeks []Week, done []Row) {
	byTime := func(a, b Row) int { return a.Time.Compare(b.Time) }
	slices.SortStableFunc(weeks, func(a, b Week) int { return a.Monday.Compare(b.Monday) })
	for _, w := range weeks {
		slices.SortStableFunc(w.Rows, byTime)
	}
	slices.SortStableFunc(done, byTime)
}
