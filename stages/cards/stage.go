package cards

import "lampfern/plan"

func Stage() plan.Stage {
	return plan.Stage{Key: Key, Name: "Cards", Letter: "c", Hint: "Compare your cards side by side, and print them.",
		New: func() plan.Section { return &Section{} },
		Edits: map[string]func() plan.Edit{
			"lay":         func() plan.Edit { return &LayDown{} },
			"pick-up":     func() plan.Edit { return &PickUp{} },
			"lay-instead": func() plan.Edit { return &LayInstead{} },
			"lay-tray":    func() plan.Edit { return &LayTray{} },
			"lay-share":   func() plan.Edit { return &LayByShare{} },
			"flag":        func() plan.Edit { return &Flag{} },
			"flag-drawer": func() plan.Edit { return &FlagDrawer{} },
		},
		Filled: func(p *plan.Plan) bool { return len(p.Tray) > 0 },
	}
}
