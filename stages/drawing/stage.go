// Package drawing is the maker's own drawing: outlines, photos under them, and line
// drawings brought in. Its page lies in the room page.
package drawing

import "lampfern/plan"

const Key = "drawing"

func Stage() plan.Stage {
	return plan.Stage{Key: Key, Name: "Drawing", Pattern: "drawn", Press: "Draw",
		Edits: map[string]func() plan.Edit{
			"drawing-size":  func() plan.Edit { return &SizeDrawing{} },
			"outline":       func() plan.Edit { return &AddOutline{} },
			"outline-move":  func() plan.Edit { return &MoveOutline{} },
			"outline-copy":  func() plan.Edit { return &CopyOutline{} },
			"outline-away":  func() plan.Edit { return &DropOutline{} },
			"outline-raise": func() plan.Edit { return &RaiseOutline{} },
			"outline-lower": func() plan.Edit { return &RaiseOutline{Lower: true} },
			"outline-name":  func() plan.Edit { return &NameOutline{} },
			"split":         func() plan.Edit { return &SplitOutline{} },
			"grow":          func() plan.Edit { return &Grow{} },
			"find-parts":    func() plan.Edit { return &FindParts{} },
			"bare":          func() plan.Edit { return &MakeBare{} },
			"under-away":    func() plan.Edit { return &TakeUnder{} },
		},
		Brings: map[string]func() plan.Bring{
			"photo": func() plan.Bring { return &LayPhoto{} },
			"svg":   func() plan.Bring { return &BringSVG{} },
		},
		Begins: map[string]func() plan.Bring{
			".svg": func() plan.Bring { return &BringSVG{} },
			".jpg": bare, ".jpeg": bare, ".png": bare, ".webp": bare,
		},
	}
}

// bare is a photo of the bare thing that a plan begins with.
func bare() plan.Bring { return &LayPhoto{Parts: true} }
