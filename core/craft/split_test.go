package craft

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/piece"
)

func area(p piece.Piece, key string) float64 {
	for i, part := range p.Parts {
		if part.Key == key {
			return p.Areas()[i]
		}
	}
	return -1
}

// Every pattern of a craft that is laid on with a brush has exact shares of each tone, and as much
// area as before.
func TestTonesTakeTheirExactShares(t *testing.T) {
	for _, key := range []string{"figure", "boat", "van", "scene"} {
		pattern, err := Pattern(key)
		require.NoError(t, err)
		whole, err := pattern.Build(nil, nil)
		require.NoError(t, err)
		for i, part := range whole.Parts {
			was := whole.Areas()[i]
			if was == 0 {
				continue
			}
			p, err := pattern.Divided([]piece.Split{{Part: part.Key, Kind: piece.Shade, Share: .25}, {Part: part.Key, Kind: piece.Light, Share: .1},
				{Part: "no such part", Kind: piece.Fade}}).Build(nil, nil)
			require.NoError(t, err)
			require.Len(t, p.Parts, len(whole.Parts)+2)
			assert.InEpsilon(t, .25*was, area(p, part.Key+"--shade"), 1e-6, "%s %s", key, part.Name)
			assert.InEpsilon(t, .1*was, area(p, part.Key+"--light"), 1e-6, "%s %s", key, part.Name)
			assert.InEpsilon(t, .65*was, area(p, part.Key), 1e-6, "%s %s", key, part.Name)
			assert.InEpsilon(t, whole.Area(), p.Area(), 1e-9)
			for _, outlines := range p.Contours() {
				for _, o := range outlines {
					assert.GreaterOrEqual(t, len(o), 3)
				}
			}
		}
	}
}

// A disc of 50 mm, shaded by a fifth: the level line lies where a fifth of π·25² is below it.
func TestAFadeIsHalfOfEach(t *testing.T) {
	p := piece.Piece{Width: 50, Height: 50, Parts: piece.Parts("sun", "sun")}
	p.Over([]piece.Outline{piece.Lay(0, piece.Disc(piece.At(25, 25), 25)...)})
	d := p.Divided([]piece.Split{{Part: "sun", Kind: piece.Fade}})
	require.Len(t, d.Fades, 1)
	f := d.Fades[0]
	assert.InDelta(t, 25, f.Middle, 1e-6, "half of a disc lies above its middle")
	assert.InEpsilon(t, d.Areas()[0], d.Areas()[1], 1e-9)
	sum, last := 0.0, 0.0
	for _, b := range d.Bands(f, 10) {
		assert.Greater(t, b.Passed, last)
		last = b.Passed
		for _, o := range b.Outlines {
			sum += piece.Region{Outline: o}.Area()
		}
	}
	assert.InEpsilon(t, p.Area(), sum, 1e-9, "the strips are all of it")
	assert.Equal(t, "foot of the sun", d.Parts[1].Name)
	base, kind := piece.SplitOff(d.Parts[1].Key)
	assert.Equal(t, "sun", base)
	assert.Equal(t, piece.Fade, kind)
	base, kind = piece.SplitOff("half--timbered")
	assert.Equal(t, "half--timbered", base)
	assert.Empty(t, kind)
}

func TestABindingHasFourSides(t *testing.T) {
	pattern, err := Pattern("star")
	require.NoError(t, err)
	whole, err := pattern.Build(nil, nil)
	require.NoError(t, err)
	w, h, b := whole.Width, whole.Height, 10.0
	p := whole.Divided([]piece.Split{{Part: "binding", Kind: piece.Top}, {Part: "binding", Kind: piece.Left}})
	assert.InDelta(t, b*(w-b), area(p, "binding--top"), 1e-6, "cut at a slant at both corners")
	assert.InDelta(t, b*(h-b), area(p, "binding--left"), 1e-6)
	assert.InDelta(t, b*(w-b)+b*(h-b), area(p, "binding"), 1e-6)
	assert.InDelta(t, whole.Area(), p.Area(), 1e-6)
}

func TestSplitsThatCannotBe(t *testing.T) {
	for _, c := range []struct {
		all  []piece.Split
		want string
	}{
		{[]piece.Split{{Part: "a", Kind: piece.Shade, Share: .6}, {Part: "a", Kind: piece.Light, Share: .4}}, "together take at most 90%"},
		{[]piece.Split{{Part: "a", Kind: piece.Shade, Share: .01}}, "2% of its part"},
		{[]piece.Split{{Part: "a", Kind: "spots", Share: .5}}, `by "spots"`},
		{[]piece.Split{{Part: "a", Kind: piece.Fade}, {Part: "a", Kind: piece.Shade, Share: .2}}, "remove the fade"},
		{[]piece.Split{{Part: "a", Kind: piece.Top}, {Part: "a", Kind: piece.Top}}, "can have only one top"},
		{make([]piece.Split, piece.MostSplits+1), "at most 60"},
	} {
		assert.ErrorContains(t, piece.CheckSplits(c.all), c.want)
	}
	assert.NoError(t, piece.CheckSplits([]piece.Split{{Part: "a", Kind: piece.Shade, Share: .5}, {Part: "a", Kind: piece.Light, Share: .4},
		{Part: "b", Kind: piece.Fade}}))
}

// A line of stitches lies 6 mm within the edge of a square of 200 mm and is 2 mm wide: by hand the ring
// between 188 and 184 mm.
func TestALineOfStitches(t *testing.T) {
	p := piece.Piece{Width: 200, Height: 200, Parts: piece.Parts("pocket", "pocket")}
	p.Over([]piece.Outline{piece.Lay(0, piece.At(0, 0), piece.At(200, 0), piece.At(200, 200), piece.At(0, 200))})
	d := p.Divided([]piece.Split{{Part: "pocket", Kind: piece.Stitching}})
	assert.InDelta(t, 188*188-184*184, area(d, "pocket--stitching"), 1e-6)
	assert.InDelta(t, 40_000, d.Area(), 1e-6)
	assert.Equal(t, "stitching of the pocket", d.Parts[1].Name)
	// What lies on it is not sewn round.
	p.Over([]piece.Outline{piece.Lay(0, piece.At(0, 0), piece.At(200, 0), piece.At(200, 200), piece.At(0, 200)),
		piece.Lay(1, piece.At(80, 80), piece.At(120, 80), piece.At(120, 120), piece.At(80, 120))})
	p.Parts = piece.Parts("pocket", "pocket", "button", "button")
	d = p.Divided([]piece.Split{{Part: "pocket", Kind: piece.Stitching}})
	assert.InDelta(t, 188*188-184*184, area(d, "pocket--stitching"), 1e-6)
	assert.InDelta(t, 1600, area(d, "button"), 1e-6)

	for _, key := range []string{"jacket", "waistcoat", "dress"} {
		pattern, err := Pattern(key)
		require.NoError(t, err)
		whole, err := pattern.Build(nil, nil)
		require.NoError(t, err)
		for i, part := range whole.Parts {
			s, err := pattern.Divided([]piece.Split{{Part: part.Key, Kind: piece.Stitching}}).Build(nil, nil)
			require.NoError(t, err)
			assert.InEpsilon(t, whole.Area(), s.Area(), 1e-6, "%s %s", key, part.Name)
			line := area(s, part.Key+"--stitching")
			assert.Greater(t, line, 0.0, "%s %s", key, part.Name)
			assert.Less(t, line, .5*whole.Areas()[i], "%s %s", key, part.Name)
		}
	}
}
