package printed

import (
	"fmt"
	"math"
	"slices"

	"lampfern/core/mesh"
	"lampfern/core/piece"
	"lampfern/core/words"
)

var filaments = []string{"PLA", "PETG", "ABS"}

// asks are how the parts are printed.
var asks = []piece.Setting{
	{Key: "wall", Name: "walls", Unit: "mm", Min: 0, Max: 20, Default: 1.2},
	{Key: "infill", Name: "infill", Unit: "%", Min: 0, Max: 100, Default: 15},
	piece.Choice("filament", "filament", filaments...),
	{Key: "waste", Name: "skirts and tests", Unit: "%", Min: 0, Max: 100, Default: 5},
	piece.Choice("apart", "printed", "each part in its own print", "all in one, with changes of colour"),
	piece.Setting{Key: "layer", Name: "height of a layer", Unit: "mm", Min: 0.04, Max: 2, Default: 0.2}.If("apart", 1),
	piece.Setting{Key: "purge", Name: "flushed at a change", Unit: "mm³", Min: 0, Max: 5000, Default: 200}.If("apart", 1),
	piece.Setting{Key: "reuse", Name: "of that, put into the infill", Unit: "%", Min: 0, Max: 100, Default: 0}.If("apart", 1),
}

// Bodies implements piece.Bodied.
func (in *Assembly) Bodies() []piece.Bulk {
	s := usualSolid()
	if in.Solid != nil {
		s = *in.Solid
	}
	if s.Mesh == nil {
		return nil
	}
	var out []piece.Bulk
	plate := s.Mesh.Bodies // as they are printed, whole
	if s.Plate != nil {
		plate = s.Plate.Bodies
	}
	for i, b := range s.Mesh.Bodies {
		one := piece.Bulk{Name: b.Name, Part: s.Of[i], Surface: b.Surface() / 100}
		if i < len(plate) {
			low, high := mesh.Mesh{Bodies: []mesh.Body{plate[i]}}.Bounds()
			one.Volume, one.From, one.To = math.Abs(plate[i].Volume())/1000, low.Z, high.Z
		} else {
			one.Name = "a face of " + b.Name
		}
		out = append(out, one)
	}
	return out
}

// turned are the rings of a pot as solids turned about its middle, from the foot up.
func turned(p piece.Piece) []piece.Bulk {
	var out []piece.Bulk
	for _, r := range p.Regions {
		o := r.Outline // from its upper to its lower edge
		top, foot, high := math.Abs(o[1].X-o[0].X)/20, math.Abs(o[2].X-o[3].X)/20, (o[2].Y-o[0].Y)/10
		out = append(out, piece.Bulk{Name: p.Parts[r.Part].Name, Part: r.Part, Volume: math.Pi * high / 3 * (top*top + top*foot + foot*foot),
			Surface: math.Pi*(top*top+foot*foot) + math.Pi*(top+foot)*math.Hypot(high, top-foot), From: p.Height - o[2].Y, To: p.Height - o[0].Y})
	}
	return out
}

// needs are the filament of each card by the bodies it prints: of a mesh by its own
// volume and surface, of a pot as solids turned about its middle.
func needs(m piece.Making) []piece.Need {
	var bodies []piece.Bulk
	if in, is := m.Input.(piece.Bodied); is {
		bodies = in.Bodies()
	} else {
		bodies = turned(m.Piece)
	}
	bare := make([]float64, len(m.Cards)) // g without skirts and flushes
	out := make([]piece.Need, len(m.Cards))
	for card := range out {
		out[card] = piece.Need{Card: card, Kind: "filament"}
	}
	for _, b := range bodies {
		card := m.Of[b.Part]
		if card < 0 || out[card].Problem != "" {
			continue
		}
		n := &out[card]
		if b.Volume == 0 && b.Surface > 0 { // a face
			if face(n, m, b); n.Kind == "filament" {
				bare[card] = n.Amount - n.Spare
			}
			continue
		}
		n.Working = append(n.Working, fmt.Sprintf("%s: %v cm³, surface %v cm²", b.Name, words.Figure(b.Volume), words.Figure(b.Surface)))
		res, ok := n.Work("print.part", piece.Given("volume_cm3", b.Volume, "area_cm2", b.Surface, "wall_mm", m.Asked["wall"], "infill_pct", m.Asked["infill"],
			"copies", m.Times, "material", filaments[int(m.Asked["filament"])], "waste_pct", m.Asked["waste"]))
		if !ok {
			n.Amount, n.Spare, bare[card] = 0, 0, 0
			continue
		}
		n.Amount += res.Unrounded["grams"].(float64)
		n.Allow(m.Asked["waste"])
		bare[card] = n.Amount - n.Spare
	}
	if m.Asked["apart"] == 1 {
		flush(m, bodies, bare, out)
	}
	return out
}

