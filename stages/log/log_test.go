package log_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/piece"
	"lampfern/core/schedule"
	"lampfern/plan"
	"lampfern/plan/work"
	"lampfern/stages"
	"lampfern/stages/log"
	"lampfern/stages/signoff"
	"lampfern/testroom"
)

// sewn is a quilt of five cards on its piece, and its desk. Nothing is on hand.
func sewn(t *testing.T) (*plan.Desk, uint) {
	t.Helper()
	k := testroom.Studio(t, stages.All()...)
	id, _ := testroom.Quilt(t, k)
	p := testroom.MustOpen(t, k, id)
	for i, part := range p.Piece.Parts {
		testroom.Do(t, k, id, plan.FillPart{Part: part.Key, Key: p.Tray[i%len(p.Tray)].Key})
	}
	return k, id
}

func ordered(t *testing.T) (*plan.Desk, uint) {
	t.Helper()
	k, id := sewn(t)
	testroom.Do(t, k, id, log.OrderWork{})
	return k, id
}

func step(t *testing.T, k *plan.Desk, id uint, key string) work.Step {
	t.Helper()
	s := work.Of(testroom.MustOpen(t, k, id))
	at := s.At(key)
	require.GreaterOrEqual(t, at, 0, key)
	return s.Steps[at]
}

func look(t *testing.T, k *plan.Desk, id uint, now time.Time) *log.View {
	t.Helper()
	v, err := log.Look(t.Context(), k, testroom.MustOpen(t, k, id), now)
	require.NoError(t, err)
	return v
}

func act(t *testing.T, k *plan.Desk, id uint, a plan.Act) (string, error) {
	t.Helper()
	return a.Act(t.Context(), k, testroom.MustOpen(t, k, id))
}

// said are the notes on the times, each as one line.
func said(v *log.View) string {
	var out []string
	for _, n := range v.Notes {
		out = append(out, n.About+n.Words)
	}
	return strings.Join(out, "\n")
}

// always are eight hours on every day.
func always(t *testing.T, k *plan.Desk) {
	t.Helper()
	require.NoError(t, work.ChangePrefs(t.Context(), k, func(p *work.Prefs) error {
		p.Said = true
		for i := range p.Hours.Week {
			p.Hours.Week[i] = schedule.Day{From: 10 * 60, Minutes: 8 * 60}
		}
		return nil
	}))
}

// monday is the beginning of a week in which nothing is special.
var monday = time.Date(2031, 3, 3, 8, 0, 0, 0, time.Local)

func TestTheOrderOfWorkFollowsFromThePlan(t *testing.T) {
	k, id := sewn(t)
	v := look(t, k, id, monday)
	assert.Nil(t, v.Planned)
	assert.Empty(t, v.Cannot)
	testroom.Do(t, k, id, log.OrderWork{})
	p := testroom.MustOpen(t, k, id)
	cuts := 0
	for _, r := range p.Piece.Cutouts() {
		if p.Piece.Parts[r.Part].Key != "binding" {
			cuts++
		}
	}
	cut := step(t, k, id, "cut")
	assert.InDelta(t, float64(cuts), cut.Work(), 1e-9, "a minute a piece")
	assert.Contains(t, cut.After, piece.Agreed)
	assert.Equal(t, "delivery", step(t, k, id, "order1").Why, "nothing is on hand, so all is ordered")
	assert.Contains(t, step(t, k, id, "bleed").After, "order1", "and waited for")
	assert.True(t, step(t, k, id, piece.Agreed).Left, "nobody is asked")
	assert.Equal(t, []string{"bind"}, step(t, k, id, "result").After)
	assert.True(t, log.Stage().Filled(p))

	_, err := act(t, k, id, signoff.Make{})
	require.NoError(t, err)
	testroom.Do(t, k, id, log.Tick{Step: "cut", Took: "2 h 10"})
	testroom.Do(t, k, id, log.EditStep{Step: "bind", Name: "Bind by hand", Work: "3 h", After: []string{"quilting"}})
	testroom.Do(t, k, id, log.AddStep{Name: " Make  a label ", Work: "40", Wait: "1 day", After: "bind", Before: "result"})
	testroom.Do(t, k, id, log.LeaveOut{Step: "lay"})
	testroom.Do(t, k, id, plan.ChoosePiece{Pattern: "ninepatch"})
	v = look(t, k, id, monday)
	require.NotEmpty(t, v.Anew, "the page says that it would differ")
	testroom.Do(t, k, id, log.OrderWork{})
	assert.NotNil(t, step(t, k, id, "cut").Done, "what was done stays")
	assert.Equal(t, 130, step(t, k, id, "cut").Took)
	assert.Equal(t, "Bind by hand", step(t, k, id, "bind").Name)
	assert.Equal(t, 180.0, step(t, k, id, "bind").Work())
	assert.Equal(t, "Make a label", step(t, k, id, "own1").Name)
	assert.True(t, step(t, k, id, "lay").Left)
	assert.Empty(t, look(t, k, id, monday).Anew, "nothing differs once it is made anew")
	_, err = k.StepPlan(t.Context(), id, testroom.MustOpen(t, k, id).Revision, true)
	require.NoError(t, err)
	assert.NotEmpty(t, look(t, k, id, monday).Anew, "and it can be undone")
}

