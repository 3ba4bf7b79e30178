package nest

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// cuttable fails where boxes overlap, lie outside, or are not laid once each.
func cuttable(t *testing.T, boxes []Box, all []Place, width, high float64) {
	t.Helper()
	require.Len(t, all, len(boxes))
	seen := map[int]bool{}
	for i, p := range all {
		b := boxes[p.Box]
		require.False(t, seen[p.Box])
		seen[p.Box] = true
		require.True(t, p.W == b.W && p.H == b.H || b.Turn && p.W == b.H && p.H == b.W, "turned only where it may be")
		require.True(t, p.X >= 0 && p.Y >= 0 && p.X+p.W <= width+1e-6 && p.Y+p.H <= high+1e-6, "%+v", p)
		for _, q := range all[:i] {
			apart := p.Sheet != q.Sheet || p.X+p.W <= q.X+1e-6 || q.X+q.W <= p.X+1e-6 || p.Y+p.H <= q.Y+1e-6 || q.Y+q.H <= p.Y+1e-6
			require.True(t, apart, "%+v %+v", p, q)
		}
	}
}

func TestClothByHand(t *testing.T) {
	// Four of 80 × 100 on 137 lie one after another; of 60 × 100 two lie abreast.
	for _, c := range []struct {
		w, h, width, want float64
		n                 int
		turn              bool
	}{{80, 100, 137, 400, 4, false}, {60, 100, 137, 200, 4, false}, {80, 100, 180, 160, 2, true}, {80, 100, 200, 80, 2, true},
		{80, 100, 200, 100, 2, false}, {137, 10, 137, 30, 3, false}} {
		var boxes []Box
		for range c.n {
			boxes = append(boxes, Box{c.w, c.h, c.turn})
		}
		all, long, ok := Cloth(boxes, c.width)
		require.True(t, ok)
		if c.turn && c.width == 180 {
			assert.Equal(t, 100.0, long, "one upright and one turned would be no shorter")
		} else {
			assert.InDelta(t, c.want, long, 1e-9, "%+v", c)
		}
		cuttable(t, boxes, all, c.width, long)
	}
	_, _, ok := Cloth([]Box{{W: 138, H: 10}}, 137)
	assert.False(t, ok, "wider than the cloth")
	_, _, ok = Cloth([]Box{{W: 138, H: 10, Turn: true}}, 137)
	assert.True(t, ok)
	all, long, ok := Cloth(nil, 100)
	assert.True(t, ok)
	assert.Empty(t, all)
	assert.Zero(t, long)
}

func TestSheetsByHand(t *testing.T) {
	boxes := []Box{{30, 30, true}, {30, 30, true}, {23, 50, true}, {23, 50, true}, {53, 20, false}}
	all, n, ok := Sheets(boxes, 53, 50)
	require.True(t, ok)
	assert.Equal(t, 3, n, "the areas ask for 3")
	cuttable(t, boxes, all, 53, 50)
	_, _, ok = Sheets([]Box{{54, 51, true}}, 53, 50)
	assert.False(t, ok)
}

func TestEveryLayoutCanBeCut(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	for range 300 {
		width := 60 + 100*r.Float64()
		var boxes []Box
		area := 0.0
		for range 1 + r.IntN(40) {
			b := Box{2 + (width-2)*r.Float64()*r.Float64(), 2 + 120*r.Float64(), r.IntN(2) == 0}
			boxes, area = append(boxes, b), area+b.W*b.H
		}
		all, long, ok := Cloth(boxes, width)
		require.True(t, ok)
		cuttable(t, boxes, all, width, long)
		assert.GreaterOrEqual(t, long*width+1e-6, area)
		if len(boxes) > 15 {
			assert.Greater(t, area/(long*width), .5, "no more than half is lost")
		}
	}
}

func BenchmarkCloth(b *testing.B) {
	r := rand.New(rand.NewPCG(1, 2))
	var boxes []Box
	for range 500 {
		boxes = append(boxes, Box{5 + 40*r.Float64(), 5 + 90*r.Float64(), false})
	}
	for b.Loop() {
		Cloth(boxes, 137)
	}
}
