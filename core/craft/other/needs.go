package other

import (
	"fmt"
	"math"

	"lampfern/core/piece"
	"lampfern/core/quantity"
	"lampfern/core/words"
)

// asks are what a drawing cannot know.
var asks = []piece.Setting{
	{Key: "width", Name: "cloth width", Unit: "cm", Min: 20, Max: 400, Default: 140},
	{Key: "seams", Name: "extra for seams and hems", Unit: "%", Min: 0, Max: 300, Default: 25},
	{Key: "gsm", Name: "weight per square metre", Unit: "g", Min: 20, Max: 3000, Default: 300},
	{Key: "film", Name: "paint per square metre and coat", Unit: "ml", Min: 10, Max: 1000, Default: 120},
	piece.Whole("coats", "coats", 1, 20, 2),
	{Key: "cover", Name: "one marker covers", Unit: "cm²", Min: 1, Max: 1e7, Default: 5000},
	piece.SoldBy(),
}

// needs are by the area of each card, and by what kind it is.
func needs(m piece.Making) []piece.Need {
	var out []piece.Need
	for card, area := range m.AreasOf() {
		c := m.Cards[card]
		n := piece.Need{Card: card, Kind: c.Kind}
		square := area / 1e6 * float64(m.Times) // m²
		say := func(format string, args ...any) { n.Working = append(n.Working, fmt.Sprintf(format, args...)) }
		switch c.Kind {
		case "fabric", "":
			n.Kind, n.Step = "fabric", m.ClothStep()
			side := math.Sqrt(area) / 10 * math.Sqrt(1+m.Asked["seams"]/100)
			if area > 0 {
				say("%.4g m² and %g%% for seams", square, m.Asked["seams"])
				wide := math.Min(side, m.Asked["width"]-3)
				part := quantity.PatternPart{Name: c.Name, Area: side * side, Length: side * side / wide, Width: wide, Count: new(float64(m.Times))}
				if res, ok := piece.Work(&n, quantity.ClothByParts, quantity.ClothByPartsIn{Parts: []quantity.PatternPart{part},
					FabricWidth: m.Asked["width"], ShrinkPct: new(0.0)}); ok {
					n.Amount = res.Exact.LengthToBuy / 100
				}
			}
		case "yarn":
			n.Amount = square * m.Asked["gsm"] * 1.1
			say("%.4g m² × %g g with 10%% more = %v g", square, m.Asked["gsm"], words.Figure(n.Amount))
		case "paint":
			n.Amount = square * m.Asked["film"] * m.Asked["coats"] * 1.1
			say("%.4g m² × %g ml × %g coats with 10%% more = %v ml", square, m.Asked["film"], m.Asked["coats"], words.Figure(n.Amount))
		case "marker or pencil":
			if res, ok := piece.Work(&n, quantity.Markers, quantity.MarkersIn{Area: square * 1e4, Coats: new(math.Min(20, m.Asked["coats"])),
				Coverage: new(m.Asked["cover"])}); ok {
				n.Amount = res.Exact.Markers
			}
		default:
			n.Problem = fmt.Sprintf("The amount of %s cannot be calculated from the drawing. Write how much you need.", c.Kind)
		}
		out = append(out, n)
	}
	return out
}