func TestWhatTheMakerWritesIsChecked(t *testing.T) {
	k, id := ordered(t)
	tomorrow := time.Now().AddDate(0, 0, 1).Format(time.DateOnly)
	for want, e := range map[string]plan.Edit{
		"was deleted":                       log.Tick{Step: "dance"},
		"is not a date":                     log.Tick{Step: "cut", Day: "yesterday"},
		"is in the future":                  log.Tick{Step: "cut", Day: tomorrow},
		"is not a length of time":           log.Tick{Step: "cut", Took: "long"},
		"Write a day as":                    log.Wanted{Due: "soon"},
		"between 2000 and 2200":             log.Wanted{Due: "9999-01-01"},
		"is not a length":                   log.EditStep{Step: "cut", Work: "1000 years"},
		"each wait for the other":           log.EditStep{Step: "cut", Work: "1 h", After: []string{"assemble"}},
		"cannot be skipped":                 log.LeaveOut{Step: "cut"},
		"is part of the craft":              log.DropStep{Step: "cut"},
		"A step has a name":                 log.AddStep{Name: "  "},
		"Tick it first":                     log.Over{Step: "cut"},
		"Choose yes, no":                    log.Judge{Again: "perhaps"},
		"A verdict has at most":             log.Judge{Words: strings.Repeat("x", 4001)},
		"Write the colour as":               log.KeepMade{Card: "Moth wing", Colour: "mauve"},
		"no longer has a card":              log.KeepMade{Card: "Nobody", Colour: "#112233"},
		"cannot be saved. Measure it again": log.KeepMade{Card: "Moth wing", Colour: "#112233", How: "guess"},
		"uses no Nobody":                    log.UsedUp{Name: "Nobody", Really: 3},
		"you used, above 0":                 log.UsedUp{Name: "Moth wing", Really: -3},
		"reading was deleted":               log.DropMade{At: 7},
		"name of at most 200":               log.EditStep{Step: "cut", Name: strings.Repeat("x", 201), Work: "1 h"},
		"can take 0 to 10000 hours":         log.EditStep{Step: "cut", Work: "500 days"},
	} {
		testroom.Refused(t, k, id, e, want)
	}
	s := &work.Section{Steps: []work.Step{{Key: "a", Name: "a"}, {Key: "a", Name: "b"}}}
	assert.ErrorContains(t, s.Check(), "Two steps have the same key (a)")
	s = &work.Section{Steps: []work.Step{{Key: "a", Name: "Wait", Wait: 1000 * 366 * 24 * 60}}}
	assert.ErrorContains(t, s.Check(), "can wait up to ten years")
	s = &work.Section{Steps: make([]work.Step, work.MostSteps+1)}
	assert.ErrorContains(t, s.Check(), "at most 400 steps")
}

func TestAStepIsDoneAndUndone(t *testing.T) {
	k, id := ordered(t)
	always(t, k)
	testroom.Do(t, k, id, log.Begin{Step: "cut"})
	assert.NotNil(t, step(t, k, id, "cut").Begun)
	testroom.Do(t, k, id, log.Tick{Step: "order1", Day: time.Now().AddDate(0, 0, -2).Format(time.DateOnly), Took: "1:15"})
	st := step(t, k, id, "order1")
	assert.Equal(t, 75, st.Took)
	require.NotNil(t, st.Done)
	v := look(t, k, id, time.Now())
	require.NotEmpty(t, v.Done)
	assert.True(t, v.Done[0].Waiting, "its delivery is on the way")
	assert.Contains(t, v.Done[0].Wait, "Delivery until ")
	bleed := v.Planned.Result.Steps[v.Section.At("bleed")].Start
	testroom.Do(t, k, id, log.Over{Step: "order1"})
	v = look(t, k, id, time.Now())
	assert.False(t, v.Done[0].Waiting)
	assert.Less(t, v.Planned.Result.Steps[v.Section.At("bleed")].Start, bleed, "it has come sooner, so what waits moves")
	testroom.Do(t, k, id, log.Tick{Step: "order1", Off: true})
	assert.Nil(t, step(t, k, id, "order1").Done)
	assert.Empty(t, look(t, k, id, time.Now()).Done)
	testroom.Do(t, k, id, log.DropStep{Step: addOwn(t, k, id)})
}

