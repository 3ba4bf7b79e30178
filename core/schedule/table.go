package schedule

import (
	"fmt"
	"maps"
	"math/rand/v2"
	"slices"
)

// table is what is free of the sittings and the tools.
type table struct {
	sittings []Span
	free     [][]Span // of each sitting; a slice is never changed, but replaced
	tools    map[string][]Span
	rare     float64 // minutes of the calendar to one of the sittings
	longest  int     // sitting, in minutes
	orders   int     // that are tried before a job is late
}

func newTable(sittings []Span) *table {
	t := &table{sittings: sittings, tools: map[string][]Span{}, rare: shares(sittings), orders: ordersTried}
	for i := range sittings {
		t.free = append(t.free, sittings[i:i+1:i+1])
		t.longest = max(t.longest, sittings[i].To-sittings[i].From)
	}
	return t
}

// mirror is the same table on the mirror of time.
func (t *table) mirror() *table {
	room := make([]Span, 0, 2*len(t.sittings)) // for most of them, at once
	turn := func(all []Span) []Span {
		from := len(room)
		for i := len(all) - 1; i >= 0; i-- {
			room = append(room, Span{-all[i].To, -all[i].From})
		}
		return room[from:len(room):len(room)]
	}
	m := &table{sittings: turn(t.sittings), free: make([][]Span, len(t.free)), tools: map[string][]Span{}, rare: t.rare, longest: t.longest}
	for i, f := range t.free {
		m.free[len(t.free)-1-i] = turn(f)
	}
	for name, busy := range t.tools {
		m.tools[name] = turn(busy)
	}
	return m
}

// plan places a job at its earliest, with its latest starts where it is due, and takes
// what it uses.
func (t *table) plan(j Job, now int) Result {
	var last []Placed
	var urgent []float64 // what must begin first by the due moment
	if j.Due != 0 {
		if placed, _, err := t.mirror().place(backwards(j), nil, 0); err == nil {
			last = placed
			for _, p := range placed {
				urgent = append(urgent, float64(p.End))
			}
		}
	}
	placed, tried, err := t.place(forwards(j, now), urgent, j.Due)
	if err != nil {
		return Result{Err: err}
	}
	r := Result{Steps: placed, Tried: tried, End: max(now, end(problem{steps: j.Steps}, placed))}
	late := 0
	if j.Due != 0 {
		late = j.Due - r.End
	}
	for i := range placed {
		switch {
		case j.Due == 0:
			continue
		case late < 0 || last == nil: // each step would have to begin sooner by as much
			placed[i].Latest = placed[i].Start + min(0, late)
		default: // the mirror may be placed a little worse than what is already found
			placed[i].Latest = max(placed[i].Start, -last[i].End)
		}
	}
	return r
}

// mostTries bounds how often a job is begun anew because a window was missed or a tool was
// taken.
const mostTries = 200

// ordersTried is how many orders of its steps are tried before a job is said to be late.
const ordersTried = 200

// place places all steps of a problem, forwards in the better of two orders unless the first is in
// time, and takes what they use; of a failure nothing. Where the better one is late, others are tried:
// by random priorities, and by trades of two around the best so far (Kolisch 1996 calls it adaptive
// sampling). tried is how many orders there were.
func (t *table) place(p problem, urgent []float64, due int) (best []Placed, tried int, err error) {
	free, tools := t.free, t.tools
	var taken *table
	var lead []float64 // priorities of the best
	orders := [][]float64{p.tails(t.rare), urgent}
	switch {
	case p.back:
		orders = orders[:1]
	case urgent == nil:
		orders[1] = make([]float64, len(p.steps)) // as they are listed
	}
	try := func(first []float64) error {
		order, err := order(len(p.steps), p.edges, first, func(i int) string { return p.steps[i].Name })
		if err != nil {
			return err
		}
		placed, err := t.settle(p, order, free, tools)
		if err != nil {
			t.free, t.tools = free, tools
			return err
		}
		if tried++; best == nil || end(p, placed) < end(p, best) {
			best, taken, lead = placed, &table{free: t.free, tools: t.tools}, first
		}
		return nil
	}
	inTime := func() bool { return due != 0 && best != nil && end(p, best) <= due }
	for _, first := range orders {
		if err := try(first); err != nil {
			return nil, tried, err
		}
		if inTime() {
			break
		}
	}
	r := rand.New(rand.NewPCG(uint64(len(p.steps)), ordersTried)) // the same at each look
	for n := len(p.steps); due != 0 && !p.back && n > 1 && !inTime() && tried < t.orders; {
		first := slices.Clone(lead)
		if i, j := r.IntN(n), r.IntN(n); tried%2 == 0 {
			first[i], first[j] = first[j], first[i]
		} else {
			for i := range first {
				first[i] = r.Float64()
			}
		}
		if err := try(first); err != nil {
			break // what was found stands
		}
	}
	t.free, t.tools = taken.free, taken.tools
	return best, tried, nil
}

