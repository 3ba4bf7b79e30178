package quantity

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

// lyeFields are inputs that ask for what is not worked out here.
var lyeFields = []string{"lye_g", "lye", "naoh_g", "naoh", "koh_g", "koh", "sodium_hydroxide_g", "potassium_hydroxide_g", "superfat_pct",
	"superfat",
	"lye_concentration_pct", "sap_value", "water_g"}

// lye refuses inputs that ask for lye or water, before all other checks.
func lye(in Inputs) error {
	for _, one := range in {
		if slices.Contains(lyeFields, strings.ToLower(one.Name)) {
			return fault("not_computed_here", one.Name,
				"This tool does not work out lye or water. Use your own verified recipe and give only its total oils and its total batter mass.")
		}
	}
	return nil
}

// BatterIn is a mould, the maker's own recipe, and the share of each colour in %.
type BatterIn struct {
	Shape       string   `json:"shape" in:"mould shape; one box cylinder volume; or box"`
	Length      *float64 `json:"length_cm" in:"inside length; over 0 to 300; unit cm"`
	Width       *float64 `json:"width_cm" in:"inside width; over 0 to 300; unit cm"`
	Diameter    *float64 `json:"diameter_cm" in:"inside diameter; over 0 to 100; unit cm"`
	Height      *float64 `json:"height_cm" in:"fill height; over 0 to 100; unit cm"`
	Volume      *float64 `json:"volume_ml" in:"volume of one cavity; over 0 to 1000000; unit ml"`
	Cavities    *float64 `json:"cavities" in:"number of cavities; 1 to 1000; whole; or 1"`
	Density     *float64 `json:"density_g_per_ml" in:"density of the batter; .7 to 1.3; unit g/ml; usual .98 1.08; or 1.02"`
	SparePct    *float64 `json:"spare_pct" in:"batter left in jugs; 0 to 25; unit %; usual 0 5; or 3"`
	RecipeOils  float64  `json:"recipe_oils_g" in:"oils of the recipe; over 0 to 1000000; unit g"`
	RecipeTotal float64  `json:"recipe_total_g" in:"whole batter of the recipe; over 0 to 1000000; unit g"`
	Shares      Amounts  `json:"shares" in:"share; 0 to 100; unit %"`
}

// BatterOut is the batter of a mould, whole and by colour.
type BatterOut struct {
	Exact struct {
		Volume       float64  `json:"volume_ml"`
		Batter       float64  `json:"batter_g"`
		Oils         float64  `json:"oils_g"`
		RecipeScale  float64  `json:"recipe_scale"`
		ByColour     ByColour `json:"batter_by_colour_g"`
		OilsByColour ByColour `json:"oils_by_colour_g"`
	} `json:"unrounded"`
	Rounded struct {
		Batter       float64  `json:"batter_g"`
		ByColour     ByColour `json:"batter_by_colour_g"`
		OilsByColour ByColour `json:"oils_by_colour_g"`
	} `json:"rounded"`
	Notes
}

// Oils as a share of the batter within which a recipe is a usual one.
const leastOils, mostOils = .55, .85

// volume is that of one cavity in ml; what it is worked out of must be given.
func (in BatterIn) volume() (float64, error) {
	ml := 1.0
	for _, side := range map[string][]struct {
		of          *float64
		name, plain string
	}{
		"box": {{in.Length, "length_cm", "inside length"}, {in.Width, "width_cm", "inside width"}, {in.Height, "height_cm", "fill height"}},
		"cylinder": {{in.Diameter, "diameter_cm", "inside diameter"}, {in.Diameter, "diameter_cm", "inside diameter"},
			{in.Height, "height_cm", "fill height"}},
		"volume": {{in.Volume, "volume_ml", "volume of one cavity"}},
	}[in.Shape] {
		if side.of == nil {
			return 0, fault("missing", side.name, "Please give the %s.", side.plain)
		}
		ml *= *side.of
	}
	if in.Shape == "cylinder" {
		ml *= math.Pi / 4
	}
	return ml, nil
}