func addOwn(t *testing.T, k *plan.Desk, id uint) string {
	t.Helper()
	testroom.Do(t, k, id, log.AddStep{Name: "Own", Work: "1 h"})
	return "own1"
}

// A step begun late moves what follows.
func TestDaysFollowTheHours(t *testing.T) {
	k, id := ordered(t)
	always(t, k)
	v := look(t, k, id, monday)
	assert.Contains(t, v.Sum, "56 h a week")
	first := v.Planned.Result.End
	later := look(t, k, id, monday.AddDate(0, 0, 3))
	assert.Equal(t, first+3*24*60, later.Planned.Result.End, "three days on, nothing done, it ends three days later")
	testroom.Do(t, k, id, log.Wanted{Begin: monday.AddDate(0, 0, 7).Format(time.DateOnly)})
	v = look(t, k, id, monday)
	assert.GreaterOrEqual(t, v.Planned.Result.Steps[v.Planned.Next()].Start, schedule.At(monday.AddDate(0, 0, 6)), "not before the day")
	for _, w := range v.Weeks {
		assert.Equal(t, time.Monday, w.Monday.Weekday())
		for i, r := range w.Rows {
			if i > 0 {
				assert.False(t, r.Time.Before(w.Rows[i-1].Time), "in their order")
			}
		}
	}
	_, err := act(t, k, id, log.Hours{})
	require.NoError(t, err)
	v = look(t, k, id, monday)
	assert.Contains(t, said(v), "Your week has no hours")
	assert.Empty(t, v.Weeks[0].Rows[0].When, "no step has a day then")
}

func TestLatenessAndItsMends(t *testing.T) {
	k, id := ordered(t)
	always(t, k)
	v := look(t, k, id, monday)
	assert.Contains(t, said(v), "You will finish on "+v.Agenda.Moment(v.Planned.Result.End).Format("Mon 2 Jan"))
	end := v.Agenda.Moment(v.Planned.Result.End)
	testroom.Do(t, k, id, log.Wanted{Due: end.AddDate(0, 0, 4).Format(time.DateOnly)})
	v = look(t, k, id, monday)
	assert.Contains(t, said(v), "4 days early.")
	for _, w := range v.Weeks {
		for _, r := range w.Rows {
			assert.Contains(t, r.Slack, "in hand", r.Name)
		}
	}
	testroom.Do(t, k, id, log.Wanted{Due: end.AddDate(0, 0, -1).Format(time.DateOnly)})
	v = look(t, k, id, monday)
	text := said(v)
	assert.Contains(t, text, "1 day late")
	assert.Contains(t, text, "skipped would be enough", "the night that one sleeps on it")
	offer := v.Notes[len(v.Notes)-1]
	assert.Equal(t, "Or move the due date.", offer.Words)
	assert.Equal(t, "Move the date to "+end.Format("Mon 2 Jan"), offer.Offers[0].Label)
	for _, n := range v.Notes {
		if strings.Contains(n.Words, "left out") {
			key := strings.TrimPrefix(n.Offers[0].Do, "do=leave-step&step=")
			testroom.Do(t, k, id, log.LeaveOut{Step: key})
			assert.NotContains(t, said(look(t, k, id, monday)), "days late", "the offer holds what it says")
			testroom.Do(t, k, id, log.LeaveOut{Step: key, In: true})
		}
	}
	testroom.Do(t, k, id, log.Wanted{Due: monday.AddDate(0, 0, 2).Format(time.DateOnly)})
	assert.Contains(t, said(look(t, k, id, monday)), "the waits alone last until", "no hours mend that")
	testroom.Do(t, k, id, log.Wanted{Due: monday.AddDate(0, 0, -9).Format(time.DateOnly)})
	assert.Contains(t, said(look(t, k, id, monday)), "It was due")
	// Ordered at once it comes sooner than after the samples.
	if work.Of(testroom.MustOpen(t, k, id)).At("samples") >= 0 {
		testroom.Do(t, k, id, log.LeaveOut{Step: "samples", In: true})
	}
	slow := look(t, k, id, monday).Planned.Result.End
	testroom.Do(t, k, id, log.OrderNow{})
	assert.Less(t, look(t, k, id, monday).Planned.Result.End, slow)
}

