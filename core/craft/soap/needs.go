package soap

import (
	"fmt"

	"lampfern/core/piece"
	"lampfern/core/quantity"
)

// asks are what a bar cannot know. Lye and water are never among them.
var asks = []piece.Setting{
	piece.Choice("mould", "poured into", "a loaf of these bars", "a box", "a tube", "cavities"),
	piece.Setting{Key: "thick", Name: "thickness of a bar", Unit: "mm", Min: 5, Max: 300, Default: 25}.If("mould", 0),
	piece.Whole("bars", "bars of the loaf, where the piece does not say", 1, 200, 10).If("mould", 0),
	piece.Setting{Key: "m_long", Name: "inside length", Unit: "cm", Min: 1, Max: 300, Default: 25}.If("mould", 1),
	piece.Setting{Key: "m_wide", Name: "inside width", Unit: "cm", Min: 1, Max: 300, Default: 8}.If("mould", 1),
	piece.Setting{Key: "m_round", Name: "inside diameter", Unit: "cm", Min: 1, Max: 100, Default: 7}.If("mould", 2),
	piece.Setting{Key: "m_high", Name: "filled so high", Unit: "cm", Min: 0.5, Max: 100, Default: 6.5}.If("mould", 1, 2),
	piece.Setting{Key: "m_ml", Name: "one cavity holds, to the fill line", Unit: "ml", Min: 1, Max: 1e6, Default: 100}.If("mould", 3),
	piece.Whole("m_many", "moulds or cavities alike", 1, 1000, 1).If("mould", 1, 2, 3),
	{Key: "oils", Name: "oils of your own recipe", Unit: "g", Min: 1, Max: 1e6, Default: 700},
	{Key: "total", Name: "whole batter of that recipe", Unit: "g", Min: 1, Max: 1e6, Default: 1000},
	{Key: "rate", Name: "colourant, where the shelf does not say", Unit: "g per kg of oils", Min: 0, Max: 100, Default: 6},
	{Key: "spare", Name: "batter left in jugs", Unit: "%", Min: 0, Max: 25, Default: 3},
}

// needs are the colourant of each card, in its share of the batter.
func needs(m piece.Making) []piece.Need {
	mould, said := mouldOf(m)
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
	res, ok := split.Work("soap.split", append(mould, piece.Given("spare_pct", m.Asked["spare"], "recipe_oils_g", m.Asked["oils"], "recipe_total_g", m.Asked["total"], "shares", piece.Given(shares...))...))
	oils, _ := res.Unrounded["oils_by_colour_g"].(map[string]float64)
	for i, c := range m.Cards {
		n := piece.Need{Card: i, Kind: "soap colourant", Problem: split.Problem, Warnings: split.Warnings,
			Working: append([]string{said}, piece.About(split.Working, c.Name)...)}
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
				n.Allow(m.Asked["spare"])
			}
		}
		out[i] = n
	}
	return out
}

// mouldOf is what the batter is poured into, as the formula takes it and in words.
func mouldOf(m piece.Making) (quantity.Inputs, string) {
	many := m.Asked["m_many"] * float64(m.Times)
	ask := func(key string) float64 { return m.Asked[key] }
	switch m.Asked["mould"] {
	case 1:
		return piece.Given("shape", "box", "length_cm", ask("m_long"), "width_cm", ask("m_wide"), "height_cm", ask("m_high"), "cavities", many),
			fmt.Sprintf("%g × a box of %g × %g cm, filled %g cm high", many, ask("m_long"), ask("m_wide"), ask("m_high"))
	case 2:
		return piece.Given("shape", "cylinder", "diameter_cm", ask("m_round"), "height_cm", ask("m_high"), "cavities", many),
			fmt.Sprintf("%g × a tube of %g cm, filled %g cm high", many, ask("m_round"), ask("m_high"))
	case 3:
		return piece.Given("shape", "volume", "volume_ml", ask("m_ml"), "cavities", many), fmt.Sprintf("%g cavities of %g ml", many, ask("m_ml"))
	}
	bars := ask("bars")
	if v, there := m.Values["bars"]; there {
		bars = v
	}
	bars *= float64(m.Times)
	ml := m.Values["width"] / 10 * m.Values["height"] / 10 * ask("thick") / 10 * bars
	return piece.Given("shape", "volume", "volume_ml", ml), fmt.Sprintf("%g bars of %g × %g × %g mm", bars, m.Values["width"], m.Values["height"], ask("thick"))
}

// cautions are kept with every list of a batch.
var cautions = []string{
	"Lye and water are not worked out here. They come from your own verified recipe, and are checked again after scaling.",
	"Sodium hydroxide burns skin and eyes: goggles, gloves, long sleeves, no children or animals near. Vinegar is no first aid; rinse with much water.",
	"Add lye to water, never water to lye; it becomes very hot and fumes, so work with air. No aluminium.",
	"Some fragrances and essential oils speed up trace, seize the batter or turn it brown: test small, and have the colours ready before pouring.",
	"Use only colourants stated for soap at high pH and permitted for skin contact, at or below the supplier's highest rate; craft glitter and food dyes are not such.",
	"Do not breathe fine powder: open bags slowly, and wear a dust mask.",
	"Batter stays caustic until it is saponified; cure for 4 to 6 weeks. Selling or giving away falls under local cosmetics rules.",
}
