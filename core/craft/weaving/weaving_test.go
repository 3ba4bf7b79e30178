package weaving

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/note"
	"lampfern/core/piece"
	"lampfern/core/weave"
)

func TestClothAreasByHand(t *testing.T) {
	// Plain weave of 8 ends and 8 picks on 20 × 40 mm, warp 2A 2B, weft all A: B is
	// on top at half the crossings of half the ends.
	own := &Cloth{Warp: []weave.Stripe{{Yarn: 0, Threads: 2}, {Yarn: 1, Threads: 2}}, Weft: []weave.Stripe{{Yarn: 0, Threads: 4}}}
	set := piece.Values{"width": 20, "length": 40, "ends": 4, "picks": 2, "structure": 0}
	p, err := clothPattern.Build(set, own)
	require.NoError(t, err)
	require.Equal(t, piece.Parts("yarn1", "yarn A", "yarn2", "yarn B"), p.Parts)
	assert.InDeltaSlice(t, []float64{600, 200}, p.Areas(), 1e-9)
	assert.InDeltaSlice(t, []float64{.75, .25}, p.Shares(), 1e-12)
	// 16 crossings of B, each with four neighbours of A, but for ends at a side and
	// picks at head and foot: 16 level edges twice, less the last row's.
	b, _ := p.Borders()
	assert.Equal(t, b[0][1], b[1][0])
	assert.Zero(t, b[0][0])
	upright, level := 0.0, 0.0
	for y := range 8 {
		for x := range 8 {
			at := func(x, y int) bool { return (x+y)%2 == 0 && x%4 >= 2 } // B on top
			if x < 7 && at(x, y) != at(x+1, y) {
				upright += 5
			}
			if y < 7 && at(x, y) != at(x, y+1) {
				level += 2.5
			}
		}
	}
	assert.InDelta(t, upright+level, b[0][1], 1e-9)

	set["structure"] = 3 // 3/1 twill: the warp is on top at three crossings of four
	p, err = clothPattern.Build(set, own)
	require.NoError(t, err)
	assert.InDelta(t, .5*.75, p.Shares()[1], 1e-12)
	assert.Equal(t, []int{0, 0, 1, 0}, []int{p.Cells.At(1, 1), p.Cells.At(3, 1), p.Cells.At(6, 1), p.Cells.At(8, 1)},
		"the first pick leaves its fourth end down")
	assert.Equal(t, -1, p.Cells.At(-1, 3))
	grid, w, h := p.Grid(40)
	assert.Equal(t, []int{20, 40}, []int{w, h})
	assert.Len(t, grid, 800)
}

// An order is kept whole: 125 ends stay 125 on whatever width, and are wound, woven and told so.
func TestEndsAsWritten(t *testing.T) {
	warp, err := weave.ParseOrder("40A 45B 40A", 5)
	require.NoError(t, err)
	in := &Cloth{Warp: warp}
	for _, width := range []float64{100, 220, 250, 300} {
		v, err := clothPattern.Values(piece.Values{"width": width, "length": 500, "ends": 5, "picks": 5})
		require.NoError(t, err)
		p, err := clothPattern.Build(v, in)
		require.NoError(t, err)
		assert.InDelta(t, 250, p.Width, 1e-9)
		m := piece.Making{Piece: p, Values: v, Input: in, Asked: piece.Usual(asks, nil), Times: 2, Of: []int{0, 1, 2},
			Cards: []piece.Taken{{Name: "Loch"}, {Name: "Storm"}, {Name: "Ice"}}}
		all := needs(m)
		require.Empty(t, all[0].Problem)
		assert.Contains(t, all[0].Working[0], "125 ends at 5 in a cm are 25 cm in the reed, finished 25 × (1 − 8% − 5%) = 21.75 cm wide")
		for _, task := range work(m) {
			switch task.Key {
			case "dress":
				assert.EqualValues(t, 125, task.Count)
			case "weave":
				assert.EqualValues(t, 2*6*44, task.Count, "two of 264 picks")
			}
		}
	}
	v, _ := clothPattern.Values(piece.Values{"width": 520, "ends": 5})
	_, ends, _, err := in.Threads(v)
	require.NoError(t, err)
	assert.Len(t, ends, 250, "twice is nearest to 260")
}

