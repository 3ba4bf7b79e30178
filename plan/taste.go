package plan

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"unicode/utf8"

	"lampfern/core/brief"
	"lampfern/core/words"
	"lampfern/store"
)

// tasteName is under what the maker's taste is kept.
const tasteName = "taste"

// Taste is what the maker says to like and to dislike.
func (k *Desk) Taste(ctx context.Context) (t brief.Taste, err error) {
	doc, err := k.Store.Read(ctx).Preference(tasteName)
	if err != nil || doc == nil {
		return t, err
	}
	if err := json.Unmarshal(doc, &t); err != nil {
		return t, fmt.Errorf("reading what the maker likes: %w", err)
	}
	return t, nil
}

// KeepTaste keeps what the maker says to like and to dislike.
func (k *Desk) KeepTaste(ctx context.Context, t brief.Taste) error {
	for _, s := range []*string{&t.Like, &t.Dislike} {
		if *s = strings.Join(strings.Fields(*s), " "); utf8.RuneCountInString(*s) > MaxRemark {
			return words.Refuse("Likes and dislikes have at most %d characters each. Shorten them.", MaxRemark)
		}
	}
	doc, err := json.Marshal(t)
	if err != nil {
		return err
	}
	return k.Store.Write(ctx, func(tx store.Tx) error { return tx.PutPreference(tasteName, doc) })
}
