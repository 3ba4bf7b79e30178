// Package schedule finds when the steps of several jobs are done: in hours that one maker
// has, with waits between, tools that serve one job at a time, and windows inside which the
// next step must begin. It knows no craft and no calendar of months: moments are whole
// minutes since the beginning of 1970, UTC, and whoever asks makes sittings of days.
//
// The method is serial schedule generation (Kolisch 1996, "Serial and parallel
// resource-constrained project scheduling methods revisited"): jobs in the order they are
// given, each step at its earliest, the one with the longest way to the end first. Latest
// starts are found by the same on the mirror of time.
package schedule

import (
	"fmt"
	"slices"
	"strings"
)

// Span is from one moment to another, in minutes.
type Span struct{ From, To int }

// Step is one step of a job. All lengths are in minutes, and none is below 0.
type Step struct {
	Name    string
	Work    int    // of the maker's hands
	Run     int    // that a tool goes on by itself when the hands have left it
	Wait    int    // before what needs the step may begin
	Most    int    // before which that must have begun, from the step's end; 0 for no such bound
	Needs   []int  // steps of the same job that come before
	OneGo   bool   // never split over two sittings
	Present bool   // the maker is there while it runs
	Tool    string // that serves one step at a time; empty for none
	Until   int    // the step of the same job at whose end the tool is free again; the step itself, or one before it, for its own
	From    int    // it does not begin before this moment
	Ended   bool   // it is done, and was so at From: what it needed counts no more
}

// Job is what is made in steps. Due is the moment by which the last wait must be over; 0
// for none.
type Job struct {
	Steps []Step
	Due   int
}

// Placed is when a step is done.
type Placed struct {
	Start, End int    // End is when hands and tool are done with it
	Free       int    // when what needs it may begin
	Parts      []Span // in which the hands are at it
	Latest     int    // start by which the due moment is still met; only where there is one
	Misfit     string // why it is not as it should be, as the end of a sentence; empty where it is
}

// Slack is how much later a step may begin, in minutes; below 0 it is late.
func (p Placed) Slack() int { return p.Latest - p.Start }

// Result is when a job is done. End is when its last wait is over.
type Result struct {
	Steps []Placed
	End   int
	Tried int   // orders of its steps; many where it is late all the same
	Err   error // of a ring, or of hours that do not hold it; the steps are empty then
}

// Late is how much later than wanted a job is done, in minutes; 0 for in time.
func (r Result) Late(j Job) int {
	if j.Due == 0 || r.Err != nil {
		return 0
	}
	return max(0, r.End-j.Due)
}

// Ring tells of steps that each need another of them first.
type Ring struct{ Names []string }

func (r Ring) Error() string {
	return fmt.Sprintf("%s each wait for the other. Remove one of these links", strings.Join(r.Names, ", "))
}

// NoRoom tells that the sittings do not hold a job.
type NoRoom struct{ Step string }

func (n NoRoom) Error() string {
	return fmt.Sprintf("your hours do not reach %q. Allow more hours a week", n.Step)
}

// Plan places the steps of jobs, each job after those before it, in sittings in their
// order that do not overlap, none before now.
func Plan(jobs []Job, sittings []Span, now int) []Result {
	t := newTable(sittings)
	out := make([]Result, len(jobs))
	for i, j := range jobs {
		out[i] = t.plan(j, now)
	}
	return out
}

// problem is a job as it is placed: forwards, or on the mirror of time, where every moment
// is its negative and what was last comes first.
type problem struct {
	steps []Step
	edges []edge
	into  [][]edge // by the step they lead to
	holds []hold
	ready []int // each step begins no sooner
	back  bool
}

// edge is that one step begins so long after another's end, and before so long; most 0
// for whenever.
type edge struct{ from, to, least, most int }

// hold is a tool that is kept from one step's start to another's end.
type hold struct {
	tool        string
	first, last int
}