// face adds a face with a card of its own: paint by its area, in two coats, or filament as thick as a
// wall.
func face(n *piece.Need, m piece.Making, b piece.Bulk) {
	if m.Cards[n.Card].Kind == "paint" {
		n.Kind = "paint"
		n.Working = append(n.Working, fmt.Sprintf("%s: %v cm² to be painted", b.Name, words.Figure(b.Surface)))
		if res, ok := n.Work("model.paint", piece.Given("area_cm2", b.Surface, "count", m.Times, "coats", 2, "detail", 1, "method", "brush", "waste_pct", 10, "pot_ml", m.Pack(n.Card, 17))); ok {
			n.Amount += res.Unrounded["use_ml"].(float64)
		}
		return
	}
	n.Working = append(n.Working, fmt.Sprintf("%s: %v cm², as thick as a wall", b.Name, words.Figure(b.Surface)))
	wall := max(m.Asked["wall"], .2)
	if res, ok := n.Work("print.part", piece.Given("volume_cm3", b.Surface*wall/10, "area_cm2", b.Surface, "wall_mm", wall, "infill_pct", 100,
		"copies", m.Times, "material", filaments[int(m.Asked["filament"])], "waste_pct", m.Asked["waste"])); ok {
		n.Amount += res.Unrounded["grams"].(float64)
		n.Allow(m.Asked["waste"])
	}
}

// flush adds what is flushed where several colours are printed in one go, layer by layer
// from the bed up.
func flush(m piece.Making, bodies []piece.Bulk, bare []float64, out []piece.Need) {
	var heights []float64
	for _, b := range bodies {
		heights = append(heights, b.From, b.To)
	}
	slices.Sort(heights)
	heights = slices.Compact(heights)
	var grams, groups []any
	for card, c := range m.Cards {
		grams = append(grams, c.Name, bare[card])
	}
	for i := 0; i+1 < len(heights); i++ {
		var colours []any
		for _, b := range bodies {
			if card := m.Of[b.Part]; card >= 0 && b.From < heights[i+1]-1e-6 && b.To > heights[i]+1e-6 && !slices.Contains(colours, any(m.Cards[card].Name)) {
				colours = append(colours, m.Cards[card].Name)
			}
		}
		if layers := math.Round((heights[i+1] - heights[i]) / m.Asked["layer"]); layers > 0 && len(colours) > 0 {
			groups = append(groups, piece.Given("count", layers, "colours", colours))
		}
	}
	if len(groups) == 0 {
		return
	}
	// One print is flushed as often as there are copies.
	var n piece.Need
	res, ok := n.Work("print.multicolour", piece.Given("part_g", piece.Given(grams...), "layers", groups, "purge_mm3", m.Asked["purge"], "into_infill_pct", m.Asked["reuse"],
		"material", filaments[int(m.Asked["filament"])], "waste_pct", m.Asked["waste"]))
	by, _ := res.Unrounded["flush_g"].(map[string]float64)
	for card, c := range m.Cards {
		if !ok {
			out[card].Problem, out[card].Amount = n.Problem, 0
			continue
		}
		more := by[c.Name] * float64(m.Times)
		if out[card].Amount == 0 {
			continue
		}
		out[card].Amount, out[card].Spare, out[card].Warnings = out[card].Amount+more, out[card].Spare+more, append(out[card].Warnings, n.Warnings...)
		out[card].Working = append(out[card].Working, fmt.Sprintf("%s in a print; flushed into %s %.4g g × %d", n.Working[0], c.Name, by[c.Name], m.Times))
	}
}
