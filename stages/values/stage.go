package values

import "lampfern/plan"

func Stage() plan.Stage {
	return plan.Stage{Key: Key, Name: "Values", Letter: "v", Hint: "See your cards from dark to light, and whether they step evenly.",
		New: func() plan.Section { return &Section{} },
		Edits: map[string]func() plan.Edit{
			"run-from":    func() plan.Edit { return &RunFrom{} },
			"run-steps":   func() plan.Edit { return &RunSteps{} },
			"leave-out":   func() plan.Edit { return &LeaveOut{} },
			"put-back":    func() plan.Edit { return &PutBack{} },
			"strips":      func() plan.Edit { return &MakeStrips{} },
			"ramp":        func() plan.Edit { return &SetRamp{} },
			"ramp-step":   func() plan.Edit { return &AddStep{} },
			"ramp-copy":   func() plan.Edit { return &CopyRamp{} },
			"ramp-drop":   func() plan.Edit { return &DropRamp{} },
			"mix-step":    func() plan.Edit { return &MixStep{} },
			"ramp-start":  func() plan.Edit { return &StartByRecipe{} },
			"ramp-recipe": func() plan.Edit { return &MakeByRecipe{} },
		},
		Acts: map[string]func() plan.Act{
			"save-recipe":   func() plan.Act { return &KeepRecipe{} },
			"forget-recipe": func() plan.Act { return &ForgetRecipe{} },
			"undo-recipes":  func() plan.Act { return &UndoRecipes{} },
		},
		Filled: func(p *plan.Plan) bool { return len(p.Tray) > 1 },
	}
}
