package mix

import (
	"fmt"
	"slices"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/mix"
)

// Together is a way that materials of some kinds come together.
type Together struct {
	Key, Name string
	Way       mix.Way
	Kinds     []string
	Crafts    []string // in which it is the usual way of kinds that several ways take; none for all
	Words     string   // how it is reckoned
	Bases     []string // what parts are counted in; the first is the usual one
	Parts     int      // of a recipe at most, until the maker says otherwise
	Ground    *Ground  // what is added to, or shines through; nil for none
}

// Ground is what colourants are added to, or what shines through them.
type Ground struct {
	Name string  `json:"name"`
	L    float64 `json:"l"`
	A    float64 `json:"a"`
	B    float64 `json:"b"`
}

// Colour is the ground's own colour.
func (g Ground) Colour() colour.Lab { return colour.Lab{L: g.L, A: g.A, B: g.B} }

// Bases of parts.
const (
	byWeight = "weight"
	byLayers = "layers"
)

// Usual numbers of parts of a recipe.
const (
	usualParts  = 12
	usualLayers = 4
	washParts   = mix.MostParts // a pale one is mostly water
)

// Togethers are the ways that mixes are made here. Of those that take a kind, the first
// that is usual in the craft is taken until the maker chooses another.
func Togethers() []Together {
	measured := []string{byWeight, "volume", "drops"}
	doses := material.DoseBases()
	paper := &Ground{Name: "white paper", L: 96}
	return []Together{
		{"paint", "as paint", mix.Opaque, []string{"paint", "pigment or dye"}, nil,
			"an opaque film of paint", measured, usualParts, nil},
		{"soap", "in soap, resin or wax", mix.Doses, []string{"soap colourant", "pigment or dye"}, []string{"soap"},
			"colourants tinting a base", doses[:2], usualParts,
			&Ground{Name: "uncoloured soap", L: 90, A: 0, B: 8}},
		{"bath", "in a dye bath", mix.Doses, []string{"pigment or dye"}, []string{"quilt", "yarn", "weaving", "garment"},
			"dyes in one bath, each as a share of the dry fibre", doses[2:], usualParts, &Ground{Name: "undyed fibre", L: 92, A: 0, B: 5}},
		{"wash", "thinned, as a wash", mix.Wash, []string{"paint"}, nil,
			"a thin film over its ground", measured, washParts, paper},
		{"glaze", "glazed in layers", mix.Layers, []string{"paint"}, nil,
			"clear layers over their ground", []string{byLayers}, usualLayers, paper},
		{"markers", "layered", mix.Layers, []string{"marker or pencil"}, nil,
			"clear layers over the paper", []string{byLayers}, usualLayers, paper},
		{"fibres", "carded or felted", mix.Fibres, []string{"yarn", sewing}, nil,
			"fibres carded or felted together", []string{byWeight}, usualParts, nil},
		{"strands", "plied strands", mix.Strands, []string{"yarn", sewing}, nil,
			"strands side by side, blended by distance", []string{byWeight}, usualParts, nil},
	}
}

// early are the ways that records of earlier programs, which name none, were made in.
func early(key string) bool { return slices.Contains([]string{"paint", "fibres", "strands"}, key) }

// waysOf are the ways that take a kind, those that are usual in the craft first.
func waysOf(kind, craft string) []Together {
	var usual, out []Together
	for _, t := range Togethers() {
		switch {
		case !slices.Contains(t.Kinds, kind):
		case slices.Contains(t.Crafts, craft):
			usual = append(usual, t)
		default:
			out = append(out, t)
		}
	}
	// What only some crafts do by habit comes after what all do.
	slices.SortStableFunc(out, func(a, b Together) int { return first(a.Crafts != nil) - first(b.Crafts != nil) })
	return append(usual, out...)
}

// usualKinds are the kinds that a craft mixes by habit, although the thing is made of
// others: dyes for cloth.
func usualKinds(craft string) (out []string) {
	for _, t := range Togethers() {
		if slices.Contains(t.Crafts, craft) {
			out = append(out, t.Kinds...)
		}
	}
	return out
}

