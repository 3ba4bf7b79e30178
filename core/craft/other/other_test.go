package other

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/piece"
)

func TestDrawingIsRepeatedAndKeepsHiddenParts(t *testing.T) {
	d := NewDrawing(100, 50)
	d.Parts = append(d.Parts, piece.Parts("part2", "leaf", "part3", "under")...)
	d.Outlines = append(d.Outlines, piece.Lay(2, piece.At(10, 10), piece.At(20, 10), piece.At(20, 20)),
		piece.Lay(1, piece.At(5, 5), piece.At(30, 5), piece.At(30, 30), piece.At(5, 30)))
	d.Across, d.Down = 3, 2
	p, err := drawnPattern.Build(nil, &Drawn{Drawing: d})
	require.NoError(t, err)
	assert.InDelta(t, 300, p.Width, 1e-9)
	assert.InDeltaSlice(t, []float64{6 * (5000 - 625), 6 * 625, 0}, p.Areas(), 1e-6)
	assert.Equal(t, []piece.Point{piece.At(0, 0), piece.At(100, 50)}, d.Held([]piece.Point{piece.At(-5, -1), piece.At(200, 50)}))
	d.Outlines[1].Corners = append(d.Outlines[1].Corners, piece.At(400, 0))
	assert.ErrorContains(t, d.Check(), "outside the drawing")
}

func TestDrawingsRefuse(t *testing.T) {
	for words, d := range map[string]*Drawing{
		"not 0 mm":          NewDrawing(0, 100),
		"1 mm to 20 m wide": NewDrawing(1e6, 100),
		"nothing visible":   {Width: 10, Height: 10, Across: 1, Down: 1, Parts: piece.Parts("a", "a")},
	} {
		_, err := drawnPattern.Build(nil, &Drawn{Drawing: d})
		assert.ErrorContains(t, err, words)
	}
}

func TestPhotosAreLetGoOf(t *testing.T) {
	in := &Drawn{Drawing: NewDrawing(100, 100)}
	in.Drawing.Unders = []piece.Under{{Photo: "here"}, {Photo: "gone"}}
	before := in.Drawing
	in.Show(func(hash string) bool { return hash == "here" })
	assert.Len(t, in.Drawing.Unders, 1)
	assert.Len(t, before.Unders, 2, "what others hold stays")
}
