package shelf

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/wheel"
	"lampfern/core/words"
)

// Drawer is a family's cards.
type Drawer struct {
	Family colour.FamilyName
	Count  int
}

// Drawers lists the families in filing order with how many cards each has.
func (sh *Shelf) Drawers() []Drawer {
	count := map[colour.FamilyName]int{}
	for _, c := range sh.Cards {
		count[c.Family]++
	}
	var out []Drawer
	for _, f := range colour.Families() {
		out = append(out, Drawer{f, count[f]})
	}
	return out
}

// Drawer is the cards of a family, or all when it is empty, by value or by hue
// on the painters' wheel.
func (sh *Shelf) Drawer(family string, byHue bool) []*Card {
	var out []*Card
	for _, c := range sh.Cards {
		if family == "" || string(c.Family) == family {
			out = append(out, c)
		}
	}
	if byHue {
		slices.SortStableFunc(out, func(a, b *Card) int {
			at := func(c *Card) float64 {
				if c.Neutral {
					return wheel.Places
				}
				return c.Place(wheel.Pigment)
			}
			return cmp.Compare(at(a), at(b))
		})
	}
	return out
}

// Repaint gives a material the colour that a painted card, or a field of a
// chart, came to, and says how far it is from what was thought. layer is 1 for
// the colour itself, 2 and more for so many layers of it.
func (s *Keeper) Repaint(ctx context.Context, id uint, c colour.Lab, source string, uncertainty float64, layer int) (said string,
	err error) {
	sh, err := s.Shelf(ctx)
	if err != nil {
		return "", err
	}
	k, err := sh.Card(id)
	if err != nil || k.Removed {
		return "", words.Refuse("That material is no longer on the shelf.")
	}
	m := k.Material
	before := m.Colour
	if layer > 1 {
		m.Further = slices.Clone(m.Further)
		layers := 1
		for i := range m.Further {
			if m.Further[i].Role != material.Layer {
				continue
			}
			if layers++; layers == layer {
				before = m.Further[i].Colour
				m.Further[i].Colour = c
			}
		}
		switch {
		case layers == layer-1:
			m.Further = append(m.Further, material.Further{Role: material.Layer, Colour: c})
		case layers < layer-1:
			return "", words.Refuse("Enter the layers of %s in order: layer %d is next.", k.Name, layers+1)
		}
	} else {
		m.Colour, m.Source, m.Uncertainty = c, source, uncertainty
	}
	if _, err := s.SaveMaterial(ctx, id, k.Revision, m); err != nil {
		return "", err
	}
	r := colour.Beside(c, before)
	told := strings.TrimSuffix(r.Words(), ".")
	if layer > 1 {
		return fmt.Sprintf("%s in %d layers, compared with before: %s.", k.Name, layer, told), nil
	}
	return fmt.Sprintf("%s compared with before: %s.", k.Name, told), nil
}
