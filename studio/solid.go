package studio

import (
	"bytes"
	"context"
	"encoding/binary"
	"fmt"
	"math"
	"path/filepath"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/mesh"
	"lampfern/core/piece"
	"lampfern/exchange"
)

// meshesKept bounds the meshes held in memory at once.
const meshesKept = 2

// readMesh reads a mesh of a kind.
func readMesh(kind, name string, data []byte) (mesh.Mesh, error) {
	if kind == "3mf" {
		return exchange.Read3MF(data)
	}
	return exchange.ReadSTL(name, data)
}

// mesh is a kept mesh, ready to use.
func (s *Studio) mesh(of piece.Solid) (*mesh.Mesh, error) {
	s.mu.Lock()
	m := s.meshes[of.File]
	s.mu.Unlock()
	if m != nil {
		return m, nil
	}
	data, err := s.store.ModelFile(of.File)
	if err != nil {
		return nil, refuse("The mesh of %s is not kept here: bring it in again.", of.Name)
	}
	read, err := readMesh(of.Kind, of.Name, data)
	if err != nil {
		return nil, refuse("The mesh of %s can no longer be read: %s.", of.Name, err)
	}
	s.rememberMesh(of.File, &read)
	return &read, nil
}

func (s *Studio) rememberMesh(file string, m *mesh.Mesh) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if len(s.meshes) >= meshesKept {
		clear(s.meshes)
	}
	s.meshes[file] = m
}

// KeepMesh keeps the file of a mesh, the same one once only.
func (s *Studio) KeepMesh(data []byte) (hash string, err error) {
	hash = photoHash(data)
	return hash, s.store.PutModelFile(hash, data)
}

// BringMesh makes an STL or 3MF the plan's piece, each body a part. It says what
// was found.
func (s *Studio) BringMesh(ctx context.Context, id uint, revision int64, file string, data []byte) (words string, err error) {
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
	m, err := readMesh(kind, name, data)
	if err != nil {
		return "", refuse("Nothing was brought in: %s.", err)
	}
	solid := &piece.Solid{File: photoHash(data), Kind: kind, Name: name, Mesh: &m}
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
	if _, err := s.KeepMesh(data); err != nil {
		return "", err
	}
	s.rememberMesh(solid.File, &m)
	size, holes := sizeOf(m), 0
	for _, b := range m.Bodies {
		if !b.Closed() {
			holes++
		}
	}
	words = fmt.Sprintf("%s is brought in: %d triangles in %s, %.0f × %.0f × %.0f mm.", capitalFirst(name), m.Triangles(), bodiesWord(len(m.Bodies)), size[0], size[1], size[2])
	if holes > 0 {
		words += fmt.Sprintf(" %s holes, so the volume is uncertain.", map[bool]string{true: "One body has", false: capitalFirst(countWord(holes)) + " bodies have"}[holes == 1])
	}
	return words, s.Change(ctx, id, revision, func(d *draft) (string, error) {
		own := d.plan.Own
		own.Solid = solid
		return "bring in " + name, d.refit("solid", nil, own, nil)
	})
}

func bodiesWord(n int) string {
	if n == 1 {
		return "one body"
	}
	return countWord(n) + " bodies"
}

// NameBody puts a body of the assembly into the part of that name, which is made
// where there is none; a part without a body goes.
func NameBody(body int, name string) Edit {
	return ownEdit("solid", "name a body "+name, func(_ *draft, own *piece.Own) error {
		if own.Solid == nil || body < 0 || body >= len(own.Solid.Of) {
			return refuse("That body is not in the assembly.")
		}
		sol := *own.Solid
		sol.Parts, sol.Of = slices.Clone(sol.Parts), slices.Clone(sol.Of)
		d := &piece.Drawing{Parts: sol.Parts}
		to, err := partNamed(d, name)
		if err != nil {
			return err
		}
		sol.Of[body] = to
		d.Outlines = make([]piece.Outline, len(sol.Of))
		for i, of := range sol.Of {
			d.Outlines[i].Part = of
		}
		dropEmptyParts(d)
		for i, o := range d.Outlines {
			sol.Of[i] = o.Part
		}
		sol.Parts = d.Parts
		own.Solid = &sol
		return nil
	})
}

// BodyView is one body of an assembly with its measures.
type BodyView struct {
	Name, Part string
	Surface    float64 // cm²
	Volume     float64 // cm³
	Closed     bool
}

// SolidView is an assembly as its page shows it.
type SolidView struct {
	Name      string
	Triangles int
	Size      [3]float64 // mm
	Bodies    []BodyView
}

