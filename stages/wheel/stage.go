package wheel

import "lampfern/plan"

func Stage() plan.Stage {
	return plan.Stage{Key: Key, Name: "Wheel", Letter: "w",
		Hint: "Choose a scheme to see what goes with your lead colour, and which of it you own.",
		New:  func() plan.Section { return &Section{} },
		Edits: map[string]func() plan.Edit{
			"turn":        func() plan.Edit { return &TurnTo{} },
			"wheel":       func() plan.Edit { return &ChooseWheel{} },
			"school":      func() plan.Edit { return &DivideBy{} },
			"clear-pairs": func() plan.Edit { return &JudgeClear{} },
			"start":       func() plan.Edit { return &StartFrom{} },
			"match":       func() plan.Edit { return &MatchBy{} },
			"light":       func() plan.Edit { return &LightForm{} },
			"place":       func() plan.Edit { return &AdjustPlace{} },
			"free":        func() plan.Edit { return &TakeFree{} },
			"set-free":    func() plan.Edit { return &ChangeFree{} },
			"wish":        func() plan.Edit { return &Wish{} },
			"keep-scheme": func() plan.Edit { return &KeepScheme{} },
			"keep-tray":   func() plan.Edit { return &KeepTray{} },
			"remark":      func() plan.Edit { return &RemarkCombination{} },
			"drop-tried":  func() plan.Edit { return &DropCombination{} },
			"take-tried":  func() plan.Edit { return &TakeCombination{} },
			"hand":        func() plan.Edit { return &TakeHand{} },
			"roles":       func() plan.Edit { return &OtherRoles{} },
		},
		Filled: func(p *plan.Plan) bool { return Of(p).Scheme != "" },
	}
}
