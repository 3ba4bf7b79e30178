package e2e

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/testroom"
)

// counter is a maker whose presses and filled fields are counted.
type counter struct {
	*tab
	presses, fields int
}

func (c *counter) hit(selector string) { c.presses++; c.tab.click(selector) }
func (c *counter) pick(selector, how string) {
	c.presses++
	c.MustElement(selector).MustSelect(how)
	c.settle()
}
func (c *counter) file(selector, name string, data []byte) {
	c.presses++
	c.choose(selector, name, data)
	c.settle()
}

// fill types into a field that saves by itself, or that a press sends afterwards.
func (c *counter) fill(selector, text string) {
	c.fields++
	e := c.MustElement(selector)
	e.MustSelectAllText().MustInput(text)
	e.MustEval(`() => { if (this.dataset.auto !== undefined) this.dispatchEvent(new Event('change', { bubbles: true })) }`)
	c.settle()
}

// within fails where more was pressed or typed than a start may take.
func (c *counter) within(what string, presses, fields int) {
	c.t.Helper()
	c.t.Logf("%s after %d presses and %d fields", what, c.presses, c.fields)
	assert.LessOrEqual(c.t, c.presses, presses, "%s: presses", what)
	assert.LessOrEqual(c.t, c.fields, fields, "%s: fields", what)
}

// rows are the rows of Buy by card: what is needed, on hand and to be bought.
func (c *counter) rows() map[string][3]string {
	c.t.Helper()
	out := map[string][3]string{}
	for _, r := range c.MustElements(".buy-rows tbody[id]") {
		of := func(selector string) string {
			return strings.Join(strings.Fields(r.MustElement(selector).MustText()), " ")
		}
		name, _, _ := strings.Cut(r.MustElement("th").MustText(), "\n")
		out[name] = [3]string{of("[data-what=needed]"), of("[data-what='on hand']"), of("[data-what='to buy'] b")}
	}
	return out
}

// picture is a photo of round things in rows on a table.
func picture(t *testing.T, table colour.Lab, across int, colours ...string) []byte {
	t.Helper()
	const cell, r = 180, 62
	down := (len(colours) + across - 1) / across
	img := image.NewNRGBA(image.Rect(0, 0, across*cell, down*cell))
	for y := range down * cell {
		for x := range across * cell {
			l := table
			dx, dy := float64(x%cell-cell/2)/r, float64(y%cell-cell/2)/r
			if i := y/cell*across + x/cell; i < len(colours) && dx*dx+dy*dy < 1 {
				rgb, err := colour.ParseHex(colours[i])
				require.NoError(t, err)
				l = rgb.Lab()
				l.L += -9*(dx+dy) + 2*math.Sin(float64(x+y)/4)
			}
			c, _ := l.RGB()
			img.SetNRGBA(x, y, color.NRGBA{uint8(255 * c.R), uint8(255 * c.G), uint8(255 * c.B), 255})
		}
	}
	var out bytes.Buffer
	require.NoError(t, png.Encode(&out, img))
	return out.Bytes()
}

func lines(n int, each string) string {
	var out []string
	for i := range n {
		c, _ := colour.LCh{L: 30 + 50*float64(i%7)/6, C: 20 + 25*float64(i%3)/2, H: 360 * float64(i) / float64(n)}.Lab().RGB()
		out = append(out, fmt.Sprintf("Card %d %s, %s", i+1, c.Hex(), each))
	}
	return strings.Join(out, "\n")
}

func starting(t *testing.T) *counter {
	t.Parallel()
	return &counter{tab: serve(t, false).open("/")}
}

