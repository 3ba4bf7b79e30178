package work

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"time"

	"lampfern/core/piece"
	"lampfern/core/schedule"
	"lampfern/plan"
	"lampfern/shelf"
	"lampfern/store"
)

// Prefs are what the maker chose for the work of the whole workroom.
type Prefs struct {
	Hours schedule.Hours `json:"hours"`
	Said  bool           `json:"said,omitempty"`  // the hours are the maker's own
	Busy  []Busy         `json:"busy,omitempty"`  // of calendar files
	Order []uint         `json:"order,omitempty"` // plans in the maker's own order; none where the nearest due day goes first

	Speed   map[string]float64 `json:"speed,omitempty"`   // minutes of one, by SpeedKey
	Waste   map[string]float64 `json:"waste,omitempty"`   // per cent, by craft
	Doubt   map[string]float64 `json:"doubt,omitempty"`   // ΔE00, by how a colour was known
	Refused []string           `json:"refused,omitempty"` // lessons

	camera *shelf.Camera // to be kept beside; nil where it stays
}

// Busy is when the maker is not there.
type Busy struct {
	From, To time.Time
	Name     string
}

const prefsName = "work"

// usualHours are those of nobody in particular: two evenings and a Saturday afternoon, six
// hours a week.
var usualHours = schedule.Hours{Week: [7]schedule.Day{time.Tuesday: {From: 19 * 60, Minutes: 90},
	time.Thursday: {From: 19 * 60, Minutes: 90}, time.Saturday: {From: 14 * 60, Minutes: 180}}}

// PrefsOf are the maker's choices within a transaction.
func PrefsOf(tx store.Tx) (p Prefs, err error) {
	doc, err := tx.Preference(prefsName)
	if err != nil {
		return p, fmt.Errorf("reading the hours: %w", err)
	}
	if doc != nil {
		if err := json.Unmarshal(doc, &p); err != nil {
			return p, fmt.Errorf("reading the hours: %w", err)
		}
	}
	if !p.Said {
		p.Hours.Week = usualHours.Week
	}
	return p, nil
}

// ChangePrefs changes the maker's choices as one transaction.
func ChangePrefs(ctx context.Context, k *plan.Desk, change func(*Prefs) error) error {
	return k.Store.Write(ctx, func(tx store.Tx) error { return WritePrefs(tx, change) })
}

// WritePrefs changes the maker's choices within a transaction.
func WritePrefs(tx store.Tx, change func(*Prefs) error) error {
	p, err := PrefsOf(tx)
	if err != nil {
		return err
	}
	if err := change(&p); err != nil {
		return err
	}
	if p.camera != nil {
		if err := shelf.PutCamera(tx, *p.camera); err != nil {
			return err
		}
	}
	doc, err := json.Marshal(p)
	if err != nil {
		return fmt.Errorf("keeping the hours: %w", err)
	}
	return tx.PutPreference(prefsName, doc)
}

// Agenda is when the steps of all plans are done. It is shared, and must not be changed.
type Agenda struct {
	Now      time.Time // in the maker's place
	Prefs    Prefs
	Plans    []Planned // in the order in which they take the hours
	Sittings []schedule.Span
	jobs     []schedule.Job
}

// Planned is a plan with the times of its steps, in the order of its section.
type Planned struct {
	store.Plan
	*Section
	Job    schedule.Job
	Result schedule.Result
	Asked  store.Asked
}

// Moment is a time as the schedule counts it, at the maker's place.
func (a *Agenda) Moment(at int) time.Time { return schedule.Time(at, a.Now.Location()) }

// Of is a plan of the agenda; nil where nothing of it is planned.
func (a *Agenda) Of(id uint) *Planned {
	for i := range a.Plans {
		if a.Plans[i].ID == id {
			return &a.Plans[i]
		}
	}
	return nil
}

