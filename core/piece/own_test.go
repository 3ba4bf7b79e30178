package piece

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/pour"
	"lampfern/core/weave"
)

func TestClothAreasByHand(t *testing.T) {
	// Plain weave of 8 ends and 8 picks on 20 × 40 mm, warp 2A 2B, weft all A: B is
	// on top at half the crossings of half the ends.
	own := Own{Warp: []weave.Stripe{{Yarn: 0, Threads: 2}, {Yarn: 1, Threads: 2}}, Weft: []weave.Stripe{{Yarn: 0, Threads: 5}}}
	set := map[string]float64{"width": 20, "length": 40, "ends": 4, "picks": 2, "structure": 0}
	p, err := Build("cloth", set, own)
	require.NoError(t, err)
	require.Equal(t, []Part{{"yarn1", "yarn A"}, {"yarn2", "yarn B"}}, p.Parts)
	assert.InDeltaSlice(t, []float64{600, 200}, p.Areas(), 1e-9)
	assert.InDeltaSlice(t, []float64{.75, .25}, p.Shares(), 1e-12)
	// 16 crossings of B, each with four neighbours of A, but for ends at a side and
	// picks at head and foot: 16 level edges twice, less the last row's.
	b := p.Borders()
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
	p, err = Build("cloth", set, own)
	require.NoError(t, err)
	assert.InDelta(t, .5*.75, p.Shares()[1], 1e-12)
	assert.Equal(t, []int{0, 0, 1, 0}, []int{p.Cells.At(1, 1), p.Cells.At(3, 1), p.Cells.At(6, 1), p.Cells.At(8, 1)}, "the first pick leaves its fourth end down")
	assert.Equal(t, -1, p.Cells.At(-1, 3))
	grid, w, h := p.Grid(40)
	assert.Equal(t, []int{20, 40}, []int{w, h})
	assert.Len(t, grid, 800)
}

func TestClothAndChartRefuse(t *testing.T) {
	for _, c := range []struct {
		template string
		set      map[string]float64
		own      Own
		words    string
	}{
		{"cloth", map[string]float64{"width": 10, "ends": .2}, Own{}, "no thread in one direction"},
		{"cloth", map[string]float64{"width": 3000, "length": 10_000, "ends": 20, "picks": 20}, Own{}, "more than can be drawn"},
		{"cloth", map[string]float64{"length": 1e6}, Own{}, "length: choose a number from 10 to 10000"},
		{"cloth", map[string]float64{"structure": 7}, Own{Draft: &weave.Draft{Threading: []int{1, 2}, TieUp: [][]int{{1}, {}}, Treadling: []int{1, 2}}}, "pick 2 lifts no shaft"},
		{"stranded", nil, Own{Chart: Chart{"AB", "A"}}, "row 2 of the chart has 1 stitches and the first has 2"},
		{"stranded", nil, Own{Chart: Chart{strings.Repeat("A", 401)}}, "from 1 to 400 stitches each way"},
		{"stranded", map[string]float64{"across": 60, "up": 60}, Own{Chart: Chart{strings.Repeat("AB", 200), strings.Repeat("AB", 200), strings.Repeat("A", 400)}}, "more than can be drawn"},
		{"stranded", nil, Own{Chart: Chart{"AZ"}}, "a letter from A to T"},
		{"drawn", nil, Own{Drawing: NewDrawing(0, 100)}, "not 0 mm"},
		{"drawn", nil, Own{Drawing: NewDrawing(1e6, 100)}, "from 1 mm to 20 m wide"},
		{"drawn", nil, Own{Drawing: &Drawing{Width: 10, Height: 10, Across: 1, Down: 1, Parts: []Part{{"a", "a"}}}}, "nothing that can be seen"},
	} {
		_, err := Build(c.template, c.set, c.own)
		assert.ErrorContains(t, err, c.words)
		if len(c.own.Chart) < 3 && c.own.Chart != nil || c.own.Draft != nil {
			assert.Error(t, c.own.Check())
		}
	}
	for _, size := range []int{1, MostStitches} {
		big, err := UsualChart().Resized(size, size)
		require.NoError(t, err)
		p, err := Build("stranded", map[string]float64{"across": 1, "up": 1, "stitch": 4, "row": 3}, Own{Chart: big})
		require.NoError(t, err)
		assert.InDelta(t, 12*float64(size*size), p.Area(), 1e-6)
	}
	_, err := UsualChart().Resized(0, 5)
	assert.ErrorContains(t, err, "from 1 to 400")
}

