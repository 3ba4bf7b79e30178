package signoff

import (
	"context"
	"fmt"
	"time"

	"lampfern/plan"
	"lampfern/store"
)

// View is what the page of the sign-off shows.
type View struct {
	Sheets  []SheetView // the newest first
	Newest  *SheetView  // nil for none
	Frozen  *Frozen     // what that holds
	Now     *Frozen     // the plan as it is; nil where it cannot be put on a sheet
	Changed []string    // what has changed since, in sentences
	Cannot  string      // why no sheet can be made; empty where one can
}

// SheetView is a sheet with what was answered.
type SheetView struct {
	store.Sheet
	State   string
	Answers []store.Answer
}

// The states of a sheet.
const (
	StateMade      = "made"
	StateSent      = "sent"
	StateSeen      = "seen"
	StateAgreed    = "agreed"
	StateChange    = "change asked"
	StateEnded     = "ended"
	StateWithdrawn = "withdrawn"
)

// Last is the answer that counts; nil for none.
func (s *SheetView) Last() *store.Answer {
	if len(s.Answers) == 0 {
		return nil
	}
	return &s.Answers[len(s.Answers)-1]
}

func (s *SheetView) state(now time.Time) string {
	last := s.Last()
	switch {
	case last != nil && last.Agreed:
		return StateAgreed
	case last != nil:
		return StateChange
	case s.WithdrawnAt != nil:
		return StateWithdrawn
	case now.After(s.EndsAt):
		return StateEnded
	case s.SeenAt != nil:
		return StateSeen
	case s.SentAt != nil:
		return StateSent
	}
	return StateMade
}

// SheetsOf are the sheets of a plan with their answers, the newest first.
func SheetsOf(ctx context.Context, k *plan.Desk, id uint) ([]SheetView, error) {
	tx := k.Store.Read(ctx)
	all, err := tx.Sheets(id)
	if err != nil {
		return nil, fmt.Errorf("reading the sheets: %w", err)
	}
	answers, err := tx.Answers(id)
	if err != nil {
		return nil, fmt.Errorf("reading the answers: %w", err)
	}
	var out []SheetView
	for _, s := range all {
		v := SheetView{Sheet: s}
		for _, a := range answers {
			if a.SheetID == s.ID {
				v.Answers = append(v.Answers, a)
			}
		}
		v.State = v.state(time.Now())
		out = append(out, v)
	}
	return out, nil
}

// Look is the sign-off of a plan.
func Look(ctx context.Context, k *plan.Desk, p *plan.Plan) (*View, error) {
	v := &View{}
	var err error
	if v.Sheets, err = SheetsOf(ctx, k, p.ID); err != nil {
		return nil, err
	}
	if v.Now, err = Freeze(p, nil); err != nil {
		v.Cannot = err.Error()
	}
	if len(v.Sheets) == 0 {
		return v, nil
	}
	v.Newest = &v.Sheets[0]
	full, err := k.Store.Read(ctx).Sheet(p.ID, v.Newest.Number)
	if err != nil {
		return nil, fmt.Errorf("reading the newest sheet: %w", err)
	}
	if v.Frozen, err = Unpack(full.Doc); err != nil {
		return nil, err
	}
	if v.Now != nil {
		now := *v.Now
		now.Price, now.Terms, now.Times = v.Frozen.Price, v.Frozen.Terms, v.Frozen.Times // which the plan does not hold
		v.Changed = Changes(v.Frozen, &now)
	}
	return v, nil
}
