package solid

import (
	"bytes"
	"encoding/binary"
	"errors"
	"fmt"
	"math"

	"lampfern/core/craft/printed"
	"lampfern/core/mesh"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/exchange"
	"lampfern/plan"
)

// BodyView is one body of an assembly with its measures.
type BodyView struct {
	Name, Part string
	Surface    float64 // cm²
	Volume     float64 // cm³
	Closed     bool
	Path       string       // what is seen of it alone in the frame of the whole, as an SVG path
	Move       printed.Move // zero for as it came
}

// SolidView is an assembly as its page shows it.
type SolidView struct {
	Name      string
	Triangles int
	Size      [3]float64 // mm
	Bodies    []BodyView
	Path      string     // what is seen of the whole
	Faces     []BodyView // with cards of their own
	Moved     bool
}

// solidOf is the plan's assembly with its mesh; a plan without one is refused.
func solidOf(s *plan.Desk, p *plan.Plan) (*printed.Solid, error) {
	in, is, err := s.Meshed(p)
	if err != nil {
		return nil, err
	}
	if a, of := in.(*printed.Assembly); is && of {
		return a.Solid, nil
	}
	return nil, words.Refuse("Import an STL or 3MF file first. Its pieces become the parts.")
}

// Solid is the plan's assembly, measured.
func Solid(s *plan.Desk, p *plan.Plan) (*SolidView, error) {
	sol, err := solidOf(s, p)
	if err != nil {
		return nil, err
	}
	v := &SolidView{Name: sol.Name, Triangles: sol.Mesh.Triangles(), Size: plan.SizeOf(*sol.Mesh), Moved: len(sol.Moves) > 0}
	for i, b := range sol.Whole.Bodies {
		one := BodyView{Name: b.Name, Part: sol.Parts[sol.Of[i]].Name, Surface: b.Surface() / 100, Volume: b.Volume() / 1000, Closed: b.Closed()}
		for _, m := range sol.Moves {
			if m.Body == i {
				one.Move = m
			}
		}
		v.Bodies = append(v.Bodies, one)
	}
	seen, err := plan.Recall(s, fmt.Sprint("bodies ", p.Piece.Key), func() ([]string, error) { return paths(*sol.Whole), nil })
	if err != nil {
		return nil, err
	}
	v.Path = seen[0]
	for i, path := range seen[1:] {
		v.Bodies[i].Path = path
	}
	for i, f := range sol.Faces {
		face := BodyView{Name: sol.Parts[f.Part].Name, Part: sol.Parts[f.Part].Name}
		if at := len(sol.Whole.Bodies) + i; at < len(sol.Mesh.Bodies) {
			face.Surface = sol.Mesh.Bodies[at].Surface() / 100
		}
		v.Faces = append(v.Faces, face)
	}
	return v, nil
}

// PathSide is the side of the frame in which bodies are drawn beside their names, and mostDrawn how
// many are.
const PathSide, mostDrawn = 48, 100

// paths are what is seen of a thing and of each of its bodies alone, a little from above.
func paths(m mesh.Mesh) []string {
	low, high := m.Bounds()
	from := mesh.Vec{X: .6, Y: -1, Z: .5}
	m = m.Coarse(coarseTriangles)
	out := []string{m.Look(from, PathSide).Path(-1, PathSide)}
	for _, b := range m.Bodies[:min(mostDrawn, len(m.Bodies))] {
		out = append(out, mesh.Mesh{Bodies: []mesh.Body{b}}.LookIn(low, high, from, PathSide).Path(0, PathSide))
	}
	return out
}

// coarseTriangles is how many triangles are drawn while a thing is turned.
const coarseTriangles = 16_000

// SolidData is the assembly for the page's own canvas, as little-endian numbers:
// counts of corners, triangles and parts; of each part its middle; of the whole its
// middle and reach; the corners; the part of each corner as bytes, filled up to
// four; and the triangles by corner.
func SolidData(s *plan.Desk, p *plan.Plan, coarse bool) ([]byte, error) {
	sol, err := solidOf(s, p)
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

// Solid3MF is the assembly as a 3MF package in the colours of its cards, as it is put together or as
// it came on its plate.
func Solid3MF(s *plan.Desk, p *plan.Plan, plated bool) ([]byte, error) {
	sol, err := solidOf(s, p)
	if err != nil {
		return nil, err
	}
	var out package3MF
	if out.add(p, sol, sol.Whole, mesh.Vec{}); plated {
		out = package3MF{}
		out.add(p, sol, sol.Plate, mesh.Vec{})
	}
	return out.write(p.Name)
}

// besideGap is how far apart assemblies of a set stand in one file, in mm.
const besideGap = 10.0

// Set3MF are all assemblies of a set beside one another in one 3MF package.
func Set3MF(s *plan.Desk, p *plan.Plan) ([]byte, error) {
	pieces, err := s.Set(p)
	if err != nil {
		return nil, err
	}
	var out package3MF
	x := 0.0
	for _, w := range pieces {
		sol, err := solidOf(s, w.Plan)
		var none words.Refusal
		if errors.As(err, &none) {
			continue
		}
		if err != nil {
			return nil, err
		}
		low, high := sol.Whole.Bounds()
		out.add(w.Plan, sol, sol.Whole, mesh.Vec{X: x - low.X})
		x += high.X - low.X + besideGap
	}
	if len(out.Bodies) == 0 {
		return nil, words.Refuse("No piece of the set is a 3D model. Import one first.")
	}
	return out.write(p.Name)
}

// Assemblies is how many pieces of a set are assemblies with a mesh of their own.
func Assemblies(s *plan.Desk, p *plan.Plan) (n int) {
	pieces, err := s.Set(p)
	if err != nil {
		return 0
	}
	for _, w := range pieces {
		if in, is := w.Plan.Put().(piece.Meshed); is && in.Model().File != "" {
			n++
		}
	}
	return n
}

// package3MF gathers bodies with their materials.
type package3MF struct {
	mesh.Mesh
	of    []*exchange.Painted
	faces map[int]func(triangle int) *exchange.Painted
}

// add adds a solid's bodies, of its mesh as it is to be written, at a place.
func (f *package3MF) add(p *plan.Plan, sol *printed.Solid, m *mesh.Mesh, at mesh.Vec) {
	fill := p.Fill()
	painted := func(part int) *exchange.Painted {
		at := fill[part]
		if at < 0 {
			return nil
		}
		rgb, _ := p.Tray[at].Colour.RGB()
		return &exchange.Painted{Name: p.Tray[at].Name, Colour: rgb}
	}
	if f.faces == nil {
		f.faces = map[int]func(int) *exchange.Painted{}
	}
	for i, b := range m.Bodies {
		if of := sol.OfFace[i]; of != nil {
			f.faces[len(f.Bodies)] = func(t int) *exchange.Painted {
				if of[t] < 0 {
					return nil
				}
				return painted(sol.Faces[of[t]].Part)
			}
		}
		f.of = append(f.of, painted(sol.Of[i]))
		if at != (mesh.Vec{}) {
			b = b.Turned(mesh.Vec{}, at)
		}
		f.Bodies = append(f.Bodies, b)
	}
}

func (f *package3MF) write(title string) ([]byte, error) {
	var face func(body, triangle int) *exchange.Painted
	if len(f.faces) > 0 {
		face = func(body, triangle int) *exchange.Painted {
			if of := f.faces[body]; of != nil {
				return of(triangle)
			}
			return nil
		}
	}
	var b bytes.Buffer
	err := exchange.Write3MF(&b, title, f.Mesh, f.of, face)
	return b.Bytes(), err
}
