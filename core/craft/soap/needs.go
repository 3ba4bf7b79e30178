package soap

import (
	"fmt"

	"lampfern/core/piece"
	"lampfern/core/quantity"
)

// asks are what a bar cannot know. Lye and water are never among them.
var asks = []piece.Setting{
	piece.Choice("mould", "mould", "loaf, from bar size", "loaf or slab, inside measurements", "tube", "cavities", "by the batter it holds"),
	piece.Setting{Key: "thick", Name: "bar thickness", Unit: "mm", Min: 5, Max: 300, Default: 25}.If("mould", 0),
	piece.Whole("bars", "bars per loaf", 1, 200, 10).If("mould", 0),
	piece.Setting{Key: "m_long", Name: "inside length", Unit: "cm", Min: 1, Max: 300, Default: 25}.If("mould", 1),
	piece.Setting{Key: "m_wide", Name: "inside width", Unit: "cm", Min: 1, Max: 300, Default: 8}.If("mould", 1),
	piece.Setting{Key: "m_round", Name: "inside diameter", Unit: "cm", Min: 1, Max: 100, Default: 7}.If("mould", 2),
	piece.Setting{Key: "m_high", Name: "fill depth", Unit: "cm", Min: 0.5, Max: 100, Default: 6.5}.If("mould", 1, 2),
	piece.Setting{Key: "m_ml", Name: "one cavity holds", Unit: "ml", Min: 1, Max: 1e6, Default: 100}.If("mould", 3),
	piece.Setting{Key: "m_g", Name: "one mould holds", Unit: "g", Min: 1, Max: 1e6, Default: 1000}.If("mould", 4),
	piece.Whole("m_many", "number of moulds or cavities", 1, 1000, 1).If("mould", 1, 2, 3, 4),
	{Key: "oils", Name: "oils in your recipe", Unit: "g", Min: 1, Max: 1e6, Default: 700},
	{Key: "total", Name: "total batter of that recipe", Unit: "g", Min: 1, Max: 1e6, Default: 1000},
	{Key: "batch", Name: "batter you make, if more than the moulds hold", Unit: "g", Min: 0, Max: 1e6},
	{Key: "rate", Name: "usual colourant rate", Unit: "g per kg oils", Min: 0, Max: 100, Default: 6},
	{Key: "spare", Name: "batter lost in jugs", Unit: "%", Min: 0, Max: 25, Default: 3},
}

// batch is the oils of the maker's own recipe and the usual dose.
func batch(asked piece.Values) piece.Batch {
	return piece.Batch{Oils: 100 * asked["oils"] / asked["total"], Dose: asked["rate"]}
}

// batterDensity is what a millilitre of batter weighs, in g.
const batterDensity = 1.02

// percentOfBatter is the basis of doses that are not by the oils, of material.DoseBases.
const percentOfBatter = "% of batter"

// needs are the colourant of each card, in its share of the batter.
func needs(m piece.Making) []piece.Need {
	in, said := batterOf(m)
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
		in.Shares = append(in.Shares, quantity.Amount{Name: m.Cards[i].Name, N: 100 * areas[i] / whole})
	}
	if rest := 100 * (1 - sum/whole); rest > 1e-6 {
		in.Shares = append(in.Shares, quantity.Amount{Name: "plain", N: rest})
	}
	split, err := quantity.Batter(in)
	made := m.Asked["batch"]
	for i, c := range m.Cards {
		n := piece.Need{Card: i, Kind: "soap colourant", Working: []string{said}}
		if err != nil {
			n.Fail(err)
			out[i] = n
			continue
		}
		x := split.Exact
		n.Share(split.Notes, c.Name)
		n.Portion = &piece.Portion{Mould: x.ByColour[c.Name], Dose: m.Asked["rate"]}
		oils := x.OilsByColour[c.Name]
		switch {
		case made > x.Batter:
			oils *= made / x.Batter
			n.Portion.Second = n.Portion.Mould * (made/x.Batter - 1)
			n.Working = append(n.Working, fmt.Sprintf("%g g are made at once, %.4g × what the mould holds: oils in this part %.4f g; the rest fills a second mould",
				made, made/x.Batter, oils))
		case made > 0:
			n.Warnings = append(n.Warnings, fmt.Sprintf("The mould holds %.0f g of batter and you make %g g, so it is counted as full.", x.Batter, made))
		}
		colourant(&n, m, oils)
		out[i] = n
	}
	return out
}

