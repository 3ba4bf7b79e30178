package balance

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
)

// scene is a piece of m parts with shares that fall off and borders between
// neighbours.
func scene(m int) Layout {
	l := Layout{Share: make([]float64, m), Border: make([][]float64, m)}
	sum := 0.0
	for i := range m {
		l.Share[i] = 1 / float64(i+1)
		sum += l.Share[i]
		l.Border[i] = make([]float64, m)
	}
	for i := range m {
		l.Share[i] /= sum
		for j := range m {
			if i != j {
				l.Border[i][j] = 1 / float64(1+(i-j)*(i-j))
			}
		}
	}
	return l
}

func palette(n int) []colour.Lab {
	rnd := rand.New(rand.NewPCG(3, 3))
	var out []colour.Lab
	for range n {
		out = append(out, colour.RGB{R: rnd.Float64(), G: rnd.Float64(), B: rnd.Float64()}.Lab())
	}
	return out
}

func TestWaysAreReadAsTheStageReadsThem(t *testing.T) {
	l, c := scene(5), palette(5)
	ways := Ways(l, c, WaysAsked{Focus: -1}, nil)
	require.NotEmpty(t, ways)
	seen := map[[2]int]bool{}
	for _, w := range ways {
		merged := l.Merge(w.Fill, len(c))
		pulls := FirstLook(merged, c)
		assert.Equal(t, w.Fill[w.Lead], pulls[0].Part, "the same colour leads")
		assert.InDelta(t, w.Times, pulls[0].Pull/pulls[1].Pull, 1e-9)
		key := [2]int{w.Fill[w.Lead], w.Fill[0]}
		assert.False(t, seen[key], "no two with the same focus and the same ground")
		seen[key] = true
		used := map[int]bool{}
		for _, f := range w.Fill {
			used[f] = true
		}
		assert.Len(t, used, 5)
	}
	assert.LessOrEqual(t, len(ways), MostWays)
}

func TestWaysHeedWhatIsAsked(t *testing.T) {
	l, c := scene(5), palette(5)
	ways := Ways(l, c, WaysAsked{Focus: 3, Quiet: []int{0}, Pinned: map[int]int{1: 2}}, nil)
	require.NotEmpty(t, ways)
	for _, w := range ways {
		assert.Equal(t, 2, w.Fill[1], "a pinned part keeps its colour")
	}
	assert.Equal(t, 3, ways[0].Lead, "the best leads with the focus")
	free := Ways(l, c, WaysAsked{Focus: 3}, nil)
	assert.GreaterOrEqual(t, free[0].score, ways[0].score, "asking for more never scores better")
}

func TestWaysOfUnevenNumbers(t *testing.T) {
	for _, k := range [][2]int{{3, 5}, {5, 3}, {1, 4}, {4, 1}, {2, 2}} {
		m, n := k[0], k[1]
		ways := Ways(scene(m), palette(n), WaysAsked{Focus: -1}, nil)
		require.NotEmpty(t, ways, k)
		for _, w := range ways {
			used := map[int]int{}
			for _, f := range w.Fill {
				used[f]++
			}
			assert.Len(t, used, min(m, n), "%d parts, %d colours", m, n)
		}
	}
	assert.Nil(t, Ways(Layout{}, palette(2), WaysAsked{Focus: -1}, nil))
	assert.Nil(t, Ways(scene(2), nil, WaysAsked{Focus: -1}, nil))
	calls := 0
	Ways(scene(8), palette(8), WaysAsked{Focus: -1}, func() bool { calls++; return calls > 1 })
	assert.Less(t, calls, 5000, "it can be stopped")
}

// BenchmarkWays searches 8 colours on 8 parts, 40,320 ways (40 ms).
func BenchmarkWays(b *testing.B) {
	l, c := scene(8), palette(8)
	for b.Loop() {
		Ways(l, c, WaysAsked{Focus: 3, Quiet: []int{0}}, nil)
	}
}
