package printed

import (
	"fmt"
	"math"

	"lampfern/core/piece"
)

var filaments = []string{"PLA", "PETG", "ABS"}

// asks are how the parts are printed.
var asks = []piece.Setting{
	{Key: "wall", Name: "walls", Unit: "mm", Min: 0, Max: 20, Default: 1.2},
	{Key: "infill", Name: "infill", Unit: "%", Min: 0, Max: 100, Default: 15},
	piece.Choice("filament", "filament", filaments...),
	{Key: "waste", Name: "skirts and tests", Unit: "%", Min: 0, Max: 100, Default: 5},
}

// needs are the filament of each card by the bodies it prints: of a mesh by its own
// volume and surface, of a pot as solids turned about its middle.
func needs(m piece.Making) []piece.Need {
	type body struct {
		name         string
		volume, skin float64 // cm³, cm²
	}
	bodies := make([][]body, len(m.Cards))
	add := func(part int, b body) {
		if card := m.Of[part]; card >= 0 {
			bodies[card] = append(bodies[card], b)
		}
	}
	if in, is := m.Input.(*Assembly); is {
		s := usualSolid()
		if in.Solid != nil {
			s = *in.Solid
		}
		if s.Mesh != nil {
			for i, b := range s.Mesh.Bodies {
				add(s.Of[i], body{b.Name, math.Abs(b.Volume()) / 1000, b.Surface() / 100})
			}
		}
	} else {
		for _, r := range m.Piece.Regions {
			o := r.Outline // from its upper to its lower edge
			top, foot, high := math.Abs(o[1].X-o[0].X)/20, math.Abs(o[2].X-o[3].X)/20, (o[2].Y-o[0].Y)/10
			volume := math.Pi * high / 3 * (top*top + top*foot + foot*foot)
			skin := math.Pi*(top*top+foot*foot) + math.Pi*(top+foot)*math.Hypot(high, top-foot)
			add(r.Part, body{m.Piece.Parts[r.Part].Name, volume, skin})
		}
	}
	var out []piece.Need
	for card := range m.Cards {
		n := piece.Need{Card: card, Kind: "filament"}
		for _, b := range bodies[card] {
			n.Working = append(n.Working, fmt.Sprintf("%s: %.4g cm³, surface %.4g cm²", b.name, b.volume, b.skin))
			res, ok := n.Work("print.part", piece.Given("volume_cm3", b.volume, "area_cm2", b.skin, "wall_mm", m.Asked["wall"], "infill_pct", m.Asked["infill"],
				"copies", m.Times, "material", filaments[int(m.Asked["filament"])], "waste_pct", m.Asked["waste"]))
			if !ok {
				break
			}
			n.Amount += res.Unrounded["grams"].(float64)
		}
		if n.Problem != "" {
			n.Amount = 0
		}
		out = append(out, n)
	}
	return out
}