// colourant works out the colourant of a card, by the oils in its part of the batter in g.
func colourant(n *piece.Need, m piece.Making, oils float64) {
	c := m.Cards[n.Card]
	perKg := func(dose float64, of string) float64 { // % of batter is so many g per kg of oils
		if of == percentOfBatter {
			return dose * 10 * m.Asked["total"] / m.Asked["oils"]
		}
		return dose
	}
	switch {
	case c.Plain:
		n.Portion.Dose = 0
		n.Working = append(n.Working, "it is the colour of the plain batter, so nothing goes into it")
	case c.Dose > 0:
		n.Portion.Dose, n.Portion.Told = perKg(c.Dose, c.DoseOf), true
		if c.DoseOf == percentOfBatter {
			n.Working = append(n.Working, fmt.Sprintf("its rate is %.4g%% of the batter, which is %.4g g per kg of oils", c.Dose, n.Portion.Dose))
		}
	default:
		n.Working = append(n.Working, fmt.Sprintf("no rate is known for it, so your usual rate is used: %g g per kg of oils", n.Portion.Dose))
	}
	in := quantity.ColourantIn{Kind: "mica", PartOils: oils, Rate: &n.Portion.Dose, Disperse: "none"}
	if c.Limit > 0 {
		in.MaxGPerKgOils = new(min(200, perKg(c.Limit, c.LimitOf)))
	}
	if got, ok := piece.Work(n, quantity.Colourant, in); ok {
		n.Amount = got.Exact.Grams
		n.Allow(m.Asked["spare"])
	}
}

// batterOf is what the batter is poured into, as the formula takes it and in words.
func batterOf(m piece.Making) (quantity.BatterIn, string) {
	ask := func(key string) *float64 { return new(m.Asked[key]) }
	in := quantity.BatterIn{Shape: "volume", SparePct: ask("spare"), RecipeOils: m.Asked["oils"], RecipeTotal: m.Asked["total"]}
	many := m.Asked["m_many"] * float64(m.Times)
	switch m.Asked["mould"] {
	case 1:
		in.Shape, in.Length, in.Width, in.Height, in.Cavities = "box", ask("m_long"), ask("m_wide"), ask("m_high"), &many
		return in, fmt.Sprintf("%g × a box of %g × %g cm, filled %g cm high", many, *in.Length, *in.Width, *in.Height)
	case 2:
		in.Shape, in.Diameter, in.Height, in.Cavities = "cylinder", ask("m_round"), ask("m_high"), &many
		return in, fmt.Sprintf("%g × a tube of %g cm, filled %g cm high", many, *in.Diameter, *in.Height)
	case 3:
		in.Volume, in.Cavities = ask("m_ml"), &many
		return in, fmt.Sprintf("%g cavities of %g ml", many, *in.Volume)
	case 4:
		in.Density, in.Volume, in.Cavities = new(batterDensity), new(m.Asked["m_g"]/batterDensity), &many
		return in, fmt.Sprintf("%g × a mould that holds %g g of batter", many, m.Asked["m_g"])
	}
	bars := m.Asked["bars"]
	if v, there := m.Values["bars"]; there {
		bars = v
	}
	bars *= float64(m.Times)
	thick := m.Asked["thick"]
	in.Volume = new(m.Values["width"] / 10 * m.Values["height"] / 10 * thick / 10 * bars)
	return in, fmt.Sprintf("%g bars of %g × %g × %g mm", bars, m.Values["width"], m.Values["height"], thick)
}

// cautions are kept with every list of a batch.
var cautions = []string{
	"Lye and water are not calculated here. Take them from your own verified recipe, and check them again after scaling.",
	"Sodium hydroxide burns skin and eyes: goggles, gloves, long sleeves, no children or animals near. Do not treat burns with vinegar; rinse with plenty of water.",
	"Add lye to water, never water to lye; it becomes very hot and gives off fumes: ventilate. Never use aluminium.",
	"Some fragrances and essential oils speed up trace, seize the batter or turn it brown: test small, and have the colours ready before pouring.",
	"Batter stays caustic until it is saponified: wear gloves when dividers are pulled, bars unmoulded, cut and planed. Cure for 4 to 6 weeks. Selling or giving away falls under local cosmetics rules.",
}
