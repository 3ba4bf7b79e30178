package soap

import (
	"fmt"

	"lampfern/core/piece"
)

// asks are what a bar cannot know. Lye and water are never among them.
var asks = []piece.Setting{
	{Key: "thick", Name: "thickness of a bar", Unit: "mm", Min: 5, Max: 300, Default: 25},
	{Key: "bars", Name: "bars of the loaf, where the piece does not say", Min: 1, Max: 200, Default: 10, Whole: true},
	{Key: "oils", Name: "oils of your own recipe", Unit: "g", Min: 1, Max: 1e6, Default: 700},
	{Key: "total", Name: "whole batter of that recipe", Unit: "g", Min: 1, Max: 1e6, Default: 1000},
	{Key: "rate", Name: "colourant, where the shelf does not say", Unit: "g per kg of oils", Min: 0, Max: 100, Default: 6},
	{Key: "spare", Name: "batter left in jugs", Unit: "%", Min: 0, Max: 25, Default: 3},
}

// needs are the colourant of each card, in its share of the batter.
func needs(m piece.Making) []piece.Need {
	bars := m.Asked["bars"]
	if v, there := m.Values["bars"]; there {
		bars = v
	}
	ml := m.Values["width"] / 10 * m.Values["height"] / 10 * m.Asked["thick"] / 10 * bars * float64(m.Times)
	var shares []any
	sum := 0.0
	areas := m.AreasOf()
	for _, a := range areas {
		sum += a
	}
	out := make([]piece.Need, len(m.Cards))
	if sum == 0 {
		return out
	}
	whole := m.Piece.Area()
	for i := range m.Cards {
		shares = append(shares, m.Cards[i].Name, 100*areas[i]/whole)
	}
	if rest := 100 * (1 - sum/whole); rest > 1e-6 {
		shares = append(shares, "plain", rest)
	}
	var split piece.Need
	res, ok := split.Work("soap.split", piece.Given("shape", "volume", "volume_ml", ml, "spare_pct", m.Asked["spare"], "recipe_oils_g", m.Asked["oils"], "recipe_total_g", m.Asked["total"], "shares", piece.Given(shares...)))
	oils, _ := res.Unrounded["oils_by_colour_g"].(map[string]float64)
	for i, c := range m.Cards {
		n := piece.Need{Card: i, Kind: "soap colourant", Problem: split.Problem, Warnings: split.Warnings,
			Working: append([]string{fmt.Sprintf("%.0f bars of %g × %g × %g mm", bars, m.Values["width"], m.Values["height"], m.Asked["thick"])}, piece.About(split.Working, c.Name)...)}
		if ok {
			rate := m.Asked["rate"]
			if c.Dose > 0 { // % of batter is so many g per kg of oils
				rate = 10 * c.Dose * m.Asked["total"] / m.Asked["oils"]
				n.Working = append(n.Working, fmt.Sprintf("tried at %g%% of the batter, which is %.4g g per kg of oils", c.Dose, rate))
			}
			in := piece.Given("kind", "mica", "part_oils_g", oils[c.Name], "rate", rate, "disperse", "none")
			if c.Limit > 0 {
				limit := c.Limit
				if c.LimitOf == "% of batter" {
					limit *= 10 * m.Asked["total"] / m.Asked["oils"]
				}
				in = append(in, piece.Given("max_g_per_kg_oils", min(200, limit))...)
			}
			if got, ok := n.Work("soap.colourant", in); ok {
				n.Amount = got.Unrounded["colourant_g"].(float64)
			}
		}
		out[i] = n
	}
	return out
}
