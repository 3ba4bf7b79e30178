package printed

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/mesh"
	"lampfern/core/piece"
)

func TestASolidIsSharedByWhatIsSeen(t *testing.T) {
	// Two cubes side by side hide one face each: seen alike from all round.
	m := mesh.Mesh{Bodies: []mesh.Body{mesh.Box("left", mesh.Vec{}, mesh.Vec{X: 10, Y: 10, Z: 10}),
		mesh.Box("right", mesh.Vec{X: 10}, mesh.Vec{X: 10, Y: 10, Z: 10}), mesh.Box("hidden", mesh.Vec{X: 2, Y: 2, Z: 2},
			mesh.Vec{X: 1, Y: 1, Z: 1})}}
	s := &Solid{File: "f", Parts: piece.Parts("a", "left", "b", "right", "c", "hidden"), Of: []int{0, 1, 2}, Mesh: &m}
	p, err := solidPattern.Build(nil, &Assembly{s})
	require.NoError(t, err)
	assert.InDelta(t, .5, p.Shares()[0], .02)
	assert.Zero(t, p.Shares()[2])
	said := solidPattern.Cautions(p, nil, &Assembly{s})
	require.Len(t, said, 1)
	assert.Equal(t, "The hidden cannot be seen; its colour will not show.", said[0].About+said[0].Words)
	between, _ := p.Borders()
	assert.Positive(t, between[0][1])
	s.Of = []int{0, 0, 0}
	p, err = solidPattern.Build(nil, &Assembly{s})
	require.NoError(t, err)
	assert.InDelta(t, 1, p.Shares()[0], 1e-12, "bodies of one part")
	small := p.SmallWindow()
	assert.Same(t, p.Shown, small)
	assert.Contains(t, small.Part, int16(0))
	assert.Less(t, small.Down, shownSide, "cut to what is seen")
	gap, edges := 0, 0
	for x := range small.Across {
		switch seen := slices.Max(small.Window(x, 0, x+1, small.Down).Part) >= 0; {
		case !seen:
			gap++
		case x == 0 || x == small.Across-1:
			edges++
		}
	}
	assert.Equal(t, 2, edges, "seen from edge to edge")
	assert.Equal(t, shownGap, gap, "two views, a gap apart")
	s.Mesh = nil
	_, err = solidPattern.Build(nil, &Assembly{s})
	assert.ErrorContains(t, err, "its mesh is missing")
	s.Of = []int{7}
	assert.ErrorContains(t, (&Assembly{s}).Check(), "belongs to no part")
	_, err = solidPattern.Build(nil, nil)
	require.NoError(t, err)
}

// A coloured upright face of 60 layers costs 60 changes and their flush.
func TestAColouredFaceIsChangedForInEveryLayer(t *testing.T) {
	m := mesh.Mesh{Bodies: []mesh.Body{mesh.Box("block", mesh.Vec{}, mesh.Vec{X: 20, Y: 20, Z: 12})}}
	upright := -1
	for i, tri := range m.Bodies[0].Triangles {
		front := true
		for _, c := range tri {
			front = front && m.Bodies[0].Vertices[c].Y == 0
		}
		if front {
			upright = i
		}
	}
	require.GreaterOrEqual(t, upright, 0)
	s := Solid{File: "f", Parts: piece.Parts("a", "block", "b", "front"), Of: []int{0}, Faces: []Face{{Body: 0, Triangle: upright, Part: 1}}}
	in := &Assembly{s.given(&m)}
	p, err := solidPattern.Build(nil, in)
	require.NoError(t, err)
	making := piece.Making{Piece: p, Input: in, Asked: piece.Usual(asks, piece.Values{"apart": 1}), Times: 1, Of: []int{0, 1},
		Cards: []piece.Taken{{Name: "White", Kind: "filament"}, {Name: "Red", Kind: "filament"}}}
	all, changes := counted(making)
	assert.EqualValues(t, 60, changes)
	making.Asked["apart"] = 0
	alone, none := counted(making)
	assert.Zero(t, none)
	flushed := all[0].Amount + all[1].Amount - alone[0].Amount - alone[1].Amount
	assert.InDelta(t, 60*200*1.24/1000, flushed, 1e-9, "60 flushes of 200 mm³")
}
