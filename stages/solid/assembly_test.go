package solid

import (
	"archive/zip"
	"bytes"
	"io/fs"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/craft/printed"
	"lampfern/exchange"
	"lampfern/plan"
	"lampfern/stages/brief"
	"lampfern/stages/proportion"
	"lampfern/stages/together"
	"lampfern/testroom"
)

func modelOf(t *testing.T, file []byte) string {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(file), int64(len(file)))
	require.NoError(t, err)
	model, err := fs.ReadFile(z, "3D/3dmodel.model")
	require.NoError(t, err)
	return string(model)
}

// The pot's second lid lies beside it on its plate: it is turned over and put on, its top gets a card
// of its own, and the file knows both.
func TestAPlateIsPutTogetherAndAFaceColoured(t *testing.T) {
	s := testroom.Studio(t, Stage(), brief.Stage(), proportion.Stage())
	id, _ := testroom.Quilt(t, s)
	p := testroom.MustOpen(t, s, id)
	_, err := bringMesh(s, id, p.Revision, "tea pot.3mf", testroom.PotFile(t))
	require.NoError(t, err)
	p = testroom.MustOpen(t, s, id)
	plate, err := Solid(s, p)
	require.NoError(t, err)
	assert.InDelta(t, 34, plate.Size[0], 1e-4)

	p = testroom.Do(t, s, id, MoveBody{Body: 2, X: -27, Z: 8, RX: 180})
	v, err := Solid(s, p)
	require.NoError(t, err)
	assert.InDeltaSlice(t, []float64{10, 10, 14}, v.Size[:], 1e-4, "it stands on the other lid")
	assert.True(t, v.Moved)
	assert.Equal(t, -27.0, v.Bodies[2].Move.By.X)

	before := p.Piece.Shares
	p = testroom.Do(t, s, id, ColourFace{X: 5, Y: 2, Z: 100, DZ: -1, Key: p.Tray[4].Key})
	v, err = Solid(s, p)
	require.NoError(t, err)
	require.Len(t, v.Faces, 1)
	assert.InDelta(t, .16, v.Faces[0].Surface, 1e-6, "4 × 4 mm of the top")
	assert.InDelta(t, 1.28, v.Bodies[2].Surface, 1e-6, "of the body all is still told")
	assert.Len(t, p.Piece.Parts, len(before)+1)
	assert.Equal(t, p.Tray[4].Name, testroom.FillOf(p, p.Piece.Parts[len(p.Piece.Parts)-1].Key))

	// The same face takes another card, it does not become two.
	p = testroom.Do(t, s, id, ColourFace{X: 4.5, Y: 1.5, Z: 100, DZ: -1, Key: p.Tray[0].Key})
	require.Len(t, plan.Input[printed.Assembly](p).Solid.Faces, 1)
	together, err := Solid3MF(s, p, false)
	require.NoError(t, err)
	asCame, err := Solid3MF(s, p, true)
	require.NoError(t, err)
	said := modelOf(t, together)
	assert.Equal(t, 2, strings.Count(said, ` p1="`), "two triangles of the face")
	assert.Equal(t, 1, strings.Count(said, `<base name="`+p.Tray[0].Name+`"`), "a material a card")
	assert.NotEqual(t, said, modelOf(t, asCame))
	assert.Contains(t, modelOf(t, asCame), `x="34"`)

	p = testroom.Do(t, s, id, NameBody{Body: 0, Part: "stand"})
	require.Len(t, plan.Input[printed.Assembly](p).Solid.Faces, 1, "naming a body keeps the faces")
	_, file, err := s.Export(testroom.Ctx, id)
	require.NoError(t, err)
	back, err := testroom.Import(s, file)
	require.NoError(t, err)
	assert.Equal(t, p.Piece.Shares, testroom.MustOpen(t, s, back).Piece.Shares)

	for _, c := range []struct {
		e    plan.Edit
		want string
	}{
		{ColourFace{X: 500, Z: 100, DZ: -1, Key: p.Tray[0].Key}, "no face at that place"}, {ColourFace{Key: 99}, "no longer in the tray"},
		{DropFace{Face: 7}, "no longer has a card of its own"},
		{MoveBody{Body: 9}, "not in the assembly"}, {MoveBody{Body: 0, X: 1e9}, "at most 10000 mm"},
	} {
		testroom.Refused(t, s, id, c.e, c.want)
	}
	// A copy of it in the set goes into one file with it, a card's material once.
	p = testroom.Do(t, s, id, plan.CopyPiece{Key: 1})
	assert.Equal(t, 2, Assemblies(s, p))
	both, err := Set3MF(s, p)
	require.NoError(t, err)
	assert.Equal(t, 6, strings.Count(modelOf(t, both), "<object "))
	assert.Equal(t, 4, strings.Count(modelOf(t, both), ` p1="`))
	assert.Equal(t, 1, strings.Count(modelOf(t, both), `<base name="`+p.Tray[0].Name+`"`))
	testroom.Do(t, s, id, plan.DropPiece{Key: 2})
	p = testroom.Do(t, s, id, DropFace{})
	assert.Len(t, p.Piece.Parts, len(before))
	p = testroom.Do(t, s, id, MoveBody{Body: 2})
	v, err = Solid(s, p)
	require.NoError(t, err)
	assert.Equal(t, plate.Size, v.Size)
}

// A set of which one piece has lost its mesh still opens: boxes stand in, and it is said.
func TestASetOfWhichAMeshIsGone(t *testing.T) {
	s := testroom.Studio(t, Stage(), brief.Stage(), proportion.Stage(), together.Stage())
	id, _ := testroom.Quilt(t, s)
	_, err := bringMesh(s, id, testroom.MustOpen(t, s, id).Revision, "tea pot.3mf", testroom.PotFile(t))
	require.NoError(t, err)
	testroom.Do(t, s, id, plan.AddPiece{Pattern: "figure"})
	_, file, err := s.Export(testroom.Ctx, id)
	require.NoError(t, err)
	lost, err := exchange.ReadPlanFile(t.Context(), file)
	require.NoError(t, err)
	lost.Photos, lost.Meshes = nil, nil
	var bare bytes.Buffer
	require.NoError(t, exchange.WritePlanFile(&bare, lost, nil))
	other := testroom.Studio(t, Stage(), brief.Stage(), proportion.Stage(), together.Stage())
	p, missing, err := other.Import(testroom.Ctx, bare.Bytes())
	require.NoError(t, err)
	assert.Equal(t, []string{"the model tea pot"}, missing)
	p = testroom.MustOpen(t, other, p.ID)
	v, err := together.Look(other, p)
	require.NoError(t, err)
	require.Len(t, v.Pieces, 2)
	assert.True(t, v.Pieces[0].Plan.Piece.Missing)
	assert.Equal(t, []string{v.Pieces[0].Name}, v.Missing, "it is told of by name")
	sum := 0.0
	for _, r := range v.Rows {
		sum += r.Share
	}
	assert.InDelta(t, 1, sum, 1e-9)
	p = testroom.Do(t, other, p.ID, plan.WorkOn{Key: 1})
	assert.True(t, hasNote(p, "nomesh"))
}