func forwards(j Job, now int) problem {
	p := problem{steps: j.Steps, into: make([][]edge, len(j.Steps))}
	for i, s := range j.Steps {
		p.ready = append(p.ready, max(now, s.From))
		if s.Ended {
			p.ready[i] = s.From
		}
		for _, from := range s.Needs {
			if from >= 0 && from < len(j.Steps) && !s.Ended {
				e := edge{from, i, j.Steps[from].Wait, j.Steps[from].Most}
				p.edges, p.into[i] = append(p.edges, e), append(p.into[i], e)
			}
		}
		if s.Tool != "" {
			h := hold{s.Tool, i, i}
			if s.Until > i && s.Until < len(j.Steps) {
				h.last = s.Until
			}
			p.holds = append(p.holds, h)
		}
	}
	return p
}

// backwards is a job from its due moment, of which every last wait is over by then.
func backwards(j Job) problem {
	f := forwards(j, 0)
	p := problem{steps: j.Steps, into: make([][]edge, len(j.Steps)), back: true}
	for _, s := range j.Steps {
		p.ready = append(p.ready, -j.Due+s.Wait)
	}
	for _, e := range f.edges {
		e.from, e.to = e.to, e.from
		p.edges, p.into[e.to] = append(p.edges, e), append(p.into[e.to], e)
	}
	for _, h := range f.holds {
		p.holds = append(p.holds, hold{h.tool, h.last, h.first})
	}
	return p
}

// order is one in which every step comes after what it needs: among those that can be
// next, the one with the longest way to the end.
func order(n int, es []edge, tail []float64, name func(int) string) ([]int, error) {
	left := make([]int, n)
	for _, e := range es {
		left[e.to]++
	}
	var out []int
	placed := make([]bool, n)
	for len(out) < n {
		best := -1
		for i := range n {
			if !placed[i] && left[i] == 0 && (best < 0 || tail[i] > tail[best]) {
				best = i
			}
		}
		if best < 0 {
			return nil, Ring{ringOf(n, es, placed, name)}
		}
		placed[best] = true
		out = append(out, best)
		for _, e := range es {
			if e.from == best {
				left[e.to]--
			}
		}
	}
	return out, nil
}

// ringOf names the steps of one ring among those that could not be placed.
func ringOf(n int, es []edge, placed []bool, name func(int) string) []string {
	at := slices.Index(placed, false)
	seen := make([]int, n)
	var path []int
	for at >= 0 && seen[at] == 0 { // each of these has one before it that is not placed either
		path = append(path, at)
		seen[at] = len(path)
		i := slices.IndexFunc(es, func(e edge) bool { return e.to == at && !placed[e.from] })
		if i < 0 {
			break
		}
		at = es[i].from
	}
	var out []string
	for _, i := range path[max(0, seen[at]-1):] {
		out = append(out, name(i))
	}
	slices.Reverse(out)
	return out
}

// tails are how long the way is from each step's start to the end: its own time and the
// longest that follows. Work counts by how rarely there is a sitting.
func (p problem) tails(rare float64) []float64 {
	out := make([]float64, len(p.steps))
	own := func(i int) float64 { return float64(p.steps[i].Work)*rare + float64(p.steps[i].Run) }
	for i, s := range p.steps {
		out[i] = own(i)
		if !p.back {
			out[i] += float64(s.Wait)
		}
	}
	for range p.steps { // as long as something grows; a ring is told elsewhere
		grown := false
		for _, e := range p.edges {
			if v := own(e.from) + float64(e.least) + out[e.to]; v > out[e.from]+1e-9 {
				out[e.from], grown = v, true
			}
		}
		if !grown {
			break
		}
	}
	return out
}

// shares is how many minutes of the calendar there are to a minute of the sittings.
func shares(sittings []Span) float64 {
	if len(sittings) == 0 {
		return 1
	}
	sum := 0
	for _, s := range sittings {
		sum += s.To - s.From
	}
	return max(1, float64(sittings[len(sittings)-1].To-sittings[0].From)/float64(max(1, sum)))
}