func first(is bool) int {
	if is {
		return 1
	}
	return 0
}

// together is how the plan's materials of a kind come together.
func (s *Section) together(kind, craft string) Together {
	all := waysOf(kind, craft)
	if len(all) == 0 {
		return Togethers()[0]
	}
	for _, t := range all {
		if t.Key == s.Together {
			return t
		}
	}
	return all[0]
}

// basis is what parts are counted in.
func (s *Section) basis(t Together) string {
	if slices.Contains(t.Bases, s.Basis) {
		return s.Basis
	}
	return t.Bases[0]
}

// Unit is what a batch is measured in by a basis; empty where there are only layers.
func Unit(basis string) string {
	return map[string]string{byWeight: "g", "volume": "ml", "drops": "drops", "% of batter": "g", "g per kg of oils": "g",
		"% of fibre": "g"}[basis]
}

// ground is what is added to.
func (s *Section) ground(t Together) *Ground {
	if s.Ground != nil && t.Ground != nil {
		return s.Ground
	}
	return t.Ground
}

// Doses of one part until the maker says otherwise, by basis, and what a colour is
// taken to have been tried at where no craft says.
const (
	usualOils = 70.0 // % of the batter
	stepOf    = 0.25 // % of batter or of fibre
	triedAt   = 1.0  // the same
)

func (s *Section) oils() float64 {
	if s.told != nil {
		return s.told.Oils
	}
	if s.Oils > 0 {
		return s.Oils
	}
	return usualOils
}

// perBatter is a dose as a share of the batter, or of the fibre, in per cent; not ok
// when it is in the other's basis.
func (s *Section) perBatter(dose float64, basis, wanted string) (float64, bool) {
	fibre := material.DoseBases()[2]
	switch {
	case (basis == fibre) != (wanted == fibre):
		return 0, false
	case basis == material.DoseBases()[1]:
		return dose * s.oils() / 1000, true
	}
	return dose, true
}

// inBasis is a dose in another basis.
func (s *Section) inBasis(dose float64, basis, wanted string) (float64, bool) {
	per, ok := s.perBatter(dose, basis, wanted)
	if wanted == material.DoseBases()[1] {
		per *= 1000 / s.oils()
	}
	return per, ok
}

// step is the dose of one part.
func (s *Section) step(basis string) float64 {
	switch {
	case s.Step > 0:
		return s.Step
	case basis == material.DoseBases()[1]:
		return 10 * stepOf
	}
	return stepOf
}

// tried is the dose at which a colourant's colour is taken to be, and whether the maker
// said so.
func (s *Section) tried(d material.Dose, basis string) (float64, bool) {
	if d.Tried > 0 {
		if dose, ok := s.inBasis(d.Tried, d.TriedBasis, basis); ok {
			return dose, true
		}
	}
	if s.told != nil && basis != material.DoseBases()[2] {
		dose, _ := s.inBasis(s.told.Dose, material.DoseBases()[1], basis)
		return dose, false
	}
	dose, _ := s.inBasis(triedAt, map[bool]string{true: basis, false: material.DoseBases()[0]}[basis == material.DoseBases()[2]], basis)
	return dose, false
}

// DoseWords are a dose as it is read.
func DoseWords(dose float64, basis string) string {
	switch basis {
	case material.DoseBases()[1]:
		return fmt.Sprintf("%.4g g per kg of oils", dose)
	case material.DoseBases()[2]:
		return fmt.Sprintf("%.4g%% of the fibre", dose)
	}
	return fmt.Sprintf("%.4g%% of the batter", dose)
}

// shortDose are a dose in a list, where its basis is known.
func shortDose(dose float64, basis string) string {
	if basis == material.DoseBases()[1] {
		return fmt.Sprintf("%.4g g/kg", dose)
	}
	return fmt.Sprintf("%.4g%%", dose)
}
