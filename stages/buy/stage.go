// Package buy is the stage that says how much of each to buy, less what is on hand, and
// keeps what was bought.
package buy

import "lampfern/plan"

const Key = "buy"

func Stage() plan.Stage {
	return plan.Stage{Key: Key, Name: "Buy", Letter: "y", Hint: "See what you need, what you have and what to buy.",
		New: func() plan.Section { return &Section{} },
		Edits: map[string]func() plan.Edit{
			"drop-wish": func() plan.Edit { return &DropWish{} },
			"answer":    func() plan.Edit { return &Answer{} },
			"amount":    func() plan.Edit { return &Amount{} },
			"mixed":     func() plan.Edit { return &Mixed{} },
			"add-line":  func() plan.Edit { return &AddLine{} },
			"drop-line": func() plan.Edit { return &DropLine{} },
			"keep-back": func() plan.Edit { return &KeepBack{} },
			"own-list":  func() plan.Edit { return &WriteList{} },
			"fit":       func() plan.Edit { return &Fit{} },
		},
		Acts: map[string]func() plan.Act{
			"bought":   func() plan.Act { return &Bought{} },
			"unbought": func() plan.Act { return &Unbought{} },
			"used":     func() plan.Act { return &Used{} },
			"count":    func() plan.Act { return &Count{} },

			"ask-prices":  func() plan.Act { return &AskPrices{} },
			"drop-prices": func() plan.Act { return &DropPrices{} },
		},
		Brings: map[string]func() plan.Bring{
			"prices":  func() plan.Bring { return &BringPrices{} },
			"written": func() plan.Bring { return &BringList{} },
		},
		Told:   told,
		Supply: supply,
		Filled: func(p *plan.Plan) bool { return len(p.Wishes)+len(Of(p).Own)+len(Of(p).Kept) > 0 },
	}
}
