package colour

import (
	"maps"
	"math"
	"slices"
	"strings"
	"sync"
)

// PlainDoubt is how far a colour known by a plain name may be off, in ΔE00.
const PlainDoubt = 12.0

// plainNames are colours by the words that everybody has for them: the middle of what makers of things
// call so, which for many words is darker and greyer than what CSS Color 4 has under them for screens.
var plainNames = map[string]string{
	"white": "#ffffff", "off white": "#f5f1e6", "ivory": "#f6f0dc", "cream": "#f5ecd0", "ecru": "#e3d9c0", "natural": "#e6dcc3",
	"pearl": "#ece6da", "beige": "#d9c7a3", "sand": "#d2b98c", "stone": "#b9ae9a", "oatmeal": "#d8ccb4", "tan": "#d2b48c", "camel": "#c19a6b",
	"fawn": "#c8a878", "buff": "#dcb97e", "wheat": "#e5c98f", "straw": "#e0c874", "taupe": "#8b7d6f", "mushroom": "#b3a394", "brown": "#6f4a2d",
	"chestnut": "#75402a", "chocolate": "#4a2f22", "coffee": "#5a4030", "tobacco": "#7d5a33", "umber": "#5f4a35", "sepia": "#6b4a2f",
	"walnut": "#5d432c", "mahogany": "#5e2a20", "bronze": "#8c6a3a", "copper": "#b06a3c", "rust": "#a5482a", "brick": "#a04a3a",
	"terracotta": "#c4694a", "sienna": "#a0522d", "cinnamon": "#a8623a", "ginger": "#b8682c", "ochre": "#c68b2c", "mustard": "#cda22d",
	"gold": "#d4a62a", "amber": "#e8a21c", "honey": "#dda23a", "yellow": "#f7d716", "lemon": "#f6e84a", "primrose": "#f0e38c",
	"butter": "#f5e29a", "saffron": "#f0aa28", "marigold": "#f0a010", "orange": "#f08418", "tangerine": "#f0802a", "pumpkin": "#dd7020",
	"apricot": "#f3b184", "peach": "#f7c4a0", "coral": "#f07a64", "salmon": "#f09480", "shrimp": "#eda593", "red": "#cc1f24",
	"scarlet": "#d52a1e", "vermilion": "#dc3c22", "crimson": "#b0182f", "cherry": "#b4163a", "ruby": "#9c1838", "raspberry": "#b02a58",
	"claret": "#721c34", "wine": "#6a2034", "burgundy": "#641b30", "maroon": "#671e28", "garnet": "#74202c", "oxblood": "#561c1e",
	"pink": "#f0a0b4", "rose": "#d8748c", "old rose": "#c08081", "blush": "#e6b8b0", "shell pink": "#f4cdc6", "hot pink": "#ec4c94",
	"fuchsia": "#d0309a", "magenta": "#c42a8c", "cerise": "#c42a62", "plum": "#5c2e50", "aubergine": "#43253c", "damson": "#46284a",
	"mulberry": "#7a2c54", "mauve": "#a3829e", "lilac": "#c0a4d0", "lavender": "#b8a8d8", "heather": "#9a7ba2", "violet": "#6a3a96",
	"purple": "#643080", "amethyst": "#8c64ac", "grape": "#56346a", "indigo": "#32386e", "blue": "#2858b4", "navy": "#1e2a4e",
	"navy blue": "#1e2a4e", "midnight blue": "#1c2440", "royal blue": "#2a4cb0", "cobalt": "#1e4ca0", "ultramarine": "#2a3c9c",
	"denim": "#4a6488", "slate blue": "#5a6a88", "airforce blue": "#5c7c9c", "sky blue": "#8cc0e0", "sky": "#8cc0e0", "baby blue": "#b4d2e6",
	"powder blue": "#b4cddc", "ice blue": "#d2e4ea", "cornflower": "#6488cc", "petrol": "#1e5664", "teal": "#1c6e74", "peacock": "#0e6a7c",
	"turquoise": "#30b4b0", "aqua": "#5cc4c4", "cyan": "#22b0cc", "duck egg": "#b4d2c8", "sea green": "#3c8c74", "jade": "#3a9472",
	"mint": "#b0dcc0", "emerald": "#128a54", "green": "#2e7e3c", "grass": "#5a9a34", "grass green": "#5a9a34", "apple green": "#8cb840",
	"lime": "#a8cc2c", "chartreuse": "#b4cc30", "pistachio": "#bcd09a", "sage": "#9caa88", "moss": "#6c7434", "fern": "#5c8248",
	"olive": "#6c6a2c", "khaki": "#8c8358", "bottle green": "#143e2e", "forest green": "#22502c", "pine": "#22503c", "fir": "#1e4634",
	"grey": "#8a8a88", "silver": "#c0c2c4", "pewter": "#80848a", "steel": "#6e7a84", "slate": "#505a64", "charcoal": "#3c3e42",
	"graphite": "#44464a", "anthracite": "#34373a", "smoke": "#8c8e90", "ash": "#b2b2aa", "black": "#1a1a1c", "jet": "#161618", "ebony": "#241e1c",
}

// shifts are words before a name that make it lighter or darker, as OKLCh: added lightness, and what
// its chroma is multiplied by.
var shifts = map[string]struct{ lighter, chroma float64 }{
	"light": {.10, .85}, "pale": {.16, .6}, "soft": {.06, .7}, "dark": {-.12, .9}, "deep": {-.08, 1}, "dusty": {.02, .6}, "bright": {.03, 1.25},
}

// Plain is the colour of a plain name such as navy, off-white or pale pink, good to about PlainDoubt;
// ok is false for any other word.
func Plain(name string) (c RGB, ok bool) {
	name = strings.Join(strings.Fields(strings.ReplaceAll(strings.ReplaceAll(strings.ToLower(name), "-", " "), "gray", "grey")), " ")
	if hex, known := plainNames[name]; known {
		c, err := ParseHex(hex)
		return c, err == nil
	}
	before, rest, _ := strings.Cut(name, " ")
	shift, known := shifts[before]
	hex, plain := plainNames[rest]
	if !known || !plain {
		return RGB{}, false
	}
	c, err := ParseHex(hex)
	if err != nil {
		return c, false
	}
	o := c.OKLCh()
	o.L, o.C = max(.12, min(.97, o.L+shift.lighter)), o.C*shift.chroma
	c, _ = o.RGB()
	return c, true
}

// plainLabs are the plain names in order, with their colours.
var plainLabs = sync.OnceValue(func() (out []struct {
	name string
	lab  Lab
}) {
	for _, name := range slices.Sorted(maps.Keys(plainNames)) {
		c, _ := ParseHex(plainNames[name]) // a test reads them all
		out = append(out, struct {
			name string
			lab  Lab
		}{strings.ToUpper(name[:1]) + name[1:], c.Lab()})
	}
	return out
})

// PlainName is the plain name nearest to a colour by ΔE00, such as Plum, with a capital.
func PlainName(c Lab) string {
	best, name := math.Inf(1), ""
	for _, p := range plainLabs() {
		if d := DeltaE2000(p.lab, c); d < best {
			best, name = d, p.name
		}
	}
	return name
}
