package material

import "slices"

// Care is what can hurt in a material: in a sentence, and in more to be read before one begins.
type Care struct {
	Words string
	More  []string
}

// cares are those of kinds of material.
var cares = map[string]Care{
	"paint": {"Paint can hold harmful pigments: do not lick the brush, and do not spray or sand it without a mask.", []string{
		"Solvent paints, thinners and aerosols: air, and no flame.",
		"Airbrush even with water-based paint: a respirator for particles and vapour, and a booth with extraction.",
		"Cadmium, cobalt, chrome and lead are poisonous as dust: wipe up wet, and keep paint from food and children."}},
	"pigment or dye": {"Dyes and mordants are not for the kitchen's pots, and their dust is not to be breathed.", []string{
		"Weigh dye and mordant powder with gloves and a dust mask, and add powder to water, not water to powder.",
		"Mordants such as chrome, copper and tin are poisonous: keep to alum where you can, and ask how the bath may be thrown away."}},
	"soap colourant": {"Fine mica and pigment are dust not to be breathed.", []string{
		"Use only colourants stated for soap at high pH and permitted for skin contact, at or below the supplier's highest rate; craft glitter and food dyes are not such.",
		"Do not breathe fine powder: open bags slowly, and wear a dust mask."}},
	"marker or pencil": {"Some markers' solvents want air.", nil},
	"filament": {"Melting filament fumes: air, or an enclosure with a filter.", []string{
		"Fumes and fine particles are most with ABS.", "Prints are sanded wet, with a mask: their dust is not to be breathed.",
		"Printed parts are not food-safe without more."}},
}

// CareOf is what can hurt in materials of some kinds: a sentence each, and more of each.
func CareOf(kinds []string) (words, more []string) {
	for _, kind := range Kinds() { // in their order, once each
		if care, known := cares[kind]; known && slices.Contains(kinds, kind) {
			words, more = append(words, care.Words), append(more, care.More...)
		}
	}
	return words, more
}
