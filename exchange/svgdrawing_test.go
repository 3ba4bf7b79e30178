package exchange

import (
	"bytes"
	"compress/gzip"
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/text/encoding/unicode"

	"lampfern/core/colour"
	"lampfern/core/piece"
)

func svg(body string) string {
	return `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="50mm" viewBox="0 0 200 100">` + body + `</svg>`
}

func areaOf(corners []piece.Point) float64 { return piece.Region{Outline: corners}.Area() }

func TestShapesOfAnSVG(t *testing.T) {
	for _, c := range []struct {
		body string
		area float64 // mm²; a unit of the view box is half a millimetre
		off  float64
	}{
		{`<rect x="10" y="20" width="40" height="30"/>`, 20 * 15, 0},
		{`<circle cx="50" cy="50" r="20"/>`, math.Pi * 100, .01},
		{`<ellipse cx="50" cy="50" rx="20" ry="10"/>`, math.Pi * 50, .01},
		{`<polygon points="0,0 40,0 40,40"/>`, 200, 0},
		{`<path d="M10 10h40v20H10z"/>`, 200, 0},
		{`<path d="m10,10 40,0 0,20 -40,0"/>`, 200, 0},
		{`<path d="M10 50a20 20 0 1 1 40 0a20 20 0 1140 0"/>`, math.Pi * 100, .01},
		{`<path d="M10 50A20 20 0 1 0 50 50 20 20 0 1 0 10 50z"/>`, math.Pi * 100, .01},
		// A circle by four cubic curves.
		{`<path d="M70 50C70 61.046 61.046 70 50 70S30 61.046 30 50 38.954 30 50 30 70 38.954 70 50z"/>`, math.Pi * 100, .01},
		{`<path d="M0 0Q50 100 100 0z"/>`, 2. / 3 * 50 * 25, .01},
		{`<path d="M0 0Q25 50 50 0T100 0z"/>`, 0, 0},
		{`<g transform="translate(10 10) scale(2)"><rect width="10" height="10" transform="rotate(30 5 5) skewX(20)"/></g>`, 100, 0},
		{`<rect width="10" height="10" transform="matrix(0 1 -1 0 30 0)"/>`, 25, 0},
	} {
		d, err := ReadSVG(t.Context(), strings.NewReader(svg(c.body)))
		require.NoError(t, err, c.body)
		assert.InDelta(t, 100, d.Width, 1e-9)
		require.Len(t, d.Shapes, 1, c.body)
		if c.area > 0 {
			assert.InEpsilon(t, c.area, areaOf(d.Shapes[0].Corners), c.off+1e-9, c.body)
		}
	}
	// A hole, by even-odd.
	d, err := ReadSVG(t.Context(), strings.NewReader(svg(`<path d="M0 0h40v40h-40zM10 10h10v10h-10z"/>`)))
	require.NoError(t, err)
	sum := 0.0
	for _, r := range piece.Overlay([]piece.Outline{{Corners: d.Shapes[0].Corners}}) {
		sum += r.Area()
	}
	assert.InDelta(t, 400-25, sum, 1e-9)
}

func TestGroupsColoursAndWhatIsLeftOut(t *testing.T) {
	d, err := ReadSVG(t.Context(), strings.NewReader(svg(`<style>.a{fill:#ff0000;stroke:none} .b { stroke: red; fill : blue }</style>
		<g id="sails" fill="rgb(0, 128, 255)"><rect width="9" height="9"/><rect class="a" width="8" height="8"/><g><path id="jib" style="fill:#0f0" d="M0 0h5v5z"/></g></g>
		<rect class="b" width="7" height="7"/><rect fill="none" stroke="red" width="5" height="5"/><rect fill="url(#g)" width="6" height="6"/>
		<text>words</text><image href="http://example.org/x.png"/><use href="#jib"/><script>alert(1)</script><line x2="9"/><rect display="none" width="4" height="4"/><defs><rect width="3" height="3"/></defs><g style="display:none"><rect width="2" height="2"/></g>`)))
	require.NoError(t, err)
	var got []string
	for _, s := range d.Shapes {
		fill := "none"
		if s.Fill != nil {
			fill = s.Fill.Hex()
		}
		got = append(got, strings.TrimSpace(s.Group+" "+s.Name+" "+fill))
	}
	assert.Equal(t, []string{"sails  #0080ff", "sails  #ff0000", "sails jib #00ff00", "#0000ff", "none"}, got)
	assert.Equal(t, []string{"1 × copy of another shape", "1 × gradient or pattern, taken as one flat part", "1 × line without a fill",
		"1 × picture", "1 × script", "1 × shape without a fill", "1 × text"}, d.LeftOut)
}

func TestSizesOfAnSVG(t *testing.T) {
	for head, want := range map[string][2]float64{
		`width="4in" height="2in"`: {101.6, 50.8}, `width="192" height="96"`: {50.8, 25.4}, `width="10cm" viewBox="0 0 20 10"`: {100, 50},
		`height="72pt" viewBox="0 0 20 10"`: {50.8, 25.4},
		`viewBox="0 0 20 10"`:               {0, 0}, `width="100%" height="100%" viewBox="0 0 20 10"`: {0, 0}, ``: {0, 0},
	} {
		d, err := ReadSVG(t.Context(), strings.NewReader(`<svg `+head+`><rect width="9" height="9"/></svg>`))
		require.NoError(t, err)
		assert.InDeltaSlice(t, want[:], []float64{d.Width, d.Height}, 1e-9, head)
	}
}

