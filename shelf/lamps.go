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
			under = append(under, fmt.Sprintf("%.1f under the %s", p.Under, p.Lamp.Name))
		}
	}
	verb := "come together"
	if all[0].Apart {
		verb = "part"
	}
	return fmt.Sprintf("%s: %.1f apart in daylight, %s. Both were measured with a spectrum.", verb, all[0].Daylight, words.All(under))
}
