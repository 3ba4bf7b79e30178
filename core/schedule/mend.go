package schedule

import "slices"

// The kinds of Mend, in the order they are tried.
const (
	MoreHours  = "hours"  // so many minutes more in one sitting
	EachDay    = "each"   // so many minutes more in every sitting until the due moment
	LeaveOut   = "leave"  // an optional step is left out
	Sooner     = "sooner" // a step waits for less, or is done with less of a wait
	WaitsAlone = "waits"  // none of the maker's hours would do: what it waits for takes until Due
	AnotherDay = "day"    // another due moment
)

// Mend is one small thing that would bring a late job to its due moment.
type Mend struct {
	Kind    string
	Sitting Span // that is longer
	Minutes int  // by which it is
	Step    int  // that is left out, or comes sooner
	Due     int  // the other due moment
}

// Change is a job with one thing otherwise, that a maker may try: a step left out, sent
// for at once, asked for today.
type Change struct {
	Kind string
	Step int
	Job  Job
}

// mendOrders is how many orders are tried with each of the many small changes.
const mendOrders = 10

// mostSittings bounds how many sittings are tried longer.
const mostSittings = 60

// Mends are the smallest things that would bring the job at a place in the list to its due
// moment: hours on one day, or on every day; each of the changes that helps by itself; or
// that none of them can; and the due moment that would do, which is always last. None for a job that is in time.
func Mends(jobs []Job, at int, sittings []Span, now int, changes []Change) (out []Mend) {
	t := newTable(sittings)
	for _, j := range jobs[:at] {
		t.plan(j, now)
	}
	job := jobs[at]
	in := func(sittings []Span, longer func(k int) int, j Job) (Result, bool) {
		u := &table{sittings: slices.Clone(sittings), free: slices.Clone(t.free), tools: t.tools, rare: t.rare, longest: t.longest, orders: mendOrders}
		for k := range u.sittings {
			if more := longer(k); more > 0 {
				end := u.sittings[k].To
				u.sittings[k].To += more
				u.longest = max(u.longest, u.sittings[k].To-u.sittings[k].From)
				u.free[k] = append(slices.Clip(u.free[k]), Span{end, end + more})
				if n := len(u.free[k]); n > 1 && u.free[k][n-2].To == end {
					u.free[k] = append(slices.Clone(u.free[k][:n-2]), Span{u.free[k][n-2].From, end + more})
				}
			}
		}
		r := u.plan(j, now)
		return r, r.Err == nil && r.Late(job) == 0
	}
	none := func(int) int { return 0 }
	first, held := in(sittings, none, job)
	if held || job.Due == 0 || first.Err != nil {
		return nil
	}
	fits := func(k, more int) bool { // before the next sitting, and not through the night
		return sittings[k].From >= now-24*60 && sittings[k].To+more <= job.Due &&
			(k+1 == len(sittings) || sittings[k].To+more <= sittings[k+1].From)
	}
	from, _ := slices.BinarySearchFunc(sittings, now+1, func(x Span, at int) int { return x.To - at })
	to := min(len(sittings), from+mostSittings)
search:
	for more := 60; more <= 6*60; more += 60 {
		for k := from; k < to && sittings[k].From < job.Due; k++ {
			if !fits(k, more) {
				continue
			}
			if _, ok := in(sittings, func(i int) int { return when(i == k, more) }, job); ok {
				out = append(out, Mend{Kind: MoreHours, Sitting: sittings[k], Minutes: more})
				break search
			}
		}
	}
	for more := 30; more <= 6*60 && len(out) == 0; more += 30 {
		if _, ok := in(sittings, func(k int) int { return when(fits(k, more), more) }, job); ok {
			out = append(out, Mend{Kind: EachDay, Minutes: more})
		}
	}
	for _, c := range changes {
		if _, ok := in(sittings, none, c.Job); ok {
			out = append(out, Mend{Kind: c.Kind, Step: c.Step})
		}
	}
	always := newTable([]Span{{now, now + MostDays*24*60}})
	if r := always.plan(job, now); len(out) == 0 && r.Err == nil && r.Late(job) > 0 {
		out = append(out, Mend{Kind: WaitsAlone, Due: r.End})
	}
	return append(out, Mend{Kind: AnotherDay, Due: first.End})
}

func when(so bool, n int) int {
	if so {
		return n
	}
	return 0
}
