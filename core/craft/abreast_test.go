package craft

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/piece"
)

// What is laid abreast keeps its sizes and its outlines, and nothing lies on anything else.
func TestPiecesAbreast(t *testing.T) {
	var all []piece.Piece
	for _, key := range []string{"figure", "boat", "star", "stranded"} {
		pattern, err := Pattern(key)
		require.NoError(t, err)
		p, err := pattern.Build(nil, nil)
		require.NoError(t, err)
		all = append(all, p)
	}
	out := piece.Abreast(append([]piece.Piece{}, all...), []int{1, 2, 3, 5}, []string{"Walker", "Ferry", "Cover", "Hat"})
	parts := 0
	for _, p := range all {
		parts += len(p.Parts)
	}
	require.Len(t, out.Parts, parts)
	assert.Equal(t, piece.Part{Key: "1.hat", Name: "hat of the Walker"}, out.Parts[0])
	box := map[byte][4]float64{}
	for _, r := range out.Regions {
		of := out.Parts[r.Part].Key[0]
		for _, q := range r.Outline {
			b, known := box[of]
			if !known {
				b = [4]float64{q.X, q.Y, q.X, q.Y}
			}
			box[of] = [4]float64{min(b[0], q.X), min(b[1], q.Y), max(b[2], q.X), max(b[3], q.Y)}
			assert.True(t, q.X >= -1e-6 && q.Y >= -1e-6 && q.X <= out.Width+1e-6 && q.Y <= out.Height+1e-6)
		}
	}
	require.Len(t, box, 4)
	star := box['3']
	assert.InDelta(t, all[2].Width, star[2]-star[0], 1e-6, "at its own size")
	assert.InDelta(t, all[2].Height, star[3]-star[1], 1e-6)
	for a, x := range box {
		for b, y := range box {
			apart := x[2] <= y[0] || y[2] <= x[0] || x[3] <= y[1] || y[3] <= x[1]
			assert.True(t, a == b || apart, "%c lies on %c", a, b)
		}
	}
}
