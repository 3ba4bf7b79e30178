package colour

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Colours whose family three naming surveys agree on, near the borders.
func TestFamiliesNearTheirBorders(t *testing.T) {
	for want, all := range map[FamilyName][]string{
		White: {"#fff5ee", "#ebebeb", "#eff0ea"}, Black: {"#222222", "#282828"}, Tan: {"#c19a6b", "#b2a28a", "#a9a491"},
		Cream: {"#e6daa6", "#fffdd0", "#ffffcb", "#eae6dc"},
		Grey:  {"#8f817f", "#978a84"}, BlueGreen: {"#406060"}, Pink: {"#c20078", "#9d0759", "#c08081"}, Violet: {"#874c62"}, Brown: {"#79443b"},
		Green: {"#a0bf16"},
	} {
		for _, hex := range all {
			rgb, err := ParseHex(hex)
			require.NoError(t, err)
			assert.Equal(t, want, Family(rgb.Lab()), hex)
		}
	}
}

// Every colour of the screen lies in a field: the table has no holes.
func TestFieldsHaveNoHoles(t *testing.T) {
	for r := 0; r < 256; r += 15 {
		for g := 0; g < 256; g += 15 {
			for b := 0; b < 256; b += 15 {
				ok := (RGB{R: float64(r) / 255, G: float64(g) / 255, B: float64(b) / 255}).Lab().OKLCh()
				held := false
				for _, f := range fields {
					held = held || f.holds(ok)
				}
				assert.True(t, held, "%d %d %d", r, g, b)
			}
		}
	}
}

func TestClearnessAndForce(t *testing.T) {
	lab := func(hex string) Lab {
		rgb, err := ParseHex(hex)
		require.NoError(t, err)
		return rgb.Lab()
	}
	for _, hex := range []string{"#fffffa", "#fdfdff", "#030000", "#00000a", "#fffaf5"} {
		assert.NotEqual(t, "clear", ClearnessWord(lab(hex).Clearness()), "%s: near white and near black the ratio says nothing", hex)
	}
	assert.Equal(t, "clear", ClearnessWord(lab("#fffacd").Clearness()), "lemon chiffon is clear for how light it is")
	assert.Less(t, lab("#fffacd").Force(), .35, "and weighs little beside pure yellow")
	assert.InDelta(t, 1, lab("#ffff00").Force(), .03)
	for _, hex := range []string{"#ff0000", "#00ff00", "#0000ff", "#ff00ff", "#00ffff"} {
		assert.InDelta(t, 1, lab(hex).Force(), .05, hex)
	}
	assert.Zero(t, Lab{L: 50}.Force())
	assert.Greater(t, lab("#b22222").Force(), lab("#e8a0a0").Force())
}

func TestEyesAreNamedForWhatIsSimulated(t *testing.T) {
	a, b := RGB{R: .75, G: .42, B: .16}.Lab(), RGB{R: .50, G: .52, B: .16}.Lab()
	blind, weak := Confused(a, b)
	assert.Contains(t, blind, "green-blind")
	assert.NotContains(t, blind, "blue-blind", "which is very rare")
	for _, w := range weak {
		assert.Contains(t, w, "-weak")
	}
	assert.LessOrEqual(t, len(weak), len(blind), "who is weak loses no more than who is blind")
}

func TestBasicsOfAWardrobe(t *testing.T) {
	for hex, want := range map[string]bool{"#1a2545": true, "#14213f": true, "#6b6b2a": true, "#303236": true, "#f4f2ec": true, "#2050c8": false,
		"#3c5878": false, "#a8d020": false, "#4b2346": false} {
		assert.Equal(t, want, parse(t, hex).Basic(), hex)
	}
}

// The way a hue leans is told by where it goes on the wheel, and not by what it passes.
func TestLeaningIsToldByWhereItGoes(t *testing.T) {
	peach, ochre := parse(t, "#f0b49c"), parse(t, "#c48a2c")
	assert.Equal(t, Yellow, Beside(ochre, peach).Leans)
	assert.Equal(t, "", Beside(ochre, ochre).Temperature())
	assert.Equal(t, "cooler", Beside(parse(t, "#2050c8"), ochre).Temperature())
	assert.Equal(t, "warmer", Beside(ochre, parse(t, "#2050c8")).Temperature())
}

func parse(t *testing.T, hex string) Lab {
	t.Helper()
	c, err := ParseHex(hex)
	require.NoError(t, err)
	return c.Lab()
}
