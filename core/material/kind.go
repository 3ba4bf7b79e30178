package material

import "strings"

// common are words that makers use for a kind, each in its singular.
var common = map[string]string{
	"cloth": "fabric", "cotton": "fabric", "linen": "fabric", "silk": "fabric", "felt": "fabric", "textile": "fabric", "fat quarter": "fabric",
	"wool": "yarn", "skein": "yarn", "ball": "yarn", "hank": "yarn",
	"floss": "thread", "sewing thread": "thread", "embroidery thread": "thread",
	"mica": "soap colourant", "soap colour": "soap colourant", "soap color": "soap colourant", "soap colorant": "soap colourant",
	"acrylic": "paint", "acrylic paint": "paint", "watercolour": "paint", "watercolor": "paint", "gouache": "paint", "oil paint": "paint",
	"marker": "marker or pencil", "pencil": "marker or pencil", "pen": "marker or pencil", "felt pen": "marker or pencil",
	"crayon": "marker or pencil", "coloured pencil": "marker or pencil", "colored pencil": "marker or pencil",
	"plastic": "filament", "spool": "filament",
	"brick": "building part", "part": "building part", "element": "building part",
	"card": "paper", "card stock": "paper", "cardstock": "paper", "cardboard": "paper",
	"button": "notion", "zip": "notion", "ribbon": "notion", "bead": "notion", "trim": "notion", "braid": "notion",
	"pigment": "pigment or dye", "dye": "pigment or dye", "dyestuff": "pigment or dye",
}

// KindOf is the kind that a maker means by a word: its name, a common word for it, or either in
// the plural, in letters of any case. An empty text, and one that is none, is not known.
func KindOf(text string) (kind string, known bool) {
	word := strings.Join(strings.Fields(strings.ToLower(text)), " ")
	if word == "" {
		return "", false
	}
	for _, w := range []string{word, strings.TrimSuffix(word, "s"), strings.TrimSuffix(word, "es"), strings.TrimSuffix(word, "ies") + "y"} {
		for _, k := range Kinds() {
			if w == k {
				return k, true
			}
		}
		if k, is := common[w]; is {
			return k, true
		}
	}
	return "", false
}
