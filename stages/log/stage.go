// Package log is the stage on which a plan is made: the order of work and its days, the
// diary, what came out beside what was planned, and what that taught.
package log

import (
	"lampfern/plan"
	"lampfern/plan/work"
)

const Key = work.Key

func Stage() plan.Stage {
	return plan.Stage{Key: Key, Name: "Log", Letter: "l",
		Hint: "Schedule the work, keep a diary and compare the result with the plan.",
		New:  func() plan.Section { return &work.Section{} },
		Edits: map[string]func() plan.Edit{
			"order-work": func() plan.Edit { return &OrderWork{} },
			"wanted":     func() plan.Edit { return &Wanted{} },
			"tick":       func() plan.Edit { return &Tick{} },
			"begin":      func() plan.Edit { return &Begin{} },
			"over":       func() plan.Edit { return &Over{} },
			"step":       func() plan.Edit { return &EditStep{} },
			"leave-step": func() plan.Edit { return &LeaveOut{} },
			"add-step":   func() plan.Edit { return &AddStep{} },
			"drop-step":  func() plan.Edit { return &DropStep{} },
			"order-now":  func() plan.Edit { return &OrderNow{} },
			"judge":      func() plan.Edit { return &Judge{} },
			"prove":      func() plan.Edit { return &Prove{} },
			"made":       func() plan.Edit { return &KeepMade{} },
			"shares":     func() plan.Edit { return &KeepShares{} },
			"made-parts": func() plan.Edit { return &KeepParts{} },
			"drop-made":  func() plan.Edit { return &DropMade{} },
			"used-up":    func() plan.Edit { return &UsedUp{} },
			"drop-shot":  func() plan.Edit { return &DropShot{} },
		},
		Acts: map[string]func() plan.Act{
			"hours":      func() plan.Act { return &Hours{} },
			"more-hours": func() plan.Act { return &MoreHours{} },
			"goes-first": func() plan.Act { return &GoesFirst{} },
			"free-again": func() plan.Act { return &FreeAgain{} },
			"drop-entry": func() plan.Act { return &DropEntry{} },
			"learn":      func() plan.Act { return &Learn{} },
		},
		Brings: map[string]func() plan.Bring{
			"busy": func() plan.Bring { return &BringBusy{} },
			"shot": func() plan.Bring { return &BringShot{} },
		},
		Filled: func(p *plan.Plan) bool { s := work.Of(p); return len(s.Steps) > 0 || s.Verdict.Given() },
	}
}
