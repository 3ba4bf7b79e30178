// Package draft is what a maker puts into a woven cloth: the order of its threads
// and its draft. Its page lies in the room page.
package draft

import "lampfern/plan"

const Key = "draft"

func Stage() plan.Stage {
	return plan.Stage{Key: Key, Name: "Threads and draft", Pattern: "cloth", Press: "Threads and draft",
		Edits: map[string]func() plan.Edit{
			"orders":      func() plan.Edit { return &SetOrders{} },
			"turn-warp":   func() plan.Edit { return &TurnOrder{} },
			"turn-weft":   func() plan.Edit { return &TurnOrder{Weft: true} },
			"fit-stripes": func() plan.Edit { return &FitStripes{} },
			"as-warped":   func() plan.Edit { return &WeaveAsWarped{} },
			"draft":       func() plan.Edit { return &SetDraft{} },
			"draft-mark":  func() plan.Edit { return &MarkDraft{} },
			"weave-with":  func() plan.Edit { return &WeaveWith{} },
		},
		Brings: map[string]func() plan.Bring{
			"wif": func() plan.Bring { return &BringWIF{} },
		},
	}
}
