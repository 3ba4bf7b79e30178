// Package solid is an assembly of bodies from a mesh. Its page lies in the room
// page.
package solid

import "lampfern/plan"

const Key = "solid"

func Stage() plan.Stage {
	return plan.Stage{Key: Key, Name: "Your 3D model", Pattern: "solid", Press: "Pieces and files",
		Edits: map[string]func() plan.Edit{
			"body-name": func() plan.Edit { return &NameBody{} },
			"body-move": func() plan.Edit { return &MoveBody{} },
			"face":      func() plan.Edit { return &ColourFace{} },
			"face-off":  func() plan.Edit { return &DropFace{} },
		},
		Brings: map[string]func() plan.Bring{
			"mesh": func() plan.Bring { return &BringMesh{} },
		},
		Begins: map[string]func() plan.Bring{
			".stl": func() plan.Bring { return &BringMesh{} },
			".3mf": func() plan.Bring { return &BringMesh{} },
		},
	}
}
