package stages

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/card"
	"lampfern/core/colour"
	"lampfern/testroom"
)

// A chart as it is printed, painted, photographed under a warm lamp, and read back.
func TestAPaintedChartIsReadFromItsPhoto(t *testing.T) {
	testroom.Slow(t)
	t.Parallel()
	m := visit(t, true)
	code, body := m.get("/plans/3/charts.png?kind=tints&paper=a4")
	require.Equal(t, http.StatusOK, code)
	printed, err := png.Decode(strings.NewReader(body))
	require.NoError(t, err)
	photo := image.NewNRGBA(printed.Bounds())
	draw.Draw(photo, photo.Bounds(), printed, printed.Bounds().Min, draw.Src)
	paper, err := card.FindPaper("a4")
	require.NoError(t, err)
	size, err := card.Custom(44, 54)
	require.NoError(t, err)
	l, err := card.Lay(paper, size)
	require.NoError(t, err)
	scale := float64(photo.Bounds().Dx()) / l.Paper.Width
	field := card.FieldOf(size)
	painted := []string{"#8a9ab8", "#b89aa0", "#9ab89a"}
	for i, hex := range painted {
		at := l.At(i)
		c := testroom.Hex(t, hex)
		fill := image.Rect(int((at.X+1)*scale), int((at.Y+field.Top+1)*scale), int((at.X+size.Width-1)*scale), int((at.Y+field.Grey.Y-1)*scale))
		draw.Draw(photo, fill, image.NewUniform(color.NRGBA{uint8(255*c.R + .5), uint8(255*c.G + .5), uint8(255*c.B + .5), 255}), image.Point{},
			draw.Src)
	}
	for i := 0; i < len(photo.Pix); i += 4 { // the lamp: warm, and not bright
		for k, much := range []float64{.82, .7, .5} {
			lin, _, _ := (colour.RGB{R: float64(photo.Pix[i+k]) / 255}).Linear()
			photo.Pix[i+k] = uint8(255*colour.LinearRGB(lin*much, 0, 0).R + .5)
		}
	}
	var file bytes.Buffer
	require.NoError(t, png.Encode(&file, photo))
	hash, err := m.work.AddPhoto(t.Context(), "painted.png", file.Bytes())
	require.NoError(t, err)
	from, wide, high := l.Block()
	corner := func(x, y float64) string {
		return fmt.Sprintf("%.2f, %.2f", 100*x/l.Paper.Width, 100*y/l.Paper.Height)
	}
	q := url.Values{"kind": {"tints"}, "enter": {"1"}, "photo": {hash}, "paper": {"a4"}, "c0": {corner(from.X, from.Y)},
		"c1": {corner(from.X+wide, from.Y)},
		"c2": {corner(from.X+wide, from.Y+high)}, "c3": {corner(from.X, from.Y+high)}}
	_, body = m.get("/plans/3/charts?" + q.Encode())
	read := regexp.MustCompile(`id="field-(\d+)"\s+value="([^"]*)"`).FindAllStringSubmatch(body, -1)
	require.GreaterOrEqual(t, len(read), 3)
	for i, hex := range painted {
		var got colour.Lab
		_, err := fmt.Sscan(read[i][2], &got.L, &got.A, &got.B)
		require.NoError(t, err, read[i])
		assert.Less(t, colour.DeltaE2000(testroom.Hex(t, hex).Lab(), got), 3.0, "field %d", i+1)
	}
	q.Set("c0", "here")
	_, body = m.get("/plans/3/charts?" + q.Encode())
	assert.Contains(t, body, "id=\"chart-sheet-photo\"")
	q.Set("c0", "99, 99")
	_, body = m.get("/plans/3/charts?" + q.Encode())
	assert.Contains(t, plain(body), "four corners are in the wrong order")
	q.Set("photo", "0000")
	_, body = m.get("/plans/3/charts?" + q.Encode())
	assert.Contains(t, plain(body), "was deleted")
}

func TestTheListToCarry(t *testing.T) {
	t.Parallel()
	m := visit(t, true)
	code, body := m.get("/plans/3/mix-list.svg?paper=letter")
	assert.Equal(t, http.StatusOK, code)
	assert.Contains(t, body, "Take with you: ")
	assert.Contains(t, body, "Weir teal")
	code, body = m.get("/plans/3/mix-list.pdf?paper=bark")
	assert.Equal(t, 422, code)
	assert.Contains(t, plain(body), "choose a4 or letter")
	code, body = m.get("/plans/4/mix-list.pdf?paper=a4")
	assert.Equal(t, 422, code)
	assert.Contains(t, plain(body), "at least two target colours")
}
