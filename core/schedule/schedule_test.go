package schedule

import (
	"fmt"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const (
	hour = 60
	day  = 24 * hour
)

// evenings are sittings of so many hours at six on each of so many days from day 0.
func evenings(days, hours int) (out []Span) {
	for d := range days {
		out = append(out, Span{d*day + 18*hour, d*day + (18+hours)*hour})
	}
	return out
}

func at(d, h int) int { return d*day + h*hour }

func one(t *testing.T, j Job, sittings []Span) Result {
	t.Helper()
	r := Plan([]Job{j}, sittings, 0)[0]
	require.NoError(t, r.Err)
	return r
}

// Solved by hand: two evenings of two hours take a cut of three hours; the dye dries a
// day; then an hour of sewing.
func TestWorkFillsEveningsAndWaitsRunOn(t *testing.T) {
	r := one(t, Job{Steps: []Step{{Name: "cut", Work: 3 * hour, Wait: day}, {Name: "sew", Work: hour, Needs: []int{0}}}, Due: at(5, 0)},
		evenings(10, 2))
	assert.Equal(t, []Span{{at(0, 18), at(0, 20)}, {at(1, 18), at(1, 19)}}, r.Steps[0].Parts)
	assert.Equal(t, at(2, 19), r.Steps[0].Free, "a day after the evening of day 1")
	assert.Equal(t, at(2, 19), r.Steps[1].Start)
	assert.Equal(t, at(2, 20), r.End)
	// Backwards from the end of day 4: sew 19 to 20 on day 4, dry from 19 on day 3, cut
	// two hours to 20 on day 2 and one to 19 on day 3.
	assert.Equal(t, at(4, 19), r.Steps[1].Latest)
	assert.Equal(t, at(2, 18), r.Steps[0].Latest)
	assert.Equal(t, 2*day, r.Steps[0].Slack())
	assert.Zero(t, r.Late(Job{Due: at(5, 0)}))
}

func TestOneGoIsNeverSplit(t *testing.T) {
	r := one(t, Job{Steps: []Step{{Name: "mix", Work: hour}, {Name: "pour", Work: 90, OneGo: true, Needs: []int{0}}}}, evenings(5, 2))
	assert.Equal(t, []Span{{at(1, 18), at(1, 18) + 90}}, r.Steps[1].Parts, "the hour that is left of day 0 is too short: day 1")
	assert.Equal(t, at(0, 18), r.Steps[0].Start)
	r = one(t, Job{Steps: []Step{{Name: "pour", Work: 3 * hour, OneGo: true}}}, evenings(5, 2))
	assert.Equal(t, "takes longer than any of your sittings", r.Steps[0].Misfit)
	assert.Equal(t, at(0, 18), r.Steps[0].Start)
	assert.Equal(t, at(0, 21), r.Steps[0].End)
}

// Poured on day 0 it must be cut between 24 and 72 hours later. Nobody is there on days 1
// to 4, so it is poured later.
func TestWindowsAreKept(t *testing.T) {
	sittings := []Span{{at(0, 18), at(0, 20)}, {at(5, 18), at(5, 20)}, {at(7, 18), at(7, 20)}}
	steps := []Step{{Name: "pour", Work: hour, OneGo: true, Wait: day, Most: 3 * day}, {Name: "cut", Work: hour, Needs: []int{0}}}
	r := one(t, Job{Steps: steps}, sittings)
	assert.Equal(t, at(5, 18), r.Steps[0].Start)
	assert.Equal(t, at(7, 18), r.Steps[1].Start)
	r = one(t, Job{Steps: steps}, sittings[:2])
	assert.Contains(t, r.Steps[1].Misfit, "starts later than it should after \"pour\"", "said, where it cannot be kept")
	assert.Equal(t, at(5, 18), r.Steps[1].Start)
}

func TestAToolServesOne(t *testing.T) {
	// One loom: dressed and woven for the first cloth, it is free when that is cut off.
	cloth := Job{Steps: []Step{{Name: "dress", Work: hour, Tool: "loom", Until: 2}, {Name: "weave", Work: 2 * hour, Needs: []int{0}},
		{Name: "cut off", Work: hour, Needs: []int{1}, Wait: day}}}
	r := Plan([]Job{cloth, cloth}, evenings(10, 3), 0)
	assert.Equal(t, at(1, 19), r[0].Steps[2].End)
	assert.Equal(t, at(1, 19), r[1].Steps[0].Start, "not in the evening of day 0, nor before the first is off")
	// A printer runs on by itself, also at night where it may; where somebody must be
	// there, within the sitting.
	print := Step{Name: "print", Work: 10, Run: 4 * hour, Tool: "printer"}
	print.Until = 0
	r = Plan([]Job{{Steps: []Step{print}}, {Steps: []Step{print}}}, evenings(5, 3), 0)
	assert.Equal(t, at(0, 22)+10, r[0].End)
	assert.Equal(t, at(1, 18), r[1].Steps[0].Start, "taken until ten past ten, when nobody is there")
	print.Present, print.Run = true, 2*hour
	r = Plan([]Job{{Steps: []Step{print}}, {Steps: []Step{print, {Name: "sand", Work: hour}}}}, evenings(5, 3), 0)
	assert.Equal(t, at(1, 18), r[1].Steps[0].Start, "two prints do not fit into one evening")
	assert.Equal(t, at(0, 18)+10, r[1].Steps[1].Start, "the hands are free meanwhile")
	print.Run = 5 * hour
	assert.Equal(t, "takes longer than any of your sittings", one(t, Job{Steps: []Step{print}}, evenings(5, 3)).Steps[0].Misfit)
}

func TestJobsShareTheHours(t *testing.T) {
	a := Job{Steps: []Step{{Name: "a", Work: 3 * hour}, {Name: "b", Work: hour, Needs: []int{0}}}}
	a.Steps[0].Wait = day
	b := Job{Steps: []Step{{Name: "c", Work: 4 * hour}}}
	r := Plan([]Job{a, b}, evenings(10, 2), 0)
	assert.Equal(t, at(2, 19), r[0].Steps[1].Start)
	assert.Equal(t, []Span{{at(1, 19), at(1, 20)}, {at(2, 18), at(2, 19)}, {at(3, 18), at(3, 20)}}, r[1].Steps[0].Parts,
		"what the first leaves")
	assert.Equal(t, at(4, 19), Plan([]Job{b, a}, evenings(10, 2), 0)[1].Steps[1].Start, "and the other way round")
}

func TestWhatIsDoneIsDone(t *testing.T) {
	job := Job{Steps: []Step{{Name: "cut", Work: 9 * hour, Wait: day, Ended: true, From: -100, Needs: []int{1}},
		{Name: "lay", Work: hour, Needs: []int{0}}}}
	r := one(t, job, evenings(5, 2))
	assert.Equal(t, Placed{Start: -100, End: -100, Free: -100 + day}, r.Steps[0], "it needs nothing and takes no hours")
	assert.Equal(t, at(1, 18), r.Steps[1].Start, "what waits for it does")
}

func TestStepsThatCannotBe(t *testing.T) {
	ring := Job{Steps: []Step{{Name: "a", Work: 1, Needs: []int{2}}, {Name: "b", Work: 1, Needs: []int{0}},
		{Name: "c", Work: 1, Needs: []int{1}}, {Name: "d", Work: 1, Needs: []int{2}}}}
	r := Plan([]Job{ring, {Steps: []Step{{Name: "x", Work: hour}}}}, evenings(3, 2), 0)
	var of Ring
	require.ErrorAs(t, r[0].Err, &of)
	assert.ElementsMatch(t, []string{"a", "b", "c"}, of.Names, "d is in none")
	assert.NoError(t, r[1].Err, "others go on")
	r = Plan([]Job{{Steps: []Step{{Name: "big", Work: 100 * hour}}}, {Steps: []Step{{Name: "x", Work: hour}}}}, evenings(3, 2), 0)
	assert.EqualError(t, r[0].Err, `your hours do not reach "big". Allow more hours a week`)
	assert.Equal(t, at(0, 18), r[1].Steps[0].Start, "and takes none of them")
	assert.ErrorAs(t, Plan([]Job{{Steps: []Step{{Name: "x", Work: 1}}}}, nil, 0)[0].Err, &NoRoom{})
	assert.NoError(t, Plan([]Job{{Steps: []Step{{Name: "wait", Wait: day}}}}, nil, 7)[0].Err, "a wait needs no hours")
}

func TestMends(t *testing.T) {
	job := Job{Steps: []Step{{Name: "cut", Work: 3 * hour}, {Name: "look", Work: 2 * hour, Needs: []int{0}},
		{Name: "sew", Work: 3 * hour, Needs: []int{1}}}, Due: at(3, 0)}
	without := Job{Steps: []Step{job.Steps[0], {Name: "look", Needs: []int{0}}, job.Steps[2]}, Due: job.Due}
	m := Mends([]Job{job}, 0, evenings(10, 2), 0, []Change{{LeaveOut, 1, without}})
	// Eight hours are wanted, six are there: two more in one evening; or without the look.
	require.Len(t, m, 3)
	assert.Equal(t, Mend{Kind: MoreHours, Sitting: Span{at(0, 18), at(0, 20)}, Minutes: 2 * hour}, m[0])
	assert.Equal(t, Mend{Kind: LeaveOut, Step: 1}, m[1])
	assert.Equal(t, Mend{Kind: AnotherDay, Due: at(3, 20)}, m[2])
	assert.Empty(t, Mends([]Job{{Steps: job.Steps, Due: at(4, 0)}}, 0, evenings(10, 2), 0, nil))
	// The evenings between are taken by what goes before.
	m = Mends([]Job{{Steps: []Step{{Name: "other", Work: 12 * hour}}}, job}, 1, evenings(20, 2), 0, nil)
	assert.Equal(t, EachDay, m[0].Kind)
	assert.Equal(t, 3*hour, m[0].Minutes, "8 hours in three evenings")
}

// Jobs are seldom placed worse than by the best of all orders, and then by little. A step
// that begins at its latest seldom makes its job late.
func TestAgainstEveryOrder(t *testing.T) {
	rnd := rand.New(rand.NewPCG(7, 7))
	worse, hasty, count := 0, 0, 400
	for n := range count {
		var j Job
		for i := range 2 + rnd.IntN(5) {
			s := Step{Name: fmt.Sprint(i), Work: rnd.IntN(5) * 30, Wait: rnd.IntN(3) * rnd.IntN(2*day), OneGo: rnd.IntN(4) == 0, Until: i}
			if rnd.IntN(5) == 0 {
				s.Tool = "loom"
			}
			for k := range i {
				if rnd.IntN(3) == 0 {
					s.Needs = append(s.Needs, k)
				}
			}
			j.Steps = append(j.Steps, s)
		}
		sittings := evenings(60, 2)
		r := one(t, j, sittings)
		best := r.End
		every(len(j.Steps), func(perm []int) {
			p := forwards(j, 0)
			seen := map[int]bool{}
			for _, i := range perm {
				for _, k := range j.Steps[i].Needs {
					if !seen[k] {
						return
					}
				}
				seen[i] = true
			}
			placed, _, err := newTable(sittings).once(p, perm, p.ready, true)
			require.NoError(t, err)
			end := 0
			for i, s := range j.Steps {
				end = max(end, placed[i].End+s.Wait)
			}
			best = min(best, end)
		})
		if r.End > best {
			worse++
		}
		assert.LessOrEqual(t, r.End-best, 2*day, "job %d", n)
		j.Due = r.End + day
		due := one(t, j, sittings)
		for i, p := range due.Steps {
			assert.GreaterOrEqual(t, p.Slack(), 0)
			later := Job{Steps: append([]Step{}, j.Steps...), Due: j.Due}
			later.Steps[i].From = p.Latest
			if one(t, later, sittings).Late(later) > 0 {
				hasty++
			}
		}
	}
	assert.Less(t, worse, count/20, "the best of all orders is missed in %d of %d", worse, count)
	assert.Less(t, hasty, count/20, "%d steps begun at their latest make the job late", hasty)
}

// every calls f with each order of n things.
func every(n int, f func([]int)) {
	perm := make([]int, n)
	used := make([]bool, n)
	var go_ func(k int)
	go_ = func(k int) {
		if k == n {
			f(perm)
			return
		}
		for i := range n {
			if !used[i] {
				used[i], perm[k] = true, i
				go_(k + 1)
				used[i] = false
			}
		}
	}
	go_(0)
}

func TestSittingsOfALocalCalendar(t *testing.T) {
	paris, err := time.LoadLocation("Europe/Paris")
	require.NoError(t, err)
	h := Hours{Off: []string{"2026-10-26"}}
	for i := range h.Week {
		h.Week[i] = Day{From: 18 * 60, Minutes: 120}
	}
	h.Week[time.Wednesday].Minutes = 0
	got := h.Sittings(time.Date(2026, 10, 24, 13, 0, 0, 0, paris), 6, nil)
	var said []string
	for _, s := range got {
		said = append(said, Time(s.From, paris).Format("Mon 2 15:04")+"-"+Time(s.To, paris).Format("15:04"))
	}
	assert.Equal(t, []string{"Sat 24 18:00-20:00", "Sun 25 18:00-20:00", "Tue 27 18:00-20:00", "Thu 29 18:00-20:00"}, said,
		"by the clock, also when it has been put back; Monday off, nothing on Wednesdays")
	assert.Equal(t, 25*hour, got[1].From-got[0].From, "that day has 25 hours")
	assert.Len(t, h.Sittings(time.Date(2028, 2, 28, 0, 0, 0, 0, paris), 2, nil), 2, "29 February is a day")
	assert.Equal(t, 12*hour, h.Minutes())
	h.More = map[string]int{"2026-10-27": 45}
	got = h.Sittings(time.Date(2026, 10, 27, 0, 0, 0, 0, paris), 1, nil)
	assert.Equal(t, 2*hour+45, got[0].To-got[0].From, "more on one day")
	six := At(time.Date(2026, 10, 24, 18, 0, 0, 0, paris))
	got = h.Sittings(time.Date(2026, 10, 24, 0, 0, 0, 0, paris), 2, []Span{{six + 90, six + 300}, {six + 30, six + 60},
		{six + 25*hour - 500, six + 25*hour + 30}})
	assert.Equal(t, []Span{{six, six + 30}, {six + 60, six + 90}, {six + 25*hour + 30, six + 27*hour}}, got, "less what is busy")
	assert.Len(t, h.Sittings(time.Now(), 1<<40, nil), len(h.Sittings(time.Now(), MostDays, nil)), "a calendar has an end")
}

// Fifty plans of forty steps, in evenings of two hours.
func BenchmarkPlan50(b *testing.B) {
	var jobs []Job
	for n := range 50 {
		j := Job{Due: (200 + 3*n) * day}
		for i := range 40 {
			s := Step{Name: fmt.Sprint(i), Work: 20 + (i*7+n)%40, Wait: (i % 5) * 300, OneGo: i%9 == 0, Until: i}
			if i > 0 {
				s.Needs = []int{i - 1 - i%3%i}
			}
			if i%13 == 5 {
				s.Tool, s.Until = "loom", min(39, i+4)
			}
			j.Steps = append(j.Steps, s)
		}
		jobs = append(jobs, j)
	}
	sittings := evenings(MostDays, 3)
	for b.Loop() {
		for _, r := range Plan(jobs, sittings, 0) {
			if r.Err != nil {
				b.Fatal(r.Err)
			}
		}
	}
}

// A sitting is booked once: sittings that meet past midnight, and steps longer than any sitting.
func TestNoMinuteIsBookedTwice(t *testing.T) {
	h := Hours{}
	h.Week[time.Sunday], h.Week[time.Monday] = Day{From: 23 * 60, Minutes: 180}, Day{From: 60, Minutes: 60}
	all := h.Sittings(time.Date(2026, 11, 29, 0, 0, 0, 0, time.UTC), 3, nil) // a Sunday
	sum := 0
	for i, s := range all {
		sum += s.To - s.From
		if i > 0 {
			assert.GreaterOrEqual(t, s.From, all[i-1].To)
		}
	}
	assert.Equal(t, 180, sum, "from 23 to 2; the hour from 1 is in it")

	r := rand.New(rand.NewPCG(31, 31))
	for range 60 {
		var sittings []Span
		for d := range 60 {
			for _, from := range []int{9, 14, 19}[:1+r.IntN(3)] {
				sittings = append(sittings, Span{at(d, from), at(d, from+1+r.IntN(2))})
			}
		}
		var jobs []Job
		for range 4 {
			j := Job{Due: at(5+r.IntN(20), 0)}
			for i := range 5 {
				s := Step{Name: fmt.Sprint("step ", i), Work: 15 * (1 + r.IntN(24)), OneGo: r.IntN(3) == 0, Wait: day * r.IntN(2)}
				if i > 0 {
					s.Needs = []int{r.IntN(i)}
				}
				j.Steps = append(j.Steps, s)
			}
			jobs = append(jobs, j)
		}
		var parts []Span
		for _, res := range Plan(jobs, sittings, 0) {
			require.NoError(t, res.Err)
			for _, p := range res.Steps {
				parts = append(parts, p.Parts...)
			}
		}
		for i, a := range parts {
			for _, b := range parts[:i] {
				require.True(t, a.To <= b.From || b.To <= a.From, "%v %v", a, b)
			}
		}
	}
}

// Late is said only after 200 orders, and an order that is in time is found among them.
func TestLateIsTriedFirst(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	late, found := 0, 0
	for range 200 {
		j := Job{}
		for i := range 7 {
			s := Step{Name: fmt.Sprint(i), Work: 30 * (1 + r.IntN(5)), Wait: day * r.IntN(4), OneGo: r.IntN(2) == 0}
			if i > 1 && r.IntN(2) == 0 {
				s.Needs = []int{r.IntN(i)}
			}
			j.Steps = append(j.Steps, s)
		}
		free := Plan([]Job{j}, evenings(80, 3), 0)[0]
		require.NoError(t, free.Err)
		j.Due = free.End - 1 // sooner than the two usual orders
		got := Plan([]Job{j}, evenings(80, 3), 0)[0]
		require.NoError(t, got.Err)
		if got.Late(j) > 0 {
			late++
			assert.GreaterOrEqual(t, got.Tried, 200)
			assert.LessOrEqual(t, got.End, free.End, "no worse than before")
		} else if got.Tried > 2 {
			found++
		}
	}
	assert.Positive(t, late)
	assert.Positive(t, found, "some were not late at all")
	t.Logf("%d of 200 are late after 200 orders, %d were found in time by the others", late, found)
}
