package material

import (
	"fmt"
	"math"
	"strings"

	"lampfern/core/words"
)

// AmountWords are an amount with its unit.
func AmountWords(v float64, unit string) string {
	switch {
	case unit == Quarter:
		v = math.Round(10*v) / 10
		return fmt.Sprintf("%g %s", v, map[bool]string{true: Quarter, false: Quarter + "s"}[v == 1])
	case unit == "m" && v >= 0.995:
		return fmt.Sprintf("%.2f m", v)
	case unit == "m":
		return fmt.Sprintf("%.0f cm", math.Ceil(100*v-1e-9))
	case unit == "pieces" && v > 0 && v < 0.01:
		return "less than 1% of one"
	case unit == "pieces" && v > 0 && v < 1-1e-9:
		return fmt.Sprintf("%.0f%% of one", 100*v)
	case unit == "pieces" && v < 100 && math.Abs(v-math.Round(v)) > 0.05:
		return fmt.Sprintf("%.1f pieces", v)
	case unit == "pieces" || unit == "sheets":
		return words.Plural(int(math.Ceil(v-1e-9)), strings.TrimSuffix(unit, "s"), unit)
	case v >= 100:
		return fmt.Sprintf("%.0f %s", v, unit)
	}
	return fmt.Sprintf("%.3g %s", v, unit)
}
