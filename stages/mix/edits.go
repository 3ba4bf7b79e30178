package mix

import (
	"slices"

	"lampfern/core/words"
	"lampfern/plan"
)

// DropTarget takes a colour off those to be mixed.
type DropTarget struct {
	Key int `form:"key"`
}

// Do makes the change.
func (e DropTarget) Do(d *plan.Draft) (string, error) {
	n := len(d.Plan.Targets)
	d.Plan.Targets = slices.DeleteFunc(d.Plan.Targets, func(w plan.Wish) bool { return w.Key == e.Key })
	if len(d.Plan.Targets) == n {
		return "", words.Refuse("That colour is no longer on the list.")
	}
	return "take a colour off the list to mix", nil
}
