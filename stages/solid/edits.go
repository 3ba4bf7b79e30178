package solid

import (
	"bytes"
	"context"
	"fmt"
	"path/filepath"
	"slices"
	"strings"

	"lampfern/core/craft/printed"
	"lampfern/core/mesh"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
	"lampfern/shelf"
)

// BringMesh makes an STL or 3MF the plan's piece, each body a part. It says what
// was found. A mesh brought in again keeps what its bodies were named, the parts
// they lie in, and the cards and groups of those.
type BringMesh struct{ File plan.File }

func (e *BringMesh) Take(f plan.File) { e.File = f }

func (e BringMesh) Do(d *plan.Draft) (string, error) {
	file, data := e.File.Name, e.File.Data
	name := strings.TrimSuffix(filepath.Base(file), filepath.Ext(file))
	if name == "" || name == "." {
		name = "thing"
	}
	if r := []rune(name); len(r) > 30 {
		name = string(r[:30])
	}
	kind := "stl"
	if bytes.HasPrefix(data, []byte("PK")) {
		kind = "3mf"
	}
	m, err := plan.Read(d, func(ctx context.Context) (mesh.Mesh, error) { return plan.ReadMesh(ctx, kind, name, data, 0) })
	if err != nil {
		return "", err
	}
	solid := &printed.Solid{File: shelf.PhotoHash(data), Kind: kind, Name: name, Mesh: &m}
	for i, b := range m.Bodies {
		n := b.Name
		if r := []rune(n); len(r) > 36 {
			n = string(r[:36])
		}
		for k := 2; slices.ContainsFunc(solid.Parts, func(p piece.Part) bool { return p.Name == n }); k++ {
			n = fmt.Sprintf("%s %d", strings.TrimSuffix(n, fmt.Sprintf(" %d", k-1)), k)
		}
		solid.Parts, solid.Of = append(solid.Parts, piece.Part{Key: fmt.Sprintf("part%d", i+1), Name: n}), append(solid.Of, i)
	}
	if _, err := d.KeepMesh(data, &m); err != nil {
		return "", err
	}
	size, holes := plan.SizeOf(m), 0
	for _, b := range m.Bodies {
		if !b.Closed() {
			holes++
		}
	}
	said := fmt.Sprintf("%s imported: %d triangles in %s, %.0f × %.0f × %.0f mm.", words.Capital(name), m.Triangles(),
		bodiesWord(len(m.Bodies)), size[0], size[1], size[2])
	if holes > 0 {
		said += fmt.Sprintf(" %s holes, so the volume is uncertain.", map[bool]string{true: "One body has",
			false: words.Capital(words.Count(holes)) + " bodies have"}[holes == 1])
	}
	if m.Supports > 0 {
		said += fmt.Sprintf(" %s left out.", words.Plural(m.Supports, "support is", "supports are"))
	}
	in := &printed.Assembly{Solid: solid}
	if old := plan.Input[printed.Assembly](d.Plan); d.Plan.Pattern == "solid" && old.Solid != nil && again(d, old, solid) {
		d.Say(said + " Its parts keep their names, cards and groups.")
		return "import " + name, d.Recast(in)
	}
	d.Say(said)
	return "import " + name, d.Refit("solid", nil, in, nil)
}

// again reports whether a mesh holds bodies of the one that was there before, and
// puts those into the parts they lay in. Bodies are known by their name, or, when
// the earlier mesh is not kept here any more, by their number.
func again(d *plan.Draft, before printed.Assembly, now *printed.Solid) bool {
	old, lay := *before.Solid, map[string]int{} // part by body
	if m, err := d.Desk.Mesh(before.Model()); err == nil {
		for i, b := range m.Bodies {
			lay[b.Name] = old.Of[i]
		}
	} else if len(old.Of) == len(now.Of) {
		for i, b := range now.Mesh.Bodies {
			lay[b.Name] = old.Of[i]
		}
	}
	parts, of, known := slices.Clone(old.Parts), make([]int, len(now.Of)), false
	for i, b := range now.Mesh.Bodies {
		at, was := lay[b.Name]
		if !was {
			at = len(parts)
			parts = plan.AddPart(parts, now.Parts[now.Of[i]].Name)
		}
		of[i], known = at, known || was
	}
	if known {
		if len(of) == len(old.Of) { // what was put together stays so
			now.Moves, now.Faces = old.Moves, old.Faces
		}
		settle(now, parts, of)
	}
	return known
}

func bodiesWord(n int) string {
	if n == 1 {
		return "one body"
	}
	return words.Count(n) + " bodies"
}

// NameBody puts a body of the assembly into the part of that name, which is made
// where there is none; a part without a body goes.
type NameBody struct {
	Body int    `form:"body"`
	Part string `form:"part"`
}

func (e NameBody) Do(d *plan.Draft) (string, error) {
	return plan.InputEdit("name a body "+e.Part, func(_ *plan.Draft, in *printed.Assembly) error {
		if in.Solid == nil || e.Body < 0 || e.Body >= len(in.Solid.Of) {
			return words.Refuse("That body is not in the assembly.")
		}
		sol := *in.Solid
		sol.Parts, sol.Of = slices.Clone(sol.Parts), slices.Clone(sol.Of)
		parts, to, err := plan.PartNamed(sol.Parts, e.Part)
		if err != nil {
			return err
		}
		sol.Of[e.Body] = to
		settle(&sol, parts, sol.Of)
		in.Solid = &sol
		return nil
	})(d)
}
