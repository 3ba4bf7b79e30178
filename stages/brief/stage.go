package brief

import "lampfern/plan"

func Stage() plan.Stage {
	return plan.Stage{Key: Key, Name: "Brief", Letter: "b", Hint: "What are you making, and what should its colours do? Everything is optional.",
		New: func() plan.Section { return &Section{} },
		Edits: map[string]func() plan.Edit{
			"brief": func() plan.Edit { return &SetBrief{} },
			"mood":  func() plan.Edit { return &TakeMood{} },
		},
		Acts: map[string]func() plan.Act{
			"save-mood":   func() plan.Act { return &KeepMood{} },
			"forget-mood": func() plan.Act { return &ForgetMood{} },
			"undo-moods":  func() plan.Act { return &UndoMoods{} },
		},
		Filled: func(p *plan.Plan) bool { return *Of(p) != (Section{}) },
	}
}
