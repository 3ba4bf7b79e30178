package log

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"lampfern/core/form"
	"lampfern/core/schedule"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/plan/work"
)

// OrderWork makes the order of work from the plan, or makes it anew.
type OrderWork struct{}

func (OrderWork) Do(d *plan.Draft) (string, error) {
	s := work.Of(d.Plan)
	fresh, err := freshOrder(d.Ctx, d.Desk, d.Plan)
	if err != nil {
		return "", err
	}
	s.Steps = s.Anew(fresh)
	return "make a schedule", nil
}

// Wanted says by when it must be finished, and before which day nothing begins.
type Wanted struct {
	Due   string `form:"due,optional"`
	Begin string `form:"begin,optional"`
	Alone bool   `form:"alone,optional"`
}

func (e Wanted) Do(d *plan.Draft) (string, error) {
	s := work.Of(d.Plan)
	s.Due, s.Begin, s.Alone = strings.TrimSpace(e.Due), strings.TrimSpace(e.Begin), e.Alone
	return "change the dates", nil
}

// stepOf is a step of the draft by its key.
func stepOf(d *plan.Draft, key string) (*work.Step, error) {
	s := work.Of(d.Plan)
	at := s.At(key)
	if at < 0 {
		return nil, words.Refuse("That step was deleted. Load the page again.")
	}
	s.Steps = slices.Clone(s.Steps)
	return &s.Steps[at], nil
}

// dayOf is a day that a maker names, at noon in their place; today when they name none.
func dayOf(text string, now time.Time) (time.Time, error) {
	if strings.TrimSpace(text) == "" {
		return now.Truncate(time.Minute), nil
	}
	day, err := time.ParseInLocation(time.DateOnly, strings.TrimSpace(text), now.Location())
	if err != nil {
		return now, words.Refuse("“%.20s” is not a date. Write it as 2027-03-09.", text)
	}
	if y, m, d := now.Date(); day.Format(time.DateOnly) == time.Date(y, m, d, 0, 0, 0, 0, now.Location()).Format(time.DateOnly) {
		return now.Truncate(time.Minute), nil
	}
	if day.After(now) {
		return now, words.Refuse("%s is in the future. Write the day it was done.", words.Date(day))
	}
	return day.Add(12 * time.Hour), nil
}

// Tick says that a step is done, with how long it took; or that it is not.
type Tick struct {
	Step string `form:"step"`
	Off  bool   `form:"off,optional"`
	Day  string `form:"day,optional"`
	Took string `form:"took,optional"`
}

func (e Tick) Do(d *plan.Draft) (string, error) {
	st, err := stepOf(d, e.Step)
	if err != nil {
		return "", err
	}
	if e.Off {
		st.Done, st.Over = nil, nil
		return st.Name + ": mark as not done", nil
	}
	at, err := dayOf(e.Day, d.Now)
	if err != nil {
		return "", err
	}
	took, err := form.Minutes(e.Took)
	if err != nil {
		return "", err
	}
	at = at.UTC()
	st.Done = &at
	if took > 0 {
		st.Took = took
	}
	return st.Name + ": done", nil
}

// Begin says that a step is at work.
type Begin struct {
	Step string `form:"step"`
}

func (e Begin) Do(d *plan.Draft) (string, error) {
	st, err := stepOf(d, e.Step)
	if err != nil {
		return "", err
	}
	now := d.Now.UTC().Truncate(time.Minute)
	st.Begun = &now
	return st.Name + ": begun", nil
}

// Over says that a step's wait is over: it is dry, it has come.
type Over struct {
	Step string `form:"step"`
}

func (e Over) Do(d *plan.Draft) (string, error) {
	st, err := stepOf(d, e.Step)
	if err != nil {
		return "", err
	}
	if st.Done == nil {
		return "", words.Refuse("%s is not done yet. Tick it first.", st.Name)
	}
	now := d.Now.UTC().Truncate(time.Minute)
	st.Over = &now
	return st.Name + ": done waiting", nil
}

// lengths are a step's work and wait, as they are written.
func lengths(work, wait string) (minutes, waits int, err error) {
	if minutes, err = form.Minutes(work); err != nil {
		return 0, 0, err
	}
	waits, err = form.Minutes(wait)
	return minutes, waits, err
}

// EditStep changes a step: its name, how long it takes and waits, and what comes before.
type EditStep struct {
	Step  string `form:"step"`
	Name  string `form:"name,optional"`
	Work  string `form:"work,optional"`
	Wait  string `form:"wait,optional"`
	After []string
}

func (e *EditStep) Read(f *form.Form) error {
	e.After = f.Texts("after")
	return nil
}

func (e EditStep) Do(d *plan.Draft) (string, error) {
	st, err := stepOf(d, e.Step)
	if err != nil {
		return "", err
	}
	minutes, wait, err := lengths(e.Work, e.Wait)
	if err != nil {
		return "", err
	}
	if name := strings.Join(strings.Fields(e.Name), " "); name != "" {
		st.Name = name
	}
	if float64(minutes) != st.Work() {
		st.Each, st.Count, st.Per, st.Fixed = float64(minutes), 1, "", 0
	}
	if wait != st.Wait && wait < st.WaitFrom && st.Base() == "cut" && st.Why == "cure" {
		return "", words.Refuse("A cure takes at least %s and cannot be shorter.", words.Wait(float64(st.WaitFrom)))
	}
	if st.Wait != wait {
		st.Wait, st.Window = wait, false
	}
	st.After, st.Edited = e.After, true
	return "change " + st.Name, nil
}

