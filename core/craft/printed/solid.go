package printed

import (
	"fmt"
	"math"
	"slices"
	"sync"

	"lampfern/core/mesh"
	"lampfern/core/piece"
)

// Solid is a mesh that a maker brings in: the file it is kept in, and the part of
// each of its bodies. Mesh is the mesh itself; it is not kept with the plan.
type Solid struct {
	File  string       `json:"file"` // by its hash
	Kind  string       `json:"kind"` // stl or 3mf
	Name  string       `json:"name"`
	Parts []piece.Part `json:"parts"`
	Of    []int        `json:"of"`
	Moves []Move       `json:"moves,omitempty"` // of bodies that came plated
	Faces []Face       `json:"faces,omitempty"` // of bodies, in parts of their own

	Mesh  *mesh.Mesh `json:"-"` // as assembled, faces as bodies after the others
	Whole *mesh.Mesh `json:"-"` // as assembled
	Plate *mesh.Mesh `json:"-"` // as it came

	OfFace map[int][]int `json:"-"` // by body, for each triangle the face that it is of, −1 for none
}

// Move turns a body about its middle, in degrees about x, y and z, and moves it, in mm.
type Move struct {
	Body int      `json:"body"`
	Turn mesh.Vec `json:"turn"`
	By   mesh.Vec `json:"by"`
}

// Face is a face of a body, by one of its triangles, in a part of its own.
type Face struct {
	Body     int `json:"body"`
	Triangle int `json:"triangle"`
	Part     int `json:"part"`
}

// Bounds of what is done to an assembly.
const (
	MostFaces = 60    // that have cards of their own
	mostMove  = 10000 // mm
)

// given is the solid with its mesh: bodies moved, faces taken out of them.
func (s Solid) given(m *mesh.Mesh) *Solid {
	s.Plate = m
	whole := mesh.Mesh{Bodies: slices.Clone(m.Bodies), Supports: m.Supports}
	for _, mv := range s.Moves {
		if mv.Body < len(whole.Bodies) {
			whole.Bodies[mv.Body] = whole.Bodies[mv.Body].Turned(mv.Turn, mv.By)
		}
	}
	s.Whole = &whole
	split := mesh.Mesh{Bodies: slices.Clone(whole.Bodies)}
	s.Of = slices.Clone(s.Of)
	taken := map[int][]bool{}
	s.OfFace = map[int][]int{}
	for i, f := range s.Faces {
		if f.Body >= len(whole.Bodies) || f.Triangle >= len(whole.Bodies[f.Body].Triangles) {
			continue
		}
		face := whole.Bodies[f.Body].Face(f.Triangle)
		if taken[f.Body] == nil {
			taken[f.Body], s.OfFace[f.Body] = make([]bool, len(face)), make([]int, len(face))
			for t := range face {
				s.OfFace[f.Body][t] = -1
			}
		}
		for t := range face { // what another face has stays with that
			if face[t] = face[t] && !taken[f.Body][t]; face[t] {
				taken[f.Body][t], s.OfFace[f.Body][t] = true, i
			}
		}
		_, out := whole.Bodies[f.Body].Split(face)
		split.Bodies, s.Of = append(split.Bodies, out), append(s.Of, f.Part)
	}
	for b, t := range taken {
		split.Bodies[b], _ = whole.Bodies[b].Split(t)
	}
	s.Mesh = &split
	return &s
}

// Check says in one sentence what keeps the solid from being used.
func (s Solid) Check() error {
	if len(s.Of) == 0 || len(s.Of) > mesh.MostBodies || len(s.Parts) == 0 || len(s.Parts) > mesh.MostBodies+MostFaces {
		return fmt.Errorf("an assembly has from 1 to %d bodies: this one has %d", mesh.MostBodies, len(s.Of))
	}
	for _, of := range s.Of {
		if of < 0 || of >= len(s.Parts) {
			return fmt.Errorf("a body of the assembly belongs to no part")
		}
	}
	if len(s.Faces) > MostFaces || len(s.Moves) > mesh.MostBodies {
		return fmt.Errorf("at most %d faces of an assembly have cards of their own", MostFaces)
	}
	for _, f := range s.Faces {
		if f.Body < 0 || f.Body >= len(s.Of) || f.Triangle < 0 || f.Part < 0 || f.Part >= len(s.Parts) {
			return fmt.Errorf("a face of the assembly belongs to no body")
		}
	}
	for _, mv := range s.Moves {
		if mv.Body < 0 || mv.Body >= len(s.Of) {
			return fmt.Errorf("a body that is moved is not in the assembly")
		}
		for _, v := range []float64{mv.Turn.X, mv.Turn.Y, mv.Turn.Z, mv.By.X, mv.By.Y, mv.By.Z} {
			if !(math.Abs(v) <= mostMove) {
				return fmt.Errorf("a body can be moved by at most %d mm, and turned by at most as many degrees", mostMove)
			}
		}
	}
	for _, p := range s.Parts {
		if p.Key == "" || p.Name == "" || len([]rune(p.Name)) > piece.MaxPartName {
			return fmt.Errorf("each part of an assembly has a name of at most %d characters", piece.MaxPartName)
		}
	}
	return nil
}