func TestMoreHoursOnOneDay(t *testing.T) {
	k, id := ordered(t)
	day := monday.AddDate(0, 0, 1).Format(time.DateOnly) // a Tuesday
	before := len(look(t, k, id, monday).Agenda.Sittings)
	got, err := act(t, k, id, log.MoreHours{Day: day, Minutes: 120})
	require.NoError(t, err)
	assert.Contains(t, got, "2 h more")
	a := look(t, k, id, monday).Agenda
	assert.Len(t, a.Sittings, before)
	assert.Equal(t, 90+120, a.Sittings[0].To-a.Sittings[0].From)
	_, err = act(t, k, id, log.MoreHours{Day: day, Minutes: -120})
	require.NoError(t, err)
	a = look(t, k, id, monday).Agenda
	assert.Equal(t, 90, a.Sittings[0].To-a.Sittings[0].From, "and taken back")
	_, err = act(t, k, id, log.MoreHours{Day: "one day", Minutes: 5})
	assert.ErrorContains(t, err, "Choose the day")
}

// The client's yes on Sign-off ends the step; a sheet that was sent is waited for.
func TestTheClientIsWaitedFor(t *testing.T) {
	k, id := sewn(t)
	_, err := act(t, k, id, signoff.Make{})
	require.NoError(t, err)
	testroom.Do(t, k, id, log.OrderWork{})
	always(t, k)
	now := time.Now()
	v := look(t, k, id, now)
	at := v.Section.At(piece.Agreed)
	assert.False(t, v.Planned.Job.Steps[at].Ended)
	cut := func(v *log.View) int { return v.Planned.Result.Steps[v.Section.At("cut")].Start }
	_, err = act(t, k, id, signoff.Sent{Sheet: 1})
	require.NoError(t, err)
	v = look(t, k, id, now)
	require.True(t, v.Planned.Job.Steps[at].Ended, "it is asked")
	assert.Equal(t, 1, strings.Count(said(v), "the client has not agreed to the latest sheet"), "told once before the work, and bars nothing")
	assert.Equal(t, 3*24*60, v.Planned.Job.Steps[at].Wait)
	late := look(t, k, id, now.AddDate(0, 0, 10))
	assert.Greater(t, late.Planned.Job.Steps[at].Wait, 10*24*60, "no answer for ten days: it is still waited for")
	asked := cut(v)
	_, err = act(t, k, id, signoff.Told{Sheet: 1, Agreed: true, Name: "The theatre"})
	require.NoError(t, err)
	v = look(t, k, id, now)
	assert.LessOrEqual(t, cut(v), asked)
	assert.Zero(t, v.Planned.Job.Steps[at].Wait)
	assert.False(t, v.Done[0].Mine, "it is no tick of the maker's")
	assert.NotContains(t, said(v), "has not agreed")
}

func TestPlansShareTheHours(t *testing.T) {
	k, id := ordered(t)
	second, err := k.NewPlan(t.Context(), "Cushion", "quilt")
	require.NoError(t, err)
	p := testroom.MustOpen(t, k, id)
	for _, c := range p.Tray {
		testroom.Do(t, k, second, plan.Pull{Material: c.ID})
	}
	q := testroom.MustOpen(t, k, second)
	for i, part := range q.Piece.Parts {
		testroom.Do(t, k, second, plan.FillPart{Part: part.Key, Key: q.Tray[i%len(q.Tray)].Key})
	}
	testroom.Do(t, k, second, log.OrderWork{})
	alone := look(t, k, id, monday)
	require.Len(t, alone.Agenda.Plans, 2)
	assert.Equal(t, id, alone.Agenda.Plans[0].ID, "neither is due: the older one first")
	testroom.Do(t, k, second, log.Wanted{Due: monday.AddDate(0, 2, 0).Format(time.DateOnly)})
	v := look(t, k, id, monday)
	assert.Equal(t, second, v.Agenda.Plans[0].ID, "the nearest due day goes first")
	assert.GreaterOrEqual(t, v.Planned.Result.End, alone.Planned.Result.End)
	got, err := act(t, k, id, log.GoesFirst{})
	require.NoError(t, err)
	assert.Contains(t, got, "now comes sooner")
	assert.Equal(t, id, look(t, k, id, monday).Agenda.Plans[0].ID, "in the maker's own order")
	_, err = act(t, k, id, log.GoesFirst{ByDue: true})
	require.NoError(t, err)
	assert.Equal(t, second, look(t, k, id, monday).Agenda.Plans[0].ID)
	var busy []schedule.Span
	for _, d := range v.Agenda.Days(7) {
		for i, it := range d.Items {
			assert.Equal(t, d.Date.Format(time.DateOnly), it.Begin.Format(time.DateOnly))
			if i > 0 {
				assert.False(t, it.Begin.Before(d.Items[i-1].Begin))
			}
		}
	}
	for _, p := range v.Agenda.Plans {
		for _, st := range p.Result.Steps {
			for _, part := range st.Parts {
				for _, b := range busy {
					assert.False(t, part.From < b.To && b.From < part.To, "two steps take one hour")
				}
				busy = append(busy, part)
			}
		}
	}
	testroom.Do(t, k, second, plan.PutAway{Away: true})
	assert.Len(t, look(t, k, id, monday).Agenda.Plans, 1, "what is put away takes no hours")
}