// end is when the last wait is over.
func end(p problem, placed []Placed) (out int) {
	for i, s := range p.steps {
		if at := placed[i].End + s.Wait; i == 0 || at > out {
			out = at
		}
	}
	return out
}

// settle places the steps in an order in what is free, as often as windows and tools ask
// for it.
func (t *table) settle(p problem, order []int, free [][]Span, tools map[string][]Span) ([]Placed, error) {
	ready := slices.Clone(p.ready)
	t.free, t.tools = slices.Clone(free), maps.Clone(tools)
	for range mostTries {
		placed, again, err := t.once(p, order, ready, true)
		if err == nil && !again {
			return placed, nil
		}
		copy(t.free, free)
		t.tools = maps.Clone(tools)
		if err != nil {
			break
		}
	}
	placed, _, err := t.once(p, order, p.ready, false) // what cannot be kept is told instead
	return placed, err
}

// once places the steps in an order. Where a window is missed or a tool is taken it puts
// off what is to blame in ready, and says that it is to be done again; unless strict, it
// goes on and says so of the step.
func (t *table) once(p problem, order []int, ready []int, strict bool) (placed []Placed, again bool, err error) {
	placed = make([]Placed, len(p.steps))
	for _, i := range order {
		from := ready[i]
		for _, e := range p.into[i] {
			from = max(from, placed[e.from].End+e.least)
		}
		if placed[i], err = t.step(p, i, from); err != nil {
			return nil, false, err
		}
		for _, e := range p.into[i] {
			over := placed[i].Start - placed[e.from].End - e.most
			if e.most == 0 || over <= 0 {
				continue
			}
			if strict && ready[e.from] < placed[e.from].Start+over {
				ready[e.from] = placed[e.from].Start + over
				return nil, true, nil
			}
			placed[i].Misfit = fmt.Sprintf("starts later than it should after %q", p.steps[e.from].Name)
		}
	}
	for _, h := range p.holds {
		held := Span{placed[h.first].Start, placed[h.last].End}
		if h.first == h.last {
			continue // its own time was looked up as it was placed
		}
		for _, b := range t.tools[h.tool] {
			if b.From < held.To && held.From < b.To {
				if strict && ready[h.first] < b.To {
					ready[h.first] = b.To
					return nil, true, nil
				}
				placed[h.first].Misfit = fmt.Sprintf("needs the %s while it is in use", h.tool)
			}
		}
		t.tools[h.tool] = append(slices.Clip(t.tools[h.tool]), held)
	}
	for i := range placed {
		placed[i].Free = placed[i].End + p.steps[i].Wait
	}
	return placed, false, nil
}

// least is the smallest bit of a step that is worth sitting down for, in minutes.
const least = 15