// Style sheets, sizes, packing and encodings as programs write them.
func TestSVGsAsTheyAreWritten(t *testing.T) {
	const sheet = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 100"><style><![CDATA[ /* .a{fill:#000} */ .a, g > .b { stroke: none; fill: #ff0000 !important }
rect{fill:#00ff00} #own{fill:#0000ff} ]]></style><rect class="a" width="50%" height="100%"/><rect x="50%" width="1in" height="10"/><rect id="own" class="b" fill="#fff" width="9" height="9"/>
<circle class="a b" cx="100" cy="50" r="10%" style="fill:#123456"/></svg>`
	var packed bytes.Buffer
	z := gzip.NewWriter(&packed)
	_, err := z.Write([]byte(sheet))
	require.NoError(t, err)
	require.NoError(t, z.Close())
	wide, err := unicode.UTF16(unicode.BigEndian, unicode.UseBOM).NewEncoder().String(`<?xml version="1.0" encoding="UTF-16"?>` + sheet)
	require.NoError(t, err)
	for name, text := range map[string]string{"plain": sheet, "packed": packed.String(), "UTF-16": wide} {
		d, err := ReadSVG(t.Context(), strings.NewReader(text))
		require.NoError(t, err, name)
		require.Len(t, d.Shapes, 4, name)
		for i, want := range []string{"#ff0000", "#00ff00", "#0000ff", "#123456"} {
			assert.Equal(t, want, d.Shapes[i].Fill.Hex(), "%s %d", name, i)
		}
		assert.Equal(t, piece.Point{X: 100, Y: 100}, d.Shapes[0].Corners[2])
		assert.InDelta(t, 196, d.Shapes[1].Corners[2].X, 1e-9)
		assert.InDelta(t, 100+math.Sqrt((200*200+100*100)/2.)/10, d.Shapes[3].Corners[0].X, 1e-9)
	}
	latin,
		err := ReadSVG(t.Context(), strings.NewReader("<?xml version=\"1.0\" encoding=\"windows-1252\"?><svg xmlns=\"http://www.w3.org/2000/svg\"><g id=\"K\xf6nig\"><path d=\"M0 0H9V9z\"/></g></svg>"))
	require.NoError(t, err)
	assert.Equal(t, "König", latin.Shapes[0].Group)
	_, err = ReadSVG(t.Context(), strings.NewReader("\x1f\x8bnot packed"))
	assert.ErrorContains(t, err, "could not be read")
}

func TestSVGsThatAreRefused(t *testing.T) {
	many := strings.Repeat(`<path d="M0 0h1v1z"/>`, 50_000)
	for body, words := range map[string]string{
		"":                          "not an SVG drawing",
		"<html></html>":             "does not begin with an svg element",
		"<svg><g></svg>":            "the SVG drawing is incomplete",
		svg(`<text>only</text>`):    "holds no filled shape (only 1 × text)",
		svg(many):                   "has 50000 shapes and at most 4000 can be used",
		svg(`<path d="M0 0 L x"/>`): "a path of the drawing is damaged",
		svg(`<path d="5 5"/>`):      "a path of the drawing is damaged",
		svg(`<rect width="1" height="1" transform="warp(2)"/>`):                                             `the transform "warp"`,
		svg(strings.Repeat("<g>", 100) + strings.Repeat("</g>", 100)):                                       "more than 64 deep",
		`<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><svg><rect width="1" height="1"/>&b;</svg>`: "uses entities",
	} {
		_, err := ReadSVG(t.Context(), strings.NewReader(body))
		assert.ErrorContains(t, err, words)
	}
	// Too many corners are drawn more roughly before they are refused.
	var b strings.Builder
	for i := range 600 {
		fmt.Fprintf(&b, `<path d="M%d 0C9 9 9 9 9 9C1 2 3 4 5 6C7 8 9 10 11 12C5 5 5 5 5 9z"/>`, i)
	}
	d, err := ReadSVG(t.Context(), strings.NewReader(svg(b.String())))
	require.NoError(t, err)
	assert.Len(t, d.Shapes, 600)
}

func FuzzReadSVG(f *testing.F) {
	f.Add([]byte(svg(`<path d="M10 50a20 20 0 1 1 40 0a20 20 0 1140 0"/>`)))
	f.Add([]byte(svg(`<g transform="rotate(9)"><rect width="3" height="4" fill="url(#a)"/></g>`)))
	f.Fuzz(func(t *testing.T, data []byte) {
		d, err := ReadSVG(t.Context(), bytes.NewReader(data))
		if err != nil {
			return
		}
		require.NotEmpty(t, d.Shapes)
		for _, s := range d.Shapes {
			for _, c := range s.Corners {
				require.False(t, math.IsNaN(c.X) || math.IsInf(c.X, 0))
			}
			if s.Fill != nil {
				_, err := colour.ParseHex(s.Fill.Hex())
				require.NoError(t, err)
			}
		}
	})
}
