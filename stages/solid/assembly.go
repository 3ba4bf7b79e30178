package solid

import (
	"fmt"
	"slices"

	"lampfern/core/craft/printed"
	"lampfern/core/mesh"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
)

// settle gives an assembly parts, of is that of each body, and leaves out those in which neither a body
// nor a face lies.
func settle(sol *printed.Solid, parts []piece.Part, of []int) {
	all := of
	for _, f := range sol.Faces {
		all = append(all, f.Part)
	}
	sol.Parts = plan.UsedParts(parts, all)
	sol.Of, sol.Faces = all[:len(of):len(of)], slices.Clone(sol.Faces)
	for i := range sol.Faces {
		sol.Faces[i].Part = all[len(of)+i]
	}
}

// MoveBody turns a body of the assembly about its middle and moves it, to put together what came on
// one plate; nothing but zeros puts it back as it came.
type MoveBody struct {
	Body int     `form:"body"`
	X    float64 `form:"x,optional"` // mm
	Y    float64 `form:"y,optional"`
	Z    float64 `form:"z,optional"`
	RX   float64 `form:"rx,optional"` // degrees
	RY   float64 `form:"ry,optional"`
	RZ   float64 `form:"rz,optional"`
}

func (e MoveBody) Do(d *plan.Draft) (string, error) {
	return plan.InputEdit("move a body", func(_ *plan.Draft, in *printed.Assembly) error {
		if in.Solid == nil || e.Body < 0 || e.Body >= len(in.Solid.Of) {
			return words.Refuse("That body is not in the assembly.")
		}
		sol := *in.Solid
		sol.Moves = slices.DeleteFunc(slices.Clone(sol.Moves), func(m printed.Move) bool { return m.Body == e.Body })
		m := printed.Move{Body: e.Body, Turn: mesh.Vec{X: e.RX, Y: e.RY, Z: e.RZ}, By: mesh.Vec{X: e.X, Y: e.Y, Z: e.Z}}
		if m.Turn != (mesh.Vec{}) || m.By != (mesh.Vec{}) {
			sol.Moves = append(sol.Moves, m)
			slices.SortFunc(sol.Moves, func(a, b printed.Move) int { return a.Body - b.Body })
		}
		in.Solid = &sol
		return nil
	})(d)
}

// ColourFace gives the face that a line of sight meets a card of its own. The face becomes a part.
type ColourFace struct {
	X   float64 `form:"x"` // where the line begins, mm
	Y   float64 `form:"y"`
	Z   float64 `form:"z"`
	DX  float64 `form:"dx"` // and where it goes
	DY  float64 `form:"dy"`
	DZ  float64 `form:"dz"`
	Key int     `form:"key"`
}

func (e ColourFace) Do(d *plan.Draft) (string, error) {
	_, c, err := d.Entry(e.Key)
	if err != nil {
		return "", err
	}
	of, err := solidOf(d.Desk, d.Plan)
	if err != nil {
		return "", err
	}
	body, triangle, ok := of.Whole.Hit(mesh.Vec{X: e.X, Y: e.Y, Z: e.Z}, mesh.Vec{X: e.DX, Y: e.DY, Z: e.DZ})
	if !ok {
		return "", words.Refuse("There is no face at that place.")
	}
	for _, f := range of.Faces { // one that has a card already takes the other
		if f.Body == body && of.Whole.Bodies[body].Face(f.Triangle)[triangle] {
			return plan.FillPart{Part: of.Parts[f.Part].Key, Key: e.Key}.Do(d)
		}
	}
	if len(of.Faces) >= printed.MostFaces {
		return "", words.Refuse("%d faces have cards of their own, the most there can be. Remove one first.", printed.MostFaces)
	}
	part := ""
	if _, err := plan.InputEdit("", func(_ *plan.Draft, in *printed.Assembly) error {
		sol := *in.Solid
		name := "face of the " + sol.Parts[sol.Of[body]].Name
		if r := []rune(name); len(r) > piece.MaxPartName-3 {
			name = string(r[:piece.MaxPartName-3])
		}
		free := name
		for n := 2; slices.ContainsFunc(sol.Parts, func(p piece.Part) bool { return p.Name == free }); n++ {
			free = fmt.Sprintf("%s %d", name, n)
		}
		sol.Parts = plan.AddPart(slices.Clone(sol.Parts), free)
		part = sol.Parts[len(sol.Parts)-1].Key
		sol.Faces = append(slices.Clone(sol.Faces), printed.Face{Body: body, Triangle: triangle, Part: len(sol.Parts) - 1})
		in.Solid = &sol
		return nil
	})(d); err != nil {
		return "", err
	}
	if _, err := (plan.FillPart{Part: part, Key: e.Key}).Do(d); err != nil {
		return "", err
	}
	return c.Name + " to a face", nil
}

// DropFace lets a face be of its body again.
type DropFace struct {
	Face int `form:"face"` // counted from 0
}

func (e DropFace) Do(d *plan.Draft) (string, error) {
	return plan.InputEdit("remove the card of a face", func(_ *plan.Draft, in *printed.Assembly) error {
		if in.Solid == nil || e.Face < 0 || e.Face >= len(in.Solid.Faces) {
			return words.Refuse("That face no longer has a card of its own.")
		}
		sol := *in.Solid
		sol.Faces = slices.Delete(slices.Clone(sol.Faces), e.Face, e.Face+1)
		settle(&sol, slices.Clone(sol.Parts), slices.Clone(sol.Of))
		in.Solid = &sol
		return nil
	})(d)
}