// Eight balls from one photo, and a jumper for a chest of 100 cm by the maker's washed swatch.
func TestStartWithEightBallsAndAJumper(t *testing.T) {
	c := starting(t)
	c.hit("#thing-jumper")
	c.file("#begin-photo", "balls.png", picture(t, colour.Lab{L: 62, A: 8, B: 20}, 4,
		"#d8ccb4", "#4b2346", "#5c6a3a", "#a5522d", "#22345a", "#c9a227", "#c98a8f", "#2f6f73"))
	c.until("the boxes", `() => document.querySelectorAll('.taken').length === 8`)
	c.within("eight balls found", 3, 0)
	for i := 1; i <= 2; i++ { // how much there is of two
		c.fill(fmt.Sprintf("#amount-%d", i), fmt.Sprintf("%d balls", 8*i))
	}
	c.hit("#keep-everything")
	assert.NotEmpty(t, c.MustElements("#piece .part"))
	c.within("the jumper in its colours", 3, 2)
	c.visit("/plans/1/buy")
	c.presses++ // Next: what to buy
	for key, v := range map[string]string{"sw_g": "12", "sw_w": "15", "sw_h": "15"} {
		c.fill("#ask-"+key, v)
	}
	p := testroom.MustOpen(t, c.s.work, 1)
	needed, owned := 0, 0
	for name, r := range c.rows() {
		require.NotEqual(t, "–", r[0], name)
		needed++
		if r[1] == "400 g" || r[1] == "800 g" {
			owned++
			assert.Equal(t, "nothing", r[2], "%s: eight balls are enough", name)
		}
	}
	assert.Equal(t, len(p.Piece.Parts), needed, "a card a part")
	assert.Equal(t, 2, owned, "what is owned counts: %v", c.rows())
	// By hand: all of it is 2 × what is drawn, 12 g on 225 cm², and a tenth to spare.
	grams := 2 * p.Piece.Area() / 100 * 12 / 225 * 1.1
	sum := 0.0
	for _, r := range c.rows() {
		var g float64
		_, err := fmt.Sscanf(r[0], "%f g", &g)
		require.NoError(t, err, r[0])
		sum += g
	}
	assert.InDelta(t, grams, sum, 6, "each is rounded")
	c.within("a true list to buy", 12, 6)
}

func TestStartWithThirtyFatQuarters(t *testing.T) {
	c := starting(t)
	c.hit("#thing-star")
	c.fill("#begin-colours", lines(30, "1 fat quarter"))
	c.hit("#begin-now")
	assert.NotEmpty(t, c.MustElements("#piece .part"))
	c.within("the quilt in its colours", 3, 1)
	c.visit("/plans/1/buy")
	c.presses++
	rows := c.rows()
	require.NotEmpty(t, rows)
	for name, r := range rows {
		assert.NotEqual(t, "–", r[0], name)
		if strings.HasPrefix(name, "Card") {
			assert.Contains(t, r[0], "fat quarter", name)
			assert.Equal(t, "1 fat quarter", r[1], name)
		}
	}
	c.within("a true list to buy", 12, 6)
	assert.Len(t, testroom.MustOpen(t, c.s.work, 1).Tray, 30)
}

// Six colourants, and a mould that holds 1.2 kg of batter.
func TestStartWithAMouldByItsWeight(t *testing.T) {
	c := starting(t)
	c.hit("#thing-soap")
	c.fill("#begin-colours", lines(6, "30 g"))
	c.hit("#begin-now")
	c.within("the loaf in its colours", 3, 1)
	c.visit("/plans/1/buy")
	c.presses++
	c.pick("#ask-mould", "by the batter it holds")
	c.fill("#ask-m_g", "1200")
	sum := 0.0
	for name, r := range c.rows() {
		var g float64
		_, err := fmt.Sscanf(r[0], "%f g", &g)
		require.NoError(t, err, "%s %s", name, r[0])
		sum += g
		assert.Contains(t, r[1], "30 g", name)
		assert.Equal(t, "nothing", r[2], "%s: 30 g are enough", name)
	}
	// By hand: 1200 g and 3 % in the jugs, 70 % of it oils, 6 g a kilogram, and 3 % more of each.
	assert.InDelta(t, 1.2*1.03*.7*6, sum, .25)
	c.within("a true list to buy", 12, 6)
}

