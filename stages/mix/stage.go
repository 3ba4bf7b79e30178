// Package mix is the stage on which colours that are wanted are mixed from what
// is owned. So far it keeps the list of what waits to be mixed.
package mix

import "lampfern/plan"

// Key names the stage.
const Key = "mix"

// Stage is the stage as a plan knows it.
func Stage() plan.Stage {
	return plan.Stage{Key: Key, Name: "Mix", Letter: "m",
		Edits: map[string]func() plan.Edit{
			"drop-target": func() plan.Edit { return &DropTarget{} },
		},
	}
}
