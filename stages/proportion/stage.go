package proportion

import "lampfern/plan"

func Stage() plan.Stage {
	return plan.Stage{Key: Key, Name: "Proportion", Letter: "p",
		Hint: "See your colours on the piece: how much of each, and where the eye goes.",
		New:  func() plan.Section { return &Section{} },
		Edits: map[string]func() plan.Edit{
			"fill-rest":      func() plan.Edit { return &plan.FillRest{} },
			"fill-at":        func() plan.Edit { return &plan.FillAt{} },
			"reverse":        func() plan.Edit { return &plan.ReverseFills{} },
			"group":          func() plan.Edit { return &plan.Group{} },
			"ungroup":        func() plan.Edit { return &plan.Ungroup{} },
			"split-part":     func() plan.Edit { return &plan.SplitPart{} },
			"join-part":      func() plan.Edit { return &plan.JoinPart{} },
			"batten":         func() plan.Edit { return &TakeShare{} },
			"write":          func() plan.Edit { return &WriteInput{} },
			"way":            func() plan.Edit { return &TakeWay{} },
			"keep-colourway": func() plan.Edit { return &KeepColourway{} },
			"name-colourway": func() plan.Edit { return &NameColourway{} },
			"favour":         func() plan.Edit { return &FavourColourway{} },
			"take-colourway": func() plan.Edit { return &TakeColourway{} },
			"drop-colourway": func() plan.Edit { return &DropColourway{} },
			"take-out":       func() plan.Edit { return &TakeOut{} },
			"pick":           func() plan.Edit { return &PickReference{} },
			"reference-away": func() plan.Edit { return &DropReference{} },
		},
		Brings: map[string]func() plan.Bring{
			"reference": func() plan.Bring { return &KeepReference{} },
		},
		Filled: func(p *plan.Plan) bool {
			for _, t := range p.Tray {
				if t.Share > 0 {
					return true
				}
			}
			return false
		},
	}
}
