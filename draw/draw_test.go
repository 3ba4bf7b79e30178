package draw

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"encoding/xml"
	"flag"
	"fmt"
	"image/png"
	"io"
	"math"
	"os"
	"os/exec"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/card"
	"lampfern/core/colour"
	"lampfern/core/piece"
)

var update = flag.Bool("update", false, "write the golden drawings anew")

func lab(t *testing.T, hex string) colour.Lab {
	c, err := colour.ParseHex(hex)
	require.NoError(t, err)
	return c.Lab()
}

// golden compares a drawing with the one kept, and sees that it is sound XML.
func golden(t *testing.T, name string, s Scene) {
	t.Helper()
	svg := s.SVG()
	d := xml.NewDecoder(strings.NewReader(svg))
	for {
		if _, err := d.Token(); err == io.EOF {
			break
		} else {
			require.NoError(t, err, name)
		}
	}
	path := "testdata/" + name + ".svg"
	if *update {
		require.NoError(t, os.MkdirAll("testdata", 0o755))
		require.NoError(t, os.WriteFile(path, []byte(svg), 0o644))
	}
	want, err := os.ReadFile(path)
	require.NoError(t, err, "run go test ./draw -update once")
	assert.Equal(t, string(want), svg, "%s changed; look at it, then run go test ./draw -update", name)
}

func TestGoldenDrawings(t *testing.T) {
	plum, gold := lab(t, "#4b2346"), lab(t, "#e0a52e")
	w := WheelPicture{Lead: &gold, LeadName: "Marrow <flesh>", LeadFrond: 1, LeadLeaf: 3,
		Lit:      []LitPlace{{0.8, true, false}, {6.8, false, false}, {9.8, false, true}},
		WarmFrom: 10.5, WarmSpan: 6}
	for range 12 {
		f := WheelFrond{Name: "red-orange"}
		for j := range 10 {
			l := WheelLeaflet{Ideal: plum, Title: "nothing"}
			if j%3 == 0 {
				l.Owned = &gold
			}
			l.Shaded = j > 7
			f.Leaflets = append(f.Leaflets, l)
		}
		w.Fronds = append(w.Fronds, f)
	}
	golden(t, "wheel", Wheel(w))
	run := RunPicture{Cards: []RunCard{{"m1", "Plum curtain", plum, 0.4, ""}, {"m2", "Cranesbill", lab(t, "#8a5a86"), 14, "too red"},
		{"m3", "Marrow flesh of a very long name indeed", gold, -40, "too grey"}, {"m4", "Near it", gold, 0, ""}},
		Line: true, Sides: [2]string{"blue", "red"}, Gaps: [][2]float64{{2.1, 4.5}}, Crowds: [][2]int{{2, 3}}, Wanted: []colour.Lab{plum}}
	golden(t, "run", Run(run))
	golden(t, "run-empty", Run(RunPicture{}))
	golden(t, "strip", StripScene("Run", []Strip{{"Plum curtain", plum, "measured"}, {"Marrow flesh", gold, "photo"}}))
	golden(t, "chits", ChitPages("Stage curtain", []ChitCard{{plum, "Violet, value 2.1",
		[]string{"Between Sloe and Plum.", "It must not lean toward red."}}})[0])
	p := built(t, "curtain", piece.Values{"columns": 2, "rows": 2}, nil)
	drawn, err := Piece(Light{ValuesOnly: true}, p, []PiecePart{{Key: "ground", Name: "ground", Card: "Plum", Lab: &plum},
		{Key: "peak", Name: "peaks"}, {Key: "hourglass", Name: "hourglasses"}, {Key: "spark", Name: "sparks", Card: "Gold", Lab: &gold},
		{Key: "sashing", Name: "sashing"}}, PieceLook{})
	require.NoError(t, err)
	golden(t, "piece", drawn)
	surfaces, err := Piece(Light{}, p, []PiecePart{{Key: "ground", Name: "ground", Card: "Sprig", Lab: &plum,
		Surface: Surface{Picture: "/sprig.jpg", Wide: 200, High: 150}}, {Key: "peak", Name: "peaks", Card: "Brass", Lab: &gold,
		Surface: Surface{Flash: &plum}},
		{Key: "hourglass", Name: "hourglasses", Card: "Wool", Lab: &gold, Surface: Surface{Stitch: true}}, {Key: "spark", Name: "sparks"},
		{Key: "sashing", Name: "sashing"}}, PieceLook{Stitch: piece.Point{X: 9, Y: 7}})
	require.NoError(t, err)
	golden(t, "surfaces", surfaces)
	// What a page shows already is not drawn again.
	keyed := func(have string) Scene {
		s, err := Piece(Light{}, p, []PiecePart{{Key: "ground", Name: "ground", Card: "Plum", Lab: &plum}, {Key: "peak", Name: "peaks"},
			{Key: "hourglass", Name: "hourglasses"}, {Key: "spark", Name: "sparks"}, {Key: "sashing", Name: "sashing"}},
			PieceLook{Key: "abc", Have: []string{have}})
		require.NoError(t, err)
		return s
	}
	once := keyed("")
	assert.Contains(t, once.SVG(), "<path")
	assert.NotContains(t, keyed(once.Key).SVG(), "<path")
	assert.Contains(t, keyed(once.Key).SVG(), `aria-label="ground: Plum. Press to give it the chosen card."`)
	assert.Contains(t, keyed("other").SVG(), "<path")
	golden(t, "battens", Battens(Light{}, []Batten{{1, "Plum", 0.3, plum}, {2, "Gold", 0.1, gold}}))
	a4, err := card.FindPaper("a4")
	require.NoError(t, err)
	usual, err := card.Lay(a4, card.Sizes()[0])
	require.NoError(t, err)
	one := []SheetCard{{Name: "Plum curtain", Lines: []string{"fabric", "value 2.1", "measured"},
		Back: []string{"fabric, matte", "Kiln & Rowan KR-106"}, Number: 7, Colour: plum, Share: 0.4, Role: "ground"}}
	golden(t, "sheet", Sheets(usual, "Stage curtain", one, Faces, true)[0])
	golden(t, "backs", Sheets(usual, "Stage curtain", one, Backs, false)[0])
	golden(t, "blanks", Sheets(usual, "Stage curtain", one, Blanks, false)[0])
	golden(t, "fan", FanSheets(a4, "Stage curtain", one)[0])
	golden(t, "pocket", PocketSheet(a4, "Stage curtain", one, Pocket{Facts: []string{"Triadic, led by Plum.", "Still to buy: Plum curtain."},
		Wishes: []SheetCard{{Name: "A light green", Colour: gold}}}))
	golden(t, "proportion", ProportionSheet(a4, "Stage curtain", one))
	golden(t, "chart", ChartSheets(a4, "Markers", one, 3)[0])
}