// Batter works out the batter that fills a mould, and shares it among colours.
func Batter(in BatterIn) (out BatterOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	volume, err := in.volume()
	if err != nil {
		return out, err
	}
	oils, total := in.RecipeOils, in.RecipeTotal
	if oils >= total {
		return out, fault("contradiction", "recipe_total_g", "The whole batter must weigh more than its oils.")
	}
	if part := oils / total; part < leastOils-fit || part > mostOils+fit {
		out.warn("check_recipe")
	}
	sum := in.Shares.sum()
	if math.Abs(sum-100) > .01+fit {
		return out, fault("shares_not_100", "shares", "The shares add up to %s %%, not 100 %%.", sum)
	}
	volume *= *in.Cavities
	batter := volume * *in.Density * (1 + *in.SparePct/100)
	part := batter * oils / total
	whole := upInt(batter)
	out.say("volume %s ml × %s with %s%% more = %s g batter, up to %s g; oils %s of it = %s g; recipe scale %s",
		volume, in.Density, in.SparePct, batter, whole, oils/total, part, batter/total)
	var rounding []float64
	for _, s := range in.Shares {
		rounding = append(rounding, whole*s.N/sum)
	}
	x, r := &out.Exact, &out.Rounded
	x.Volume, x.Batter, x.Oils, x.RecipeScale, r.Batter = volume, batter, part, batter/total, whole
	x.ByColour, x.OilsByColour, r.ByColour, r.OilsByColour = ByColour{}, ByColour{}, ByColour{}, ByColour{}
	for i, v := range largestRemainder(rounding, whole) {
		name, share := in.Shares[i].Name, in.Shares[i].N/sum
		x.ByColour[name], x.OilsByColour[name], r.ByColour[name], r.OilsByColour[name] = batter*share, part*share, v, near(part*share, 1)
		out.sayOf(name, "%s g batter, as %s g; oils in it %s g", batter*share, v, part*share)
	}
	return out, nil
}

// ColourantIn is the colourant of a part of the batter.
type ColourantIn struct {
	Kind          string   `json:"kind" in:"kind of colourant; one mica oxide ultramarine titanium_white clay plant_powder"`
	PartOils      float64  `json:"part_oils_g" in:"oils in the part; 0 to 1000000; unit g"`
	Basis         string   `json:"basis" in:"basis of the rate; one g_per_kg_oils tsp_per_500g_oils; or g_per_kg_oils"`
	Rate          *float64 `json:"rate" in:"usage rate; 0 to 100"`
	Density       *float64 `json:"density_g_per_ml" in:"loose density of the powder; .05 to 5; unit g/ml"`
	TspML         *float64 `json:"tsp_ml" in:"size of the teaspoon; 4 to 6.5; unit ml; or 5"`
	MaxGPerKgOils *float64 `json:"max_g_per_kg_oils" in:"highest rate permitted; over 0 to 200; unit g/kg oils"`
	Disperse      string   `json:"disperse" in:"liquid the powder is stirred into; one oil water none; or oil"`
	DisperseRatio *float64 `json:"disperse_ratio" in:"volumes of liquid to one of powder; .5 to 20; usual 1 5; or 3"`
	WhiteBase     float64  `json:"white_base_g_per_kg" in:"titanium white; 0 to 15; unit g/kg oils; usual 0 8; or 0"`
}

// ColourantOut is a colourant by weight and by spoon, and the liquid it is stirred into.
type ColourantOut struct {
	Exact struct {
		Rate      float64 `json:"rate_g_per_kg"`
		Grams     float64 `json:"colourant_g"`
		ML        float64 `json:"colourant_ml"`
		Tsp       float64 `json:"colourant_tsp"`
		CarrierML float64 `json:"carrier_ml"`
		CarrierG  float64 `json:"carrier_g"`
		TitaniumG float64 `json:"titanium_g"`
	} `json:"unrounded"`
	Rounded struct {
		Grams     float64 `json:"colourant_g"`
		Tsp       float64 `json:"colourant_tsp"`
		CarrierG  float64 `json:"carrier_g"`
		TitaniumG float64 `json:"titanium_g"`
	} `json:"rounded"`
	Notes
}

// soapKinds are rates in g per kg of oils and loose densities in g/ml, by kind of colourant.
var soapKinds = map[string]struct{ rate, density float64 }{"mica": {6, .5}, "oxide": {3, .8}, "ultramarine": {4, .7},
	"titanium_white": {4, .8}, "clay": {15, .6}, "plant_powder": {8, .45}}

// oilDensity is that of the oil that powder is stirred into, in g/ml.
const oilDensity = .92

// Colourant works out the colourant of a part of the batter.
func Colourant(in ColourantIn) (out ColourantOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	kind := soapKinds[in.Kind]
	use(&kind.density, in.Density)
	spoons := in.Basis == "tsp_per_500g_oils"
	if spoons && in.Rate == nil {
		return out, fault("missing", "rate", "Please give the usage rate.")
	}
	use(&kind.rate, in.Rate)
	rate := kind.rate
	if spoons {
		rate *= *in.TspML * kind.density / .5
	}
	limit := math.Inf(1)
	if in.MaxGPerKgOils != nil {
		limit = *in.MaxGPerKgOils
		all := rate
		if in.Kind == "titanium_white" {
			all += in.WhiteBase
		}
		if all > limit+fit {
			return out, fault("over_limit", "rate", "%s g per kg of oils is above the highest permitted rate %s.", all, limit)
		}
	} else if rate > 0 {
		out.warn("limit_unknown")
	}
	oils := in.PartOils
	grams := rate * oils / 1000
	ml := grams / kind.density
	spoon := ml / *in.TspML
	carrier := ml * *in.DisperseRatio
	heavy := carrier * oilDensity
	switch in.Disperse {
	case "water":
		heavy = carrier
	case "none":
		carrier, heavy = 0, 0
	}
	titanium := in.WhiteBase * oils / 1000
	whole := near(grams, .1)
	if most := limit * oils / 1000; whole > most+fit {
		whole = downInt(grams/.1) * .1
	}
	x, r := &out.Exact, &out.Rounded
	x.Rate, x.Grams, x.ML, x.Tsp, x.CarrierML, x.CarrierG, x.TitaniumG = rate, grams, ml, spoon, carrier, heavy, titanium
	r.Grams, r.Tsp, r.CarrierG, r.TitaniumG = whole, near(spoon, .125), near(heavy, 1), near(titanium, .1)
	out.say("rate %s g/kg × %s g oils / 1000 = %s g; volume %s ml = %s tsp", rate, oils, grams, ml, spoon)
	if carrier > 0 {
		out.say("stirred into %s ml = %s g of %s, taken out of the recipe’s own", carrier, heavy, in.Disperse)
	}
	if titanium > 0 {
		out.say("titanium white %s g", titanium)
	}
	return out, nil
}

