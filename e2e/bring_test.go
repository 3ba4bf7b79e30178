package e2e

import (
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"math"
	"os"
	"path/filepath"
	"sort"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// choose puts a file of the given content into a file field.
func (b *tab) choose(selector, name string, data []byte) {
	b.t.Helper()
	path := filepath.Join(b.t.TempDir(), name)
	require.NoError(b.t, os.WriteFile(path, data, 0o644))
	b.MustElement(selector).MustSetFiles(path)
}

// onDrawing is a place of the drawing in mm on the page.
func (b *tab) onDrawing(x, y float64) proto.Point {
	b.t.Helper()
	v := b.MustEval(`(x, y) => { const p = new DOMPoint(x, y).matrixTransform(document.getElementById('drawing').getScreenCTM()); return [p.x, p.y] }`, x, y).Arr()
	return proto.Point{X: v[0].Num(), Y: v[1].Num()}
}

// TestAFigureIsMaskedInSixParts masks the photo of a bare boat as a maker would
// with a mouse, and says how many clicks that took.
func TestAFigureIsMaskedInSixParts(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/1/pieces")
	b.click("#piece-drawn")
	b.click("#to-own")
	photo, err := os.ReadFile("../demo/photos/bare boat.jpg")
	require.NoError(t, err)
	b.choose("#photo-file", "boat.jpg", photo)
	b.MustElement(`.bring [name=wide]`).MustSelectAllText().MustInput("320")
	b.MustElement("#bring-photo").MustClick()
	b.until("the photo", `() => !!document.querySelector('#drawing image')`)
	b.settle()
	clicks := 0
	part := func(name string) { b.MustElement("#draw-part").MustSelectAllText().MustInput(name) }
	begun := time.Now()
	b.click("#tool-grow")
	for _, g := range []struct {
		name string
		x, y float64
	}{{"sail", 209, 97}, {"funnel", 114, 92}} {
		part(g.name)
		b.clickAt(b.onDrawing(g.x, g.y))
		clicks++
	}
	b.click("#tool-corners")
	for _, o := range []struct {
		name    string
		corners [][2]float64
	}{
		{"hull", [][2]float64{{65, 180}, {55, 152}, {123, 158}, {192, 161}, {263, 155}, {262, 193}, {135, 187}}},
		{"deck", [][2]float64{{54, 145}, {88, 130}, {149, 147}, {180, 144}, {232, 142}, {265, 140}, {265, 147}, {192, 155}, {123, 152}}},
		{"cabin", [][2]float64{{88, 116}, {90, 144}, {149, 147}, {160, 140}, {160, 110}, {149, 114}}},
		{"roof", [][2]float64{{82, 110}, {83, 113}, {151, 116}, {165, 107}, {165, 102}, {93, 102}}},
	} {
		part(o.name)
		for _, c := range append(o.corners, o.corners[0]) {
			b.clickAt(b.onDrawing(c[0], c[1]))
			clicks++
		}
	}
	assert.Len(t, b.MustElements(".outlines li"), 6)
	t.Logf("six parts in %d clicks, %.1f s for the program", clicks, time.Since(begun).Seconds())
	b.press('z', 'z')
	assert.Len(t, b.MustElements(".outlines li"), 4)
	b.press('y', 'y')
	// By keyboard alone: a place is typed, and the part grows from it.
	b.tabTo("#typed summary")
	b.press(input.Enter)
	b.tabTo("#typed-corners")
	b.typeText("114,92")
	b.tabTo("#typed-part")
	b.typeText("funnel")
	b.tabTo("#grow-typed")
	b.press(input.Enter)
	assert.Len(t, b.MustElements(".outlines li"), 7)
	b.press('z')
	b.MustElement("#even-0").MustEval(`() => { this.value = 80; this.dispatchEvent(new Event('change', { bubbles: true })) }`)
	b.settle()
	assert.Contains(t, b.attr("#drawing image", "href"), "_0.8_", "the template is made anew")
	// A split: the hull in two.
	b.click("#tool-split")
	part("waterline")
	b.drag(b.onDrawing(50, 168), b.onDrawing(150, 174), b.onDrawing(270, 172))
	assert.Contains(t, strings.Join(b.texts("datalist option"), " ")+b.MustElement("#part-names").MustHTML(), "waterline")
	b.clickText("#notes a", "Back to Proportion")
	assert.Len(t, b.MustElements("#piece .part"), 7)
	assert.Equal(t, "multiply", b.MustEval(`() => getComputedStyle(document.querySelector('#piece .shaded')).mixBlendMode`).Str())
	assert.NotZero(t,
		b.MustEval(`async () => { const i = new Image(); i.src = document.querySelector('#piece image').getAttribute('href'); await i.decode(); return i.naturalWidth }`).Int())
	// The sail takes about a tenth of the picture: it did not run over into the sky.
	assert.InDelta(t, 13,
		b.MustEval(`() => { const r = document.querySelector('#piece .part path').getBBox(), s = document.getElementById('piece').viewBox.baseVal; return 100 * r.width * r.height / (s.width * s.height) }`).Num(), 5)
	b.MustElement("#pick-2").MustClick()
	b.MustElement("#piece .part").MustFocus()
	b.press(input.Enter)
	assert.Equal(t, "2", b.MustElement("#notes .parts select").MustProperty("value").Str())
	b.click("#to-worktable")
	assert.Contains(t, b.text("#notes"), "Print it (PDF)")
}

func TestAnAssemblyIsTurnedAndColoured(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/4/proportion")
	drawn := `() => document.getElementById('solid-view')?.dataset.shown === 'fine'`
	b.until("the lantern", drawn)
	hash := func() int {
		return b.MustEval(`() => { const c = document.querySelector('#solid-view canvas'); const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data; let h = 0; for (let i = 0; i < d.length; i += 4) h = (h * 31 + d[i] + d[i + 3]) % 1000003; return h }`).Int()
	}
	was := hash()
	b.drag(b.within("#solid-view", .5, .5), b.within("#solid-view", .6, .5), b.within("#solid-view", .7, .45))
	b.until("it to rest", drawn)
	turned := hash()
	assert.NotEqual(t, was, turned, "turned by dragging")
	b.tabTo("#solid-view canvas")
	require.NoError(t, b.Keyboard.Type(input.ArrowLeft))
	require.NoError(t, b.Keyboard.Type('+'))
	b.until("the key",
		`(h) => { const c = document.querySelector('#solid-view canvas'); const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data; let k = 0; for (let i = 0; i < d.length; i += 4) k = (k * 31 + d[i] + d[i + 3]) % 1000003; return k !== h }`, turned)
	b.until("it to rest", drawn)
	// A click on the middle, a pane, gives it the chosen card.
	b.MustElement("#pick-1").MustClick()
	panes := `#notes select[id^="fill-part2"]`
	require.Equal(t, "3", b.MustElement(panes).MustProperty("value").Str())
	b.clickAt(b.within("#solid-view canvas", .5, .6))
	changed := 0
	for _, e := range b.MustElements("#notes .parts select") {
		if e.MustProperty("value").Str() == "1" {
			changed++
		}
	}
	assert.GreaterOrEqual(t, changed, 2)
	b.MustElement("#apart").MustEval(`() => { this.value = 100; this.dispatchEvent(new Event('input', { bubbles: true })) }`)
	b.until("it to rest", drawn)
	b.MustElement("#made").MustSelect("flat colour")
	b.settle()
	assert.NotEmpty(t, b.MustElements("#piece .cells"), "seen from all round at once")
	b.click("#to-own")
	b.MustElement("#body-11").MustSelectAllText().MustInput("knob")
	b.press(input.Tab)
	b.settle()
	b.clickText("#notes a", "Back to Proportion")
	assert.Len(t, b.MustElements("#notes .parts tbody tr"), 5, "the ring is one part with the knob")
}

func TestFilesAreBroughtInByMouse(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.open("/plans/6/draft")
	b.MustElement(".bring summary").MustClick()
	b.choose("#wif-file", "x.wif", []byte("[WIF]\n"))
	b.MustElement("#bring-wif").MustClick()
	b.until("the refusal", `() => document.getElementById('flashes').textContent.includes('no section [WEAVING]')`)
	b.settle()
	b.visit("/plans/1/pieces")
	b.click("#piece-drawn")
	b.click("#to-own")
	b.choose("#svg-file", "leaf.svg",
		[]byte(`<svg viewBox="0 0 10 10"><rect width="10" height="10" fill="#ddd"/><circle cx="5" cy="5" r="3" fill="#060"/></svg>`))
	b.MustElement("#svg-wide").MustInput("120")
	b.MustElement("#bring-svg").MustClick()
	b.until("the drawing", `() => document.getElementById('flashes').textContent.includes('2 shapes in 2 parts')`)
	b.settle()
	assert.Equal(t, "120", b.MustElement("#drawing-width").MustProperty("value").Str())
	b.visit("/plans/5/proportion")
	b.MustElement("#written").MustSelectAllText().MustInput("3A 1B@20 1C@80")
	b.press(input.Enter)
	assert.Len(t, b.MustElements("#notes .parts tbody tr"), 3)
	b.MustElement("#written").MustSelectAllText().MustInput("3A what")
	b.press(input.Enter)
	assert.Contains(t, b.text("#flashes"), "is not a pour")
	assert.Contains(t, b.text("#notes"), "An impression only")

	// A reference picture gives a colour to the scrap page.
	b.visit("/plans/9/proportion")
	photo, err := os.ReadFile("../demo/photos/cloths under the kitchen lamp.jpg")
	require.NoError(t, err)
	b.MustElement(".eye .bring summary").MustClick()
	b.choose(".eye .bring [type=file]", "heap.jpg", photo)
	b.MustElement(".eye .bring button").MustClick()
	b.until("the picture", `() => { const i = document.querySelector('[data-reference]'); return !!i && i.complete && i.naturalWidth > 0; }`)
	b.settle()
	b.MustElement("[data-reference]").MustWaitVisible()
	b.clickAt(b.within("[data-reference]", .46, .26))
	assert.Contains(t, b.text("#flashes"), "is on the scrap page")
}

// TestOwnThingBudget measures what the maker's own thing may take.
func TestOwnThingBudget(t *testing.T) {
	t.Parallel()
	if os.Getenv("LAMPFERN_BENCH") == "" {
		t.Skip("times are measured by ./bench, never by the tests")
	}
	s := serve(t, true)
	b := s.open("/plans/1/pieces")
	b.MustActivate()
	b.click("#piece-drawn")
	b.click("#to-own")
	path := filepath.Join(t.TempDir(), "large.jpg")
	f, err := os.Create(path)
	require.NoError(t, err)
	img := image.NewGray(image.Rect(0, 0, 4000, 3000))
	for y := range 3000 {
		for x := range 4000 {
			img.SetGray(x, y, color.Gray{uint8(120 + 80*math.Sin(float64(x)/300)*math.Cos(float64(y)/260))})
		}
	}
	require.NoError(t, jpeg.Encode(f, img, nil))
	require.NoError(t, f.Close())
	b.MustElement("#photo-file").MustSetFiles(path)
	b.MustElement("#bring-photo").MustClick()
	b.until("the photo", `() => !!document.querySelector('#drawing image')`)
	b.settle()
	for i := range 6 {
		b.MustEval(`async (i) => { const { change } = await import(document.querySelector('script[type=module]').src.replace('app.js', 'bench.js')); await change({ do: 'outline', part: 'part ' + i, corners: (10 + i * 12) + ',' + 38, radius: 14 }) }`, i)
	}
	b.visit("/plans/1/proportion")
	ms := func(eval string) (p50, p95 float64) {
		var all []float64
		for _, v := range b.MustEval(eval).Arr()[5:] {
			all = append(all, v.Num())
		}
		sort.Float64s(all)
		return all[len(all)/2], all[len(all)*95/100]
	}
	p50, p95 := ms(`async () => {
		const { change } = await import(document.querySelector('script[type=module]').src.replace('app.js', 'bench.js'));
		const frame = () => new Promise(r => requestAnimationFrame(r));
		const out = [];
		for (let i = 0; i < 65; i++) { await frame(); const t = performance.now(); await change({ do: 'fill', part: 'part' + (1 + i % 6), key: 1 + i % 5 }); document.getElementById('stage').getBoundingClientRect(); await frame(); out.push(performance.now() - t); }
		return out;
	}`)
	fmt.Printf("%-42s p50 %5.1f ms  p95 %5.1f ms  budget 50 ms  ratio %.2f\n", "photo of 12 megapixels: recolour", p50, p95, p95/50)

	// A ball of 200,000 triangles.
	var stl strings.Builder
	stl.WriteString("solid ball\n")
	at := func(i, j int) string {
		sin, cos := math.Sincos(math.Pi * float64(i) / 316)
		u, d := math.Sincos(math.Pi * float64(j) / 158)
		return fmt.Sprintf("vertex %.4f %.4f %.4f\n", 20*sin*d, 20*sin*u, 20*cos)
	}
	for i := range 316 {
		for j := range 316 {
			fmt.Fprintf(&stl, "facet normal 0 0 0\nouter loop\n%s%s%sendloop\nendfacet\nfacet normal 0 0 0\nouter loop\n%s%s%sendloop\nendfacet\n",
				at(i, j), at(i+1, j), at(i+1, j+1), at(i, j), at(i+1, j+1), at(i, j+1))
		}
	}
	b.visit("/plans/4/solid")
	b.choose("#mesh-file", "ball.stl", []byte(stl.String()))
	begun := time.Now()
	b.MustElement("#bring-mesh").MustClick()
	b.until("the ball", `() => document.getElementById('flashes').textContent.includes('triangles in')`)
	fmt.Printf("%-42s %.2f s (2 s)\n", "200,000 triangles of text STL: opened", time.Since(begun).Seconds())
	b.visit("/plans/4/proportion")
	b.until("the ball", `() => document.getElementById('solid-view')?.dataset.shown === 'fine'`)
	p50, p95 = ms(`async () => {
		const canvas = document.querySelector('#solid-view canvas'); canvas.focus();
		const frame = () => new Promise(r => requestAnimationFrame(r));
		const out = [];
		for (let i = 0; i < 125; i++) { canvas.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowLeft', bubbles: true })); await frame(); await frame(); out.push(Number(document.getElementById('solid-view').dataset.took)); }
		return out;
	}`)
	fmt.Printf("%-42s p50 %5.1f ms  p95 %5.1f ms  budget 16.7 ms  ratio %.2f\n", "200,000 triangles: a frame while turned", p50, p95, p95/16.7)
}
