package surface

import (
	"image"
	"image/color"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// ball is a photo of a lit ball on a darker ground that falls off to one side.
func ball(w, h int) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	r := .35 * float64(min(w, h))
	for y := range h {
		for x := range w {
			dx, dy := (float64(x)-float64(w)/2)/r, (float64(y)-float64(h)/2)/r
			v := 50 - 20*float64(x)/float64(w)
			if d := dx*dx + dy*dy; d < 1 {
				v = 95 + 120*math.Max(0, (math.Sqrt(1-d)-dx-dy)/math.Sqrt(3))
			}
			c := uint8(math.Min(255, v))
			img.SetRGBA(x, y, color.RGBA{c, c, c, 255})
		}
	}
	return img
}

func TestReliefKeepsDarksAndLights(t *testing.T) {
	whole := Bare{W: 1, H: 1}
	g, err := Relief(ball(300, 200), whole)
	require.NoError(t, err)
	require.Equal(t, image.Rect(0, 0, 300, 200), g.Bounds())
	low, high := 255, 0
	for _, v := range g.Pix {
		low, high = min(low, int(v)), max(high, int(v))
	}
	assert.InDelta(t, darkest, low, 12)
	assert.InDelta(t, brightest, high, 6)
	// Light that falls off to one side is evened.
	slope := func(b Bare) int {
		g, err := Relief(ball(300, 200), b)
		require.NoError(t, err)
		return int(g.GrayAt(8, 190).Y) - int(g.GrayAt(292, 190).Y)
	}
	assert.Less(t, slope(Bare{W: 1, H: 1, Even: 1}), slope(whole)*2/3)
	soft, err := Relief(ball(300, 200), whole)
	require.NoError(t, err)
	sharp, err := Relief(ball(300, 200), Bare{W: 1, H: 1, Sharpen: 1})
	require.NoError(t, err)
	step := func(g *image.Gray) int { return int(g.GrayAt(82, 100).Y) - int(g.GrayAt(78, 100).Y) }
	assert.Greater(t, step(sharp), step(soft))
	cut, err := Relief(ball(300, 200), Bare{X: .25, Y: .25, W: .5, H: .5, Turn: 30})
	require.NoError(t, err)
	assert.Equal(t, image.Rect(0, 0, 150, 100), cut.Bounds())

	black := image.NewRGBA(image.Rect(0, 0, 50, 50))
	_, err = Relief(black, whole)
	assert.ErrorIs(t, err, ErrTooDark)
	for i := range black.Pix {
		black.Pix[i] = 128
	}
	_, err = Relief(black, whole)
	assert.ErrorIs(t, err, ErrTooFlat)
	for _, bad := range []Bare{{X: .5, W: .8, H: 1}, {W: 0, H: 1}, {Y: -1, W: 1, H: 1}} {
		_, err = Relief(ball(50, 50), bad)
		assert.ErrorContains(t, err, "outside the photo")
	}
}

func area(outline []Spot) float64 {
	sum := 0.0
	for i, p := range outline {
		q := outline[(i+1)%len(outline)]
		sum += p.X*q.Y - q.X*p.Y
	}
	return math.Abs(sum) / 2
}

func TestGrowFindsTheThing(t *testing.T) {
	g := image.NewGray(image.Rect(0, 0, 200, 160))
	for y := range 160 {
		for x := range 200 {
			v := uint8(80)
			if math.Hypot(float64(x)-90, float64(y)-80) < 50 {
				v = uint8(180 + x/10)
			}
			if math.Hypot(float64(x)-90, float64(y)-80) < 12 {
				v = 250 // a hole that is filled
			}
			g.SetGray(x, y, color.Gray{v})
		}
	}
	got := Grow(g, 60, 80, 20)
	require.NotEmpty(t, got)
	assert.Less(t, len(got), 80, "simplified")
	assert.InEpsilon(t, math.Pi*50*50, area(got), .05)
	assert.InEpsilon(t, 200*160, area(Grow(g, 5, 5, 20)), .01, "the ground; the thing on it is covered later")
	assert.Nil(t, Grow(g, -1, 5, 20))
}

func TestFollowLiesOnTheEdge(t *testing.T) {
	g := image.NewGray(image.Rect(0, 0, 200, 200))
	for y := range 200 {
		for x := range 200 {
			v := uint8(70)
			if x >= 60 && x < 150 && y >= 40 && y < 160 {
				v = 200
			}
			g.SetGray(x, y, color.Gray{v})
		}
	}
	rough := []Spot{{56, 44}, {153, 37}, {147, 163}, {63, 157}}
	got := Follow(g, rough, 8)
	for _, p := range got {
		off := math.Min(math.Min(math.Abs(p.X-60), math.Abs(p.X-150)), math.Min(math.Abs(p.Y-40), math.Abs(p.Y-160)))
		assert.LessOrEqual(t, off, 2.0, "%v", p)
	}
	flat := image.NewGray(image.Rect(0, 0, 200, 200))
	assert.InDelta(t, area(rough), area(Follow(flat, rough, 8)), .02*area(rough), "where there is no edge it stays")
}

func TestHighlightsAreTheLightsAlone(t *testing.T) {
	g := image.NewGray(image.Rect(0, 0, 3, 1))
	copy(g.Pix, []uint8{100, 240, 255})
	h := Highlights(g)
	assert.Zero(t, h.Pix[0])
	assert.EqualValues(t, 255, h.Pix[2])
	assert.Less(t, h.Pix[1], uint8(60))
}

func BenchmarkRelief(b *testing.B) {
	img := ball(1400, 1050)
	for b.Loop() {
		_, _ = Relief(img, Bare{W: 1, H: 1, Even: .5, Sharpen: .5, Turn: 2})
	}
}

func BenchmarkGrow(b *testing.B) {
	g, _ := Relief(ball(1400, 1050), Bare{W: 1, H: 1})
	for b.Loop() {
		Grow(g, 20, 20, 40)
	}
}

// A place just off the picture has no outline.
func TestGrowOffThePicture(t *testing.T) {
	g := image.NewGray(image.Rect(0, 0, 20, 10))
	assert.NotNil(t, Grow(g, 19, 9, 10))
	for _, at := range [][2]int{{20, 5}, {5, 10}, {-1, 5}, {5, -1}} {
		assert.Nil(t, Grow(g, at[0], at[1], 10), at)
	}
}