// solid is the plan's assembly with its mesh.
func (s *Studio) solid(p *Plan) (piece.Solid, error) {
	if p.Piece == nil || p.Template != "solid" || p.Own.Solid == nil {
		return piece.Solid{}, refuse("Bring in a mesh first, as STL or 3MF: its bodies are then the parts.")
	}
	out := *p.Own.Solid
	m, err := s.mesh(out)
	out.Mesh = m
	return out, err
}

// Solid is the plan's assembly, measured.
func (s *Studio) Solid(p *Plan) (*SolidView, error) {
	sol, err := s.solid(p)
	if err != nil {
		return nil, err
	}
	v := &SolidView{Name: sol.Name, Triangles: sol.Mesh.Triangles(), Size: sizeOf(*sol.Mesh)}
	for i, b := range sol.Mesh.Bodies {
		v.Bodies = append(v.Bodies, BodyView{Name: b.Name, Part: sol.Parts[sol.Of[i]].Name, Surface: b.Surface() / 100, Volume: b.Volume() / 1000, Closed: b.Closed()})
	}
	return v, nil
}

// SolidSize is how large the plan's assembly is in mm; false when it has none.
func (s *Studio) SolidSize(p *Plan) (size [3]float64, ok bool) {
	sol, err := s.solid(p)
	if err != nil {
		return size, false
	}
	return sizeOf(*sol.Mesh), true
}

func sizeOf(m mesh.Mesh) [3]float64 {
	low, high := m.Bounds()
	return [3]float64{high.X - low.X, high.Y - low.Y, high.Z - low.Z}
}

// coarseTriangles is how many triangles are drawn while a thing is turned.
const coarseTriangles = 16_000

// SolidData is the assembly for the page's own canvas, as little-endian numbers:
// counts of corners, triangles and parts; of each part its middle; of the whole its
// middle and reach; the corners; the part of each corner as bytes, filled up to
// four; and the triangles by corner.
func (s *Studio) SolidData(p *Plan, coarse bool) ([]byte, error) {
	sol, err := s.solid(p)
	if err != nil {
		return nil, err
	}
	m := *sol.Mesh
	if coarse {
		m = m.Coarse(coarseTriangles)
	}
	low, high := sol.Mesh.Bounds()
	var corners, triangles int
	for _, b := range m.Bodies {
		corners, triangles = corners+len(b.Vertices), triangles+len(b.Triangles)
	}
	var out bytes.Buffer
	out.Grow(16*corners + 12*triangles + 1000)
	put := func(v ...float64) {
		for _, x := range v {
			out.Write(binary.LittleEndian.AppendUint32(nil, math.Float32bits(float32(x))))
		}
	}
	for _, n := range []int{corners, triangles, len(sol.Parts)} {
		out.Write(binary.LittleEndian.AppendUint32(nil, uint32(n)))
	}
	for part := range sol.Parts {
		var sum mesh.Vec
		n := 0.0
		for i, b := range sol.Mesh.Bodies {
			if sol.Of[i] == part {
				c := b.Middle()
				sum.X, sum.Y, sum.Z, n = sum.X+c.X, sum.Y+c.Y, sum.Z+c.Z, n+1
			}
		}
		put(sum.X/n, sum.Y/n, sum.Z/n)
	}
	put((low.X+high.X)/2, (low.Y+high.Y)/2, (low.Z+high.Z)/2, math.Hypot(math.Hypot(high.X-low.X, high.Y-low.Y), high.Z-low.Z)/2)
	for _, b := range m.Bodies {
		for _, v := range b.Vertices {
			put(v.X, v.Y, v.Z)
		}
	}
	for i, b := range m.Bodies {
		out.Write(bytes.Repeat([]byte{byte(sol.Of[i])}, len(b.Vertices)))
	}
	for out.Len()%4 != 0 {
		out.WriteByte(0)
	}
	from := uint32(0)
	for _, b := range m.Bodies {
		for _, t := range b.Triangles {
			for _, i := range t {
				out.Write(binary.LittleEndian.AppendUint32(nil, from+uint32(i)))
			}
		}
		from += uint32(len(b.Vertices))
	}
	return out.Bytes(), nil
}

// Solid3MF is the assembly as a 3MF package in the colours of its cards.
func (s *Studio) Solid3MF(p *Plan) ([]byte, error) {
	sol, err := s.solid(p)
	if err != nil {
		return nil, err
	}
	fill := p.fill()
	colours := make([]*colour.RGB, len(sol.Of))
	for i, part := range sol.Of {
		if at := fill[part]; at >= 0 {
			rgb, _ := p.Tray[at].Colour.RGB()
			colours[i] = &rgb
		}
	}
	var b bytes.Buffer
	err = exchange.Write3MF(&b, p.Name, *sol.Mesh, colours)
	return b.Bytes(), err
}
