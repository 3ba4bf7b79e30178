package brief

import (
	"context"
	"slices"
	"strings"
	"unicode/utf8"

	"lampfern/core/brief"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/store"
)

// Bounds of the maker's own moods.
const (
	maxOwnMoods  = 100
	MaxMoodName  = 40  // characters
	maxMoodWords = 200 // characters
)

const moodScope = "moods"

// SaveMood keeps limits as a mood of the maker's own, in place of an own one of
// the same name.
func SaveMood(ctx context.Context, s *plan.Desk, name, said string, l brief.Limits) error {
	name, said = strings.Join(strings.Fields(name), " "), strings.Join(strings.Fields(said), " ")
	switch {
	case name == "":
		return words.Refuse("Give the mood a name.")
	case utf8.RuneCountInString(name) > MaxMoodName || utf8.RuneCountInString(said) > maxMoodWords:
		return words.Refuse("A mood’s name has at most %d characters and its description %d.", MaxMoodName, maxMoodWords)
	}
	if err := l.Check(); err != nil {
		return words.Refuse("Not saved: %s.", err)
	}
	return changeMoods(ctx, s, "save the mood "+name, func(all []store.Mood) ([]store.Mood, error) {
		m := store.Mood{Name: name, Words: said, Limits: l}
		if at := moodNamed(all, name); at >= 0 {
			all[at] = m
			return all, nil
		}
		if len(all) >= maxOwnMoods {
			return nil, words.Refuse("You have %d moods of your own already. Delete one first.", maxOwnMoods)
		}
		return append(all, m), nil
	})
}

// DropMood forgets a mood of the maker's own. Plans keep the limits they took.
func DropMood(ctx context.Context, s *plan.Desk, name string) error {
	return changeMoods(ctx, s, "delete the mood "+name, func(all []store.Mood) ([]store.Mood, error) {
		at := moodNamed(all, name)
		if at < 0 {
			return nil, words.Refuse("You have no mood called %q.", name)
		}
		return slices.Delete(all, at, at+1), nil
	})
}

func moodNamed(all []store.Mood, name string) int {
	return slices.IndexFunc(all, func(m store.Mood) bool { return strings.EqualFold(m.Name, name) })
}

func changeMoods(ctx context.Context, s *plan.Desk, label string, change func([]store.Mood) ([]store.Mood, error)) error {
	return plan.ChangeOwn(ctx, s, moodScope, label, store.Tx.Moods, store.Tx.PutMoods, change)
}

// StepMoods undoes or redoes the last change of the maker's own moods.
func StepMoods(ctx context.Context, s *plan.Desk, undo bool) (label string, err error) {
	return plan.StepOwn(ctx, s, moodScope, undo, store.Tx.PutMoods)
}

// MoodSteps says what undo would take back of the own moods, empty when nothing.
func MoodSteps(ctx context.Context, s *plan.Desk) (undo, redo string, err error) {
	return s.Store.Read(ctx).Labels(moodScope)
}

// KeepMood keeps the limits of the plan's brief as a mood of the maker's own.
type KeepMood struct {
	Mood  string `form:"mood"`
	Words string `form:"words"`
}

func (e KeepMood) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	return e.Mood + " is saved in your moods.", SaveMood(ctx, k, e.Mood, e.Words, p.Limits())
}

// ForgetMood forgets a mood of the maker's own.
type ForgetMood struct {
	Mood string `form:"mood"`
}

func (e ForgetMood) Act(ctx context.Context, k *plan.Desk, _ *plan.Plan) (string, error) {
	return e.Mood + " is deleted. You can undo it below the moods.", DropMood(ctx, k, e.Mood)
}

// UndoMoods takes back the last change of the maker's own moods.
type UndoMoods struct{}

func (UndoMoods) Act(ctx context.Context, k *plan.Desk, _ *plan.Plan) (string, error) {
	label, err := StepMoods(ctx, k, true)
	return "Undone: " + label + ".", err
}
