package draw

import (
	"bytes"
	"image"
	"image/png"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/craft"
	"lampfern/core/craft/weaving"
	"lampfern/core/piece"
	"lampfern/core/weave"
)

func decoded(t *testing.T, data []byte) image.Image {
	t.Helper()
	img, err := png.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	return img
}

// built is a piece of a pattern.
func built(tb testing.TB, pattern string, set piece.Values, in piece.Input) piece.Piece {
	tb.Helper()
	of, err := craft.Pattern(pattern)
	require.NoError(tb, err)
	p, err := of.Build(set, in)
	require.NoError(tb, err)
	return p
}

func scarf(t *testing.T) (piece.Piece, []*colour.Lab) {
	t.Helper()
	p := built(t, "cloth", piece.Values{"width": 20, "length": 30, "ends": 4, "picks": 4},
		&weaving.Cloth{Warp: []weave.Stripe{{Yarn: 0, Threads: 4}}, Weft: []weave.Stripe{{Yarn: 1, Threads: 4}}})
	dark, light := colour.Lab{L: 20}, colour.Lab{L: 90}
	return p, []*colour.Lab{&dark, &light}
}

func TestCellsAreDrawnOneByOne(t *testing.T) {
	p, labs := scarf(t)
	data, err := ChartPicture(Light{}, p.Cells, labs)
	require.NoError(t, err)
	img := decoded(t, data)
	require.Equal(t, image.Rect(0, 0, 8, 12), img.Bounds())
	for y := range 12 {
		for x := range 8 {
			r, _, _, a := img.At(x, y).RGBA()
			assert.EqualValues(t, 0xffff, a)
			assert.Equal(t, (x+y)%2 == 0, r < 0x8000, "plain weave: the dark warp is on top at every other crossing")
		}
	}
	labs[1] = nil
	data, err = ChartPicture(Light{}, p.Cells, labs)
	require.NoError(t, err)
	_, _, _, a := decoded(t, data).At(1, 0).RGBA()
	assert.Zero(t, a, "a yarn without a card stays clear")
}

func TestAThreadKeepsItsColourOnTheWhole(t *testing.T) {
	p, labs := scarf(t)
	rgb, _ := labs[0].RGB()
	for _, grain := range []piece.Grain{piece.Woven, piece.Knitted} {
		c := *p.Cells
		c.Grain = grain
		for i := range c.Part {
			c.Part[i] = 0
		}
		data, err := cellPicture(&c, []*colour.RGB{&rgb}, whole(&c), 11)
		require.NoError(t, err)
		img, sum, n := decoded(t, data), 0.0, 0.0
		seen := map[uint32]bool{}
		for y := range img.Bounds().Dy() {
			for x := range img.Bounds().Dx() {
				r, _, _, _ := img.At(x, y).RGBA()
				seen[r] = true
				sum, n = sum+float64(r)/0xffff, n+1
			}
		}
		assert.Greater(t, len(seen), 3, "its grain shows")
		assert.InDelta(t, rgb.R, sum/n, 0.02)
	}
}

func TestSceneOfAClothShowsItCloseBy(t *testing.T) {
	p, labs := scarf(t)
	parts := []PiecePart{{Key: "yarn1", Name: "yarn A", Card: "Soot", Lab: labs[0]},
		{Key: "yarn2", Name: "yarn B", Card: "Chalk", Lab: labs[1]}}
	s, err := Piece(Light{}, p, parts, PieceLook{})
	require.NoError(t, err)
	assert.Len(t, s.Nodes, 1, "crossings this large are seen as they are")
	long := built(t, "cloth", nil, nil)
	s, err = Piece(Light{}, long, make([]PiecePart, len(long.Parts)), PieceLook{})
	require.NoError(t, err)
	require.Len(t, s.Nodes, 2)
	svg := s.SVG()
	assert.Equal(t, 2, strings.Count(svg, "data:image/png;base64,"))
	assert.Contains(t, svg, `data-from="0.000000 0.000000 1.000000 1.000000"`)

	shape, box, err := PieceShape(p, "small", nil, false)
	require.NoError(t, err)
	assert.Equal(t, 2, strings.Count(shape, "<mask"))
	assert.Equal(t, "0 0 175 240", box, "the head of what is half as high again as wide")
	masks, err := covers(p.Cells, 2)
	require.NoError(t, err)
	_, _, _, a := decoded(t, masks[1]).At(1, 0).RGBA()
	assert.EqualValues(t, 0xffff, a)

	sheet, err := ColourwaySheet("Scarf", p, nil, []WaySheet{{Name: "Loch", Labs: labs}})
	require.NoError(t, err)
	data, err := PNG(sheet)
	require.NoError(t, err)
	const dot = PNGDots / 25.4
	img := decoded(t, data)
	dark := 0
	for y := range 100 { // within the piece
		r, _, _, _ := img.At(round(14*dot), round(26*dot)+y).RGBA()
		if r < 0x8000 {
			dark++
		}
	}
	assert.NotZero(t, dark)
	pdf, err := PDF("Scarf", []Scene{sheet})
	require.NoError(t, err)
	assert.Contains(t, string(pdf), "/Subtype /Image")
	far, err := Across(Light{}, p, labs, colour.RGB{}, 60)
	require.NoError(t, err)
	// Half the light of each: Y of L* 20 and 90 is 0.0299 and 0.7630, so L* 69.4.
	r, g, b, _ := decoded(t, far).At(4, 6).RGBA()
	got := colour.RGB{R: float64(r) / 0xffff, G: float64(g) / 0xffff, B: float64(b) / 0xffff}.Lab()
	assert.InDelta(t, 69.4, got.L, 0.6)
}

