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
		said = fmt.Sprintf("Saved for all plans: %s a week.", words.Minutes(float64(p.Hours.Minutes())))
		if p.Hours.Minutes() == 0 {
			said = "Your week has no hours now, so nothing can be scheduled."
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
		return "", words.Refuse("Make a schedule first.")
	}
	to := at - 1
	if e.Later {
		to = at + 1
	}
	said := "Plans now go by earliest due date."
	switch {
	case e.ByDue:
		order = nil
	case to < 0 || to >= len(order):
		return "It is there already.", nil
	default:
		order[at], order[to] = order[to], order[at]
		said = p.Name + " now comes sooner."
		if e.Later {
			said = p.Name + " now comes later."
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
		return "", words.Refuse("The calendar has no busy times in the next three years. Choose another file.")
	}
	if len(found) > mostBusy {
		return "", words.Refuse("The calendar has more than %d busy times. Save a shorter period.", mostBusy)
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
	d.Say(fmt.Sprintf("%s imported. A newer file will replace them.", words.Plural(len(found), "busy time", "busy times")))
	return "", nil
}

// FreeAgain lets go of the busy times.
type FreeAgain struct{}

func (FreeAgain) Act(ctx context.Context, k *plan.Desk, _ *plan.Plan) (string, error) {
	return "Busy times deleted.", work.ChangePrefs(ctx, k, func(p *work.Prefs) error {
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
	said := "Entry deleted. You can restore it below."
	err := k.Store.Write(ctx, func(tx store.Tx) error {
		one, err := tx.Entry(e.Entry)
		if err != nil || one.PlanID != p.ID {
			return words.Refuse("That entry was deleted. Load the page again.")
		}
		now := time.Now().UTC()
		one.DroppedAt = &now
		if e.Back {
			one.DroppedAt, said = nil, "Entry restored."
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
		return "", words.Refuse("Choose the day and how many minutes more.")
	}
	said := fmt.Sprintf("%s has %s more.", words.Day(day), words.Minutes(float64(e.Minutes)))
	return said, work.ChangePrefs(ctx, k, func(p *work.Prefs) error {
		more := map[string]int{}
		for d, n := range p.Hours.More {
			more[d] = n
		}
		more[e.Day] += e.Minutes
		if more[e.Day] <= 0 {
			delete(more, e.Day)
			said = words.Day(day) + " has its usual hours."
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
		return "", words.Refuse("That lesson has changed. Load the page again.")
	}
	l := all[at]
	said := map[string]string{"take": "Applied from now on.",
		"refuse": "Not applied. You will be asked again only if it changes.", "forget": "No longer applied."}[e.Do]
	if said == "" {
		return "", words.Refuse("Choose Apply or Not now.")
	}
	return said, work.ChangePrefs(ctx, k, func(p *work.Prefs) error { return l.Answer(p, e.Do) })
}
