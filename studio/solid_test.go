package studio

import (
	"archive/zip"
	"bytes"
	"encoding/binary"
	"io/fs"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/mesh"
	"lampfern/exchange"
)

// potFile is a 3MF of a foot and a lid, of 10 × 10 × 2 mm and 4 × 4 × 6 mm.
func potFile(t *testing.T) []byte {
	t.Helper()
	m := mesh.Mesh{Bodies: []mesh.Body{mesh.Box("foot", mesh.Vec{}, mesh.Vec{X: 10, Y: 10, Z: 2}), mesh.Box("lid", mesh.Vec{X: 3, Y: 3, Z: 2}, mesh.Vec{X: 4, Y: 4, Z: 6}), mesh.Box("lid", mesh.Vec{X: 30}, mesh.Vec{X: 4, Y: 4, Z: 6})}}
	var b bytes.Buffer
	require.NoError(t, exchange.Write3MF(&b, "pot", m, nil))
	return b.Bytes()
}

func TestAMeshIsBroughtInPartByPart(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	p := mustOpen(t, s, id)
	words, err := s.BringMesh(ctx, id, p.Revision, "tea pot.3mf", potFile(t))
	require.NoError(t, err)
	assert.Equal(t, "Tea pot is brought in: 36 triangles in three bodies, 34 × 10 × 8 mm.", words)
	p = mustOpen(t, s, id)
	assert.Equal(t, []string{"foot", "lid", "lid 2"}, []string{p.Piece.Parts[0].Name, p.Piece.Parts[1].Name, p.Piece.Parts[2].Name})
	assert.Equal(t, "Plum curtain", fillOf(p, "part1"), "parts take the tray's cards in order")
	v, err := s.Solid(p)
	require.NoError(t, err)
	assert.InDelta(t, .2, v.Bodies[0].Volume, 1e-9, "cm³")
	assert.InDelta(t, 2.8, v.Bodies[0].Surface, 1e-9, "cm²")
	assert.True(t, v.Bodies[0].Closed)

	p = do(t, s, id, NameBody(2, "Lid"))
	require.Len(t, p.Piece.Parts, 2, "two bodies of one part")
	p = do(t, s, id, NameBody(0, "stand"))
	assert.Equal(t, []int{1, 0, 0}, p.Own.Solid.Of)
	refused(t, s, id, NameBody(9, "x"), "not in the assembly")
	p = do(t, s, id, Fill(p.Own.Solid.Parts[0].Key, p.Tray[3].Key))

	data, err := s.SolidData(p, false)
	require.NoError(t, err)
	n := func(i int) uint32 { return binary.LittleEndian.Uint32(data[4*i:]) }
	assert.Equal(t, []uint32{24, 36, 2}, []uint32{n(0), n(1), n(2)})
	assert.Len(t, data, 12+2*12+16+24*12+24+36*12)
	assert.InDelta(t, 17, math.Float32frombits(n(3+6)), 1e-4, "the middle of the whole")
	coarse, err := s.SolidData(p, true)
	require.NoError(t, err)
	assert.Equal(t, data, coarse, "so few are drawn as they are")

	out, err := s.Solid3MF(p)
	require.NoError(t, err)
	again, err := exchange.Read3MF(out)
	require.NoError(t, err)
	assert.Len(t, again.Bodies, 3)
	z, err := zip.NewReader(bytes.NewReader(out), int64(len(out)))
	require.NoError(t, err)
	model, err := fs.ReadFile(z, "3D/3dmodel.model")
	require.NoError(t, err)
	rgb, _ := p.Tray[3].Colour.RGB()
	assert.Contains(t, string(model), `displaycolor="`+strings.ToUpper(rgb.Hex())+`"`)

	// A plan file does not carry the mesh: the stand-in takes its place elsewhere.
	file, err := s.ExportPlan(ctx, id)
	require.NoError(t, err)
	other := studio(t)
	back, err := other.ImportPlan(ctx, file)
	require.NoError(t, err)
	q := mustOpen(t, other, back)
	assert.Nil(t, q.Own.Solid)
	_, err = other.Solid(q)
	assert.ErrorContains(t, err, "Bring in a mesh first")
	require.NotNil(t, q.Piece)

	holed := mesh.Box("open", mesh.Vec{}, mesh.Vec{X: 1, Y: 1, Z: 1})
	holed.Triangles = holed.Triangles[1:]
	var b bytes.Buffer
	require.NoError(t, exchange.Write3MF(&b, "open", mesh.Mesh{Bodies: []mesh.Body{holed}}, nil))
	words, err = s.BringMesh(ctx, id, mustOpen(t, s, id).Revision, "open.3mf", b.Bytes())
	require.NoError(t, err)
	assert.Contains(t, words, "One body has holes, so the volume is uncertain.")
	_, err = s.BringMesh(ctx, id, 1, "x.stl", []byte("solid nothing"))
	assert.ErrorContains(t, err, "Nothing was brought in: there are no triangles")
}

func TestPoursAreWritten(t *testing.T) {
	s := studio(t)
	id, _ := quilt(t, s)
	p := do(t, s, id, ChoosePiece("poured", map[string]float64{"bars": 2}))
	assert.Equal(t, "4A 2B@35 1C@65", p.Pours())
	p = do(t, s, id, SetPours("3A 1B"))
	assert.InDelta(t, .25, p.Piece.Shares[1], .02)
	refused(t, s, id, SetPours("3A B"), "The pours cannot be read")
	words, err := s.TakeShare(ctx, id, p.Revision, p.Tray[1].Key, .5)
	require.NoError(t, err)
	assert.Contains(t, words, "pours 3A 3B")
	do(t, s, id, Describe(p.Name, "soap", ""))
	assert.True(t, hasNote(mustOpen(t, s, id), "caution:soap"), "with its caution, until it is hidden")
	assert.False(t, hasNote(do(t, s, id, Dismiss("caution:soap", "")), "caution:"))
}