// Twenty pots of paint, and a photo of the bare figure.
func TestStartWithAPhotoOfAFigure(t *testing.T) {
	c := starting(t)
	c.file("#begin-own", "Sailor.png", picture(t, colour.Lab{L: 92}, 1, "#a4a4a4", "#7d7d7d", "#3c3c3c"))
	c.pick("#begin-kind", "paint")
	c.fill("#begin-colours", lines(20, "1 pot"))
	c.hit("#begin-now")
	assert.Contains(t, c.text("#stage"), "Proportion")
	assert.Len(t, c.MustElements("#piece .part"), 3, "what stands out on the photo is a part")
	c.within("the figure in its colours", 3, 1)
	c.visit("/plans/1/buy")
	c.presses++
	c.fill("#ask-high", "75")
	for name, r := range c.rows() {
		assert.Contains(t, r[0], "ml", name)
		if !strings.HasPrefix(name, "Card") {
			continue // primer and varnish
		}
		assert.Equal(t, "17 ml", r[1], name)
		assert.Equal(t, "nothing", r[2], name)
	}
	c.within("a true list to buy", 12, 6)
	assert.Equal(t, []string{"Sailor", "painted models"}, []string{testroom.MustOpen(t, c.s.work, 1).Name, testroom.MustOpen(t, c.s.work, 1).Craft})
}

// A photo of the bare figure, and one of the paints: they are in the tray, and on the figure.
func TestStartWithTwoPhotos(t *testing.T) {
	c := starting(t)
	c.file("#begin-own", "Sailor.png", picture(t, colour.Lab{L: 92}, 1, "#a4a4a4", "#7d7d7d", "#3c3c3c"))
	c.file("#begin-photo", "pots.png", picture(t, colour.Lab{L: 92}, 2, "#4b2346", "#5c6a3a", "#c9a227", "#22345a"))
	c.until("the boxes", `() => document.querySelectorAll('.taken').length === 4`)
	assert.Contains(t, c.text("#keep-everything"), "in the tray")
	c.hit("#keep-everything")
	c.within("the figure in its colours", 3, 0)
	p := testroom.MustOpen(t, c.s.work, 1)
	assert.Len(t, p.Tray, 4)
	assert.NotContains(t, p.Fill(), -1, "every part has a colour")
	assert.Len(t, c.MustElements("#piece .part"), 3)
}

// Four spools, and a model of four bodies.
func TestStartWithFourFilamentsAndAModel(t *testing.T) {
	c := starting(t)
	var stl strings.Builder
	for i := range 4 {
		fmt.Fprintf(&stl, "solid box%d\n", i)
		box(&stl, float64(i)*30, 20)
		fmt.Fprintf(&stl, "endsolid box%d\n", i)
	}
	c.file("#begin-own", "Boxes.stl", []byte(stl.String()))
	c.fill("#begin-colours", lines(4, "1 spool"))
	c.hit("#begin-now")
	c.within("the model in its colours", 3, 1)
	p := testroom.MustOpen(t, c.s.work, 1)
	assert.Equal(t, []any{"solid", "printed parts", 4}, []any{p.Pattern, p.Craft, len(p.Piece.Parts)})
	c.visit("/plans/1/buy")
	c.presses++
	rows := c.rows()
	require.Len(t, rows, 4)
	for name, r := range rows {
		assert.Contains(t, r[0], "g", name)
		assert.Equal(t, "1000 g", r[1], name)
		assert.Equal(t, "nothing", r[2], name)
	}
	c.within("a true list to buy", 12, 6)
}

// box writes a box of a size as facets.
func box(w *strings.Builder, x, size float64) {
	at := func(i int) string {
		return fmt.Sprintf("vertex %g %g %g\n", x+size*float64(i&1), size*float64(i>>1&1), size*float64(i>>2&1))
	}
	for _, f := range [][3]int{{0, 2, 1}, {1, 2, 3}, {4, 5, 6}, {5, 7, 6}, {0, 1, 4}, {1, 5, 4}, {2, 6, 3}, {3, 6, 7}, {0, 4, 2}, {2, 4, 6}, {1, 3, 5}, {3, 7, 5}} {
		fmt.Fprintf(w, "facet normal 0 0 0\nouter loop\n%s%s%sendloop\nendfacet\n", at(f[0]), at(f[1]), at(f[2]))
	}
}
