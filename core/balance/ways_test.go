package balance

import (
	"cmp"
	"math/rand/v2"
	"slices"
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
	ways := Ways(l, c, WaysAsked{Focus: -1}, nil).Ways
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
	ways := Ways(l, c, WaysAsked{Focus: 3, Quiet: []int{0}, Pinned: map[int]int{1: 2}}, nil).Ways
	require.NotEmpty(t, ways)
	for _, w := range ways {
		assert.Equal(t, 2, w.Fill[1], "a pinned part keeps its colour")
	}
	assert.Equal(t, 3, ways[0].Lead, "the best leads with the focus")
	free := Ways(l, c, WaysAsked{Focus: 3}, nil).Ways
	assert.GreaterOrEqual(t, free[0].score, ways[0].score, "asking for more never scores better")
}

func TestWaysOfUnevenNumbers(t *testing.T) {
	for _, k := range [][2]int{{3, 5}, {5, 3}, {1, 4}, {4, 1}, {2, 2}} {
		m, n := k[0], k[1]
		ways := Ways(scene(m), palette(n), WaysAsked{Focus: -1}, nil).Ways
		require.NotEmpty(t, ways, k)
		for _, w := range ways {
			used := map[int]int{}
			for _, f := range w.Fill {
				used[f]++
			}
			assert.Len(t, used, min(m, n), "%d parts, %d colours", m, n)
		}
	}
	assert.Empty(t, Ways(Layout{}, palette(2), WaysAsked{Focus: -1}, nil))
	assert.Empty(t, Ways(scene(2), nil, WaysAsked{Focus: -1}, nil))
	calls := 0
	Ways(scene(8), palette(8), WaysAsked{Focus: -1}, func() bool { calls++; return calls > 1 })
	assert.Less(t, calls, 5000, "it can be stopped")
}

func TestWaysAreCounted(t *testing.T) {
	for _, c := range []struct {
		parts, colours int
		pinned         map[int]int
		all            int
	}{
		{8, 8, nil, 40_320}, {3, 5, nil, 60}, {5, 3, nil, 150}, {4, 4, map[int]int{0: 2}, 6}, {4, 3, map[int]int{0: 1, 3: 1}, 2},
		{2, 4, map[int]int{0: 0, 1: 0}, 1},
	} {
		found := Ways(scene(c.parts), palette(c.colours), WaysAsked{Focus: -1, Pinned: c.pinned}, nil)
		assert.InDelta(t, c.all, found.All, 1e-6)
		assert.Equal(t, c.all, found.Looked, "%v", c)
		for _, w := range found.Ways {
			for part, pin := range c.pinned {
				assert.Equal(t, pin, w.Fill[part])
			}
		}
	}
}

func TestTooManyWaysAreStillSearchedWell(t *testing.T) {
	// Small enough to know the best; the climb finds it too.
	for _, k := range [][2]int{{8, 8}, {8, 4}, {5, 9}} {
		l, c := scene(k[0]), palette(k[1])
		asked := WaysAsked{Focus: 3, Quiet: []int{0}, Pinned: map[int]int{1: 2}}
		best := Ways(l, c, asked, nil)
		s := newSearch(l, c, asked)
		looked := 0
		s.stop = func() bool { looked++; return looked > 20 }
		s.climb()
		top := slices.MaxFunc(s.best, func(a, b Way) int { return cmp.Compare(a.score, b.score) })
		assert.InDelta(t, best.Ways[0].score, top.score, 1e-9, "%v", k)
		assert.Equal(t, 2, top.Fill[1])
		for _, w := range s.best {
			used := map[int]bool{}
			for _, f := range w.Fill {
				used[f] = true
			}
			assert.Len(t, used, min(k[0], k[1]))
		}
	}
	found := Ways(scene(14), palette(14), WaysAsked{Focus: 2}, nil)
	assert.Len(t, found.Ways, MostWays)
	assert.Greater(t, found.All, 8e10)
	assert.Equal(t, 2, found.Ways[0].Lead)
}

// BenchmarkWays searches 8 colours on 8 parts, 40,320 ways (40 ms).
func BenchmarkWays(b *testing.B) {
	l, c := scene(8), palette(8)
	for b.Loop() {
		Ways(l, c, WaysAsked{Focus: 3, Quiet: []int{0}}, nil)
	}
}