// What stays on the loom is waste too.
func TestWasteOfAWarp(t *testing.T) {
	of, in := Craft(), &Cloth{Warp: []weave.Stripe{{Yarn: 0, Threads: 100}}, Weft: []weave.Stripe{{Yarn: 0, Threads: 500}}}
	v, err := clothPattern.Values(piece.Values{"width": 200, "length": 1000, "ends": 5, "picks": 5, "structure": 0})
	require.NoError(t, err)
	p, err := clothPattern.Build(v, in)
	require.NoError(t, err)
	m := piece.Making{Piece: p, Values: v, Input: in, Asked: piece.Usual(of.Asks, nil), Times: 1, Of: []int{0}, Cards: []piece.Taken{{Name: "Loch"}}}
	n := needs(m)[0]
	require.Empty(t, n.Problem)
	// 95 / .87 = 109.2 cm of warp in the cloth, 70 + 20 on the loom: 199.2, wound as 200.
	grams := func(metres float64) float64 { return metres / 5000 * 1000 }
	weft := n.Amount - grams(100*2*1.05)
	assert.InDelta(t, grams(100*2*1.05)-grams(100*1.0919540)+weft*(1-1/1.05), n.Spare, 1e-4)
}

func TestStripesOfAClothAreResized(t *testing.T) {
	got, ok := piece.Resize(clothPattern, piece.Values{"width": 200, "length": 400}, nil, func(part string) bool { return part == "yarn3" },
		.2)
	require.True(t, ok)
	assert.InDelta(t, .2, got.Share, .02)
	assert.Contains(t, got.Words, "warp 16A 6B")
	p, err := clothPattern.Build(piece.Values{"width": 200, "length": 400}, got.Input)
	require.NoError(t, err)
	assert.InDelta(t, got.Share, p.Shares()[2], 1e-12)
}

func TestClothRefuses(t *testing.T) {
	for _, c := range []struct {
		set   piece.Values
		in    *Cloth
		words string
	}{
		{piece.Values{"width": 3000, "length": 10_000, "ends": 20, "picks": 20}, &Cloth{}, "too much to draw"},
		{piece.Values{"length": 1e6}, &Cloth{}, "length on the loom: choose a number from 10 to 10000"},
		{piece.Values{"structure": 7}, &Cloth{Draft: &weave.Draft{Threading: []int{1, 2}, TieUp: [][]int{{1}, {}}, Treadling: []int{1, 2}}},
			"pick 2 lifts no shaft"},
		{nil, &Cloth{Warp: []weave.Stripe{{Yarn: 99, Threads: 1}}}, "yarn"},
	} {
		_, err := clothPattern.Build(c.set, c.in)
		assert.ErrorContains(t, err, c.words)
	}
}

// Threads over five are fine, over six are told, and never tied down is a fault.
func TestFloatsAreToldFromSix(t *testing.T) {
	over := func(n int) []note.Note { // one end goes over n picks and under one
		d := weave.Draft{Threading: []int{1, 2}, TieUp: [][]int{{1}, {2}}}
		for range n {
			d.Treadling = append(d.Treadling, 1)
		}
		d.Treadling = append(d.Treadling, 2)
		return floats(piece.Piece{}, piece.Values{"structure": OwnDraft()}, &Cloth{Draft: &d})
	}
	assert.Empty(t, over(5))
	six := over(6)
	require.NotEmpty(t, six)
	assert.Equal(t, note.Consider, six[0].Grade)
	assert.Contains(t, six[0].Words, "floats over 6 picks")
	loose := floats(piece.Piece{}, piece.Values{"structure": OwnDraft()},
		&Cloth{Draft: &weave.Draft{Threading: []int{1, 2}, TieUp: [][]int{{1}}, Treadling: []int{1}}})
	require.NotEmpty(t, loose)
	assert.Equal(t, note.Fix, loose[0].Grade)
}
