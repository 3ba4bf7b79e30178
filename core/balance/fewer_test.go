package balance

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
)

// strips is a piece of equal strips side by side, 100 mm high and 100 mm each.
func strips(fill ...int) Coloured {
	n := len(fill)
	l := Layout{Share: slices.Repeat([]float64{1 / float64(n)}, n), Border: make([][]float64, n), Area: 1e4 * float64(n)}
	for i := range n {
		l.Border[i] = make([]float64, n)
		for _, j := range []int{i - 1, i + 1} {
			if j >= 0 && j < n {
				l.Border[i][j] = 100
			}
		}
	}
	return Coloured{Layout: l, Fill: fill, Times: 1}
}

func hexes(all ...string) (out []colour.Lab) {
	for _, h := range all {
		rgb, err := colour.ParseHex(h)
		if err != nil {
			panic(err)
		}
		out = append(out, rgb.Lab())
	}
	return out
}

func TestFewerColoursLoseTheLeast(t *testing.T) {
	// Two near plums: with one colour fewer one of them goes, and the other takes its strip.
	labs := hexes("#4b2346", "#4f2749", "#d9cbb0", "#e0a52e")
	set := []Coloured{strips(0, 2, 1, 3), strips(2, 0)}
	few, ok := Fewer(set, labs, 3, nil, nil)
	require.True(t, ok)
	assert.Equal(t, []int{0, 2, 3}, few.Cards)
	assert.Equal(t, [][]int{{0, 2, 0, 3}, {2, 0}}, few.Fill)
	assert.Empty(t, few.Edges)
	assert.Empty(t, few.Focus)
	assert.InDelta(t, 1./4*4e4/6e4*colour.DeltaE2000(labs[0], labs[1]), few.Moved, 1e-9,
		"a quarter of the one piece of two thirds of the area")

	// With two colours an edge must go, or the strips beside it change; nothing is lost unsaid.
	two, ok := Fewer(set, labs, 2, nil, nil)
	require.True(t, ok)
	assert.Len(t, two.Cards, 2)
	for i, p := range set {
		for part := range p.Fill {
			assert.Contains(t, two.Cards, two.Fill[i][part])
		}
	}
	assert.Greater(t, two.Loss, few.Loss)
	// Made ten times the second piece decides what stays.
	set[1] = strips(3, 2)
	set[1].Times = 100
	many, _ := Fewer(set, labs, 2, nil, nil)
	assert.Equal(t, []int{2, 3}, many.Cards)

	kept, ok := Fewer(set, labs, 2, []int{0}, nil)
	require.True(t, ok)
	assert.Contains(t, kept.Cards, 0, "what is given stays")
	for _, n := range []int{0, 4, 9} {
		_, ok = Fewer(set, labs, n, nil, nil)
		assert.False(t, ok)
	}
	_, ok = Fewer(set, labs, 2, nil, func() bool { return true })
	assert.False(t, ok, "it was ended before anything was looked at")
	holed := strips(0, -1, 2, 3)
	few, ok = Fewer([]Coloured{holed}, labs, 2, nil, nil)
	require.True(t, ok)
	assert.Equal(t, -1, few.Fill[0][1], "what has no card has none")
	assert.False(t, math.IsNaN(few.Loss))
}

func BenchmarkFewer8of12(b *testing.B) {
	labs := hexes("#4b2346", "#d9cbb0", "#8a5a86", "#e0a52e", "#1f6f74", "#8a2f3a", "#5d7a3a", "#3a3a44")
	var set []Coloured
	for i := range 12 {
		var fill []int
		for part := range 12 {
			fill = append(fill, (part*(i+1)+i)%8)
		}
		set = append(set, strips(fill...))
	}
	for b.Loop() {
		for _, n := range []int{5, 4, 3, 2} {
			Fewer(set, labs, n, nil, nil)
		}
	}
}
