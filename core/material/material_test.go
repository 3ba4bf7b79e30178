package material

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"lampfern/core/colour"
)

func TestTidyTakesDefaults(t *testing.T) {
	m := Material{Name: "  Plum \t curtain ", Kind: "YARN", Source: "Measured", Colour: colour.Lab{L: 20, A: 10, B: -5}}
	assert.Nil(t, m.Tidy())
	assert.Equal(t, "Plum curtain", m.Name)
	assert.Equal(t, []string{"yarn", "matte", "measured"}, []string{m.Kind, m.Finish, m.Source})
	assert.Equal(t, 1.0, m.Uncertainty)
	assert.Equal(t, "measured with a reader, accurate to about ΔE 1", m.SourceWords())
}

func TestTidyNamesEveryProblem(t *testing.T) {
	m := Material{Kind: "cheese", Finish: "sticky", Source: "dreamt", Lot: strings.Repeat("x", 81), Reference: strings.Repeat("é", 80),
		Remark: strings.Repeat("x", 501), Colour: colour.Lab{L: 101}, Uncertainty: -1}
	p := m.Tidy()
	for _, field := range []string{"name", "kind", "finish", "source", "lot", "remark", "colour", "uncertainty"} {
		assert.NotEmpty(t, p[field], field)
	}
	assert.NotContains(t, p, "reference", "eighty characters fit, whatever their bytes")
	assert.Contains(t, p.Error(), "Give the material a name.")
	long := Material{Name: strings.Repeat("n", 61)}
	assert.Contains(t, long.Tidy()["name"], "60 characters")
	for _, c := range []colour.Lab{{L: -1}, {A: 200}, {B: -129}, {L: math.NaN()}} {
		bad := Material{Name: "x", Colour: c}
		assert.Contains(t, bad.Tidy()["colour"], "is not possible")
	}
}
