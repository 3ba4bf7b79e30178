package plan

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"lampfern/shelf"
	"lampfern/store"
)

// ChangeOwn changes a list of the maker's own as one undoable step.
func ChangeOwn[T any](ctx context.Context, s *Desk, scope, label string, read func(store.Tx) ([]T, error), put func(store.Tx, []T) error,
	change func([]T) ([]T, error)) error {
	return s.Store.Write(ctx, func(tx store.Tx) error {
		before, err := read(tx)
		if err != nil {
			return err
		}
		after, err := change(slices.Clone(before))
		if err != nil {
			return err
		}
		if err := put(tx, after); err != nil {
			return err
		}
		return shelf.Journal(tx, scope, label, before, after)
	})
}

// StepOwn undoes or redoes the last change of a list of the maker's own.
func StepOwn[T any](ctx context.Context, s *Desk, scope string, undo bool, put func(store.Tx, []T) error) (label string, err error) {
	err = s.Store.Write(ctx, func(tx store.Tx) error {
		label, err = shelf.StepBack(tx, scope, undo, func(state []byte) error {
			var all []T
			if err := json.Unmarshal(state, &all); err != nil {
				return fmt.Errorf("reading kept %s: %w", scope, err)
			}
			return put(tx, all)
		})
		return err
	})
	return label, err
}