// Directions a solid is looked at from, and how they are laid out.
const (
	solidViews = 26
	solidRow   = 7
	solidSide  = 110 // places across a view
	solidGap   = 6
	shownSide  = 420 // places across a view in a small or printed picture
	shownGap   = 40
)

// shownFrom are the directions of those: the front and the back, a little from above.
var shownFrom = []mesh.Vec{{X: .55, Y: -1, Z: .5}, {X: -.8, Y: .75, Z: .4}}

var solidPattern = piece.Pattern{Key: "solid", Name: "Your 3D model",
	Words: "the pieces of a 3D model you import, shared by what is visible of each from all sides",
	Input: func() piece.Input { return &Assembly{} }, Make: piece.MakeWith(solid), Cautions: piece.CautionsWith(unseen)}

// usualSolid stands in while nothing is brought in.
func usualSolid() Solid {
	m := mesh.Mesh{Bodies: []mesh.Body{mesh.Box("foot", mesh.Vec{}, mesh.Vec{X: 60, Y: 60, Z: 10}),
		mesh.Box("body", mesh.Vec{X: 10, Y: 10, Z: 10}, mesh.Vec{X: 40, Y: 40, Z: 45}),
		mesh.Box("lid", mesh.Vec{X: 6, Y: 6, Z: 55}, mesh.Vec{X: 48, Y: 48, Z: 8})}}
	s := Solid{Mesh: &m}
	for i, b := range m.Bodies {
		s.Parts, s.Of = append(s.Parts, piece.Named(fmt.Sprintf("part%d", i+1), b.Name)), append(s.Of, i)
	}
	return s
}

// mostPlaces bounds what one view of a thing may cost to draw, in places looked at; the finest pictures
// of printed things of two million triangles cost a tenth.
const mostPlaces = 40e6

// solid is a part a group of bodies, with what is seen of it from many directions
// all round.
func solid(_ piece.Values, in *Assembly) (piece.Piece, error) {
	s := usualSolid()
	if in.Solid != nil {
		s = *in.Solid
	}
	if s.Mesh == nil || len(s.Mesh.Bodies) != len(s.Of) {
		return piece.Piece{}, fmt.Errorf("its mesh is missing: import it again")
	}
	low, high := s.Mesh.Bounds()
	cell := math.Hypot(math.Hypot(high.X-low.X, high.Y-low.Y), high.Z-low.Z) / solidSide
	if !(cell > 0) {
		return piece.Piece{}, fmt.Errorf("the model has no size: check the unit it was exported in")
	}
	if s.Mesh.Places(cell) > mostPlaces {
		return piece.Piece{}, fmt.Errorf("its triangles overlap far more than those of a solid: export it again as one solid")
	}
	rows := (solidViews + solidRow - 1) / solidRow
	p := piece.OfCells(piece.Flat, solidRow*(solidSide+solidGap)-solidGap, rows*(solidSide+solidGap)-solidGap, cell, cell, s.Parts)
	p.Cells.Empty()
	var wait sync.WaitGroup
	look := func(c *piece.Cells, from mesh.Vec, side, x0, y0 int) {
		wait.Go(func() {
			for i, body := range s.Mesh.Look(from, side) {
				if body >= 0 {
					c.Part[(y0+i/side)*c.Across+x0+i%side] = int16(s.Of[body])
				}
			}
		})
	}
	for n, from := range mesh.Round(solidViews) {
		look(p.Cells, from, solidSide, n%solidRow*(solidSide+solidGap), n/solidRow*(solidSide+solidGap))
	}
	shown := make([]*piece.Cells, len(shownFrom))
	for n, from := range shownFrom {
		fine := cell * solidSide / shownSide
		shown[n] = piece.OfCells(piece.Flat, shownSide, shownSide, fine, fine, s.Parts).Cells
		shown[n].Empty()
		look(shown[n], from, shownSide, 0, 0)
	}
	wait.Wait()
	p.Box = [3]float64{high.X - low.X, high.Y - low.Y, high.Z - low.Z}
	p.Shown = piece.Beside(shown, shownGap)
	return p, nil
}
