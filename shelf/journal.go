package shelf

import (
	"encoding/json"
	"errors"
	"fmt"

	"lampfern/core/words"
	"lampfern/store"
)

// Journal writes one undoable step into tx.
func Journal(tx store.Tx, scope, label string, before, after any) error {
	b, err := json.Marshal(before)
	if err != nil {
		return fmt.Errorf("keeping what was before %q: %w", label, err)
	}
	a, err := json.Marshal(after)
	if err != nil {
		return fmt.Errorf("keeping what is after %q: %w", label, err)
	}
	return tx.Record(&store.Step{Scope: scope, Label: label, Before: b, After: a})
}

// StepBack undoes, or redoes, the next step of a scope within tx: restore is
// given the state to bring back. It reports what was done.
func StepBack(tx store.Tx, scope string, undo bool, restore func(state []byte) error) (label string, err error) {
	next, word := tx.Undoable, "undo"
	if !undo {
		next, word = tx.Redoable, "redo"
	}
	step, err := next(scope)
	if errors.Is(err, store.ErrNotFound) {
		return "", words.Refuse("There is nothing to %s.", word)
	}
	if err != nil {
		return "", err
	}
	state := step.Before
	if !undo {
		state = step.After
	}
	if err := restore(state); err != nil {
		return step.Label, err
	}
	return step.Label, tx.MarkUndone(step.ID, undo)
}
