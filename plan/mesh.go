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
var ErrNoMesh = errors.New("the mesh is not kept here")

// ReadMesh reads a mesh of a kind.
func ReadMesh(kind, name string, data []byte) (mesh.Mesh, error) {
	if kind == "3mf" {
		return exchange.Read3MF(data)
	}
	return exchange.ReadSTL(name, data)
}

// Mesh is a kept mesh, ready to use.
func (s *Desk) Mesh(of piece.Solid) (*mesh.Mesh, error) {
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
	read, err := ReadMesh(of.Kind, of.Name, data)
	if err != nil {
		return nil, words.Refuse("The mesh of %s can no longer be read: %s.", of.Name, err)
	}
	s.meshes.Add(of.File, &read)
	return &read, nil
}

// KeepMesh keeps the file of a mesh, the same one once only.
func (s *Desk) KeepMesh(data []byte) (hash string, err error) {
	hash = shelf.PhotoHash(data)
	return hash, s.Store.PutModelFile(hash, data)
}

// Solid is the plan's assembly with its mesh.
func (s *Desk) Solid(p *Plan) (piece.Solid, error) {
	if p.Piece == nil || p.Template != "solid" || p.Own().Solid == nil {
		return piece.Solid{}, words.Refuse("Bring in a mesh first, as STL or 3MF: its bodies are then the parts.")
	}
	out := *p.Own().Solid
	m, err := s.Mesh(out)
	if errors.Is(err, ErrNoMesh) {
		m, err = standIn(out), nil
	}
	out.Mesh = m
	return out, err
}

// SolidSize is how large the plan's assembly is in mm; false when it has none.
func (s *Desk) SolidSize(p *Plan) (size [3]float64, ok bool) {
	sol, err := s.Solid(p)
	if err != nil {
		return size, false
	}
	return SizeOf(*sol.Mesh), true
}

// SizeOf is how large a mesh is along x, y and z, in mm.
func SizeOf(m mesh.Mesh) [3]float64 {
	low, high := m.Bounds()
	return [3]float64{high.X - low.X, high.Y - low.Y, high.Z - low.Z}
}

// Unders are the photos under the plan's piece with their templates.
func (s *Desk) Unders(ctx context.Context, p *Plan) ([]*image.Gray, error) {
	if p.Piece == nil {
		return nil, nil
	}
	var out []*image.Gray
	for i, u := range p.Piece.Unders {
		g, err := s.Template(ctx, u)
		if err != nil {
			return nil, fmt.Errorf("photo %d under the drawing: %w", i+1, err)
		}
		out = append(out, g)
	}
	return out, nil
}