func TestTheDiaryCountsItsHours(t *testing.T) {
	k, id := ordered(t)
	write := func(e log.Page) (string, error) {
		p := testroom.MustOpen(t, k, id)
		return log.Write(t.Context(), k, p, p.Revision, e, time.Now())
	}
	got, err := write(log.Page{Step: "cut", Took: "1 h", Words: "Half of it."})
	require.NoError(t, err)
	assert.Equal(t, "Saved; time added to Cut.", got)
	for _, w := range look(t, k, id, time.Now()).Weeks {
		for _, r := range w.Rows {
			if r.Key == "cut" {
				assert.Regexp(t, "^1 h so far, planned ", r.Work, "what was done is told while it is at work")
			}
		}
	}
	_, err = write(log.Page{Step: "cut", Took: "30", Done: true})
	require.NoError(t, err)
	assert.Equal(t, 90, step(t, k, id, "cut").Took)
	assert.NotNil(t, step(t, k, id, "cut").Done)
	p := testroom.MustOpen(t, k, id)
	_, err = write(log.Page{Part: p.Piece.Parts[0].Key, Card: "Lamp soot", Why: "It was at hand."})
	require.NoError(t, err)
	all, _, err := log.Diary(t.Context(), k, id)
	require.NoError(t, err)
	require.Len(t, all, 3)
	assert.Contains(t, all[0].Changed, "took Lamp soot.")
	for want, e := range map[string]log.Page{
		"The entry is empty": {}, "is not a length": {Took: "ages"}, "at most 24 hours": {Took: "25 h"},
		"That step was deleted. Choose another": {Step: "dance", Words: "x"},
		"at most 4000":                          {Words: strings.Repeat("x", 4001)}, "no longer in the plan": {Part: "ground", Card: "Nobody"},
		"was deleted":      {Photos: []string{"abcd"}},
		"At most 8 photos": {Photos: make([]string, 9)}, "in the future": {Day: "2199-01-01", Words: "x"},
	} {
		_, err := write(e)
		assert.ErrorContains(t, err, strings.TrimPrefix(want, "At most 8 photos"), want)
	}
	found, err := log.Search(t.Context(), k, "hand soot", 10)
	require.NoError(t, err)
	require.Len(t, found, 1)
	_, err = act(t, k, id, log.DropEntry{Entry: found[0].ID})
	require.NoError(t, err)
	_, thrown, err := log.Diary(t.Context(), k, id)
	require.NoError(t, err)
	require.Len(t, thrown, 1)
	_, err = act(t, k, id, log.DropEntry{Entry: found[0].ID, Back: true})
	require.NoError(t, err)
	_, err = act(t, k, id, log.DropEntry{Entry: 999})
	assert.ErrorContains(t, err, "was deleted")
	// A diary entry and its step's hours are kept together or not at all.
	p.Revision--
	_, err = log.Write(t.Context(), k, p, p.Revision, log.Page{Step: "cut", Took: "1 h"}, time.Now())
	assert.Error(t, err, "the plan was changed meanwhile")
	all, _, err = log.Diary(t.Context(), k, id)
	require.NoError(t, err)
	assert.Len(t, all, 3)
}

func TestPlannedAndMade(t *testing.T) {
	k, id := sewn(t)
	p := testroom.MustOpen(t, k, id)
	c := p.Tray[0].Colour
	testroom.Do(t, k, id, log.KeepMade{Card: "Plum curtain", Colour: fmt.Sprintf("%f %f %f", c.L, c.A, c.B)})
	testroom.Do(t, k, id, log.KeepMade{Card: "Moth wing", Colour: "#d3be90", How: "photo"})
	testroom.Do(t, k, id, log.KeepMade{Card: "Heather rail", Colour: "#00ff00", How: "photo", Washed: true})
	got := log.Halves(testroom.MustOpen(t, k, id))
	require.Len(t, got, 3)
	assert.Equal(t, "identical to the eye.", got[0].Words)
	assert.Contains(t, got[1].Words, "ifferent")
	assert.Greater(t, got[1].Apart, 5.0)
	assert.Empty(t, got[1].Other)
	assert.Contains(t, got[2].Other, "Check the box")
	testroom.Do(t, k, id, log.KeepMade{Card: "Moth wing", Colour: "#d9cbb0", How: "photo"})
	assert.Len(t, log.Halves(testroom.MustOpen(t, k, id)), 3, "read again, it takes the place of the first")
	testroom.Do(t, k, id, log.DropMade{At: 0})
	assert.Len(t, log.Halves(testroom.MustOpen(t, k, id)), 2)
	testroom.Do(t, k, id, log.UsedUp{Name: "Moth wing", Really: 2.5})
	u := work.Of(testroom.MustOpen(t, k, id)).Used
	require.Len(t, u, 1)
	assert.Equal(t, "m", u[0].Unit)
	assert.Greater(t, u[0].Reckoned, 0.0)
	testroom.Do(t, k, id, log.UsedUp{Name: "Moth wing"})
	assert.Empty(t, work.Of(testroom.MustOpen(t, k, id)).Used)
	testroom.Do(t, k, id, log.Prove{Note: "nofocus", True: true})
	assert.Equal(t, map[string]bool{"nofocus": true}, work.Of(testroom.MustOpen(t, k, id)).Proved)
	testroom.Do(t, k, id, log.Prove{Note: "nofocus", Unsay: true})
	assert.Empty(t, work.Of(testroom.MustOpen(t, k, id)).Proved)
}

