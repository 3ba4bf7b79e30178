package balance

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/wheel"
)

// Feature is what of a person lies beside a garment.
type Feature string

// The features; empty for what is none, such as a wall.
const (
	Skin Feature = "skin"
	Hair Feature = "hair"
	Eyes Feature = "eyes"
)

var featureNames = []struct {
	feature Feature
	words   []string
}{
	{Hair, []string{"hair", "beard", "wig", "plait", "braid", "curls", "fringe"}},
	{Eyes, []string{"eye", "eyes", "iris"}},
	{Skin, []string{"skin", "face", "complexion", "cheek", "hand", "hands"}},
}

// FeatureOf tells a feature by what a maker calls it: "her hair", "Skin in summer".
func FeatureOf(name string) Feature {
	said := strings.FieldsFunc(strings.ToLower(name), func(r rune) bool { return (r < 'a' || r > 'z') && r < 128 })
	for _, f := range featureNames {
		if slices.ContainsFunc(said, func(w string) bool { return slices.Contains(f.words, w) }) {
			return f.feature
		}
	}
	return ""
}

// Effect is what a colour does to a face.
type Effect string

// The effects.
const (
	Drains    Effect = "drains"
	EchoesIt  Effect = "echoes"
	SetsOff   Effect = "sets off"
	TakesOver Effect = "takes over from"
	Quiet     Effect = "is quiet beside"
)

// Where a colour does what to a face. Starting values.
const (
	overForce    = 0.7  // of the strongest of its hue
	overChroma   = 2.0  // times the chroma of the feature
	overLeast    = 45.0 // C*ab
	likeValue    = 12.0 // L* within which a colour is as light as the feature
	offValue     = 20.0 // L* from which it sets the feature off
	drainsBy     = 4.0  // C*ab by which it is greyer
	sallowFrom   = 95.0 // degrees of OKLCh: the yellow-greens
	sallowTo     = 140.0
	sallowChroma = 10.0 // C*ab from which their green is seen on a skin
	featureHue   = 22.0 // degrees within which a hue echoes that of eyes or hair
	featureLeast = 6.0  // C*ab from which eyes and hair have a hue to echo
	besideValue  = 25.0 // L* within which an echo is heard
)

// Beside tells what a colour does to a feature that it touches, and why.
func (e Eye) Beside(f Feature, feature, c colour.Lab) (Effect, string) {
	steps := (c.L - feature.L) / 10
	value := fmt.Sprintf("%.1f value steps darker", -steps)
	if steps > 0 {
		value = fmt.Sprintf("%.1f value steps lighter", steps)
	}
	apart := math.Abs(c.L - feature.L)
	turn := math.Abs(colour.HueBetween(feature.OKLCh().H, c.OKLCh().H))
	hues := min(feature.Chroma(), c.Chroma()) >= featureLeast
	opposite := min(feature.Chroma(), c.Chroma()) >= hueChroma && wheel.Apart(e.place(feature), e.place(c)) >= oppositeFrom
	over := c.Force() >= overForce && c.Chroma() >= max(overLeast, overChroma*feature.Chroma())
	h := c.OKLCh().H
	switch {
	case f != Skin && hues && turn <= featureHue && apart <= besideValue:
		return EchoesIt, "of the same hue, and not far from it in value"
	case f == Skin && !over && apart < offValue && c.Chroma() >= sallowChroma && h >= sallowFrom && h <= sallowTo:
		return Drains, "its yellow-green turns skin of that value sallow"
	case apart < likeValue && c.Chroma() < feature.Chroma()-drainsBy && c.Clearness() < freshClearness:
		return Drains, "as light, and greyer"
	case over:
		return TakesOver, "much the stronger colour, so it draws the eye first"
	case opposite:
		return SetsOff, "an opposite hue"
	case apart >= offValue:
		return SetsOff, value
	case f == Skin && hues && turn <= featureHue:
		return EchoesIt, "of the same hue and value"
	}
	return Quiet, "neither far from it in value nor close in hue"
}