func TestChartIsEditedAndMeasured(t *testing.T) {
	c := Chart{"AAAA", "ABAA"}
	n, row := c.LongestFloat()
	assert.Equal(t, []int{3, 2}, []int{n, row}, "B floats behind three stitches, read round")
	assert.Equal(t, Chart{"CAAA", "ABAC"}, c.Painted([][2]int{{0, 0}, {3, 1}, {9, 9}, {-1, 0}}, 2))
	assert.Equal(t, Chart{"AAAA", "AABA"}, c.Mirrored(false))
	assert.Equal(t, Chart{"ABAA", "AAAA"}, c.Mirrored(true))
	wide, err := c.Resized(5, 3)
	require.NoError(t, err)
	assert.Equal(t, Chart{"AAAAA", "ABAAA", "AAAAA"}, wide)
	p, err := Build("stranded", map[string]float64{"across": 3, "up": 2, "stitch": 5, "row": 4}, Own{Chart: c})
	require.NoError(t, err)
	assert.InDeltaSlice(t, []float64{7 * 6 * 20, 6 * 20}, p.Areas(), 1e-9)
	require.NoError(t, UsualChart().Check())
}

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
	assert.InDeltaSlice(t, []float64{100, 100, 100, 100}, areas(square(0, 0, 0, 10), square(1, 10, 0, 10), square(2, 0, 10, 10), square(3, 10, 10, 10)), 1e-9)
}

// Parts that nothing covers have the area of their own outlines.
func TestPartsThatLieOnTopInClosedForm(t *testing.T) {
	disc := func(r float64) float64 { return 12 * r * r * math.Sin(math.Pi/12) }
	for _, c := range []struct {
		template string
		set      map[string]float64
		areas    map[string]float64 // mm², by part
	}{
		// A van of 1000 mm, 520 high: wheels of .19 × 520, hubs half as large.
		{"van", map[string]float64{"length": 1000}, map[string]float64{"tyres": 2 * (disc(98.8) - disc(49.4)), "hubs": 2 * disc(49.4), "windows": 520 * 1000 * .28 * (.06 + .14) / 2}},
		// Welts of .22 × 500 wide and .04 × 580 high, each a parallelogram.
		{"waistcoat", map[string]float64{"chest": 500, "length": 580, "buttons": 4, "button": 20}, map[string]float64{"pockets": 2 * 110 * 23.2, "buttons": 4 * disc(10)}},
		// A belt from .244 to .246 of the height wide, .03 high.
		{"figure", map[string]float64{"height": 200}, map[string]float64{"belt": 200 * 200 * .03 * (.244 + .246) / 2}},
	} {
		p, err := Build(c.template, c.set, Own{})
		require.NoError(t, err)
		for i, part := range p.Parts {
			if want, given := c.areas[part.Key]; given {
				assert.InEpsilon(t, want, p.Areas()[i], 1e-9, "%s %s", c.template, part.Name)
			}
		}
	}
}

func TestContoursJoinTheSlices(t *testing.T) {
	for _, template := range []string{"waistcoat", "figure", "van"} {
		p, err := Build(template, nil, Own{})
		require.NoError(t, err)
		areas := p.Areas()
		for i, contours := range p.Contours() {
			signed := 0.0 // holes run the other way
			for _, c := range contours {
				for k, a := range c {
					b := c[(k+1)%len(c)]
					signed += (a.X*b.Y - b.X*a.Y) / 2
				}
			}
			assert.InEpsilon(t, areas[i], signed, 1e-6, "%s %s", template, p.Parts[i].Name)
			assert.LessOrEqual(t, len(contours), 14, "%s %s is not in slices", template, p.Parts[i].Name)
		}
	}
	// A square with a square hole: two outlines.
	p := Piece{Parts: make([]Part, 2), Sliced: true, Regions: Overlay([]Outline{{0, []Point{{0, 0}, {9, 0}, {9, 9}, {0, 9}}}, {1, []Point{{3, 3}, {6, 3}, {6, 6}, {3, 6}}}})}
	c := p.Contours()
	require.Len(t, c[0], 2)
	assert.Len(t, c[0][0], 4)
	assert.Len(t, c[1], 1)
}