// Everything of the making goes with the plan file.
func TestTheWorkGoesIntoThePlanFile(t *testing.T) {
	k, id := ordered(t)
	hash, err := k.AddPhoto(t.Context(), "work.png", testroom.SwatchPhoto(t, 60))
	require.NoError(t, err)
	testroom.Do(t, k, id, log.Wanted{Due: "2031-05-01", Begin: "2031-03-10", Alone: true})
	testroom.Do(t, k, id, log.Judge{Words: "Well.", Again: "with changes", Otherwise: "Fewer."})
	testroom.Do(t, k, id, log.KeepMade{Card: "Moth wing", Colour: "#d3be90", How: "photo"})
	p := testroom.MustOpen(t, k, id)
	_, err = log.Write(t.Context(), k, p, p.Revision, log.Page{Step: "cut", Took: "1 h", Words: "Cut.", Change: "Rows.", Why: "So.",
		Photos: []string{hash}}, time.Now())
	require.NoError(t, err)
	_, file, err := k.Export(t.Context(), id)
	require.NoError(t, err)
	for _, other := range []*plan.Desk{k, testroom.Studio(t, stages.All()...)} {
		in, missing, err := other.Import(t.Context(), file)
		require.NoError(t, err)
		assert.Empty(t, missing)
		assert.Equal(t, work.Of(testroom.MustOpen(t, k, id)), work.Of(testroom.MustOpen(t, other, in.ID)))
		all, _, err := log.Diary(t.Context(), other, in.ID)
		require.NoError(t, err)
		require.Len(t, all, 1)
		assert.Equal(t, []string{hash}, all[0].Photos)
		assert.Equal(t, 60, all[0].Minutes)
		_, err = other.Photo(t.Context(), hash)
		assert.NoError(t, err, "with its photo")
	}
}

// five plans of one craft that were worked on, for what they teach.
func five(t *testing.T, k *plan.Desk, count int) (last uint) {
	t.Helper()
	ids := testroom.Add(t, k, testroom.Five...)
	for n := range count {
		id, err := k.NewPlan(t.Context(), fmt.Sprintf("Quilt %d", n+1), "quilt")
		require.NoError(t, err)
		testroom.Do(t, k, id, plan.Pull{Material: ids["Moth wing"]})
		p := testroom.MustOpen(t, k, id)
		for _, part := range p.Piece.Parts {
			testroom.Do(t, k, id, plan.FillPart{Part: part.Key, Key: p.Tray[0].Key})
		}
		testroom.Do(t, k, id, log.OrderWork{})
		count := step(t, k, id, "cut").Count
		testroom.Do(t, k, id, log.Tick{Step: "cut", Took: fmt.Sprintf("%.0f min", count*(.6+.1*float64(n)))})
		need := supplied(t, k, id)
		testroom.Do(t, k, id, log.UsedUp{Name: "Moth wing", Really: need * (1.2 + .01*float64(n))})
		c := p.Tray[0].Colour
		real := colour.Lab{L: c.L + 1 + float64(n)/10, A: c.A, B: c.B - 1}
		for how, at := range map[string]colour.Lab{"reader": real, "photo": {L: real.L - 2, A: real.A, B: real.B + 4}} {
			testroom.Do(t, k, id, log.KeepMade{Card: "Moth wing", How: how, Colour: fmt.Sprintf("%f %f %f", at.L, at.A, at.B)})
		}
		last = id
	}
	return last
}

func supplied(t *testing.T, k *plan.Desk, id uint) float64 {
	t.Helper()
	s, err := k.Supply(t.Context(), testroom.MustOpen(t, k, id))
	require.NoError(t, err)
	require.NotEmpty(t, s.Needs)
	return s.Needs[0].Bare
}

