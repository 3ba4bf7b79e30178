package solid

import (
	"archive/zip"
	"bytes"
	"encoding/binary"
	"io/fs"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/craft/printed"
	"lampfern/core/mesh"
	"lampfern/core/note"
	"lampfern/exchange"
	"lampfern/plan"
	"lampfern/stages/brief"
	"lampfern/stages/proportion"
	"lampfern/testroom"
)

func TestAMeshIsBroughtInPartByPart(t *testing.T) {
	s := testroom.Studio(t, Stage(), brief.Stage(), proportion.Stage())
	id, _ := testroom.Quilt(t, s)
	p := testroom.MustOpen(t, s, id)
	words, err := bringMesh(s, id, p.Revision, "tea pot.3mf", testroom.PotFile(t))
	require.NoError(t, err)
	assert.Equal(t, "Tea pot imported: 36 triangles in three bodies, 34 × 10 × 8 mm.", words)
	p = testroom.MustOpen(t, s, id)
	assert.Equal(t, []string{"foot", "lid", "lid 2"}, []string{p.Piece.Parts[0].Name, p.Piece.Parts[1].Name, p.Piece.Parts[2].Name})
	assert.Equal(t, "Plum curtain", testroom.FillOf(p, "part1"), "parts take the tray's cards in order")
	v, err := Solid(s, p)
	require.NoError(t, err)
	assert.InDelta(t, .2, v.Bodies[0].Volume, 1e-9, "cm³")
	assert.InDelta(t, 2.8, v.Bodies[0].Surface, 1e-9, "cm²")
	assert.True(t, v.Bodies[0].Closed)

	p = testroom.Do(t, s, id, NameBody{Body: 2, Part: "Lid"})
	require.Len(t, p.Piece.Parts, 2, "two bodies of one part")
	p = testroom.Do(t, s, id, NameBody{Body: 0, Part: "stand"})
	assert.Equal(t, []int{1, 0, 0}, plan.Input[printed.Assembly](p).Solid.Of)
	testroom.Refused(t, s, id, NameBody{Body: 9, Part: "x"}, "not in the assembly")
	p = testroom.Do(t, s, id, plan.FillPart{Part: plan.Input[printed.Assembly](p).Solid.Parts[0].Key, Key: p.Tray[3].Key})

	data, err := SolidData(s, p, false)
	require.NoError(t, err)
	n := func(i int) uint32 { return binary.LittleEndian.Uint32(data[4*i:]) }
	assert.Equal(t, []uint32{24, 36, 2}, []uint32{n(0), n(1), n(2)})
	assert.Len(t, data, 12+2*12+16+24*12+24+36*12)
	assert.InDelta(t, 17, math.Float32frombits(n(3+6)), 1e-4, "the middle of the whole")
	coarse, err := SolidData(s, p, true)
	require.NoError(t, err)
	assert.Equal(t, data, coarse, "so few are drawn as they are")

	out, err := Solid3MF(s, p, false)
	require.NoError(t, err)
	again, err := exchange.Read3MF(t.Context(), out, false)
	require.NoError(t, err)
	assert.Len(t, again.Bodies, 3)
	z, err := zip.NewReader(bytes.NewReader(out), int64(len(out)))
	require.NoError(t, err)
	model, err := fs.ReadFile(z, "3D/3dmodel.model")
	require.NoError(t, err)
	rgb, _ := p.Tray[3].Colour.RGB()
	assert.Contains(t, string(model), `displaycolor="`+strings.ToUpper(rgb.Hex())+`"`)

	// A plan file carries the mesh.
	_, file, err := s.Export(testroom.Ctx, id)
	require.NoError(t, err)
	other := testroom.Studio(t, Stage(), brief.Stage(), proportion.Stage())
	back, err := testroom.Import(other, file)
	require.NoError(t, err)
	q := testroom.MustOpen(t, other, back)
	assert.Equal(t, p.Piece.Shares, q.Piece.Shares)
	assert.False(t, hasNote(q, "nomesh"))

	// Where its file is lost the plan still opens, says so, and takes the mesh again.
	lost, err := exchange.ReadPlanFile(t.Context(), file)
	require.NoError(t, err)
	lost.Photos, lost.Meshes = nil, nil
	var bare bytes.Buffer
	require.NoError(t, exchange.WritePlanFile(&bare, lost, nil))
	third := testroom.Studio(t, Stage(), brief.Stage(), proportion.Stage())
	r, missing, err := third.Import(testroom.Ctx, bare.Bytes())
	require.NoError(t, err)
	assert.Equal(t, []string{"the model tea pot"}, missing)
	r = testroom.MustOpen(t, third, r.ID)
	assert.True(t, hasNote(r, "nomesh"))
	words, err = bringMesh(third, r.ID, r.Revision, "tea pot.3mf", testroom.PotFile(t))
	require.NoError(t, err)
	assert.Contains(t, words, "keep their names, cards and groups")
	s3 := testroom.MustOpen(t, third, r.ID)
	assert.Equal(t, plan.Input[printed.Assembly](p).Solid.Parts, plan.Input[printed.Assembly](s3).Solid.Parts)
	assert.Equal(t, p.Fills, s3.Fills)
	assert.False(t, hasNote(s3, "nomesh"))

	holed := mesh.Box("open", mesh.Vec{}, mesh.Vec{X: 1, Y: 1, Z: 1})
	holed.Triangles = holed.Triangles[1:]
	var b bytes.Buffer
	require.NoError(t, exchange.Write3MF(&b, "open", mesh.Mesh{Bodies: []mesh.Body{holed}}, nil, nil))
	words, err = bringMesh(s, id, testroom.MustOpen(t, s, id).Revision, "open.3mf", b.Bytes())
	require.NoError(t, err)
	assert.Contains(t, words, "One body has holes, so the volume is uncertain.")
	_, err = bringMesh(s, id, testroom.MustOpen(t, s, id).Revision, "x.stl", []byte("solid nothing"))
	assert.ErrorContains(t, err, "Not imported: there are no triangles")
}

