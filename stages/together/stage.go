// Package together is the pieces of a plan side by side: what they share, what leads over all of
// them, which go together, and the set in fewer colours. Its pages lie in the room page.
package together

import "lampfern/plan"

const Key = "together"

func Stage() plan.Stage {
	return plan.Stage{Key: Key, Name: "Together",
		Edits: map[string]func() plan.Edit{
			"copy-piece": func() plan.Edit { return &plan.CopyPiece{} },
			"name-piece": func() plan.Edit { return &plan.NamePiece{} },
			"move-piece": func() plan.Edit { return &plan.MovePiece{} },
			"out-piece":  func() plan.Edit { return &plan.LeaveOut{} },
			"drop-piece": func() plan.Edit { return &plan.DropPiece{} },
			"add-given":  func() plan.Edit { return &plan.AddGiven{} },
			"given":      func() plan.Edit { return &plan.SetGiven{} },
			"apart":      func() plan.Edit { return &plan.SetApart{} },
			"keep-fewer": func() plan.Edit { return &KeepFewer{} },
			"take-fewer": func() plan.Edit { return &TakeFewer{} },
			"keep-set":   func() plan.Edit { return &KeepSet{} },
			"kinds":      func() plan.Edit { return &plan.PieceKinds{} },
			"medium":     func() plan.Edit { return &plan.FillMedium{} },
			"fill-media": func() plan.Edit { return &FillMedia{} },
		},
	}
}
