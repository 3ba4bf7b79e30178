// Package buy is the stage that says how much to buy. So far it keeps the wish
// list.
package buy

import "lampfern/plan"

// Key names the stage.
const Key = "buy"

// Stage is the stage as a plan knows it.
func Stage() plan.Stage {
	return plan.Stage{Key: Key, Name: "Buy", Letter: "y",
		Edits: map[string]func() plan.Edit{
			"drop-wish": func() plan.Edit { return &DropWish{} },
		},
	}
}
