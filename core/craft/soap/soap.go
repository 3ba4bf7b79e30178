// Package soap is the craft of soap making: its pieces, and what a soap maker puts
// into them.
package soap

import (
	"fmt"
	"math"

	"lampfern/core/piece"
	"lampfern/core/pour"
	"lampfern/core/words"
)

// Craft is soap making.
func Craft() piece.Craft {
	return piece.Craft{Name: "soap", Batch: batch, Kinds: []string{"soap colourant", "pigment or dye"}, From: 2, To: 4,
		Care:     "Raw soap is hot and caustic: wear gloves and goggles, also to pull dividers and to unmould.",
		Cautions: cautions,
		Patterns: []piece.Pattern{loafPattern, pouredPattern},
		Asks:     asks, Needs: needs, Work: work, Sitting: piece.LightFirst, OwnOnly: true}
}

// Poured is what a soap maker puts into a poured loaf: the parts of the batter in
// the order they are poured.
type Poured struct {
	Pours []pour.Pour `json:"pours,omitempty"`
}

func (in *Poured) Check() error {
	if in.Pours == nil {
		return nil
	}
	return pour.Check(in.Pours)
}

// pours are the pours, the usual ones where none were put in.
func (in *Poured) pours() []pour.Pour {
	if in.Pours == nil {
		return []pour.Pour{{Colour: 0, Parts: 4, Place: .5}, {Colour: 1, Parts: 2, Place: .35}, {Colour: 2, Parts: 1, Place: .65}}
	}
	return in.Pours
}

// Copy implements piece.Written.
func (in *Poured) Copy() piece.Written { return &Poured{in.Pours} }

// Line implements piece.Written.
func (in *Poured) Line(piece.Values) string { return pour.Text(in.pours()) }

// Write implements piece.Written.
func (in *Poured) Write(text string, _ piece.Values) (err error) {
	if in.Pours, err = pour.Parse(text); err != nil {
		return words.Refuse("The pours cannot be read: %s.", err)
	}
	return nil
}

// Asks implements piece.Written.
func (in *Poured) Asks() piece.Asking {
	return piece.Asking{Field: "Pours in order, parts and place", Take: "Pour again", Done: "write the pours"}
}

// Advice implements piece.Written.
func (in *Poured) Advice(v piece.Values) (heading, text, example string) {
	return "A likeness",
		fmt.Sprintf("An impression only (seed %g); real batter flows differently. Another seed pours another loaf. Write pours as parts and a letter, with the place from the left in hundredths:", v["seed"]), "4A 2B@30"
}

// repour gives some colours of a batter other parts, so that they take the share
// wanted of it.
func repour(_ piece.Values, in *Poured, of func(part string) bool, want float64) (piece.Resized, bool) {
	sum, rest := 0.0, 0.0
	for _, p := range in.pours() {
		if of(batterKey(p.Colour)) {
			sum += p.Parts
		} else {
			rest += p.Parts
		}
	}
	if sum == 0 || rest == 0 || !(want > 0 && want < 1) {
		return piece.Resized{}, false
	}
	scale := want / (1 - want) * rest / sum
	var out Poured
	then := 0.0
	for _, p := range in.pours() {
		if of(batterKey(p.Colour)) {
			p.Parts = math.Max(.01, math.Round(100*p.Parts*scale)/100)
			then += p.Parts
		}
		out.Pours = append(out.Pours, p)
	}
	return piece.Resized{Input: &out, Words: "pours " + pour.Text(out.Pours), Share: then / (then + rest)}, out.Check() == nil
}
