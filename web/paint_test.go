package web

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"lampfern/core/colour"
)

// A colour that is the ground's own has a hairline; any other has none.
func TestAColourLikeTheGroundHasAHairline(t *testing.T) {
	for _, c := range []struct {
		surround, hex string
		line          bool
	}{{"bench", "#9b9b9b", true}, {"bench", "#9c9a99", true}, {"bench", "#858585", true}, {"bench", "#4b2346", false}, {"bench", "#ffffff", false},
		{"white", "#ffffff", true}, {"white", "#9b9b9b", false}, {"dark", "#2b2b2b", true}} {
		rgb, err := colour.ParseHex(c.hex)
		assert.NoError(t, err)
		v := View{Surround: c.surround}
		v.Light.Lamp = colour.Lamps()[0]
		if c.line {
			assert.Contains(t, string(v.Paint(rgb.Lab())), "box-shadow", c)
		} else {
			assert.NotContains(t, string(v.Paint(rgb.Lab())), "box-shadow", c)
		}
	}
	for _, s := range surrounds {
		assert.NotEmpty(t, grounds[s], s)
	}
}