func TestDrawingIsRepeatedAndKeepsHiddenParts(t *testing.T) {
	d := NewDrawing(100, 50)
	d.Parts = append(d.Parts, Part{"part2", "leaf"}, Part{"part3", "under"})
	d.Outlines = append(d.Outlines, Outline{2, []Point{{10, 10}, {20, 10}, {20, 20}}}, Outline{1, []Point{{5, 5}, {30, 5}, {30, 30}, {5, 30}}})
	d.Across, d.Down = 3, 2
	p, err := Build("drawn", nil, Own{Drawing: d})
	require.NoError(t, err)
	assert.InDelta(t, 300, p.Width, 1e-9)
	assert.InDeltaSlice(t, []float64{6 * (5000 - 625), 6 * 625, 0}, p.Areas(), 1e-6)
	assert.Equal(t, []Point{{0, 0}, {100, 50}}, d.Held([]Point{{-5, -1}, {200, 50}}))
	d.Outlines[1].Corners = append(d.Outlines[1].Corners, Point{400, 0})
	assert.ErrorContains(t, d.Check(), "outside the drawing")
}

func TestStripesOfAClothAreResized(t *testing.T) {
	got, ok := Resize("cloth", map[string]float64{"width": 200, "length": 400}, Own{}, func(part string) bool { return part == "yarn3" }, .2)
	require.True(t, ok)
	assert.InDelta(t, .2, got.Share, .02)
	assert.Contains(t, got.Words, "warp 16A 6B")
	p, err := Build("cloth", map[string]float64{"width": 200, "length": 400}, *got.Own)
	require.NoError(t, err)
	assert.InDelta(t, got.Share, p.Shares()[2], 1e-12)
}

func TestRowsInTheMakersOwnOrder(t *testing.T) {
	own := Own{Rows: []weave.Stripe{{Yarn: 0, Threads: 6}, {Yarn: 2, Threads: 2}, {Yarn: 0, Threads: 1}}}
	p, err := Build("rows", map[string]float64{"repeats": 3, "stitches": 100, "stitch": 5, "row": 4}, own)
	require.NoError(t, err)
	assert.Equal(t, []Part{{"stripe1", "yarn A"}, {"stripe3", "yarn C"}}, p.Parts)
	assert.InDeltaSlice(t, []float64{3 * 7 * 4 * 500, 3 * 2 * 4 * 500}, p.Areas(), 1e-9)
	own.Rows[0].Threads = 19_000
	_, err = Build("rows", nil, own)
	assert.ErrorContains(t, err, "at most 100 m high")
}

func TestPouredSoapByItsParts(t *testing.T) {
	own := Own{Pours: []pour.Pour{{Colour: 0, Parts: 3, Place: .5}, {Colour: 2, Parts: 1, Place: .5}}}
	p, err := Build("poured", map[string]float64{"bars": 10, "fold": 0}, own)
	require.NoError(t, err)
	assert.Equal(t, []string{"batter A", "batter C"}, []string{p.Parts[0].Name, p.Parts[1].Name})
	assert.InDelta(t, .25, p.Shares()[1], 1e-3)
	assert.InDelta(t, 10*75*95, p.Area(), 1e-6, "the gaps between bars are no soap")
	got, ok := Resize("poured", nil, own, func(part string) bool { return part == "batter3" }, .4)
	require.True(t, ok)
	assert.Equal(t, "pours 3A 2C", got.Words)
	assert.InDelta(t, .4, got.Share, 1e-9)
	_, err = Build("poured", nil, Own{Pours: []pour.Pour{{Colour: 0}}})
	assert.ErrorContains(t, err, "more than 0")
}

func BenchmarkOverlay(b *testing.B) {
	d := NewDrawing(1000, 1000)
	for i := range 400 {
		d.Outlines = append(d.Outlines, Outline{0, Disc(Point{float64(50 + i%20*45), float64(50 + i/20*45)}, 30)})
	}
	for b.Loop() {
		Overlay(d.Outlines)
	}
}
