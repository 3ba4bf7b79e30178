package shelf

import (
	"fmt"

	"lampfern/core/colour"
	"lampfern/core/words"
)

// UnderLamps says under which lamps two cards part or come together, as the end of a
// sentence that names both; empty where they do not, or where one of them was not measured
// with a spectrum, for then nothing can tell.
func UnderLamps(a, b *Card) string {
	if a.Spectrum == (colour.Spectrum{}) || b.Spectrum == (colour.Spectrum{}) {
		return ""
	}
	all := colour.Partings(a.Spectrum, b.Spectrum)
	if len(all) == 0 {
		return ""
	}
	var under []string
	for _, p := range all {
		if p.Apart == all[0].Apart {
			under = append(under, fmt.Sprintf("ΔE %.0f under the %s", p.Under, p.Lamp.Name))
		}
	}
	verb := "match"
	if all[0].Apart {
		verb = "separate"
	}
	return fmt.Sprintf("%s: ΔE %.0f in daylight, %s.", verb, all[0].Daylight, words.All(under))
}
