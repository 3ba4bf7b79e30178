// Package mix is the stage on which colours that are wanted are mixed from what is
// owned: recipes, mixing by hand, and records of what really came out.
package mix

import "lampfern/plan"

const Key = "mix"

func Stage() plan.Stage {
	return plan.Stage{Key: Key, Name: "Mix", Letter: "m", Hint: "Find out how to mix a colour you don’t have.",
		New: func() plan.Section { return &Section{} },
		Edits: map[string]func() plan.Edit{
			"work-on":     func() plan.Edit { return &WorkOn{} },
			"drop-target": func() plan.Edit { return &DropTarget{} },
			"paints":      func() plan.Edit { return &SetPaints{} },
			"paint-rule":  func() plan.Edit { return &Rule{} },
			"add-part":    func() plan.Edit { return &AddPart{} },
			"take-part":   func() plan.Edit { return &TakePart{} },
			"lay-out":     func() plan.Edit { return &LayOut{} },
			"wish-paint":  func() plan.Edit { return &WishPaint{} },
			"batch":       func() plan.Edit { return &SetBatch{} },
			"wish-tube":   func() plan.Edit { return &WishTube{} },
			"to-tray":     func() plan.Edit { return &ToTray{} },
		},
		Acts: map[string]func() plan.Act{
			"keep-record":  func() plan.Act { return &KeepRecord{} },
			"keep-chart":   func() plan.Act { return &KeepChart{} },
			"edit-record":  func() plan.Act { return &EditRecord{} },
			"dose":         func() plan.Act { return &SetDose{} },
			"drop-record":  func() plan.Act { return &DropRecord{} },
			"undo-records": func() plan.Act { return &UndoRecords{} },
			"as-material":  func() plan.Act { return &AsMaterial{} },
		},
		Mixes:  mixes,
		Filled: func(p *plan.Plan) bool { return len(p.Targets) > 0 },
	}
}
