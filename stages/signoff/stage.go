// Package signoff is the stage on which a client agrees: dated sheets, frozen as the plan
// was, what was answered to them, and what has changed since.
package signoff

import "lampfern/plan"

const Key = "signoff"

func Stage() plan.Stage {
	return plan.Stage{Key: Key, Name: "Sign-off", Letter: "s", Hint: "Show your client a sheet, and record the reply.",
		Filled: func(p *plan.Plan) bool { return p.Shown },
		Acts: map[string]func() plan.Act{
			"make-sheet":     func() plan.Act { return &Make{} },
			"withdraw-sheet": func() plan.Act { return &Withdraw{} },
			"sheet-sent":     func() plan.Act { return &Sent{} },
			"told":           func() plan.Act { return &Told{} },
			"paste-answer":   func() plan.Act { return &Paste{} },
		}}
}
