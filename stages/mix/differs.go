package mix

import (
	"fmt"
	"math"

	"lampfern/core/colour"
	"lampfern/core/words"
)

// Differences from which they are named: value steps, C*ab, and degrees of hue where
// there is enough of it. A third of them is a little.
const (
	lighterFrom = 0.2
	clearerFrom = 3.0
	leansFrom   = 5.0
	hueFrom     = 8.0
	little      = 1.0 / 3
)

// differs says how a colour differs from another, in words.
func differs(from, c colour.Lab) string {
	if out := differing(from, c, 1); len(out) > 0 {
		return words.List(out)
	}
	if out := differing(from, c, little); len(out) > 0 {
		return "a little " + words.List(out)
	}
	return "barely different"
}

func differing(from, c colour.Lab, of float64) (out []string) {
	switch d := (c.L - from.L) / 10; {
	case d >= lighterFrom && of == 1:
		out = append(out, fmt.Sprintf("lighter by %.1f", d))
	case d <= -lighterFrom && of == 1:
		out = append(out, fmt.Sprintf("darker by %.1f", -d))
	case d >= of*lighterFrom:
		out = append(out, "lighter")
	case d <= -of*lighterFrom:
		out = append(out, "darker")
	}
	switch d := c.Chroma() - from.Chroma(); {
	case d >= of*clearerFrom:
		out = append(out, "clearer")
	case d <= -of*clearerFrom:
		out = append(out, "greyer")
	}
	if from.Chroma() >= hueFrom && c.Chroma() >= hueFrom && math.Abs(colour.HueBetween(from.OKLCh().H, c.OKLCh().H)) >= of*leansFrom {
		out = append(out, "more "+string(colour.TurnsToward(from, c)))
	}
	return out
}

// ApartWords says how far two colours are apart, in whole ΔE00.
func ApartWords(apart float64) string {
	if apart < 1 {
		return "under 1 apart"
	}
	return fmt.Sprintf("ΔE %.0f", apart)
}
