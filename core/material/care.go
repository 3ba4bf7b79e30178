package material

import "slices"

// Care is what can hurt in a material: in a sentence, and in more to be read before one begins.
type Care struct {
	Words string
	More  []string
}

// cares are those of kinds of material.
var cares = map[string]Care{
	"paint": {"Some pigments are harmful: do not lick the brush, and wear a mask to spray or sand.", []string{
		"Solvent paints, thinners and aerosols: ventilate, and keep away from flames.",
		"Airbrush even with water-based paint: a respirator for particles and vapour, and a booth with extraction.",
		"Cadmium, cobalt, chrome and lead are poisonous as dust: wipe up wet, and keep paint from food and children."}},
	"pigment or dye": {"Keep dye pots separate from cooking pots. Do not breathe dye or mordant dust.", []string{
		"Weigh dye and mordant powder with gloves and a dust mask, and add powder to water, not water to powder.",
		"Mordants such as chrome, copper and tin are poisonous: keep to alum where you can, and ask how to dispose of the bath."}},
	"soap colourant": {"Do not breathe mica or pigment dust.", []string{
		"Use only colourants stated for soap at high pH and permitted for skin contact, at or below the supplier's highest rate; not craft glitter or food dye.",
		"Do not breathe fine powder: open bags slowly, and wear a dust mask."}},
	"marker or pencil": {"Use solvent markers with ventilation.", nil},
	"filament": {"Melting filament gives off fumes: ventilate, or use a filtered enclosure.", []string{
		"ABS gives off the most.", "Sand prints wet and wear a mask.",
		"Printed parts are not food-safe as they are."}},
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
