package piece

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestCurtainAreasByHand(t *testing.T) {
	// Two by two blocks of 100 mm with 10 mm sashing: 230 × 230 mm, two of each
	// block. Peak 0.5·100·90 = 4500 less its spark 0.48² of it = 1036.8.
	p, err := Build("curtain", map[string]float64{"columns": 2, "rows": 2, "block": 100, "sash": 10})
	require.NoError(t, err)
	assert.InDelta(t, 230, p.Width, 1e-9)
	areas := p.Areas()
	assert.InDelta(t, 2*(10000-4500)+2*5000, areas[0], 1e-6, "ground")
	assert.InDelta(t, 2*(4500-1036.8), areas[1], 1e-6, "peaks")
	assert.InDelta(t, 2*5000, areas[2], 1e-6, "hourglasses")
	assert.InDelta(t, 2*1036.8, areas[3], 1e-6, "sparks")
	assert.InDelta(t, 230*230-4*10000, areas[4], 1e-6, "sashing")
}

func TestEveryTemplateCoversItsPieceOnce(t *testing.T) {
	for _, tpl := range Templates() {
		for _, set := range []map[string]float64{nil, {"columns": 2, "rows": 3, "strips": 12}, {"sash": 60, "binding": 60, "block": 41.5}} {
			p, err := Build(tpl.Key, set)
			require.NoError(t, err)
			sum := 0.0
			for _, s := range p.Shares() {
				assert.Positive(t, s)
				sum += s
			}
			assert.InDelta(t, 1, sum, 1e-9, tpl.Name)
			for _, label := range p.labels(100, int(100*p.Height/p.Width), p.Width/100) {
				assert.GreaterOrEqual(t, label, int16(0), "no hole in %s", tpl.Name)
			}
		}
	}
}

func TestBordersOfStrips(t *testing.T) {
	p, err := Build("strips", map[string]float64{"strips": 3, "width": 100, "length": 400, "binding": 20})
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
	_, err := Build("curtain", map[string]float64{"columns": 2.5})
	assert.EqualError(t, err, "blocks across: choose a whole number from 2 to 12, not 2.5")
	_, err = Build("strips", map[string]float64{"width": 9000})
	assert.ErrorContains(t, err, "from 10 to 400")
	_, err = Build("tent", nil)
	assert.ErrorContains(t, err, "no piece called")
}

func BenchmarkBorders(b *testing.B) {
	p, _ := Build("curtain", nil)
	for b.Loop() {
		p.Borders()
	}
}