// TestRunNamesNeverOverlap lays runs of many cards at like values.
func TestRunNamesNeverOverlap(t *testing.T) {
	for _, n := range []int{1, 8, 24, 60} {
		var cards []RunCard
		for i := range n {
			cards = append(cards, RunCard{Name: "A cloth with a name", Lab: colour.Lab{L: 20 + 60*float64(i)/float64(n)}, Off: float64(i%7) - 3})
		}
		cards[0].Words = "too red"
		var laid []box
		high := cardHeight(cards)
		names := runNames(cards, runPlaces(cards, high), high, runLabel, "for-wide")
		assert.False(t, names[0].none, "a stray's name is never lost")
		for i, name := range names {
			if name.none {
				continue
			}
			b := box{name.at.X, name.at.Y - runLabel/2, name.at.X + measure(cards[i].said(), runLabel, cards[i].Words != ""), name.at.Y + runLabel/2}
			for _, o := range laid {
				assert.False(t, b.meets(o), "%d cards", n)
			}
			laid = append(laid, b)
		}
		if n <= 24 {
			assert.Len(t, laid, n, "every name has room")
		}
	}
}

// TestPictureAtTrueSize reads a PNG back: its size, its resolution and its
// colours.
func TestPictureAtTrueSize(t *testing.T) {
	plum, gold := lab(t, "#4b2346"), lab(t, "#e0a52e")
	data, err := PNG(StripScene("Run", []Strip{{"Plum curtain", plum, "measured"}, {"Marrow flesh", gold, "photo"}}))
	require.NoError(t, err)
	img, err := png.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	b := img.Bounds()
	assert.InDelta(t, 50/25.4*300, b.Dx(), 1)
	assert.InDelta(t, (stripHigh+stripNames)/25.4*300, b.Dy(), 1)
	assert.Contains(t, string(data[:80]), "sRGB\x00", "it says that its colours are sRGB's")
	at := bytes.Index(data, []byte("pHYs"))
	require.Positive(t, at)
	assert.Equal(t, uint32(11811), binary.BigEndian.Uint32(data[at+4:]), "300 dots an inch")
	hex := func(x, y int) string {
		r, g, b, _ := img.At(x, y).RGBA()
		return fmt.Sprintf("#%02x%02x%02x", r>>8, g>>8, b>>8)
	}
	assert.Equal(t, "#4b2346", hex(100, 100))
	assert.Equal(t, "#e0a52e", hex(400, 100))
	edge := 0
	for x := range b.Dx() {
		if hex(x, 300) == "#4b2346" {
			edge = x
		}
	}
	assert.InDelta(t, 25/25.4*300, float64(edge+1), 1.2, "a swatch measures 25 mm to a tenth")
	dark := 0
	for y := b.Dy() * 82 / 100; y < b.Dy(); y++ {
		for x := range b.Dx() / 2 {
			if hex(x, y) == "#000000" {
				dark++
			}
		}
	}
	assert.Greater(t, dark, 300, "names are set in ink")
	_, err = PNG(StripScene("Run", make([]Strip, 5000)))
	assert.ErrorContains(t, err, "choose fewer colours")
	dashedLine := Scene{Width: 20, Height: 5, Millimetres: true, Nodes: []Node{Shape{Path: Line(Point{0, 2}, Point{20, 2}),
		Style: Style{Stroke: Ink, Width: 0.5, Dash: []float64{2, 2}}}, Shape{Path: Circle(Point{10, 2}, 1),
		Style: Style{Fill: Solid(colour.RGB{R: 1})}}}}
	data, err = PNG(dashedLine)
	require.NoError(t, err)
	img, err = png.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	assert.Equal(t, "#000000", hex(12, 24))
	assert.Equal(t, "#ffffff", hex(36, 24), "a gap of the dash")
	assert.Equal(t, "#ff0000", hex(118, 24))
}