// Schedule finds when the steps of all plans that are not put away are done, from a moment
// on, which counts in steps of five minutes.
func Schedule(ctx context.Context, k *plan.Desk, now time.Time) (*Agenda, error) {
	now = now.Truncate(5 * time.Minute)
	a := &Agenda{Now: now}
	var rows []store.Plan
	var asked []store.Asked
	err := k.Store.View(ctx, func(tx store.Tx) (err error) {
		if a.Prefs, err = PrefsOf(tx); err != nil {
			return err
		}
		if rows, err = tx.Plans(); err != nil {
			return fmt.Errorf("reading the plans: %w", err)
		}
		if asked, err = tx.AskedOfAll(); err != nil {
			return fmt.Errorf("reading the sheets: %w", err)
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	// The days follow from these alone, and are not found again while they stay as they are.
	seen, err := json.Marshal([]any{a.Prefs, asked, now, now.Location().String()})
	if err != nil {
		return nil, fmt.Errorf("planning the work: %w", err)
	}
	for _, r := range rows {
		seen = fmt.Appendf(seen, " %d %d %t %s", r.ID, r.Revision, r.PutAway, r.Name)
	}
	key := fmt.Sprintf("work %x", sha256.Sum256(seen))
	return plan.Recall(k, key, func() (*Agenda, error) { return a, a.plan(ctx, k, rows, asked) })
}

// plan finds the days of the plans that are not put away.
func (a *Agenda) plan(ctx context.Context, k *plan.Desk, rows []store.Plan, asked []store.Asked) error {
	all, err := plan.EverySection[Section](ctx, k, Key)
	if err != nil {
		return err
	}
	for _, r := range rows {
		s := all[r.ID]
		if s == nil || len(s.Steps) == 0 || r.PutAway {
			continue
		}
		one := Planned{Plan: r, Section: s}
		if at := slices.IndexFunc(asked, func(x store.Asked) bool { return x.PlanID == r.ID }); at >= 0 {
			one.Asked = asked[at]
		}
		one.Job = s.job(a.Now, &one.Asked)
		a.Plans = append(a.Plans, one)
	}
	a.inOrder()
	a.place()
	return nil
}

// inOrder puts the plans into the order in which they take the hours: the maker's own, or
// that of their due days.
func (a *Agenda) inOrder() {
	rank := func(p Planned) int {
		if at := slices.Index(a.Prefs.Order, p.ID); at >= 0 {
			return at
		}
		return len(a.Prefs.Order)
	}
	slices.SortStableFunc(a.Plans, func(x, y Planned) int {
		due := func(p Planned) int {
			if p.Job.Due == 0 {
				return 1 << 60
			}
			return p.Job.Due
		}
		return cmp.Or(cmp.Compare(rank(x), rank(y)), cmp.Compare(due(x), due(y)), cmp.Compare(x.ID, y.ID))
	})
}

// place finds the times of all steps.
func (a *Agenda) place() {
	var busy []schedule.Span
	for _, b := range a.Prefs.Busy {
		busy = append(busy, schedule.Span{From: schedule.At(b.From), To: schedule.At(b.To)})
	}
	a.Sittings, a.jobs = a.Prefs.Hours.Sittings(a.Now, schedule.MostDays, busy), nil
	for _, p := range a.Plans {
		a.jobs = append(a.jobs, p.Job)
	}
	for i, r := range schedule.Plan(a.jobs, a.Sittings, schedule.At(a.Now)) {
		a.Plans[i].Result = r
	}
}

// job is what is left of a plan to schedule. The client's answer counts as the end of the
// sign-off.
func (s *Section) job(now time.Time, asked *store.Asked) schedule.Job {
	j := schedule.Job{}
	if day, err := time.ParseInLocation(time.DateOnly, s.Due, now.Location()); err == nil {
		j.Due = schedule.At(day.AddDate(0, 0, 1))
	}
	begin := 0
	if day, err := time.ParseInLocation(time.DateOnly, s.Begin, now.Location()); err == nil {
		begin = schedule.At(day)
	}
	at := schedule.At(now)
	for i, st := range s.Steps {
		one := schedule.Step{Name: st.Name, Until: i, From: begin}
		done, wait, over := st.Done, st.Wait, st.Over
		if st.Key == piece.Agreed && asked != nil && !st.Left && done == nil {
			switch {
			case asked.Agreed != nil:
				done, over = asked.Agreed, asked.Agreed
			case asked.SentAt != nil:
				done = asked.SentAt
				if gone := at - schedule.At(*done); gone > wait { // still no answer
					wait = gone + st.WaitFrom
				}
			}
		}
		switch {
		case done != nil:
			one.Ended, one.From, one.Wait = true, schedule.At(*done), wait
			if over != nil {
				one.Wait = max(0, schedule.At(*over)-one.From)
			} else if st.Window {
				one.Wait, one.Most = st.WaitFrom, st.WaitTo
			}
			one.Tool = st.Tool
		case st.Left:
		default:
			one.Work, one.Wait, one.Run, one.OneGo, one.Tool = fives(st.Work()), wait, st.Run, st.OneGo, st.Tool
			one.Present = st.Present && !s.Alone
			if st.Window {
				one.Wait, one.Most = st.WaitFrom, st.WaitTo
			}
			if st.Begun != nil {
				one.Work = max(5, one.Work-st.Took)
			}
		}
		if at := s.At(st.Until); at >= 0 {
			one.Until = at
		}
		for _, key := range st.After {
			if n := s.At(key); n >= 0 && n != i {
				one.Needs = append(one.Needs, n)
			}
		}
		j.Steps = append(j.Steps, one)
	}
	return j
}

// fives are minutes up to the next five, as a sitting is planned.
func fives(minutes float64) int { return 5 * int(math.Ceil(minutes/5-1e-9)) }

// Ended is when a step was done, as the schedule sees it; false while it is to be done.
func (p *Planned) Ended(i int) (time.Time, bool) {
	if !p.Job.Steps[i].Ended {
		return time.Time{}, false
	}
	return schedule.Time(p.Job.Steps[i].From, time.UTC), true
}

// Late is how many minutes later than wanted a plan is done.
func (p *Planned) Late() int { return p.Result.Late(p.Job) }

// Next is the step that is done next, −1 for none.
func (p *Planned) Next() int {
	best := -1
	for i, st := range p.Steps {
		if st.Left || p.Job.Steps[i].Ended || p.Result.Err != nil {
			continue
		}
		if best < 0 || p.Result.Steps[i].Start < p.Result.Steps[best].Start {
			best = i
		}
	}
	return best
}

// Left is how many minutes of work are left.
func (p *Planned) Left() (sum int) {
	for _, st := range p.Job.Steps {
		if !st.Ended {
			sum += st.Work
		}
	}
	return sum
}

// Mends are the smallest things that would bring a late plan to its day.
func (a *Agenda) Mends(id uint) []schedule.Mend {
	at := slices.IndexFunc(a.Plans, func(p Planned) bool { return p.ID == id })
	if at < 0 || a.Plans[at].Late() == 0 {
		return nil
	}
	p := a.Plans[at]
	var changes []schedule.Change
	with := func(kind string, i int, change func(*schedule.Job)) {
		j := p.Job
		j.Steps = slices.Clone(j.Steps)
		change(&j)
		changes = append(changes, schedule.Change{Kind: kind, Step: i, Job: j})
	}
	first := -1
	for i, st := range p.Steps {
		if p.Job.Steps[i].Ended || st.Left {
			continue
		}
		if st.Optional && st.Key != piece.Agreed {
			with(schedule.LeaveOut, i, func(j *schedule.Job) {
				j.Steps[i] = schedule.Step{Name: st.Name, Needs: j.Steps[i].Needs, Until: i}
			})
		}
		if st.Ordered() && first < 0 {
			first = i
			with(schedule.Sooner, i, func(j *schedule.Job) {
				for k, other := range p.Steps {
					if other.Ordered() && !p.Job.Steps[k].Ended {
						j.Steps[k].Needs = nil
					}
				}
			})
		}
		if st.Key == piece.Agreed {
			with(schedule.Sooner, i, func(j *schedule.Job) { j.Steps[i].Wait = st.WaitFrom })
		}
	}
	out := schedule.Mends(a.jobs, at, a.Sittings, schedule.At(a.Now), changes)
	for i := range out {
		if out[i].Kind == schedule.AnotherDay {
			out[i].Due = a.Holds(id, out[i].Due)
		}
	}
	return out
}

// Holds is a due moment that a plan meets, from one on: a later one lets other plans
// go before it.
func (a *Agenda) Holds(id uint, due int) int {
	const most = 12
	for range most {
		b := Agenda{Now: a.Now, Prefs: a.Prefs, Plans: slices.Clone(a.Plans)}
		day := a.Moment(due - 1)
		y, m, d := day.Date()
		due = schedule.At(time.Date(y, m, d+1, 0, 0, 0, 0, day.Location()))
		b.Of(id).Job.Due = due
		b.inOrder()
		b.place()
		p := b.Of(id)
		if p.Result.Err != nil || p.Late() == 0 {
			break
		}
		due = p.Result.End
	}
	return due
}

// Item is a bit of work on a day.
type Item struct {
	Plan    uint
	Name    string // of the plan
	Step    int
	Title   string // of the step
	Begin   time.Time
	Minutes int
	Run     int // that a tool goes on by itself
}

// Day is a day of work.
type Day struct {
	Date  time.Time
	Items []Item
}

// Days are the days from now on, so many, with what is done on each over all plans.
func (a *Agenda) Days(many int) []Day {
	y, m, d := a.Now.Date()
	out := make([]Day, many)
	for i := range out {
		out[i].Date = time.Date(y, m, d+i, 0, 0, 0, 0, a.Now.Location())
	}
	end := out[many-1].Date.AddDate(0, 0, 1)
	for _, p := range a.Plans {
		if p.Result.Err != nil {
			continue
		}
		for i, st := range p.Result.Steps {
			for _, part := range st.Parts {
				begin := a.Moment(part.From)
				if !begin.Before(end) || p.Job.Steps[i].Ended {
					continue
				}
				for k := range out {
					if begin.Format(time.DateOnly) == out[k].Date.Format(time.DateOnly) {
						same := slices.IndexFunc(out[k].Items, func(o Item) bool { return o.Plan == p.ID && o.Step == i })
						if same >= 0 { // with another's in between
							out[k].Items[same].Minutes += part.To - part.From
							continue
						}
						out[k].Items = append(out[k].Items, Item{p.ID, p.Name, i, p.Steps[i].Name, begin, part.To - part.From, p.Job.Steps[i].Run})
					}
				}
			}
		}
	}
	for i := range out {
		slices.SortStableFunc(out[i].Items, func(x, y Item) int { return x.Begin.Compare(y.Begin) })
	}
	return out
}
