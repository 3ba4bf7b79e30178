package exchange

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/binary"
	"fmt"
	"io"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/mesh"
)

// A tetrahedron of volume 1/6, written by hand in each format.
const textSTL = `solid corner
facet normal 0 0 -1
 outer loop
  vertex 0 0 0
  vertex 0 1 0
  vertex 1 0 0
 endloop
endfacet
facet normal 0 -1 0
 outer loop
  vertex 0 0 0
  vertex 1 0 0
  vertex 0 0 1
 endloop
endfacet
facet normal -1 0 0
 outer loop
  vertex 0 0 0
  vertex 0 0 1
  vertex 0 1 0
 endloop
endfacet
facet normal 1 1 1
 outer loop
  vertex 1 0 0
  vertex 0 1 0
  vertex 0 0 1
 endloop
endfacet
endsolid corner
`

func binarySTL(head string, corners ...float32) []byte {
	b := make([]byte, 80)
	copy(b, head)
	b = binary.LittleEndian.AppendUint32(b, uint32(len(corners)/9))
	for i := 0; i < len(corners); i += 9 {
		b = append(b, make([]byte, 12)...)
		for _, v := range corners[i : i+9] {
			b = binary.LittleEndian.AppendUint32(b, math.Float32bits(v))
		}
		b = append(b, 0, 0)
	}
	return b
}

var tetra = []float32{0, 0, 0, 0, 1, 0, 1, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1, 0, 1, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1}

func TestSTLsByHand(t *testing.T) {
	for name, data := range map[string][]byte{"text": []byte(textSTL), "binary": binarySTL("a binary head", tetra...),
		"binary that begins like text": binarySTL("solid as text", tetra...),
		"binary with a tail":           append(binarySTL("a head", tetra...), "tail"...),
		"text with spaces":             []byte("\r\n  " + strings.ReplaceAll(textSTL, "\n", "\r\n"))} {
		m, err := ReadSTL(t.Context(), "corner", data)
		require.NoError(t, err, name)
		require.Len(t, m.Bodies, 1)
		assert.InDelta(t, 1./6, m.Bodies[0].Volume(), 1e-9, name)
		assert.True(t, m.Bodies[0].Closed(), name)
	}
	for words, data := range map[string][]byte{
		"there are no triangles":                        binarySTL("nothing"),
		"says it has 4 triangles and is cut short":      binarySTL("cut", tetra...)[:200],
		"it is not an STL file":                         []byte("P6 a picture"),
		"is not a number":                               binarySTL("nan", append([]float32{float32(math.NaN())}, tetra[1:]...)...),
		"check the unit":                                binarySTL("far", append([]float32{1e9}, tetra[1:]...)...),
		"is damaged there":                              []byte(strings.Replace(textSTL, "vertex 0 1 0", "vertex 0 one 0", 1)),
		"is not a corner of three numbers":              []byte(strings.Replace(textSTL, "vertex 0 1 0", "vertex 0 1", 1)),
		"a fourth corner":                               []byte(strings.Replace(textSTL, "vertex 0 1 0", "vertex 0 1 0\nvertex 5 5 5", 1)),
		"has 2 corners":                                 []byte(strings.Replace(textSTL, "  vertex 0 1 0\n", "", 1)),
		"it begins like a text STL file but is not one": append([]byte("solid "), bytes.Repeat([]byte{1}, 2<<20)...),
	} {
		_, err := ReadSTL(t.Context(), "x", data)
		assert.ErrorContains(t, err, words)
	}
	_, err := ReadSTL(t.Context(), "x", make([]byte, MaxMeshBytes+1))
	assert.ErrorContains(t, err, "larger than 64 MB")
}

const relations = `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/pot.model" Id="r" Type="` + modelRelation + `"/></Relationships>`

// A tetrahedron used twice by components, once moved and once mirrored, in cm.
const potModel = `<?xml version="1.0"?><model unit="centimeter" xmlns="` + coreSpace + `"><resources>
<object id="1" type="model" name="corner"><mesh><vertices><vertex x="0" y="0" z="0"/><vertex x="1" y="0" z="0"/><vertex x="0" y="1" z="0"/><vertex x="0" y="0" z="1"/></vertices>
<triangles><triangle v1="0" v2="2" v3="1"/><triangle v1="0" v2="1" v3="3"/><triangle v1="0" v2="3" v3="2"/><triangle v1="1" v2="2" v3="3"/></triangles></mesh></object>
<object id="2" type="model"><components><component objectid="1" transform="1 0 0 0 1 0 0 0 1 5 0 0"/><component objectid="1" transform="-2 0 0 0 1 0 0 0 1 0 0 0"/></components></object>
</resources><build><item objectid="2" transform="1 0 0 0 1 0 0 0 1 0 0 7"/></build></model>`

