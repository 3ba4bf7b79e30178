package balance

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestFeaturesByName(t *testing.T) {
	for name, want := range map[string]Feature{"Skin": Skin, "her hair in summer": Hair, "Eyes": Eyes, "Grey-green eyes": Eyes, "Doll's face": Skin,
		"Wall": "", "Chair": "", "Handbag": "", "Copper wig": Hair} {
		assert.Equal(t, want, FeatureOf(name), name)
	}
}

// What makers agree on of colours beside a face.
func TestColoursBesideAFace(t *testing.T) {
	const fair, deep, copper, ash, blueEyes, brownEyes = "#e8c4ac", "#6a4030", "#a8501e", "#9a8a78", "#5a86b0", "#5a3a22"
	for _, c := range []struct {
		of      Feature
		face, c string
		want    Effect
		why     string
	}{
		{Skin, fair, "#c8c2bc", Drains, "a pale grey at a fair face"},
		{Skin, fair, "#c8cc8a", Drains, "a pale yellow-green turns it sallow"},
		{Skin, fair, "#20304a", SetsOff, "navy frames it"},
		{Skin, fair, "#6a1a2c", SetsOff, "wine frames it"},
		{Skin, fair, "#e81858", TakesOver, "a shocking pink is seen first"},
		{Skin, fair, "#ff8010", TakesOver, "a clear orange is seen first"},
		{Skin, fair, "#f0b89a", EchoesIt, "peach repeats it"},
		{Skin, deep, "#f4ecd8", SetsOff, "cream lights up a deep skin"},
		{Skin, deep, "#504a48", Drains, "a dark grey dulls it"},
		{Skin, deep, "#f2c81e", TakesOver, "a strong yellow is seen first"},
		{Hair, copper, "#107878", SetsOff, "teal is its opposite"},
		{Hair, copper, "#b0642e", EchoesIt, "rust repeats it"},
		{Hair, copper, "#f4ecd8", SetsOff, "far lighter"},
		{Hair, ash, "#141414", SetsOff, "far darker"},
		{Eyes, blueEyes, "#4a7aa8", EchoesIt, "a blue of their value repeats them"},
		{Eyes, blueEyes, "#9a4a20", SetsOff, "rust is their opposite"},
		{Eyes, brownEyes, "#6e4a2c", EchoesIt, "brown repeats them"},
		{Eyes, blueEyes, "#8a9098", Drains, "as light, and greyer"},
	} {
		got, why := usual().Beside(c.of, hexLab(t, c.face), hexLab(t, c.c))
		assert.Equal(t, c.want, got, "%s: %s", c.why, why)
		assert.NotEmpty(t, why)
	}
}
