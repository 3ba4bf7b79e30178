package yarn

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/note"
	"lampfern/core/piece"
	"lampfern/core/weave"
)

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
	p, err := strandedPattern.Build(piece.Values{"across": 3, "up": 2, "stitch": 5, "row": 4}, &Stranded{Chart: c})
	require.NoError(t, err)
	assert.InDeltaSlice(t, []float64{7 * 6 * 20, 6 * 20}, p.Areas(), 1e-9)
	require.NoError(t, UsualChart().Check())
}

func TestRowsInTheMakersOwnOrder(t *testing.T) {
	own := &Rows{Rows: []weave.Stripe{{Yarn: 0, Threads: 6}, {Yarn: 2, Threads: 2}, {Yarn: 0, Threads: 1}}}
	p, err := rowsPattern.Build(piece.Values{"repeats": 3, "stitches": 100, "stitch": 5, "row": 4}, own)
	require.NoError(t, err)
	assert.Equal(t, piece.Parts("stripe1", "yarn A", "stripe3", "yarn C"), p.Parts)
	assert.InDeltaSlice(t, []float64{3 * 7 * 4 * 500, 3 * 2 * 4 * 500}, p.Areas(), 1e-9)
	own.Rows[0].Threads = 19_000
	_, err = rowsPattern.Build(nil, own)
	assert.ErrorContains(t, err, "at most 100 m")
}

func TestRowsAreWrittenAndResized(t *testing.T) {
	in := &Rows{}
	v, err := rowsPattern.Values(piece.Values{"colours": 2, "rows": 6, "row": 4})
	require.NoError(t, err)
	assert.Equal(t, "6A 6B", in.Line(v))
	require.NoError(t, in.Write("3A 5mm B", v))
	assert.Equal(t, []weave.Stripe{{Yarn: 0, Threads: 3}, {Yarn: 1, Threads: 1}}, in.Rows, "5 mm is one row of 4 mm")
	assert.Equal(t, "use the settings", in.Asks().Clear)
	assert.ErrorContains(t, in.Write("nonsense", v), "The order of the rows cannot be read")
	require.NoError(t, in.Write(" ", v))
	assert.Nil(t, in.Rows)
	got, ok := piece.Resize(rowsPattern, piece.Values{"colours": 2, "rows": 6}, nil, func(part string) bool { return part == "stripe1" }, .8)
	require.True(t, ok)
	assert.Equal(t, "rows 24A 6B", got.Words)
	assert.InDelta(t, .8, got.Share, 1e-9)
}

func TestChartsRefuse(t *testing.T) {
	for _, c := range []struct {
		set   piece.Values
		chart Chart
		words string
	}{
		{nil, Chart{"AB", "A"}, "row 2 of the chart has 1 stitches and the first has 2"},
		{nil, Chart{strings.Repeat("A", 401)}, "1 to 400 stitches each way"},
		{piece.Values{"across": 60, "up": 60}, Chart{strings.Repeat("AB", 200), strings.Repeat("AB", 200), strings.Repeat("A", 400)},
			"too many to draw"},
		{nil, Chart{"AZ"}, "a letter from A to T"},
	} {
		_, err := strandedPattern.Build(c.set, &Stranded{Chart: c.chart})
		assert.ErrorContains(t, err, c.words)
	}
	for _, size := range []int{1, MostStitches} {
		big, err := UsualChart().Resized(size, size)
		require.NoError(t, err)
		p, err := strandedPattern.Build(piece.Values{"across": 1, "up": 1, "stitch": 4, "row": 3}, &Stranded{Chart: big})
		require.NoError(t, err)
		assert.InDelta(t, 12*float64(size*size), p.Area(), 1e-6)
	}
	_, err := UsualChart().Resized(0, 5)
	assert.ErrorContains(t, err, "1 to 400")
}

func TestCarriedYarnsAreToldFromSix(t *testing.T) {
	told := func(row string) []note.Note { return carried(piece.Piece{}, nil, &Stranded{Chart: Chart{row}}) }
	assert.Empty(t, told("AAAAAB"), "B is carried behind five")
	six := told("AAAAAAB")
	require.Len(t, six, 1)
	assert.Contains(t, six[0].Words, "6-stitch float")
}

// A jumper's drawn area is half of what is knitted: the body a rectangle but for its neck and shoulders, each sleeve the
// trapezoid between armhole and cuff.
func TestJumperByItsChest(t *testing.T) {
	v := piece.Values{"chest": 96, "ease": 10, "long": 62, "arm": 46, "rib": 6, "bands": 3}
	p, err := jumperPattern.Build(v, nil)
	require.NoError(t, err)
	share := map[string]float64{}
	for i, a := range p.Areas() {
		share[p.Parts[i].Key] = a / 100
	}
	assert.InDelta(t, 2*46*(.23*96+.11*96)/2, share["sleeves"]+share["cuffs"], 1, "two of 22.1 to 10.6 cm over 46 cm")
	assert.InDelta(t, 53*6, share["hem"], .01)
	around := share["body"] + share["hem"] + share["neck"] + share["band1"] + share["band2"] + share["band3"]
	assert.InDelta(t, 53*62, around, 250, "53 × 62 cm, less neck and shoulders")
	for chest := 40.0; chest <= 200; chest += 20 {
		v["chest"] = chest
		then, err := jumperPattern.Build(v, nil)
		require.NoError(t, err, chest)
		for i, a := range then.Areas() {
			assert.Positive(t, a, "%g cm: %s", chest, then.Parts[i].Name)
		}
	}
}
