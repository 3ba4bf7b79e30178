package buy

import (
	"slices"

	"lampfern/core/words"
	"lampfern/plan"
)

// DropWish takes a colour off the wish list.
type DropWish struct {
	Key int `form:"key"`
}

// Do makes the change.
func (e DropWish) Do(d *plan.Draft) (string, error) {
	i := slices.IndexFunc(d.Plan.Wishes, func(w plan.Wish) bool { return w.Key == e.Key })
	if i < 0 {
		return "", words.Refuse("That wish is no longer on the list.")
	}
	name := d.Plan.Wishes[i].Name
	d.Plan.Wishes = slices.Delete(d.Plan.Wishes, i, i+1)
	return "no longer wish for " + name, nil
}