// step places one step from a moment on, and takes what it uses.
func (t *table) step(p problem, i, from int) (Placed, error) {
	s := p.steps[i]
	own := slices.ContainsFunc(p.holds, func(h hold) bool { return h.first == i && h.last == i })
	before, after := 0, s.Run // what the tool does alone, before and after the hands
	if p.back {
		before, after = s.Run, 0
	}
	if s.Work == 0 && s.Run == 0 || s.Ended {
		return Placed{Start: from, End: from}, nil
	}
	for {
		at, fits := t.find(s, from, before, after)
		if !fits {
			return Placed{}, NoRoom{s.Name}
		}
		at.Start -= before
		at.End += after
		if own {
			taken := Span{at.Start, at.End}
			if k := slices.IndexFunc(t.tools[s.Tool], func(b Span) bool { return b.From < taken.To && taken.From < b.To }); k >= 0 {
				from = t.tools[s.Tool][k].To
				continue
			}
			t.tools[s.Tool] = append(slices.Clip(t.tools[s.Tool]), taken)
		}
		for _, part := range at.Parts {
			t.take(part)
		}
		return at, nil
	}
}

// find looks for the earliest time of the hands for a step: from a moment on, with what a
// tool does alone before and after it.
func (t *table) find(s Step, from, before, after int) (Placed, bool) {
	first, _ := slices.BinarySearchFunc(t.sittings, from+1, func(x Span, at int) int { return x.To - at })
	whole := s.OneGo || s.Run > 0 // hands that start a tool are there in one go
	if whole {
		need, misfit := s.Work, ""
		if s.Present {
			need += s.Run
		}
		if t.longest < need {
			misfit = "takes longer than any of your sittings"
		}
		for k := first; k < len(t.sittings); k++ {
			x := t.sittings[k]
			for _, f := range t.free[k] {
				begin := max(f.From, from+before)
				switch {
				// it takes a sitting from its start, and goes on beyond it
				case misfit != "" && (f.To-begin < min(s.Work, least) || f.From != x.From && s.Present):
					continue
				case misfit != "" && !t.clear(Span{begin, begin + need}):
					continue // what goes on beyond its sitting does not run into another's
				case misfit == "" && f.To-begin < s.Work:
					continue
				case misfit == "" && s.Present && (begin-before < x.From || begin+s.Work+after > x.To):
					if begin = max(begin, x.From+before); f.To-begin < s.Work || begin+s.Work+after > x.To {
						continue
					}
				}
				return Placed{Start: begin, End: begin + s.Work, Parts: []Span{{begin, begin + s.Work}}, Misfit: misfit}, true
			}
		}
		return Placed{}, false
	}
	left := s.Work
	out := Placed{}
	for k := first; k < len(t.sittings); k++ {
		for _, f := range t.free[k] {
			begin := max(f.From, from)
			if f.To-begin < min(left, least) || f.To <= begin {
				continue
			}
			part := Span{begin, min(f.To, begin+left)}
			left -= part.To - part.From
			out.Parts = append(out.Parts, part)
			if left == 0 {
				out.Start, out.End = out.Parts[0].From, part.To
				return out, true
			}
		}
	}
	return out, false
}

// clear reports whether all of the sittings within a span is free.
func (t *table) clear(span Span) bool {
	within := func(x Span) int { return max(0, min(x.To, span.To)-max(x.From, span.From)) }
	first, _ := slices.BinarySearchFunc(t.sittings, span.From+1, func(x Span, at int) int { return x.To - at })
	for k := first; k < len(t.sittings) && t.sittings[k].From < span.To; k++ {
		free := 0
		for _, f := range t.free[k] {
			free += within(f)
		}
		if free < within(t.sittings[k]) {
			return false
		}
	}
	return true
}

// take takes a span off what is free.
func (t *table) take(part Span) {
	first, _ := slices.BinarySearchFunc(t.sittings, part.From+1, func(x Span, at int) int { return x.To - at })
	for k := first; k < len(t.sittings) && t.sittings[k].From < part.To; k++ {
		var left []Span
		for _, f := range t.free[k] {
			if f.From < part.From {
				left = append(left, Span{f.From, min(f.To, part.From)})
			}
			if f.To > part.To {
				left = append(left, Span{max(f.From, part.To), f.To})
			}
		}
		t.free[k] = left
	}
}
