package draw

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/piece"
)

// twoSquares is a piece of two squares side by side, each of 50 mm, with a seam between them.
func twoSquares() piece.Piece {
	p := piece.Piece{Name: "Two squares", Width: 100, Height: 50, Parts: piece.Parts("left", "left", "right", "right")}
	p.Rect(0, 0, 0, 50, 50)
	p.Rect(1, 50, 0, 50, 50)
	p.Lines = []piece.Line{{Through: []piece.Point{{X: 50}, {X: 50, Y: 50}}}}
	return p
}

// onSheet is a sheet of the two squares at their size, as a picture of 300 dots an inch.
func onSheet(t *testing.T, surfaces []Surface) image.Image {
	t.Helper()
	p, lab := twoSquares(), colour.Lab{L: 50}
	s := Scene{Width: 100, Height: 50, Millimetres: true}
	require.NoError(t, onPaper(&s, p, nil, partOutlines(p, 1), WaySheet{Labs: []*colour.Lab{&lab, &lab}, Surfaces: surfaces}, Point{}, 1))
	data, err := PNG(s)
	require.NoError(t, err)
	img, err := png.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	_, err = PDF("two squares", []Scene{s})
	require.NoError(t, err)
	return img
}

// mean is how light a box of a picture is on the whole, and how far apart its lightest and darkest dots are, 0 to 255.
func mean(img image.Image, x0, x1 int) (level, spread float64) {
	low, high, n := 255.0, 0.0, 0.0
	for y := 20; y < img.Bounds().Dy()-20; y++ {
		for x := x0; x < x1; x++ {
			v := float64(color.GrayModel.Convert(img.At(x, y)).(color.Gray).Y)
			low, high, level, n = min(low, v), max(high, v), level+v, n+1
		}
	}
	return level / n, high - low
}

func TestSurfacesOnPaperKeepTheColour(t *testing.T) {
	flat, none := mean(onSheet(t, nil), 20, 560)
	assert.Zero(t, none)
	for finish := range finishes {
		img := onSheet(t, []Surface{{Finish: finish}, {}})
		level, spread := mean(img, 20, 560)
		assert.Greater(t, spread, 10.0, "%s is seen", finish)
		assert.InDelta(t, flat, level, 14, "%s keeps the colour", finish)
		_, beside := mean(img, 620, 1160)
		assert.Zero(t, beside, "%s stays on its part", finish)
	}
}

func TestAPrintOnPaperLiesOnItsPart(t *testing.T) {
	print := image.NewRGBA(image.Rect(0, 0, 40, 40))
	for y := range 40 {
		for x := range 40 {
			print.Set(x, y, color.White)
			if x < 20 {
				print.Set(x, y, color.Black)
			}
		}
	}
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, print, nil))
	img := onSheet(t, []Surface{{JPEG: b.Bytes(), Wide: 20, High: 20, Finish: "gloss"}, {}})
	dark := func(mm int) bool { return color.GrayModel.Convert(img.At(mm*300/25, 300)).(color.Gray).Y < 128 }
	assert.True(t, dark(5), "the print's left half")
	assert.False(t, dark(15), "and its right half")
	assert.True(t, dark(25), "and again after 20 mm")
	_, beside := mean(img, 620, 1160)
	assert.Zero(t, beside)

	img = onSheet(t, []Surface{{JPEG: []byte("no picture"), Wide: 20, High: 20}, {}})
	_, spread := mean(img, 20, 560)
	assert.Zero(t, spread, "a print that cannot be read shows its colour")
}

func TestSeamsLightenAsMuchAsTheyDarken(t *testing.T) {
	img := onSheet(t, nil)
	level, spread := mean(img, 580, 602)
	flat, _ := mean(img, 20, 560)
	assert.Greater(t, spread, 10.0, "the seam is seen")
	assert.InDelta(t, flat, level, 3)
}

func TestASmallPieceHasRoomForFinishesWhereOneIsSeen(t *testing.T) {
	p := twoSquares()
	plain, _, err := PieceShape(p, "shape", nil, false)
	require.NoError(t, err)
	assert.NotContains(t, plain, "--f0")
	assert.Equal(t, 2, strings.Count(plain, "stroke-opacity"), "the seam's shadow and light")
	with, _, err := PieceShape(p, "shape", nil, true)
	require.NoError(t, err)
	assert.Contains(t, with, `<use href="#shape-part1" style="fill:var(--f1,none)"/>`)
	id, def := SmallFinish("gloss")
	assert.Contains(t, def, `id="`+id+`"`)
	assert.Contains(t, FinishLayer("gloss"), "linear-gradient(")
	assert.Contains(t, FinishLayer("fuzzy"), `url("data:image/svg+xml`)
	assert.Empty(t, FinishLayer("matte"))
	id, _ = SmallFinish("matte")
	assert.Empty(t, id)
}
