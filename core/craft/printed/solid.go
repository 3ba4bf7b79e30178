package printed

import (
	"fmt"
	"math"
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
	Mesh  *mesh.Mesh   `json:"-"`
}

// Check says in one sentence what keeps the solid from being used.
func (s Solid) Check() error {
	if len(s.Of) == 0 || len(s.Of) > mesh.MostBodies || len(s.Parts) == 0 || len(s.Parts) > mesh.MostBodies {
		return fmt.Errorf("an assembly has from 1 to %d bodies: this one has %d", mesh.MostBodies, len(s.Of))
	}
	for _, of := range s.Of {
		if of < 0 || of >= len(s.Parts) {
			return fmt.Errorf("a body of the assembly belongs to no part")
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

var solidPattern = piece.Pattern{Key: "solid", Name: "Printed or assembled thing",
	Words: "the bodies of a mesh that you bring in, shared by what is seen of each from all round",
	Input: func() piece.Input { return &Assembly{} }, Make: piece.MakeWith(solid), Cautions: piece.CautionsWith(unseen)}

// usualSolid stands in while nothing is brought in.
func usualSolid() Solid {
	m := mesh.Mesh{Bodies: []mesh.Body{mesh.Box("foot", mesh.Vec{}, mesh.Vec{X: 60, Y: 60, Z: 10}), mesh.Box("body", mesh.Vec{X: 10, Y: 10, Z: 10}, mesh.Vec{X: 40, Y: 40, Z: 45}), mesh.Box("lid", mesh.Vec{X: 6, Y: 6, Z: 55}, mesh.Vec{X: 48, Y: 48, Z: 8})}}
	s := Solid{Mesh: &m}
	for i, b := range m.Bodies {
		s.Parts, s.Of = append(s.Parts, piece.Named(fmt.Sprintf("part%d", i+1), b.Name)), append(s.Of, i)
	}
	return s
}

// solid is a part a group of bodies, with what is seen of it from many directions
// all round.
func solid(_ piece.Values, in *Assembly) (piece.Piece, error) {
	s := usualSolid()
	if in.Solid != nil {
		s = *in.Solid
	}
	if s.Mesh == nil || len(s.Mesh.Bodies) != len(s.Of) {
		return piece.Piece{}, fmt.Errorf("its mesh is not kept here: bring it in again")
	}
	low, high := s.Mesh.Bounds()
	cell := math.Hypot(math.Hypot(high.X-low.X, high.Y-low.Y), high.Z-low.Z) / solidSide
	if !(cell > 0) {
		return piece.Piece{}, fmt.Errorf("the thing has no size: check the unit it was exported in")
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
