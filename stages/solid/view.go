package solid

import (
	"bytes"
	"encoding/binary"
	"math"

	"lampfern/core/craft/printed"
	"lampfern/core/mesh"
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
	Move       printed.Move // zero for as it came
}

// SolidView is an assembly as its page shows it.
type SolidView struct {
	Name      string
	Triangles int
	Size      [3]float64 // mm
	Bodies    []BodyView
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
	return nil, words.Refuse("Bring in a mesh first, as STL or 3MF: its bodies are then the parts.")
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
	for i, f := range sol.Faces {
		face := BodyView{Name: sol.Parts[f.Part].Name, Part: sol.Parts[f.Part].Name}
		if at := len(sol.Whole.Bodies) + i; at < len(sol.Mesh.Bodies) {
			face.Surface = sol.Mesh.Bodies[at].Surface() / 100
		}
		v.Faces = append(v.Faces, face)
	}
	return v, nil
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
	fill := p.Fill()
	painted := func(part int) *exchange.Painted {
		at := fill[part]
		if at < 0 {
			return nil
		}
		rgb, _ := p.Tray[at].Colour.RGB()
		return &exchange.Painted{Name: p.Tray[at].Name, Colour: rgb}
	}
	m := sol.Whole
	if plated {
		m = sol.Plate
	}
	of := make([]*exchange.Painted, len(m.Bodies))
	for i := range of {
		of[i] = painted(sol.Of[i])
	}
	var face func(body, triangle int) *exchange.Painted
	if len(sol.Faces) > 0 {
		face = func(body, triangle int) *exchange.Painted {
			if of := sol.OfFace[body]; of != nil && of[triangle] >= 0 {
				return painted(sol.Faces[of[triangle]].Part)
			}
			return nil
		}
	}
	var b bytes.Buffer
	err = exchange.Write3MF(&b, p.Name, *m, of, face)
	return b.Bytes(), err
}