func lesson(t *testing.T, k *plan.Desk, id uint, key string) work.Lesson {
	t.Helper()
	all, err := work.Lessons(t.Context(), k, testroom.MustOpen(t, k, id))
	require.NoError(t, err)
	for _, l := range all {
		if l.Key == key {
			return l
		}
	}
	require.Fail(t, "no lesson "+key)
	return work.Lesson{}
}

func TestNothingIsLearnedFromFewerThanFive(t *testing.T) {
	k := testroom.Studio(t, stages.All()...)
	id := five(t, k, 4)
	for _, key := range []string{"speed:quilt/cut", "waste:quilt", "camera", "doubt:typed"} {
		l := lesson(t, k, id, key)
		assert.False(t, l.Known, key)
		assert.Equal(t, 4, l.N, key)
		assert.Contains(t, l.Words, "4 ", "it says how many")
		_, err := act(t, k, id, log.Learn{Lesson: key, Do: "take"})
		assert.ErrorContains(t, err, "at least 5 are needed", key)
	}
}

func TestWhatTheWorkTaughtIsPlannedWith(t *testing.T) {
	k := testroom.Studio(t, stages.All()...)
	id := five(t, k, 5)
	speed := lesson(t, k, id, "speed:quilt/cut")
	require.True(t, speed.Known)
	assert.InDelta(t, .8, speed.After, .02, "the median of 0.6 to 1.0 minutes a piece")
	assert.Contains(t, speed.Words, "planned 1 min")
	waste := lesson(t, k, id, "waste:quilt")
	assert.Equal(t, 22.0, waste.After, "the median of 20 to 24% more than the bare need")
	camera := lesson(t, k, id, "camera")
	assert.Contains(t, camera.Words, "2 too dark, 4 too yellow (5 pairs")
	doubt := lesson(t, k, id, "doubt:typed")
	assert.InDelta(t, 1.3, doubt.After, .4)

	for _, key := range []string{"speed:quilt/cut", "waste:quilt", "camera", "doubt:typed"} {
		_, err := act(t, k, id, log.Learn{Lesson: key, Do: "take"})
		require.NoError(t, err)
		assert.True(t, lesson(t, k, id, key).Taken, key)
	}
	testroom.Do(t, k, id, log.Tick{Step: "cut", Off: true})
	testroom.Do(t, k, id, log.OrderWork{})
	assert.InDelta(t, speed.After, step(t, k, id, "cut").Each, 1e-9, "the next order of work goes by it")
	got, err := k.Camera(t.Context())
	require.NoError(t, err)
	assert.InDelta(t, 2, got.Shift.L, 1e-6)
	assert.InDelta(t, -4, got.Shift.B, 1e-6)
	c := got.Right(colour.Lab{L: 99.5, A: 1, B: 8})
	assert.InDelta(t, 100, c.L, 1e-9, "never lighter than white")
	assert.InDelta(t, 4, c.B, 1e-6)
	prefs, err := work.PrefsOf(k.Store.Read(t.Context()))
	require.NoError(t, err)
	assert.Equal(t, map[string]float64{"quilt": 22}, prefs.Waste)

	for _, key := range []string{"waste:quilt", "camera", "doubt:typed"} {
		_, err := act(t, k, id, log.Learn{Lesson: key, Do: "forget"})
		require.NoError(t, err)
		assert.False(t, lesson(t, k, id, key).Taken, key)
	}
	got, err = k.Camera(t.Context())
	require.NoError(t, err)
	assert.Zero(t, got, "photos are read as before")
	_, err = act(t, k, id, log.Learn{Lesson: "waste:quilt", Do: "refuse"})
	require.NoError(t, err)
	assert.True(t, lesson(t, k, id, "waste:quilt").Refused)
	_, err = act(t, k, id, log.Learn{Lesson: "waste:quilt", Do: "dance"})
	assert.ErrorContains(t, err, "Choose Apply or Not now")
	_, err = act(t, k, id, log.Learn{Lesson: "tea", Do: "take"})
	assert.ErrorContains(t, err, "That lesson has changed")
}

// A shift is judged on pairs it was not made of.
func TestTheCameraIsJudgedOnePairLeftOut(t *testing.T) {
	var photos, readers []colour.Lab
	for n := range 8 {
		r := colour.Lab{L: 30 + 6*float64(n), A: 20 - 5*float64(n), B: 10}
		readers = append(readers, r)
		photos = append(photos, colour.Lab{L: r.L - 2, A: r.A, B: r.B + 4})
	}
	shift, before, after := work.CameraFit(photos, readers)
	assert.InDelta(t, 2, shift.L, 1e-9)
	assert.InDelta(t, -4, shift.B, 1e-9)
	assert.Greater(t, before, 2.0)
	assert.InDelta(t, 0, after, 1e-9)
	for i := range photos { // errors that have nothing in common
		photos[i] = colour.Lab{L: readers[i].L, A: readers[i].A, B: readers[i].B + 6*float64(1-2*(i%2))}
	}
	_, before, after = work.CameraFit(photos, readers)
	assert.Greater(t, after, before, "a shift would only make it worse, and that is said")
}

