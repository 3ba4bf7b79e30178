package plan

import (
	"context"
	"fmt"

	"lampfern/store"
)

// tourName is under what the maker's wish for the hints of the stages is kept.
const tourName = "tour"

// tourAway is kept where the hints were put away.
const tourAway = "away"

// Tour reports whether each stage says in a sentence what it is for.
func (k *Desk) Tour(ctx context.Context) (bool, error) {
	if k.tour.Load() == nil {
		doc, err := k.Store.Read(ctx).Preference(tourName)
		if err != nil {
			return false, fmt.Errorf("reading whether hints are shown: %w", err)
		}
		shown := string(doc) != tourAway
		k.tour.Store(&shown)
	}
	return *k.tour.Load(), nil
}

// KeepTour shows the hints of the stages, or puts them away for good.
func (k *Desk) KeepTour(ctx context.Context, shown bool) error {
	doc := []byte(tourAway)
	if shown {
		doc = []byte("shown")
	}
	if err := k.Store.Write(ctx, func(tx store.Tx) error { return tx.PutPreference(tourName, doc) }); err != nil {
		return err
	}
	k.tour.Store(&shown)
	return nil
}