func TestCombinationsOnPaper(t *testing.T) {
	plum, gold := lab(t, "#4b2346"), lab(t, "#e0a52e")
	all := []Tried{{"Duo · complementary", []string{"Plum curtain", "Marrow flesh"}, []colour.Lab{plum, gold}, "Loud, but the sparks carry."},
		{"Solo", []string{"Plum curtain"}, []colour.Lab{plum}, ""}}
	golden(t, "tried", TriedPages("Stage curtain", all)[0])
	for len(all) < 21 {
		all = append(all, all[0])
	}
	pages := TriedPages("Stage curtain", all)
	require.Len(t, pages, 3)
	for _, p := range pages {
		assert.True(t, p.Millimetres)
		assert.Equal(t, []float64{210, 297}, []float64{p.Width, p.Height})
		for _, n := range p.Nodes {
			g, is := n.(Group)
			if !is {
				continue
			}
			for _, k := range g.Nodes {
				if sh, is := k.(Shape); is {
					for _, seg := range sh.Path.segments {
						if seg.op != 'Z' {
							assert.True(t, seg.p[0].X >= 14.99 && seg.p[0].X <= 195.01 && seg.p[0].Y <= 285, "inside the margins")
						}
					}
				}
			}
		}
	}
	data, err := PDF("Tried", pages)
	require.NoError(t, err)
	assert.Equal(t, 3, bytes.Count(data, []byte("/Type /Page\n")))
	assert.Empty(t, TriedPages("Stage curtain", nil))
}

func TestLight(t *testing.T) {
	gold := lab(t, "#e0a52e")
	day, in := Light{}.Show(gold)
	assert.True(t, in)
	assert.Equal(t, "#e0a52e", day.Hex())
	grey, _ := Light{ValuesOnly: true}.Show(gold)
	assert.InDelta(t, gold.L, grey.Lab().L, 0.01)
	assert.InDelta(t, 0, grey.Lab().Chroma(), 0.01)
	for _, l := range colour.Lamps()[1:] {
		white, _ := Light{Lamp: l}.Show(colour.Lab{L: 70})
		assert.Greater(t, white.Lab().B, 1.0, "%s casts a warm light", l.Name)
	}
	eye := colour.Deutan
	weak, _ := Light{Eye: &eye}.Show(gold)
	assert.Equal(t, colour.Simulate(day, colour.Deutan, 1), weak)
	same, _ := Light{Lamp: colour.Lamps()[0]}.Show(gold)
	assert.Equal(t, day, same)
}