// SwirlIn is poured batter by colour, which colours touch, and how much of each is drawn into others.
type SwirlIn struct {
	PartsG     Amounts      `json:"parts_g" in:"batter; 0 to 1000000; unit g"`
	Neighbours []Neighbours `json:"neighbours" in:"list of neighbours; none"`
	SwirlPct   *float64     `json:"swirl_pct" in:"part lost into neighbours; 0 to 100; unit %; usual 5 40; or 15"`
}

// Neighbours are two colours that touch.
type Neighbours struct {
	A string `json:"a" in:"first colour"`
	B string `json:"b" in:"second colour"`
}

// SwirlOut is what stays pure of each colour, and what two come to where they mix, under "a|b".
type SwirlOut struct {
	Exact struct {
		Pure      ByColour           `json:"pure_g"`
		PureShare ByColour           `json:"pure_share_pct"`
		Mixed     map[string]Swirled `json:"mixed"`
	} `json:"unrounded"`
	Rounded struct {
		PureShare ByColour `json:"pure_share_pct"`
	} `json:"rounded"`
	Notes
}

// Swirled is where two colours mix, in g, and the share of the first, 0 to 1.
type Swirled struct {
	Mass       float64 `json:"mass_g"`
	ShareFirst float64 `json:"share_first"`
}

// pairs are the neighbours that have batter, each pair once, in the order of their names.
func (in SwirlIn) pairs() (out []Neighbours, err error) {
	for i, n := range in.Neighbours {
		for _, side := range []Amount{{n.A, 0}, {n.B, 1}} {
			if _, there := in.PartsG.of(side.Name); !there {
				return nil, fault("unknown_choice", fmt.Sprintf("neighbours[%d].%s", i, []string{"a", "b"}[int(side.N)]),
					"%s is not one of: %s.", side.Name, strings.Join(in.PartsG.names(), ", "))
			}
		}
		p := Neighbours{min(n.A, n.B), max(n.A, n.B)}
		if p.A == p.B {
			return nil, fault("contradiction", fmt.Sprintf("neighbours[%d].b", i), "%s cannot be its own neighbour.", p.A)
		}
		a, _ := in.PartsG.of(p.A)
		b, _ := in.PartsG.of(p.B)
		if a > 0 && b > 0 && !slices.Contains(out, p) {
			out = append(out, p)
		}
	}
	return out, nil
}

// Swirl works out what a swirl leaves pure.
func Swirl(in SwirlIn) (out SwirlOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	pairs, err := in.pairs()
	if err != nil {
		return out, err
	}
	total := in.PartsG.sum()
	if total == 0 {
		return out, fault("empty", "parts_g", "The batter has nothing in it.")
	}
	swirl := *in.SwirlPct / 100
	neighbours := ByColour{}
	for _, p := range pairs {
		neighbours[p.A]++
		neighbours[p.B]++
	}
	lost := func(name string) float64 {
		n, _ := in.PartsG.of(name)
		return n * swirl / neighbours[name]
	}
	x := &out.Exact
	x.Pure, x.PureShare, x.Mixed, out.Rounded.PureShare = ByColour{}, ByColour{}, map[string]Swirled{}, ByColour{}
	for _, p := range pairs {
		a, b := lost(p.A), lost(p.B)
		first := 0.0
		if a+b > 0 {
			first = a / (a + b)
		}
		x.Mixed[p.A+"|"+p.B] = Swirled{a + b, first}
		out.say("%s and %s: %s + %s = %s g, share of %s %s", p.A, p.B, a, b, a+b, p.A, first)
	}
	for _, p := range in.PartsG {
		pure := p.N
		if neighbours[p.Name] > 0 {
			pure *= 1 - swirl
		}
		share := 100 * pure / total
		x.Pure[p.Name], x.PureShare[p.Name], out.Rounded.PureShare[p.Name] = pure, share, near(share, 1)
		out.sayOf(p.Name, "stays pure %s g = %s%% of the bar", pure, share)
	}
	return out, nil
}