// LeaveOut leaves a step out, or takes it in again.
type LeaveOut struct {
	Step string `form:"step"`
	In   bool   `form:"in,optional"`
}

func (e LeaveOut) Do(d *plan.Draft) (string, error) {
	st, err := stepOf(d, e.Step)
	if err != nil {
		return "", err
	}
	if !st.Optional && !st.Own && !e.In {
		return "", words.Refuse("%s cannot be skipped. Change how long it takes instead.", st.Name)
	}
	st.Left = !e.In
	if e.In {
		return "include " + st.Name, nil
	}
	return "skip " + st.Name, nil
}

// AddStep adds a step of the maker's own.
type AddStep struct {
	Name   string `form:"name"`
	Work   string `form:"work,optional"`
	Wait   string `form:"wait,optional"`
	After  string `form:"after,optional"`
	Before string `form:"before,optional"` // a step that waits for it
	OneGo  bool   `form:"one_go,optional"`
}

func (e AddStep) Do(d *plan.Draft) (string, error) {
	s := work.Of(d.Plan)
	minutes, wait, err := lengths(e.Work, e.Wait)
	if err != nil {
		return "", err
	}
	n := 1
	for s.At(fmt.Sprintf("own%d", n)) >= 0 {
		n++
	}
	st := work.Step{Key: fmt.Sprintf("own%d", n), Name: strings.Join(strings.Fields(e.Name), " "), Each: float64(minutes), Count: 1,
		Wait: wait, OneGo: e.OneGo, Own: true}
	if e.After != "" {
		st.After = []string{e.After}
	}
	steps := append(slices.Clone(s.Steps), st)
	if at := s.At(e.Before); at >= 0 {
		steps[at].After = append(slices.Clip(steps[at].After), st.Key)
	}
	s.Steps = steps
	return "add the step " + st.Name, nil
}

// DropStep takes a step of the maker's own away; undo puts it back.
type DropStep struct {
	Step string `form:"step"`
}

func (e DropStep) Do(d *plan.Draft) (string, error) {
	st, err := stepOf(d, e.Step)
	if err != nil {
		return "", err
	}
	if !st.Own {
		return "", words.Refuse("%s is part of the craft. Skip it instead.", st.Name)
	}
	name := st.Name
	s := work.Of(d.Plan)
	s.Steps = slices.DeleteFunc(s.Steps, func(o work.Step) bool { return o.Key == e.Step })
	return "delete the step " + name, nil
}

// Judge keeps the verdict.
type Judge struct {
	Words     string `form:"words,optional"`
	Again     string `form:"again,optional"`
	Otherwise string `form:"otherwise,optional"`
}

func (e Judge) Do(d *plan.Draft) (string, error) {
	v := work.AsItIs(d.Plan)
	v.Words, v.Again, v.Otherwise = strings.TrimSpace(e.Words), e.Again, strings.TrimSpace(e.Otherwise)
	v.On = d.Now.Format(time.DateOnly)
	if !v.Given() {
		v = work.Verdict{}
	}
	work.Of(d.Plan).Verdict = v
	return "save the verdict", nil
}

// Prove says whether a note came true.
type Prove struct {
	Note  string `form:"note"`
	True  bool   `form:"true,optional"`
	Unsay bool   `form:"unsay,optional"`
}

func (e Prove) Do(d *plan.Draft) (string, error) {
	s := work.Of(d.Plan)
	kept := map[string]bool{}
	for k, v := range s.Proved {
		kept[k] = v
	}
	if e.Unsay {
		delete(kept, e.Note)
	} else {
		kept[e.Note] = e.True
	}
	s.Proved = kept
	return "say whether it happened", nil
}

// shortest and longest sitting that a maker may have on a day, in minutes.
const longestDay = 24 * 60

// Hours are the maker's hours by weekday, for all plans.
type Hours struct {
	week [7]schedule.Day
	off  []string
}

func (e *Hours) Read(f *form.Form) error {
	for i := range e.week {
		long, err := form.Minutes(f.Text(fmt.Sprintf("for%d", i)))
		if err != nil {
			return err
		}
		at := 18 * 60
		if t := f.Text(fmt.Sprintf("at%d", i)); t != "" {
			clock, err := time.Parse("15:04", t)
			if err != nil {
				return words.Refuse("“%.20s” is not a time. Write it as 18:30.", t)
			}
			at = clock.Hour()*60 + clock.Minute()
		}
		if at+long > longestDay {
			return words.Refuse("On %ss the work runs past midnight. Start earlier, or give fewer hours.", time.Weekday(i))
		}
		e.week[i] = schedule.Day{From: at, Minutes: long}
	}
	for _, day := range strings.FieldsFunc(f.Text("off"), func(r rune) bool {
		return r == ',' || r == ' ' || r == '\n' || r == '\r' ||
			r == ';'
	}) {
		at, err := time.Parse(time.DateOnly, day)
		if err != nil {
			return words.Refuse("“%.20s” is not a date. Write days off as 2027-03-09, with commas.", day)
		}
		e.off = append(e.off, at.Format(time.DateOnly))
	}
	if len(e.off) > 400 {
		return words.Refuse("At most 400 days off can be saved.")
	}
	return nil
}

// OrderNow lets what is to be ordered wait for nothing.
type OrderNow struct{}

func (OrderNow) Do(d *plan.Draft) (string, error) {
	s := work.Of(d.Plan)
	s.Steps = slices.Clone(s.Steps)
	for i := range s.Steps {
		if st := &s.Steps[i]; st.Ordered() && st.Done == nil {
			st.After, st.Edited = nil, true
		}
	}
	return "order at once", nil
}
