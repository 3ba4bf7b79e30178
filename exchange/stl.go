package exchange

import (
	"bufio"
	"bytes"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"math"
	"strconv"

	"lampfern/core/mesh"
)

// MaxMeshBytes is the largest mesh read.
const MaxMeshBytes = 64 << 20

// Lengths of a binary STL: the head with its count, and one triangle.
const (
	stlHead     = 84
	stlTriangle = 50
)

// ReadSTL reads an STL, binary or text, in mm, as bodies: what does not touch is
// apart. The error is a sentence without its full stop.
func ReadSTL(ctx context.Context, name string, data []byte) (mesh.Mesh, error) {
	if len(data) > MaxMeshBytes {
		return mesh.Mesh{}, fmt.Errorf("the mesh is larger than %d MB: export it with fewer triangles", MaxMeshBytes>>20)
	}
	corners, err := stlCorners(data)
	if err != nil {
		return mesh.Mesh{}, err
	}
	if err := ctx.Err(); err != nil {
		return mesh.Mesh{}, err
	}
	if len(corners) == 0 {
		return mesh.Mesh{}, errors.New("there are no triangles in it: export the part again as a solid")
	}
	for _, v := range corners { // before corners are made one: what is no number is equal to nothing
		if sum := v.X + v.Y + v.Z; math.IsNaN(sum) || math.IsInf(sum, 0) {
			return mesh.Mesh{}, errors.New("one of its corners is not a number: export the part again")
		}
	}
	m := mesh.Mesh{Bodies: mesh.Welded(name, corners).Shells(mesh.MostBodies)}
	return m, m.Check()
}

// stlCorners are the corners of all triangles. A file is binary when its length is
// what its count of triangles asks for, whatever it begins with; else it is text
// when it begins with solid.
func stlCorners(data []byte) ([]mesh.Vec, error) {
	if len(data) >= stlHead {
		n := int64(binary.LittleEndian.Uint32(data[80:]))
		switch whole := stlHead + stlTriangle*n; {
		case int64(len(data)) == whole, int64(len(data)) > whole && n > 0 && !startsSolid(data):
			return binaryCorners(data[stlHead:], int(n))
		case !startsSolid(data) && int64(len(data)) < whole:
			return nil, fmt.Errorf("it says it has %d triangles and is cut short after %d: export or copy it again", n,
				(len(data)-stlHead)/stlTriangle)
		}
	}
	if !startsSolid(data) {
		return nil, errors.New("it is not an STL file: it is neither text that begins with solid nor binary of the length it states")
	}
	return textCorners(data)
}

func startsSolid(data []byte) bool {
	return bytes.HasPrefix(bytes.TrimLeft(data, " \t\r\n"), []byte("solid"))
}

func binaryCorners(data []byte, n int) ([]mesh.Vec, error) {
	if n > mesh.MostTriangles {
		return nil, fmt.Errorf("it has %d triangles and at most %d can be used: export it with fewer", n, mesh.MostTriangles)
	}
	out := make([]mesh.Vec, 0, 3*n)
	at := func(i int) float64 {
		return float64(math.Float32frombits(binary.LittleEndian.Uint32(data[i:])))
	}
	for t := range n {
		for k := range 3 {
			i := t*stlTriangle + 12 + 12*k
			out = append(out, mesh.Vec{X: at(i), Y: at(i + 4), Z: at(i + 8)})
		}
	}
	return out, nil
}

// nextWord is the first word of a line, and what follows it.
func nextWord(line []byte) (word, rest []byte) {
	line = bytes.TrimLeft(line, " \t\r")
	if end := bytes.IndexAny(line, " \t\r"); end >= 0 {
		return line[:end], line[end:]
	}
	return line, nil
}

func textCorners(data []byte) ([]mesh.Vec, error) {
	var out []mesh.Vec
	lines := bufio.NewScanner(bytes.NewReader(data))
	lines.Buffer(nil, 1<<20)
	facet := 0
	for n := 1; lines.Scan(); n++ {
		word, rest := nextWord(lines.Bytes())
		switch string(word) {
		case "facet", "outer":
			facet = 0
		case "vertex":
			var v [3]float64
			for i := range v {
				var number []byte
				number, rest = nextWord(rest)
				if len(number) == 0 {
					return nil, fmt.Errorf("line %d of it is not a corner of three numbers: it is damaged there", n)
				}
				var err error
				if v[i], err = strconv.ParseFloat(string(number), 64); err != nil {
					return nil, fmt.Errorf("line %d of it has %q for a number: it is damaged there", n, shorten(string(number)))
				}
			}
			if facet++; facet > 3 {
				return nil, fmt.Errorf("line %d of it is a fourth corner of a triangle: export it again with triangles only", n)
			}
			out = append(out, mesh.Vec{X: v[0], Y: v[1], Z: v[2]})
			if len(out) > 3*mesh.MostTriangles {
				return nil, fmt.Errorf("it has more than %d triangles: export it with fewer", mesh.MostTriangles)
			}
		case "endloop":
			if facet != 3 {
				return nil, fmt.Errorf("the triangle before line %d of it has %d corners: it is damaged there", n, facet)
			}
		}
	}
	if err := lines.Err(); err != nil {
		return nil, errors.New("it begins like a text STL file but is not one: export it again")
	}
	if len(out)%3 != 0 {
		return nil, errors.New("it ends within a triangle: export or copy it again")
	}
	return out, nil
}
