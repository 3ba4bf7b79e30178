package plan

import (
	"context"
	"errors"
	"fmt"
	"image"

	"lampfern/core/mesh"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/exchange"
	"lampfern/shelf"
)

// ErrNoMesh tells that the file of a mesh is not in the data folder.
var ErrNoMesh = errors.New("the model is missing")

// ReadMesh reads a mesh of a kind, of at least so many bodies if it can be: one that was brought in
// with its supports keeps them.
func ReadMesh(ctx context.Context, kind, name string, data []byte, bodies int) (mesh.Mesh, error) {
	if kind == "3mf" {
		m, err := exchange.Read3MF(ctx, data, false)
		if m.Supports > 0 && len(m.Bodies) < bodies {
			return exchange.Read3MF(ctx, data, true)
		}
		return m, err
	}
	return exchange.ReadSTL(ctx, name, data)
}

// Mesh is a kept mesh, ready to use. ErrNoMesh tells that it is not kept here.
func (s *Desk) Mesh(of piece.Model) (*mesh.Mesh, error) {
	if m, known := s.meshes.Get(of.File); known {
		return m, nil
	}
	data, err := s.Store.ModelFile(of.File)
	if errors.Is(err, shelf.ErrNotFound) {
		return nil, ErrNoMesh
	}
	if err != nil {
		return nil, err
	}
	read, err := ReadMesh(context.Background(), of.Kind, of.Name, data, of.Bodies)
	if err != nil {
		return nil, words.Refuse("The model %s can no longer be read: %s.", of.Name, err)
	}
	s.meshes.Add(of.File, &read)
	return &read, nil
}

// meshed is an input with its mesh, or with boxes in the place of one that is not
// kept here, so that the plan can still be looked at.
func (s *Desk) meshed(in piece.Meshed) (with piece.Meshed, missing bool, err error) {
	m, err := s.Mesh(in.Model())
	if missing = errors.Is(err, ErrNoMesh); missing {
		m, err = standIn(in.Model().Bodies), nil
	}
	if err != nil {
		return nil, false, err
	}
	return in.Give(m), missing, nil
}

// standIn is a mesh in the place of one that is not kept here: a box for each of
// its bodies.
func standIn(bodies int) *mesh.Mesh {
	const side, apart = 40, 50
	m := &mesh.Mesh{}
	for i := range bodies {
		m.Bodies = append(m.Bodies, mesh.Box(fmt.Sprintf("body %d", i+1), mesh.Vec{X: float64(i%5) * apart, Z: float64(i/5) * apart},
			mesh.Vec{X: side, Y: side, Z: side}))
	}
	return m
}

// KeepMesh keeps the file of a mesh, the same one once only. read is the mesh in it,
// where it was read already.
func (s *Desk) KeepMesh(data []byte, read *mesh.Mesh) (hash string, err error) {
	hash = shelf.PhotoHash(data)
	if err := s.Store.PutModelFile(hash, data); err != nil {
		return "", err
	}
	if read != nil {
		s.meshes.Add(hash, read)
	}
	return hash, nil
}

// Meshed is the input of the plan's pattern with its mesh, or boxes in its place;
// false when it is of no mesh, or has none.
func (s *Desk) Meshed(p *Plan) (piece.Meshed, bool, error) {
	in, is := p.Put().(piece.Meshed)
	if !is || in.Model().File == "" {
		return nil, false, nil
	}
	with, _, err := s.meshed(in)
	return with, err == nil, err
}

// SizeOf is how large a mesh is along x, y and z, in mm.
func SizeOf(m mesh.Mesh) [3]float64 {
	low, high := m.Bounds()
	return [3]float64{high.X - low.X, high.Y - low.Y, high.Z - low.Z}
}

// Unders are the photos under the plan's piece with their reliefs.
func (s *Desk) Unders(ctx context.Context, p *Plan) ([]*image.Gray, error) {
	if p.Piece == nil {
		return nil, nil
	}
	var out []*image.Gray
	for i, u := range p.Piece.Unders {
		g, err := s.Relief(ctx, u)
		if err != nil {
			return nil, fmt.Errorf("photo %d under the drawing: %w", i+1, err)
		}
		out = append(out, g)
	}
	return out, nil
}
