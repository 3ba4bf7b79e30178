package piece

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestCurtainAreasByHand(t *testing.T) {
	// Two by two blocks of 100 mm with 10 mm sashing: 230 × 230 mm, two of each
	// block. Peak 0.5·100·90 = 4500 less its spark 0.48² of it = 1036.8.
	p, err := Build("curtain", map[string]float64{"columns": 2, "rows": 2, "block": 100, "sash": 10}, Own{})
	require.NoError(t, err)
	assert.InDelta(t, 230, p.Width, 1e-9)
	areas := p.Areas()
	assert.InDelta(t, 2*(10000-4500)+2*5000, areas[0], 1e-6, "ground")
	assert.InDelta(t, 2*(4500-1036.8), areas[1], 1e-6, "peaks")
	assert.InDelta(t, 2*5000, areas[2], 1e-6, "hourglasses")
	assert.InDelta(t, 2*1036.8, areas[3], 1e-6, "sparks")
	assert.InDelta(t, 230*230-4*10000, areas[4], 1e-6, "sashing")
}

// silhouettes do not fill their rectangle.
var silhouettes = []string{"dress", "jacket", "waistcoat", "boat", "figure", "van", "house", "pot"}

func TestEveryTemplateCoversItsPieceOnce(t *testing.T) {
	for _, tpl := range Templates() {
		if slices.Contains([]string{"cloth", "stranded", "poured", "solid"}, tpl.Key) {
			continue // of cells, which cannot overlap
		}
		sets := []map[string]float64{nil, {}, {}, {"columns": 2, "rows": 3, "strips": 12}, {"sash": 60, "binding": 60, "block": 61.5}}
		for _, s := range tpl.Settings {
			sets[1][s.Key], sets[2][s.Key] = s.Min, s.Max
			for i := range s.Choices {
				sets = append(sets, map[string]float64{s.Key: float64(i)})
			}
		}
		for _, set := range sets {
			for _, s := range tpl.Settings { // what a made-up set leaves out of range takes its default
				if v, given := set[s.Key]; given && (v < s.Min || v > s.Max) {
					delete(set, s.Key)
				}
			}
			p, err := Build(tpl.Key, set, Own{})
			require.NoError(t, err)
			sum, area := 0.0, 0.0
			for i, s := range p.Shares() {
				assert.Positive(t, s, "%s %v: %s", tpl.Name, set, p.Parts[i].Name)
				sum += s
			}
			assert.InDelta(t, 1, sum, 1e-9, tpl.Name)
			for _, r := range p.Regions {
				area += r.Area()
				for _, q := range r.Outline {
					assert.True(t, q.X > -1e-6 && q.Y > -1e-6 && q.X < p.Width+1e-6 && q.Y < p.Height+1e-6, "%s %v lies outside", tpl.Name, set)
				}
			}
			if !slices.Contains(silhouettes, tpl.Key) {
				assert.InEpsilon(t, p.Width*p.Height, area, 1e-9, "%s %v", tpl.Name, set)
			}
			// What the grid finds covered is what the polygons add up to, so
			// nothing overlaps and nothing within is left out.
			cell, covered := max(p.Width, p.Height)/900, 0
			for _, label := range p.labels(int(math.Ceil(p.Width/cell)), int(math.Ceil(p.Height/cell)), cell) {
				if label >= 0 {
					covered++
				}
			}
			assert.InEpsilon(t, area, float64(covered)*cell*cell, 0.012, "%s %v", tpl.Name, set)
		}
	}
}