func TestPoursAreWritten(t *testing.T) {
	s := testroom.Studio(t, Stage(), brief.Stage(), proportion.Stage())
	id, _ := testroom.Quilt(t, s)
	p := testroom.Do(t, s, id, plan.ChoosePiece{Pattern: "poured", Settings: map[string]float64{"bars": 2}})
	assert.Equal(t, "4A 2B@35 1C@65", testroom.Line(p))
	for i, part := range p.Piece.Parts { // in their order, and not in the best arrangement
		testroom.Do(t, s, id, plan.FillPart{Part: part.Key, Key: p.Tray[i].Key})
	}
	p = testroom.Do(t, s, id, proportion.WriteInput{Text: "3A 1B"})
	assert.InDelta(t, .25, p.Piece.Shares[1], .02)
	testroom.Refused(t, s, id, proportion.WriteInput{Text: "3A B"}, "The pours cannot be read")
	words, err := takeShare(s, id, p.Revision, p.Tray[1].Key, .5)
	require.NoError(t, err)
	assert.Contains(t, words, "pours 3A 3B")
	testroom.Do(t, s, id, brief.Describe{Name: p.Name, Craft: "soap", Purpose: ""})
	assert.True(t, hasNote(testroom.MustOpen(t, s, id), "caution:soap"), "with its caution, until it is hidden")
	assert.False(t, hasNote(testroom.Do(t, s, id, plan.Dismiss{Note: "caution:soap", Remark: ""}), "caution:"))
}

func bringMesh(s *plan.Desk, id uint, revision int64, name string, data []byte) (string, error) {
	return s.Change(testroom.Ctx, id, revision, BringMesh{plan.File{Name: name, Data: data}})
}

func takeShare(s *plan.Desk, id uint, revision int64, key int, share float64) (string, error) {
	return s.Change(testroom.Ctx, id, revision, proportion.TakeShare{Key: key, Share: 100 * share})
}

func hasNote(p *plan.Plan, kind string) bool {
	return slices.ContainsFunc(proportion.Proportion(p).Notes, func(n note.Note) bool { return strings.HasPrefix(n.ID, kind) })
}
