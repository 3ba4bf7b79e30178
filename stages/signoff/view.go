package signoff

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"slices"
	"time"

	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/plan/work"
	"lampfern/store"
)

// View is what the page of the sign-off shows.
type View struct {
	Sheets  []SheetView // the newest first
	Chosen  *SheetView  // the one that is looked at; nil for none
	Frozen  *Frozen     // what that holds
	Now     *Frozen     // the plan as it is; nil where it cannot be put on a sheet
	Changed []string    // what has changed since, in sentences
	Broken  string      // why the chosen sheet is not shown; empty where it is
	Cannot  string      // why no sheet can be made; empty where one can
}

// Sheet is a sheet as it is kept.
type Sheet = store.Sheet

// ErrNoSheet tells of a sheet, or a link, that there is not.
var ErrNoSheet = errors.New("no such sheet")

// ByNumber is a sheet of a plan and what it holds.
func ByNumber(ctx context.Context, k *plan.Desk, id uint, number int) (Sheet, *Frozen, error) {
	return whole(k.Store.Read(ctx).Sheet(id, number))
}

// LinkedBy is the sheet of a private link and what it holds.
func LinkedBy(ctx context.Context, k *plan.Desk, token string) (Sheet, *Frozen, error) {
	return whole(k.Store.Read(ctx).SheetBy(token))
}

func whole(s Sheet, err error) (Sheet, *Frozen, error) {
	if errors.Is(err, store.ErrNotFound) {
		return s, nil, ErrNoSheet
	}
	if err != nil {
		return s, nil, fmt.Errorf("reading a sheet: %w", err)
	}
	f, err := Unpack(s.Doc)
	return s, f, err
}

// Seen notes that a client saw a sheet, the first time.
func Seen(ctx context.Context, k *plan.Desk, s Sheet) error {
	if s.SeenAt != nil {
		return nil
	}
	now := time.Now().UTC()
	return k.Store.Write(ctx, func(tx store.Tx) error { return tx.MarkSheet(s.ID, "seen_at", &now) })
}

// SaidSoFar says which answer to a sheet counts so far; empty for none.
func SaidSoFar(ctx context.Context, k *plan.Desk, s Sheet) (string, error) {
	all, err := SheetsOf(ctx, k, s.PlanID)
	if err != nil {
		return "", err
	}
	for _, v := range all {
		if a := v.Last(); v.ID == s.ID && a != nil {
			said := "asked for changes"
			if a.Agreed {
				said = "agreed"
			}
			return fmt.Sprintf("%s %s on %s.", a.Name, said, words.Date(a.AnsweredAt.Local())), nil
		}
	}
	return "", nil
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
	StateChange    = "changes requested"
	StateEnded     = "expired"
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

// Look is the sign-off of a plan with one of its sheets; number 0, or one that there is
// not, is the newest.
func Look(ctx context.Context, k *plan.Desk, p *plan.Plan, number int) (*View, error) {
	v := &View{}
	var err error
	if v.Sheets, err = SheetsOf(ctx, k, p.ID); err != nil {
		return nil, err
	}
	prefs, err := work.PrefsOf(k.Store.Read(ctx))
	if err != nil {
		return nil, err
	}
	now := func(alone bool) {
		if v.Now, err = Freeze(ctx, k, p, nil, prefs.Doubt, alone); err != nil {
			v.Cannot = err.Error()
		}
	}
	now(Undrawn(p))
	if len(v.Sheets) == 0 {
		return v, nil
	}
	v.Chosen = &v.Sheets[max(0, slices.IndexFunc(v.Sheets, func(s SheetView) bool { return s.Number == number }))]
	if _, v.Frozen, err = ByNumber(ctx, k, p.ID, v.Chosen.Number); err != nil {
		slog.Error("a sheet cannot be read", "plan", p.ID, "number", v.Chosen.Number, "err", err)
		v.Broken = fmt.Sprintf("Sheet %d cannot be read any more. Its replies are saved. Create another sheet.", v.Chosen.Number)
		v.Chosen, v.Frozen = nil, nil
		return v, nil
	}
	if v.Frozen.Palette != Undrawn(p) {
		v.Cannot = ""
		now(v.Frozen.Palette)
	}
	if v.Now != nil {
		now := *v.Now
		now.Price, now.Terms, now.Times = v.Frozen.Price, v.Frozen.Terms, v.Frozen.Times // which the plan does not hold
		v.Changed = Changes(v.Frozen, &now)
	}
	return v, nil
}
