package printed

import (
	"fmt"
	"math"
	"slices"

	"lampfern/core/mesh"
	"lampfern/core/piece"
	"lampfern/core/quantity"
	"lampfern/core/words"
)

var filaments = []string{"PLA", "PETG", "ABS"}

// asks are how the parts are printed.
var asks = []piece.Setting{
	{Key: "wall", Name: "wall thickness", Unit: "mm", Min: 0, Max: 20, Default: 1.2},
	{Key: "infill", Name: "infill", Unit: "%", Min: 0, Max: 100, Default: 15},
	piece.Choice("filament", "filament", filaments...),
	{Key: "waste", Name: "skirts and tests", Unit: "%", Min: 0, Max: 100, Default: 5},
	piece.Choice("apart", "print", "each part separately", "all in one, changing colour"),
	piece.Setting{Key: "layer", Name: "layer height", Unit: "mm", Min: 0.04, Max: 2, Default: 0.2}.If("apart", 1),
	piece.Setting{Key: "purge", Name: "purged at each change", Unit: "mm³", Min: 0, Max: 5000, Default: 200}.If("apart", 1),
	piece.Setting{Key: "reuse", Name: "purged into the infill", Unit: "%", Min: 0, Max: 100, Default: 0}.If("apart", 1),
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
	faces := s.facesOnPlate(plate)
	for i, b := range s.Mesh.Bodies {
		one := piece.Bulk{Name: b.Name, Part: s.Of[i], Surface: b.Surface() / 100}
		if i < len(plate) {
			low, high := mesh.Mesh{Bodies: []mesh.Body{plate[i]}}.Bounds()
			one.Volume, one.From, one.To = math.Abs(plate[i].Volume())/1000, low.Z, high.Z
		} else {
			one.Name = "a face of " + b.Name
			if at := i - len(plate); at < len(faces) {
				one.From, one.To = faces[at][0], faces[at][1]
			}
		}
		out = append(out, one)
	}
	return out
}

// facesOnPlate are from which height in mm to which the faces lie as their bodies are printed, in the
// order of the bodies that they are taken out as.
func (s Solid) facesOnPlate(plate []mesh.Body) (out [][2]float64) {
	for i, f := range s.Faces {
		of, known := s.OfFace[f.Body]
		if !known || f.Triangle >= len(of) || f.Body >= len(plate) {
			continue
		}
		from, to := math.Inf(1), math.Inf(-1)
		for t, corners := range plate[f.Body].Triangles {
			for _, c := range corners {
				if t < len(of) && of[t] == i {
					from, to = min(from, plate[f.Body].Vertices[c].Z), max(to, plate[f.Body].Vertices[c].Z)
				}
			}
		}
		out = append(out, [2]float64{from, to})
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

// needs are the filament of each card.
func needs(m piece.Making) []piece.Need {
	out, _ := counted(m)
	return out
}

// counted is the filament of each card by the bodies it prints: of a mesh by its own volume and
// surface, of a pot as solids turned about its middle; and how often a print changes its colour.
func counted(m piece.Making) (all []piece.Need, changes float64) {
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
		res, ok := printed(n, m, b.Volume, b.Surface, m.Asked["wall"], m.Asked["infill"])
		if !ok {
			n.Amount, n.Spare, bare[card] = 0, 0, 0
			continue
		}
		n.Amount += res
		n.Allow(m.Asked["waste"])
		bare[card] = n.Amount - n.Spare
	}
	if m.Asked["apart"] == 1 {
		changes = flush(m, bodies, bare, out)
	}
	return out, changes
}

// printed is the filament in g of a body of a volume in cm³ and a surface in cm².
func printed(n *piece.Need, m piece.Making, volume, surface, wall, infill float64) (grams float64, ok bool) {
	res, ok := piece.Work(n, quantity.PrintPart, quantity.PrintPartIn{Volume: volume, Area: surface, Wall: &wall, InfillPct: &infill,
		Copies: new(float64(m.Times)), Material: filaments[int(m.Asked["filament"])], WastePct: new(m.Asked["waste"])})
	return res.Exact.Grams, ok
}

// face adds a face with a card of its own: paint by its area, in two coats, or filament as thick as a
// wall.
func face(n *piece.Need, m piece.Making, b piece.Bulk) {
	if m.Cards[n.Card].Kind == "paint" {
		n.Kind = "paint"
		n.Working = append(n.Working, fmt.Sprintf("%s: %v cm² to be painted", b.Name, words.Figure(b.Surface)))
		if res, ok := piece.Work(n, quantity.Paint, quantity.PaintIn{Area: b.Surface, Count: new(float64(m.Times)), Detail: new(1.0),
			Method: "brush", PotML: m.Pack(n.Card, 17)}); ok {
			n.Amount += res.Exact.UseML
		}
		return
	}
	n.Working = append(n.Working, fmt.Sprintf("%s: %v cm², as thick as a wall", b.Name, words.Figure(b.Surface)))
	wall := max(m.Asked["wall"], .2)
	if grams, ok := printed(n, m, b.Surface*wall/10, b.Surface, wall, 100); ok {
		n.Amount += grams
		n.Allow(m.Asked["waste"])
	}
}

// flush adds what is flushed where several colours are printed in one go, layer by layer
// from the bed up, and returns how often a print changes its colour. A coloured face changes it in
// every layer that it reaches over.
func flush(m piece.Making, bodies []piece.Bulk, bare []float64, out []piece.Need) (changes float64) {
	var heights []float64
	for i, b := range bodies {
		if b.To-b.From < m.Asked["layer"] { // a level face is as thick as a wall
			thick := max(m.Asked["wall"], m.Asked["layer"])
			b.From = max(0, b.From-thick)
			b.To = b.From + thick
			bodies[i] = b
		}
		heights = append(heights, b.From, b.To)
	}
	slices.Sort(heights)
	heights = slices.Compact(heights)
	in := quantity.PrintColoursIn{PurgeMM3: new(m.Asked["purge"]), IntoInfillPct: m.Asked["reuse"],
		Material: filaments[int(m.Asked["filament"])], WastePct: new(m.Asked["waste"])}
	for card, c := range m.Cards {
		in.PartG = append(in.PartG, quantity.Amount{Name: c.Name, N: bare[card]})
	}
	for i := 0; i+1 < len(heights); i++ {
		var colours []string
		for _, b := range bodies {
			if card := m.Of[b.Part]; card >= 0 && b.From < heights[i+1]-1e-6 && b.To > heights[i]+1e-6 &&
				!slices.Contains(colours, m.Cards[card].Name) {
				colours = append(colours, m.Cards[card].Name)
			}
		}
		if layers := math.Round((heights[i+1] - heights[i]) / m.Asked["layer"]); layers > 0 && len(colours) > 0 {
			in.Layers = append(in.Layers, quantity.PrintLayer{Count: layers, Colours: colours})
		}
	}
	if len(in.Layers) == 0 {
		return 0
	}
	// One print is flushed as often as there are copies.
	flushed, err := quantity.PrintColours(in)
	for card, c := range m.Cards {
		if err != nil {
			out[card].Fail(err)
			out[card].Amount = 0
			continue
		}
		by := flushed.Exact.Flush[c.Name]
		more := by * float64(m.Times)
		if out[card].Amount == 0 {
			continue
		}
		n := &out[card]
		n.Amount, n.Spare = n.Amount+more, n.Spare+more
		n.Warn(flushed.Notes)
		n.Working = append(n.Working, fmt.Sprintf("%s in a print; purged into %s %.4g g × %d", flushed.Working[0], c.Name, by, m.Times))
	}
	return flushed.Rounded.Changes
}