func TestFitAndWrap(t *testing.T) {
	assert.Equal(t, "Plum", fit("Plum", 10, false, 100))
	cut := fit("A very long name that cannot fit", 10, false, 60)
	assert.True(t, strings.HasSuffix(cut, "…"))
	assert.LessOrEqual(t, measure(cut, 10, false), 60.0)
	assert.Empty(t, fit("Plum", 10, false, 1))
	assert.Equal(t, []string{"Curtain fringe", "gold of the tour"}, wrap("Curtain fringe gold of the tour", 10, true, 85, 2))
	assert.Greater(t, measure("Plum", 10, true), measure("Plum", 10, false))
	assert.Equal(t, "Łąka ½ × 3° ?", printable("Łąka ½ × 3° 🧵"))
}

// inflate returns the content streams of a PDF that draw something.
func inflate(t *testing.T, pdf []byte) []string {
	var out []string
	for _, m := range regexp.MustCompile(`(?s)stream\r?\n(.*?)\r?\nendstream`).FindAllSubmatch(pdf, -1) {
		r, err := zlib.NewReader(bytes.NewReader(m[1]))
		if err != nil {
			continue
		}
		text, err := io.ReadAll(r)
		if err == nil && bytes.Contains(text, []byte(" re")) || bytes.Contains(text, []byte(" l")) {
			out = append(out, string(text))
		}
	}
	return out
}

// TestCardMeasuredInThePDF reads the PDF's own drawing commands and measures
// the first card: the union of its tab and its colour.
func TestCardMeasuredInThePDF(t *testing.T) {
	for _, paper := range card.Papers() {
		l, err := card.Lay(paper, card.Sizes()[0])
		require.NoError(t, err)
		paper = l.Paper
		cards := make([]SheetCard, l.PerSheet()+1)
		for i := range cards {
			cards[i] = SheetCard{Name: "Plum curtain", Colour: lab(t, "#4b2346")}
		}
		pdf, err := PDF("Stage curtain", Sheets(l, "Stage curtain", cards, Faces, false))
		require.NoError(t, err)
		boxes := regexp.MustCompile(`/MediaBox \[0 0 ([\d.]+) ([\d.]+)\]`).FindAllStringSubmatch(string(pdf), -1)
		require.NotEmpty(t, boxes)
		num := func(s string) float64 {
			v, err := strconv.ParseFloat(s, 64)
			require.NoError(t, err)
			return v * 25.4 / 72
		}
		for _, b := range boxes {
			assert.InDelta(t, paper.Width, num(b[1]), 0.05, paper.Name)
			assert.InDelta(t, paper.Height, num(b[2]), 0.05, paper.Name)
		}
		assert.Contains(t, string(pdf), "/FontFile2", "the font is embedded")
		pages := inflate(t, pdf)
		require.Len(t, pages, 2, "one card too many takes a second sheet")

		// Closed outlines only: crop marks are open lines.
		var left, right, top, bottom = math.Inf(1), math.Inf(-1), math.Inf(-1), math.Inf(1)
		point := regexp.MustCompile(`([\d.]+) ([\d.]+) [ml]\b`)
		outlines := 0
		var block []string
		for _, line := range strings.Split(pages[1], "\n") { // the second sheet holds one card
			if strings.HasSuffix(strings.TrimSpace(line), " m") {
				block = nil
			}
			block = append(block, line)
			if strings.TrimSpace(line) != "h" {
				continue
			}
			outlines++
			for _, p := range point.FindAllStringSubmatch(strings.Join(block, "\n"), -1) {
				x, y := num(p[1]), num(p[2])
				left, right, top, bottom = math.Min(left, x), math.Max(right, x), math.Max(top, y), math.Min(bottom, y)
			}
		}
		assert.Equal(t, 2, outlines, "tab and colour")
		assert.InDelta(t, 54, right-left, 0.02, paper.Name)
		assert.InDelta(t, 86, top-bottom, 0.02, paper.Name)
	}
}

// readPPM reads a raw portable pixmap.
func readPPM(t *testing.T, path string) (w, h int, at func(x, y int) (r, g, b byte)) {
	t.Helper()
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	var most int
	_, err = fmt.Sscanf(string(data[:20]), "P6\n%d %d\n%d", &w, &h, &most)
	require.NoError(t, err)
	pixels := data[len(data)-3*w*h:]
	return w, h, func(x, y int) (r, g, b byte) { i := 3 * (y*w + x); return pixels[i], pixels[i+1], pixels[i+2] }
}

