package log

import (
	"context"
	"fmt"
	"slices"
	"time"

	"lampfern/core/words"
	"lampfern/exchange"
	"lampfern/plan"
	"lampfern/plan/work"
	"lampfern/store"
)

func (e Hours) Act(ctx context.Context, k *plan.Desk, _ *plan.Plan) (string, error) {
	said := ""
	err := work.ChangePrefs(ctx, k, func(p *work.Prefs) error {
		p.Hours.Week, p.Hours.Off, p.Said = e.week, e.off, true
		said = fmt.Sprintf("Your hours are kept, for all plans: %s a week.", words.Minutes(float64(p.Hours.Minutes())))
		if p.Hours.Minutes() == 0 {
			said = "Your week has no hours at all now: nothing can be planned until it has some."
		}
		return nil
	})
	return said, err
}

// GoesFirst puts a plan before or behind the next one in the maker's own order; or lets
// the nearest due day go first again.
type GoesFirst struct {
	Later bool `form:"later,optional"`
	ByDue bool `form:"by_due,optional"`
}

func (e GoesFirst) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	a, err := work.Schedule(ctx, k, time.Now())
	if err != nil {
		return "", err
	}
	var order []uint
	for _, o := range a.Plans {
		order = append(order, o.ID)
	}
	at := slices.Index(order, p.ID)
	if at < 0 {
		return "", words.Refuse("Nothing of this plan is to be done: make its order of work first.")
	}
	to := at - 1
	if e.Later {
		to = at + 1
	}
	said := "The plan with the nearest due day takes the hours first."
	switch {
	case e.ByDue:
		order = nil
	case to < 0 || to >= len(order):
		return "It goes there already.", nil
	default:
		order[at], order[to] = order[to], order[at]
		said = p.Name + " takes the hours sooner now."
		if e.Later {
			said = p.Name + " takes the hours later now."
		}
	}
	return said, work.ChangePrefs(ctx, k, func(p *work.Prefs) error {
		p.Order = order
		return nil
	})
}

// BringBusy takes the days of a calendar file on which the maker is busy.
type BringBusy struct{ File plan.File }

func (e *BringBusy) Take(f plan.File) { e.File = f }

// mostBusy bounds what is kept of calendar files.
const mostBusy = 5000

// Do keeps the times; the plan stays as it is.
func (e BringBusy) Do(d *plan.Draft) (string, error) {
	found, err := plan.Read(d, func(ctx context.Context) ([]exchange.BusyTime, error) {
		return exchange.ReadBusy(ctx, e.File.Data, d.Now.AddDate(0, 0, -1), d.Now.AddDate(3, 0, 0), d.Now.Location())
	})
	if err != nil {
		return "", err
	}
	if len(found) == 0 {
		return "", words.Refuse("The calendar file holds nothing busy in the next three years: choose another.")
	}
	if len(found) > mostBusy {
		return "", words.Refuse("The calendar file holds more than %d busy times: save a shorter stretch of it.", mostBusy)
	}
	d.Beside(func(tx store.Tx) error {
		return work.WritePrefs(tx, func(p *work.Prefs) error {
			p.Busy = nil
			for _, b := range found {
				p.Busy = append(p.Busy, work.Busy{From: b.From, To: b.To, Name: b.Name})
			}
			return nil
		})
	})
	d.Say(fmt.Sprintf("%s are kept free of work; a newer file takes their place.", words.Plural(len(found), "busy time", "busy times")))
	return "", nil
}

// FreeAgain lets go of the busy times.
type FreeAgain struct{}

func (FreeAgain) Act(ctx context.Context, k *plan.Desk, _ *plan.Plan) (string, error) {
	return "The busy times are let go of; the calendar file can be brought in again.", work.ChangePrefs(ctx, k, func(p *work.Prefs) error {
		p.Busy = nil
		return nil
	})
}

// DropEntry throws a diary entry away, or brings it back.
type DropEntry struct {
	Entry uint `form:"entry"`
	Back  bool `form:"back,optional"`
}

func (e DropEntry) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	said := "The entry is thrown away. It can be brought back below the diary."
	err := k.Store.Write(ctx, func(tx store.Tx) error {
		one, err := tx.Entry(e.Entry)
		if err != nil || one.PlanID != p.ID {
			return words.Refuse("That entry is no longer there: load the page again.")
		}
		now := time.Now().UTC()
		one.DroppedAt = &now
		if e.Back {
			one.DroppedAt, said = nil, "The entry is back."
		}
		return tx.PutEntry(&one)
	})
	return said, err
}

// MoreHours gives one day more minutes than its week has.
type MoreHours struct {
	Day     string `form:"day"`
	Minutes int    `form:"minutes"`
}

func (e MoreHours) Act(ctx context.Context, k *plan.Desk, _ *plan.Plan) (string, error) {
	day, err := time.Parse(time.DateOnly, e.Day)
	if err != nil || e.Minutes < -longestDay || e.Minutes > longestDay {
		return "", words.Refuse("Say how many minutes more which day has.")
	}
	said := fmt.Sprintf("%s has %s more.", day.Format("Mon 2 January"), words.Minutes(float64(e.Minutes)))
	return said, work.ChangePrefs(ctx, k, func(p *work.Prefs) error {
		more := map[string]int{}
		for d, n := range p.Hours.More {
			more[d] = n
		}
		more[e.Day] += e.Minutes
		if more[e.Day] <= 0 {
			delete(more, e.Day)
			said = day.Format("Mon 2 January") + " has its usual hours."
		}
		p.Hours.More = more
		return nil
	})
}

// Learn takes what the work taught, refuses it, or takes it back.
type Learn struct {
	Lesson string `form:"lesson"`
	Do     string `form:"how"` // take, refuse or forget
}

func (e Learn) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	all, err := work.Lessons(ctx, k, p)
	if err != nil {
		return "", err
	}
	at := slices.IndexFunc(all, func(l work.Lesson) bool { return l.Key == e.Lesson })
	if at < 0 {
		return "", words.Refuse("That is no longer to be learned: load the page again.")
	}
	l := all[at]
	said := map[string]string{"take": "It is planned with from now on. It can be taken back here.",
		"refuse": "It is not planned with, and not offered again unless it changes.", "forget": "It is as it was before."}[e.Do]
	if said == "" {
		return "", words.Refuse("Take it, refuse it, or take it back.")
	}
	return said, work.ChangePrefs(ctx, k, func(p *work.Prefs) error { return l.Answer(p, e.Do) })
}
