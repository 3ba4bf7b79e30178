package piece

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestOverlayAreasInClosedForm(t *testing.T) {
	square := func(part int, x, y, side float64) Outline {
		return Outline{part, []Point{{x, y}, {x + side, y}, {x + side, y + side}, {x, y + side}}}
	}
	areas := func(all ...Outline) []float64 {
		p := Piece{Parts: make([]Part, 4), Regions: Overlay(all)}
		return p.Areas()
	}
	assert.InDeltaSlice(t, []float64{75, 25, 0, 0}, areas(square(0, 0, 0, 10), square(1, 2, 2, 5)), 1e-9, "one within another")
	assert.InDeltaSlice(t, []float64{96, 100, 0, 0}, areas(square(0, 0, 0, 10), square(1, 8, 8, 10)), 1e-9, "a corner covered")
	assert.InDeltaSlice(t, []float64{0, 100, 0, 0}, areas(square(0, 3, 3, 4), square(1, 0, 0, 10)), 1e-9, "wholly covered")
	// A bow tie crosses itself: two triangles of 10 × 5 / 2.
	assert.InDeltaSlice(t, []float64{50, 0, 0, 0}, areas(Outline{0, []Point{{0, 0}, {10, 10}, {10, 0}, {0, 10}}}), 1e-9)
	// A disc of 24 sides over a square, and a slanting band over both.
	disc := 12 * 9 * math.Sin(math.Pi/12)
	got := areas(square(0, 0, 0, 10), Outline{1, Disc(Point{5, 5}, 3)}, Outline{2, []Point{{0, 4}, {10, 4}, {10, 6}, {0, 6}}})
	assert.InDelta(t, 20, got[2], 1e-9)
	assert.InDelta(t, 100, got[0]+got[1]+got[2], 1e-9)
	assert.Less(t, got[1], disc)
	// Shared edges leave neither gap nor overlap.
	assert.InDeltaSlice(t, []float64{100, 100, 100, 100}, areas(square(0, 0, 0, 10), square(1, 10, 0, 10), square(2, 0, 10, 10),
		square(3, 10, 10, 10)), 1e-9)
}

func TestBordersOfStrips(t *testing.T) {
	p := strips()
	b, outside := p.Borders()
	assert.InDelta(t, 400, b[0][1], 24, "good to about 5 %")
	assert.InDelta(t, 400, b[1][2], 24)
	assert.Zero(t, b[0][2], "the outer strips do not touch")
	assert.InDelta(t, 200, b[1][3], 14, "a middle strip touches the binding above and below")
	assert.InDelta(t, 600, b[0][3], 36)
	// A slant is measured as long as it is, and not 41 % longer.
	slant := Piece{Width: 100, Height: 100, Parts: Parts("a", "a", "b", "b")}
	slant.Shape(0, Point{0, 0}, Point{100, 0}, Point{0, 100})
	slant.Shape(1, Point{100, 0}, Point{100, 100}, Point{0, 100})
	between, open := slant.Borders()
	assert.InEpsilon(t, 100*math.Sqrt2, between[0][1], .06)
	assert.InEpsilon(t, 200, open[0], .06)
	assert.InEpsilon(t, 2*(340+440), outside[3], .06)
	assert.Zero(t, outside[0]+outside[1]+outside[2], "only the binding has an edge that touches nothing")
	for i := range b {
		assert.Zero(t, b[i][i])
		for j := range b {
			assert.Equal(t, b[i][j], b[j][i])
		}
	}
	widths := p.Widths(b, outside)
	assert.InDelta(t, 20, widths[3], 1.5, "the binding is as wide as it was cut")
	assert.InDelta(t, 2*100*400/1000., widths[1], 5)
}

func TestContoursKeepHoles(t *testing.T) {
	// A square with a square hole: two outlines.
	p := Piece{Parts: make([]Part, 2), Sliced: true, Regions: Overlay([]Outline{{0, []Point{{0, 0}, {9, 0}, {9, 9}, {0, 9}}},
		{1, []Point{{3, 3}, {6, 3}, {6, 6}, {3, 6}}}})}
	c := p.Contours()
	require.Len(t, c[0], 2)
	assert.Len(t, c[0][0], 4)
	assert.Len(t, c[1], 1)
}

func BenchmarkOverlay(b *testing.B) {
	all := []Outline{Lay(0, At(0, 0), At(1000, 0), At(1000, 1000), At(0, 1000))}
	for i := range 400 {
		all = append(all, Outline{0, Disc(Point{float64(50 + i%20*45), float64(50 + i/20*45)}, 30)})
	}
	for b.Loop() {
		Overlay(all)
	}
}

func BenchmarkBorders(b *testing.B) {
	p := strips()
	for b.Loop() {
		p.Borders()
	}
}

// strips are three strips of 100 × 400 mm, side by side in a binding of 20.
func strips() Piece {
	p := Piece{Width: 340, Height: 440, Parts: Parts("a", "a", "b", "b", "c", "c", "binding", "binding")}
	for i := range 3 {
		p.Rect(i, 20+100*float64(i), 20, 100, 400)
	}
	p.Frame(3, 0, 0, 340, 440, 20)
	return p
}

func TestWhereEachPartLies(t *testing.T) {
	box := func(part int, x, y, w, h float64) Region {
		return Region{Part: part, Outline: []Point{{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}}}
	}
	p := Piece{Width: 90, Height: 60, Parts: make([]Part, 6), Regions: []Region{
		box(0, 0, 0, 90, 10), box(1, 0, 10, 20, 50), box(2, 70, 50, 20, 10), box(3, 40, 25, 10, 10), box(4, 20, 10, 20, 10),
		box(4, 50, 10, 20, 10),
		box(4, 22, 40, 20, 18), box(4, 70, 30, 20, 18),
	}}
	assert.Equal(t, []string{"across the top", "down the left", "lower right", "middle", "all over", ""}, p.Lies())
	knit := OfCells(Knitted, 10, 10, 5, 4, make([]Part, 2))
	for x := range 10 {
		knit.Cells.Part[90+x] = 1
	}
	assert.Equal(t, []string{"all over", "across the foot"}, knit.Lies())
}

func TestCurves(t *testing.T) {
	area := func(c Curve) float64 { return Region{Outline: c}.Area() }
	quarter := From(Point{10, 0}).Toward(Point{10, 10}, Point{0, 10}).Line(Point{0, 0})
	assert.InEpsilon(t, math.Pi*100/4, area(quarter), 4e-3, "a quarter of a circle")
	// The area under a cubic with controls over its ends is three fifths of their height (by hand).
	bow := From(Point{0, 0}).Bend(Point{0, 10}, Point{10, 10}, Point{10, 0})
	assert.InEpsilon(t, 60, area(bow), 1e-2)
	assert.InDelta(t, math.Pi*9, area(Disc(Point{5, 5}, 3)), 1e-9, "a disc has a circle's area")
	assert.InDelta(t, area(bow), Region{Outline: bow.Of(2).Mirrored(7).Corners}.Area(), 1e-12)
	assert.Equal(t, Point{14, 0}, bow.Of(2).Mirrored(7).Corners[bendSides])
	square := Rounded(.5, Point{0, 0}, Point{10, 0}, Point{10, 10}, Point{0, 10})
	assert.InEpsilon(t, math.Pi*25, area(square), 4e-3, "a square rounded all the way is a circle")
}