func TestAreasInClosedForm(t *testing.T) {
	disc := func(r float64) float64 { return 12 * r * r * math.Sin(math.Pi/12) }
	for _, c := range []struct {
		template string
		set      map[string]float64
		areas    []float64 // mm², in order of parts
	}{
		{"ninepatch", map[string]float64{"columns": 3, "rows": 3, "square": 10, "border": 20, "binding": 5}, []float64{5 * 5 * 100, 5 * 4 * 100, 4 * 900, 130*130 - 90*90, 140*140 - 130*130}},
		{"triangles", map[string]float64{"columns": 4, "rows": 4, "square": 50, "border": 10, "binding": 5, "setting": 2}, []float64{8 * 1250, 8 * 1250, 16 * 1250, 220*220 - 200*200, 230*230 - 220*220}},
		{"geese", map[string]float64{"columns": 2, "rows": 4, "goose": 100, "sash": 20, "binding": 10}, []float64{4 * 2500, 4 * 2500, 8 * 2500, 3 * 20 * 200, 280*220 - 260*200}},
		// A heart of 20 with two rounds of 10: light logs 20·10 + 30·10, then 40·10 + 50·10.
		{"logcabin", map[string]float64{"columns": 2, "rows": 2, "rounds": 2, "log": 10, "heart": 20, "binding": 5, "setting": 2}, []float64{4 * 400, 4 * 500, 4 * 900, 4 * 700, 4 * 1100, 130*130 - 120*120}},
		{"star", map[string]float64{"columns": 2, "rows": 1, "block": 80, "sash": 10, "binding": 5}, []float64{2 * 1600, 2 * 1600, 2 * 3200, 7 * 800, 6 * 100, 200*110 - 190*100}},
		{"rows", map[string]float64{"colours": 3, "repeats": 2, "rows": 9, "order": 1, "stitches": 100, "stitch": 4, "row": 3}, []float64{2 * 27 * 400, 2 * 9 * 400, 2 * 27 * 400}},
		{"granny", map[string]float64{"across": 2, "down": 1, "rounds": 3, "round": 10, "joining": 4, "order": 1}, []float64{400 + 2000, 2 * 1200, 2000 + 400, 132*68 - 2*3600}},
		{"soap", map[string]float64{"width": 70, "height": 70, "pours": 0, "drops": 2}, []float64{20 * 70, 30 * 70, 20*70 - 2*disc(6), 2 * disc(6)}},
		{"pot", map[string]float64{"width": 100, "height": 60, "rings": 2, "rim": 5}, []float64{13 * 16, 62 * 18, 500, 88 * 30, 76 * 30, 75 * 8}},
	} {
		p, err := Build(c.template, c.set, Own{})
		require.NoError(t, err)
		require.Len(t, p.Areas(), len(c.areas), c.template)
		for i, a := range p.Areas() {
			assert.InEpsilon(t, c.areas[i], a, 1e-9, "%s: %s", c.template, p.Parts[i].Name)
		}
	}
}

func TestBordersOfStrips(t *testing.T) {
	p, err := Build("strips", map[string]float64{"strips": 3, "width": 100, "length": 400, "binding": 20}, Own{})
	require.NoError(t, err)
	b := p.Borders()
	cell := 440.0 / gridLongest
	assert.InDelta(t, 400, b[0][1], 2*cell)
	assert.InDelta(t, 400, b[1][2], 2*cell)
	assert.Zero(t, b[0][2], "the outer strips do not touch")
	assert.InDelta(t, 200, b[1][3], 4*cell, "a middle strip touches the binding above and below")
	assert.InDelta(t, 600, b[0][3], 4*cell)
	for i := range b {
		assert.Zero(t, b[i][i])
		for j := range b {
			assert.Equal(t, b[i][j], b[j][i])
		}
	}
	widths := p.Widths(b)
	assert.Less(t, widths[3], 45.0, "the binding is thin")
	assert.Greater(t, widths[1], 60.0)
}

func TestBuildRefusesInPlainWords(t *testing.T) {
	_, err := Build("curtain", map[string]float64{"columns": 2.5}, Own{})
	assert.EqualError(t, err, "blocks across: choose a whole number from 2 to 12, not 2.5")
	_, err = Build("strips", map[string]float64{"width": 9000}, Own{})
	assert.ErrorContains(t, err, "from 10 to 400")
	_, err = Build("tent", nil, Own{})
	assert.ErrorContains(t, err, "no piece called")
}

func BenchmarkBorders(b *testing.B) {
	p, _ := Build("curtain", nil, Own{})
	for b.Loop() {
		p.Borders()
	}
}