// TestCardMeasuredOnPaper rasterises a PDF with poppler at 500 dots an inch and
// measures cards of every size on both papers to 0.1 mm.
func TestCardMeasuredOnPaper(t *testing.T) {
	tool, err := exec.LookPath("pdftoppm")
	require.NoError(t, err, "poppler-utils is missing; ./test installs it")
	const dots, tenth = 500.0, 0.1
	for _, paper := range card.Papers() {
		for _, size := range card.Sizes() {
			l, err := card.Lay(paper, size)
			require.NoError(t, err)
			red := colour.RGB{R: 0.8, G: 0.1, B: 0.1}.Lab()
			data, err := PDF("Cards", Sheets(l, "Cards", []SheetCard{{Name: "Łąka, naïve عربي 🧵 a name that goes on and on", Colour: red}},
				Faces, false))
			require.NoError(t, err)
			dir := t.TempDir()
			require.NoError(t, os.WriteFile(dir+"/c.pdf", data, 0o644))
			out, err := exec.Command(tool, "-r", fmt.Sprint(dots), "-singlefile", dir+"/c.pdf", dir+"/c").CombinedOutput()
			require.NoError(t, err, string(out))
			w, h, pixel := readPPM(t, dir+"/c.ppm")
			mm := func(px int) float64 { return float64(px) / dots * 25.4 }
			assert.InDelta(t, l.Paper.Width, mm(w), tenth)
			assert.InDelta(t, l.Paper.Height, mm(h), tenth)
			isRed := func(x, y int) bool {
				r, g, b := pixel(x, y)
				return r > 150 && g < 80 && b < 80
			}
			at := l.At(0)
			x0, y0 := int((at.X+size.Width/2)/25.4*dots), int((at.Y+size.Tab+(size.Height-size.Tab)/2)/25.4*dots)
			require.True(t, isRed(x0, y0), "the middle of the field")
			reach := func(dx, dy int) int {
				n := 0
				for isRed(x0+n*dx, y0+n*dy) {
					n++
				}
				return n
			}
			left, right, up, down := reach(-1, 0), reach(1, 0), reach(0, -1), reach(0, 1)
			assert.InDelta(t, size.Width, mm(left+right-1), tenth, "%s on %s", size.Name, paper.Name)
			assert.InDelta(t, size.Height-size.Tab, mm(up+down-1), tenth)
			assert.InDelta(t, at.X, mm(x0-left+1), tenth, "where the layout puts it")
			assert.InDelta(t, at.Y+size.Tab, mm(y0-up+1), tenth)
		}
	}
}

// BenchmarkPDF200 makes a deck of 200 cards (1.5 s, 2 MB).
func BenchmarkPDF200(b *testing.B) {
	l, err := card.Lay(card.Papers()[0], card.Sizes()[0])
	require.NoError(b, err)
	var cards []SheetCard
	for i := range 200 {
		cards = append(cards, SheetCard{Name: fmt.Sprintf("Cloth of number %d", i),
			Lines:  []string{"fabric · KR-106 · lot 21", "value 2.1 · violet · soft", "measured, good to about 1"},
			Colour: colour.Lab{L: float64(i%100) + 0.5, A: float64(i%60) - 30, B: float64(i%50) - 25}})
	}
	for b.Loop() {
		data, err := PDF("Deck", Sheets(l, "Deck", cards, Faces, true))
		require.NoError(b, err)
		b.ReportMetric(float64(len(data))/(1<<20), "MB")
	}
}

// Under a lamp a material that was measured with its spectrum is seen by it.
func TestALampShowsASpectrum(t *testing.T) {
	c := colour.Lab{L: 50, A: 10, B: 10}
	var s colour.Spectrum
	for i := range s {
		s[i] = .2
	}
	by := Light{Lamp: colour.Lamps()[1], Spectra: colour.Spectra{c: s}}
	one, _ := by.Show(c)
	grey, _ := by.Show(s.Lab())
	assert.Less(t, colour.DeltaE2000(one.Lab(), grey.Lab()), 1.0)
	without, _ := Light{Lamp: colour.Lamps()[1]}.Show(c)
	assert.Greater(t, colour.DeltaE2000(one.Lab(), without.Lab()), 5.0)
}

func TestTextOnPaperKeepsItsWidthWithoutItsFont(t *testing.T) {
	s := Scene{Width: 100, Height: 50, Millimetres: true}
	s.Add(Text{At: Point{5, 5}, Words: "Plum curtain", Size: 4})
	assert.Contains(t, s.SVG(), fmt.Sprintf(`textLength="%.3f" lengthAdjust="spacingAndGlyphs"`, measure("Plum curtain", 4, false)))
	s.Millimetres = false
	assert.NotContains(t, s.SVG(), "textLength", "on a page a style sheet may make it larger")
}