func package3MF(t testing.TB, files map[string]string) []byte {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, text := range files {
		f, err := z.Create(name)
		require.NoError(t, err)
		_, err = f.Write([]byte(text))
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	return b.Bytes()
}

func TestA3MFByHand(t *testing.T) {
	m, err := Read3MF(t.Context(), package3MF(t, map[string]string{"_rels/.rels": relations, "3D/pot.model": potModel}), false)
	require.NoError(t, err)
	require.Len(t, m.Bodies, 2)
	assert.Equal(t, "corner", m.Bodies[0].Name)
	assert.Equal(t, mesh.Vec{X: 60, Y: 0, Z: 70}, m.Bodies[0].Vertices[1], "moved by its component, then by the build, in mm")
	assert.InDelta(t, 1000./6, m.Bodies[0].Volume(), 1e-9)
	assert.InDelta(t, 2000./6, m.Bodies[1].Volume(), 1e-9)
	assert.True(t, m.Bodies[1].Closed())

	red := colour.RGB{R: 1, G: 0.5}
	var b bytes.Buffer
	require.NoError(t, Write3MF(&b, "Pot & lid", m, []*Painted{{"Rowan red", red}, nil}, nil))
	again, err := Read3MF(t.Context(), b.Bytes(), false)
	require.NoError(t, err)
	assert.Equal(t, m, again)
	z, err := zip.NewReader(bytes.NewReader(b.Bytes()), int64(b.Len()))
	require.NoError(t, err)
	text, err := entry(z, "3D/3dmodel.model")
	require.NoError(t, err)
	said := readAll(t, text)
	assert.Contains(t, said, `<base name="Rowan red" displaycolor="#FF8000"/>`)
	assert.Contains(t, said, `name="corner" pid="1" pindex="0"`)
}

// Parts in files of their own, a support, and corners that reckoning left a hair apart.
func TestA3MFOfSeveralFiles(t *testing.T) {
	const part = `<model unit="inch" xmlns="` + coreSpace + `"><resources><object id="1" name="peg"><mesh><vertices><vertex x="0" y="0" z="0"/><vertex x="1" y="0" z="0"/>
<vertex x="0" y="1" z="0"/><vertex x="0" y="0" z="1"/><vertex x="0.000000000001" y="0" z="0"/></vertices><triangles><triangle v1="0" v2="2" v3="1"/><triangle v1="4" v2="1" v3="3"/>
<triangle v1="0" v2="3" v3="2"/><triangle v1="1" v2="2" v3="3"/></triangles></mesh></object></resources></model>`
	root := strings.NewReplacer(`<components>`, `<components><component p:path="/3D/Objects/Peg.model" objectid="1"/>`, `</resources>`, `<object id="9" type="support"><mesh><vertices>
<vertex x="0" y="0" z="0"/></vertices><triangles/></mesh></object></resources>`, `</build>`, `<item objectid="9"/></build>`, `<model `, `<model xmlns:p="production" `).Replace(potModel)
	files := map[string]string{"_rels/.rels": relations, "3D/pot.model": root, "3D/Objects/peg.model": part}
	m, err := Read3MF(t.Context(), package3MF(t, files), false)
	require.NoError(t, err)
	require.Len(t, m.Bodies, 3)
	assert.Equal(t, 1, m.Supports)
	assert.Equal(t, "peg", m.Bodies[0].Name)
	assert.InDelta(t, 25.4*25.4*25.4/6, m.Bodies[0].Volume(), 1e-6, "each file has its own unit")
	assert.True(t, m.Bodies[0].Closed(), "corners a hair apart are one")
	delete(files, "3D/Objects/peg.model")
	_, err = Read3MF(t.Context(), package3MF(t, files), false)
	assert.ErrorContains(t, err, "does not contain it")
}

func Test3MFsThatAreRefused(t *testing.T) {
	with := func(from, to string) map[string]string {
		return map[string]string{"_rels/.rels": relations, "3D/pot.model": strings.Replace(potModel, from, to, 1)}
	}
	loop := strings.Replace(potModel, `<component objectid="1" transform="1`, `<component objectid="2" transform="1`, 1)
	for words, files := range map[string]map[string]string{
		"has no relations":             {"3D/pot.model": potModel},
		"relations of the package are": {"_rels/.rels": "<", "3D/pot.model": potModel},
		"name no model":                {"_rels/.rels": "<Relationships/>", "3D/pot.model": potModel},
		"does not contain it":          {"_rels/.rels": relations},
		"without end":                  {"_rels/.rels": relations, "3D/pot.model": loop},
		"is damaged":                   with("</resources>", "</resource>"),
		`measured in "furlong"`:        with("centimeter", "furlong"),
		`object "9", which it`:         with(`objectid="2"`, `objectid="9"`),
		"3 numbers in place of 12":     with("1 0 0 0 1 0 0 0 1 5 0 0", "1 0 0"),
		"corner is missing":            with(`v1="1" v2="2" v3="3"`, `v1="1" v2="2" v3="33"`),
		"there are no triangles": {"_rels/.rels": relations, "3D/pot.model": `<model xmlns="` + coreSpace +
			`"><resources/><build/></model>`},
		"is not a number": with(`x="1" y="0" z="0"`, `x="NaN" y="0" z="0"`),
	} {
		_, err := Read3MF(t.Context(), package3MF(t, files), false)
		assert.ErrorContains(t, err, words)
	}
	// Each object uses the next four times: four to the power of its depth.
	var nest strings.Builder
	for i := range 14 {
		fmt.Fprintf(&nest, `<object id="n%d"><components>%s</components></object>`, i,
			strings.Repeat(fmt.Sprintf(`<component objectid="n%d"/>`, i+1), 4))
	}
	_, err := Read3MF(t.Context(), package3MF(t, with("</resources>", nest.String()+`<object id="n14"/></resources>`)), false)
	require.NoError(t, err, "not built, not placed")
	_, err = modelText([]byte(strings.Replace(strings.Replace(potModel, "</resources>", nest.String()+`<object id="n14"/></resources>`, 1),
		`item objectid="2"`, `item objectid="n0"`, 1)))
	assert.ErrorContains(t, err, "places more than 2000 objects")
	_, err = Read3MF(t.Context(), []byte("not a zip"), false)
	assert.ErrorContains(t, err, "not a 3MF package")
	many := map[string]string{}
	for i := range most3MFEntries + 1 {
		many[fmt.Sprint(i)] = ""
	}
	_, err = Read3MF(t.Context(), package3MF(t, many), false)
	assert.ErrorContains(t, err, "holds 401 files")
	// A package that says it unpacks to half a gigabyte is not begun.
	var bomb bytes.Buffer
	z := zip.NewWriter(&bomb)
	_, err = z.CreateRaw(&zip.FileHeader{Name: "3D/pot.model", Method: zip.Deflate, UncompressedSize64: 500 << 20})
	require.NoError(t, err)
	require.NoError(t, z.Close())
	_, err = Read3MF(t.Context(), bomb.Bytes(), false)
	assert.ErrorContains(t, err, "unpacks to more than 400 MB")
}

func FuzzReadSTL(f *testing.F) {
	f.Add([]byte(textSTL))
	f.Add(binarySTL("solid", tetra...))
	f.Fuzz(func(t *testing.T, data []byte) {
		if m, err := ReadSTL(t.Context(), "x", data); err == nil {
			require.NoError(t, m.Check())
		}
	})
}

func FuzzRead3MF(f *testing.F) {
	f.Add([]byte(potModel))
	f.Add([]byte("PK"))
	f.Fuzz(func(t *testing.T, data []byte) {
		for _, read := range []func([]byte) (mesh.Mesh, error){modelText, package3MFOf} { // as a model's text, and as a package
			if m, err := read(data); err == nil {
				require.NoError(t, m.Check())
			}
		}
	})
}

func BenchmarkSTL200k(b *testing.B) {
	var corners []float32
	at := func(i, j int) []float32 {
		s, c := math.Sincos(math.Pi * float64(i) / 316)
		u, d := math.Sincos(math.Pi * float64(j%632) / 316)
		return []float32{float32(20 * s * d), float32(20 * s * u), float32(20 * c)}
	}
	for i := range 316 {
		for j := range 632 / 2 {
			for _, q := range [][]float32{at(i, 2*j), at(i+1, 2*j), at(i+1, 2*j+2), at(i, 2*j), at(i+1, 2*j+2), at(i, 2*j+2)} {
				corners = append(corners, q...)
			}
		}
	}
	data := binarySTL("ball", corners...)
	b.ReportMetric(float64(len(corners)/9), "triangles")
	for b.Loop() {
		if _, err := ReadSTL(b.Context(), "ball", data); err != nil {
			b.Fatal(err)
		}
	}
}

// modelText reads the text of a model.
func modelText(text []byte) (mesh.Mesh, error) {
	p := package3MFs{z: &zip.Reader{}, models: map[string]*model3MF{}}
	m, err := p.read(tight(bytes.NewReader(text)))
	if err != nil {
		return mesh.Mesh{}, err
	}
	p.models["m"] = &m
	return p.built("m", false)
}

func readAll(t testing.TB, r io.Reader) string {
	t.Helper()
	data, err := io.ReadAll(r)
	require.NoError(t, err)
	return string(data)
}

func package3MFOf(data []byte) (mesh.Mesh, error) { return Read3MF(context.Background(), data, false) }