func TestDraftIsDrawn(t *testing.T) {
	d := weave.Structures()[1].Draft
	blue, white := colour.Lab{L: 40, B: -30}, colour.Lab{L: 95}
	s, err := Draft(Light{}, d, []colour.Lab{blue, white, blue, white}, []colour.Lab{white, white, blue, blue}, 1, 1, true)
	require.NoError(t, err)
	svg := s.SVG()
	for _, mark := range []string{"threading.4.5", "tie-up.4.1", "treadling.3.3"} {
		assert.Contains(t, svg, `data-mark="`+mark+`"`)
	}
	assert.Equal(t, 4*5+4*5+4*4, strings.Count(svg, "data-mark"))
	assert.Equal(t, 4+8+4, strings.Count(svg, `fill="currentColor"`), "an end a shaft, two shafts a treadle, a treadle a pick")
}

func BenchmarkCloth1000x1000(b *testing.B) {
	p := built(b, "cloth", piece.Values{"width": 1000, "length": 1000, "ends": 10, "picks": 10, "structure": 4}, nil)
	parts := make([]PiecePart, len(p.Parts))
	for i := range parts {
		parts[i] = PiecePart{Key: p.Parts[i].Key, Lab: &colour.Lab{L: 30 + 20*float64(i)}}
	}
	for b.Loop() {
		if _, err := Piece(Light{}, p, parts, PieceLook{}); err != nil {
			b.Fatal(err)
		}
	}
}

func TestEdgesOfFlatCellsAreSmooth(t *testing.T) {
	const side = 60
	parts := make([]piece.Part, 2)
	p := piece.OfCells(piece.Flat, side, side, 1, 1, parts)
	for i := range p.Cells.Part {
		if x, y := i%side, i/side; 3*y > x+40 { // an edge that falls by one cell in three
			p.Cells.Part[i] = 1
		}
		if i%side == 5 && i/side < 12 { // a thread one cell wide
			p.Cells.Part[i] = 1
		}
	}
	dark, light := colour.RGB{}, colour.RGB{R: 1, G: 1, B: 1}
	data, err := cellPicture(p.Cells, []*colour.RGB{&dark, &light}, whole(p.Cells), 1)
	require.NoError(t, err)
	img, err := png.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	require.Equal(t, 2*side, img.Bounds().Dx())
	grey := func(x, y int) float64 { r, _, _, _ := img.At(x, y).RGBA(); return float64(r) / 65535 }
	assert.Equal(t, 0.0, grey(2*30, 2*5))
	assert.Equal(t, 1.0, grey(2*30, 2*55))
	assert.Greater(t, grey(2*5, 2*5), 0.5, "what is one cell wide stays")
	// Along the edge no pixel is farther than half a cell from the true line that is not told apart.
	between := 0
	for x := 20; x < 2*side-20; x++ {
		for y := range 2 * side {
			far := ((float64(y)+.5)/2 - ((float64(x)+.5)/2+40)/3 - .5) * 3 / math.Hypot(1, 3)
			g := grey(x, y)
			if math.Abs(far) > .9 && y > 30 {
				assert.Equal(t, far > 0, g > .5, "%d %d", x, y)
			}
			if g > 0 && g < 1 {
				between++
			}
		}
	}
	assert.Greater(t, between, side, "steps are filled in")
	lone := []*colour.RGB{&dark, nil}
	data, err = cellPicture(p.Cells, lone, whole(p.Cells), 1)
	require.NoError(t, err)
	img, _ = png.Decode(bytes.NewReader(data))
	_, _, _, a := img.At(2*30, 2*55).RGBA()
	assert.Zero(t, a, "a part without a colour stays clear")
}

func BenchmarkSmoothed(b *testing.B) {
	p := piece.OfCells(piece.Flat, 600, 360, 1, 1, make([]piece.Part, 5))
	for i := range p.Cells.Part {
		p.Cells.Part[i] = int16((i/9 + i/600/11) % 5)
	}
	rgbs := make([]*colour.RGB, 5)
	for i := range rgbs {
		rgbs[i] = &colour.RGB{R: float64(i) / 5}
	}
	for b.Loop() {
		_, _ = cellPicture(p.Cells, rgbs, whole(p.Cells), 1)
	}
}
