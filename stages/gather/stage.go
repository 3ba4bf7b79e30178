// Package gather is the stage on which cards are pulled from the shelf and colours
// torn from photos. Its pages lie in the room page.
package gather

import "lampfern/plan"

const Key = "gather"

func Stage() plan.Stage {
	return plan.Stage{Key: Key, Name: "Gather", Letter: "g", Hint: "Add cards from your shelf to the tray below, and choose a lead colour.",
		Edits: map[string]func() plan.Edit{
			"name-scrap": func() plan.Edit { return &RenameScrap{} },
			"drop-scrap": func() plan.Edit { return &DropScrap{} },
			"read-line":  func() plan.Edit { return &ReadLine{} },
			"paste":      func() plan.Edit { return &Paste{} },
			"pull-best":  func() plan.Edit { return &PullBest{} },
			"keep-free":  func() plan.Edit { return &KeepFree{} },
		},
		Acts: map[string]func() plan.Act{
			"shelve": func() plan.Act { return &Shelve{} },
		},
		Filled: func(p *plan.Plan) bool { return len(p.Tray) > 0 },
	}
}
