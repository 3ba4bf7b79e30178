package log

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"lampfern/core/form"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/plan/work"
	"lampfern/store"
)

// Page is what a maker writes into the diary.
type Page struct {
	Day    string // as 2006-01-02, empty for today
	Step   string // its key, empty for none
	Words  string
	Took   string
	Part   string // of the piece that took another card, by its key
	Card   string // which, by its name
	Change string // from the plan, in words
	Why    string
	Done   bool     // the step is done with it
	Photos []string // by their hashes
}

// Bounds of an entry.
const (
	mostWords  = 4000
	mostPhotos = 8
	mostTotal  = 5000 // entries of a plan
)

// Write keeps a page of the diary, and counts its hours to its step: both or neither.
func Write(ctx context.Context, k *plan.Desk, p *plan.Plan, revision int64, e Page, now time.Time) (said string, err error) {
	at, err := dayOf(e.Day, now)
	if err != nil {
		return "", err
	}
	took, err := form.Minutes(e.Took)
	if err != nil {
		return "", err
	}
	one := store.Entry{PlanID: p.ID, At: at.UTC(), Step: e.Step, Words: strings.TrimSpace(e.Words), Changed: strings.TrimSpace(e.Change),
		Why: strings.TrimSpace(e.Why), Minutes: took}
	if took > longestDay {
		return "", words.Refuse("A day has at most 24 hours. Write one entry per day.")
	}
	if max(len([]rune(one.Words)), len([]rune(one.Changed)), len([]rune(one.Why))) > mostWords {
		return "", words.Refuse("An entry has at most %d characters. Write a second one.", mostWords)
	}
	s := work.Of(p)
	if e.Step != "" {
		i := s.At(e.Step)
		if i < 0 {
			return "", words.Refuse("That step was deleted. Choose another.")
		}
		one.Title = s.Steps[i].Name
	}
	if e.Part != "" && e.Card != "" {
		part := ""
		if p.Piece != nil {
			for _, q := range p.Piece.Parts {
				if q.Key == e.Part {
					part = q.Name
				}
			}
		}
		if part == "" || !slices.ContainsFunc(p.Tray, func(t plan.TrayCard) bool { return t.Name == e.Card }) {
			return "", words.Refuse("That part or card is no longer in the plan. Load the page again.")
		}
		one.Part, one.Card = e.Part, e.Card
		said := fmt.Sprintf("%s took %s.", words.Capital(part), e.Card)
		one.Changed = strings.TrimSpace(said + " " + one.Changed)
	}
	if one.Words == "" && one.Changed == "" && one.Why == "" && took == 0 && len(e.Photos) == 0 && !e.Done {
		return "", words.Refuse("The entry is empty. Write something, give the hours or add a photo.")
	}
	if len(e.Photos) > mostPhotos {
		return "", words.Refuse("An entry has at most %d photos. Write a second one.", mostPhotos)
	}
	for _, hash := range e.Photos {
		if _, err := k.Store.Read(ctx).Photo(hash); err != nil {
			return "", words.Refuse("A photo of the entry was deleted. Choose it again.")
		}
		if !slices.Contains(one.Photos, hash) {
			one.Photos = append(one.Photos, hash)
		}
	}
	all, err := k.Store.Read(ctx).Diary(p.ID)
	if err != nil {
		return "", fmt.Errorf("reading the diary: %w", err)
	}
	if len(all) >= mostTotal {
		return "", words.Refuse("The diary holds %d entries, the most it can.", mostTotal)
	}
	put := func(tx store.Tx) error { return tx.PutEntry(&one) }
	if e.Step == "" || took == 0 && !e.Done {
		return "Saved.", k.Store.Write(ctx, put)
	}
	change := plan.Doing(func(d *plan.Draft) (string, error) {
		d.Beside(put)
		st, err := stepOf(d, e.Step)
		if err != nil {
			return "", err
		}
		st.Took += took
		if st.Begun == nil {
			begun := one.At
			st.Begun = &begun
		}
		if e.Done {
			st.Done = &one.At
			return st.Name + ": done", nil
		}
		return st.Name + ": " + words.Minutes(float64(took)) + " of work", nil
	})
	_, err = k.Change(ctx, p.ID, revision, change)
	return "Saved; time added to " + one.Title + ".", err
}

// Entry is what was written down of a day, and Found an entry that a search found.
type (
	Entry = store.Entry
	Found = store.Found
)

// Marks round what was looked for, in the place of a found entry.
const (
	FoundOpen = store.FoundOpen
	FoundShut = store.FoundShut
)

// Diary is what was written of a plan, the newest first, and what was thrown away last.
func Diary(ctx context.Context, k *plan.Desk, id uint) (all, thrown []Entry, err error) {
	tx := k.Store.Read(ctx)
	if all, err = tx.Diary(id); err == nil {
		thrown, err = tx.ThrownAway(id, mostThrown)
	}
	if err != nil {
		return nil, nil, fmt.Errorf("reading the diary: %w", err)
	}
	return all, thrown, nil
}

// Search looks through the diaries of all plans.
func Search(ctx context.Context, k *plan.Desk, text string, most int) ([]Found, error) {
	all, err := k.Store.Read(ctx).SearchDiary(strings.Fields(text), most)
	if err != nil {
		return nil, fmt.Errorf("searching the diaries: %w", err)
	}
	return all, nil
}