func TestWhatWorkedIsFoundAgain(t *testing.T) {
	k, id := sewn(t)
	testroom.Do(t, k, id, log.Judge{Words: "The dark border carries it.", Again: "yes", Otherwise: "One bolt only."})
	all, err := work.AllWorked(t.Context(), k)
	require.NoError(t, err)
	require.Len(t, all, 1)
	for want, by := range map[int][]work.Sought{
		1: {{}, {Craft: "quilt"}, {Again: "yes"}, {Words: "BORDER bolt"}, {Craft: "quilt", Words: "curtain"}},
		0: {{Craft: "soap"}, {Again: "no"}, {Words: "border tea"}, {Scheme: "triadic"}, {Mood: "Hearth"}},
	} {
		for _, b := range by {
			assert.Len(t, work.Find(all, b), want, "%v", b)
		}
	}
	for craft, count := range map[string]int{"quilt": 1, "soap": 0} {
		next, err := k.NewPlan(t.Context(), "Next "+craft, craft)
		require.NoError(t, err)
		telling, err := work.Telling(t.Context(), k, testroom.MustOpen(t, k, next))
		require.NoError(t, err)
		require.Len(t, telling, count, craft)
		if count > 0 {
			assert.Equal(t, "the same craft", telling[0].Alike)
		}
	}
	telling, err := work.Telling(t.Context(), k, testroom.MustOpen(t, k, id))
	require.NoError(t, err)
	assert.Empty(t, telling, "a plan tells itself nothing")
	testroom.Do(t, k, id, log.Judge{})
	all, err = work.AllWorked(t.Context(), k)
	require.NoError(t, err)
	assert.Empty(t, all, "an empty verdict is none")
}

func TestBusyDaysAreKeptFree(t *testing.T) {
	k, id := ordered(t)
	now := time.Now()
	from := now.AddDate(0, 0, 1).UTC().Format("20060102")
	to := now.AddDate(0, 0, 30).UTC().Format("20060102")
	file := fmt.Sprintf("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:a\r\nDTSTAMP:20260101T000000Z\r\nSUMMARY:Away\r\nDTSTART;VALUE=DATE:%s\r\nDTEND;VALUE=DATE:%s\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n", from, to)
	bring := &log.BringBusy{}
	bring.Take(plan.File{Name: "c.ics", Data: []byte(file)})
	testroom.Do(t, k, id, bring)
	v := look(t, k, id, now)
	require.Len(t, v.Agenda.Prefs.Busy, 1)
	for _, s := range v.Agenda.Sittings {
		at := v.Agenda.Moment(s.From)
		assert.False(t, at.After(v.Agenda.Prefs.Busy[0].From) && at.Before(v.Agenda.Prefs.Busy[0].To), "no sitting while away: %s", at)
	}
	_, err := act(t, k, id, log.FreeAgain{})
	require.NoError(t, err)
	assert.Empty(t, look(t, k, id, now).Agenda.Prefs.Busy)
	for want, data := range map[string]string{"not a calendar file": "hello",
		"no busy times": "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nEND:VCALENDAR\r\n"} {
		bad := &log.BringBusy{}
		bad.Take(plan.File{Name: "c.ics", Data: []byte(data)})
		testroom.Refused(t, k, id, bad, want)
	}
}

// Every craft's demo pattern can be put to work, on a shelf where nothing is on hand.
func TestEveryCraftCanBePutToWork(t *testing.T) {
	k := testroom.Studio(t, stages.All()...)
	ids := testroom.Add(t, k, testroom.Five...)
	for _, making := range []string{"quilt", "knitting or crochet", "weaving", "garment", "soap", "painted models", "building parts",
		"printed parts", "cards", "other"} {
		id, err := k.NewPlan(t.Context(), making, making)
		require.NoError(t, err)
		testroom.Do(t, k, id, plan.Pull{Material: ids["Moth wing"]})
		p := testroom.MustOpen(t, k, id)
		if p.Piece == nil {
			testroom.Refused(t, k, id, log.OrderWork{}, "Choose a piece on Proportion first")
			continue
		}
		for _, part := range p.Piece.Parts {
			testroom.Do(t, k, id, plan.FillPart{Part: part.Key, Key: p.Tray[0].Key})
		}
		testroom.Do(t, k, id, log.OrderWork{})
		v := look(t, k, id, monday)
		require.NotNil(t, v.Planned, making)
		assert.NoError(t, v.Planned.Result.Err, making)
		assert.NotEmpty(t, v.Weeks, making)
	}
}
