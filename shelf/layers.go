package shelf

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/words"
)

// MostLayers is the most layers of one material that a chart, or a part, has.
const MostLayers = 4

// Layers reports whether a material is laid down in layers: one that charts are painted
// of, or that is seen through.
func (c *Card) Layers() bool {
	return c.ID != 0 && (slices.Contains(material.ChartKinds(), c.Kind) || c.Finish == "translucent")
}

// measured are the colours that its layers came to on a chart, one layer first.
func (c *Card) measured() []colour.Lab {
	out := []colour.Lab{c.Colour}
	for _, f := range c.Further {
		if f.Role == material.Layer {
			out = append(out, f.Colour)
		}
	}
	return out
}

// Layer is what n layers of a material come to: as a chart was painted, where it was, else
// reckoned on from its last two as a film, the first of them on white paper. measured says
// which.
func (c *Card) Layer(n int) (lab colour.Lab, measured bool) {
	known := c.measured()
	if n <= len(known) {
		return known[max(0, n-1)], true
	}
	if len(known) == 1 {
		one, _ := c.Colour.RGB()
		return colour.Film(one, n, paperUnder).Lab(colour.WhiteD65), false
	}
	// Each further layer takes away what the last measured one did.
	last, before := known[len(known)-1], known[len(known)-2]
	a, b := before.XYZ(), last.XYZ()
	ratio := func(from, to float64) float64 { return math.Min(1, to/math.Max(from, 1e-6)) }
	further := float64(n - len(known))
	return colour.XYZ{X: b.X * math.Pow(ratio(a.X, b.X), further), Y: b.Y * math.Pow(ratio(a.Y, b.Y), further),
		Z: b.Z * math.Pow(ratio(a.Z, b.Z), further)}.Lab(colour.WhiteD65), false
}

// paperUnder is the reflectance of white paper under a film.
const paperUnder = 0.9

// InLayers names so many layers of a material, and says how.
func (c *Card) InLayers(n int) (name, recipe string) {
	_, measured := c.Layer(n)
	how := "calculated as a film"
	if measured {
		how = "as measured on the chart"
	}
	return fmt.Sprintf("%s, %s layers", c.Name, words.Count(n)), fmt.Sprintf("%s layers of %s, %s", words.Count(n), c.Name, how)
}

// NearLayer is a card in so many layers, 1 for itself, and its ΔE00 to what it was measured
// against.
type NearLayer struct {
	Near
	Layers int
	Lab    colour.Lab
}

// NearestInLayers is Nearest, where a card whose layers were measured counts by the nearest
// of them.
func (o *Offer) NearestInLayers(to colour.Lab, n int) []NearLayer {
	var out []NearLayer
	for _, near := range o.Nearest(to, n, 0) {
		out = append(out, NearLayer{near, 1, near.Card.Colour})
	}
	for _, c := range o.sh.Cards {
		for i, lab := range c.measured() {
			if i == 0 {
				continue
			}
			d := colour.DeltaE2000(lab, to)
			at := slices.IndexFunc(out, func(x NearLayer) bool { return x.Card == c })
			switch {
			case at < 0:
				out = append(out, NearLayer{Near{c, d}, i + 1, lab})
			case d < out[at].Apart:
				out[at] = NearLayer{Near{c, d}, i + 1, lab}
			}
		}
	}
	slices.SortStableFunc(out, func(a, b NearLayer) int { return cmp.Compare(o.off(a.Near), o.off(b.Near)) })
	return out[:min(n, len(out))]
}
