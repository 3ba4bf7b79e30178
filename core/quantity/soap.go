package quantity

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

// lyeFields are inputs that ask for what is not worked out here.
var lyeFields = []string{"lye_g", "lye", "naoh_g", "naoh", "koh_g", "koh", "sodium_hydroxide_g", "potassium_hydroxide_g", "superfat_pct", "superfat",
	"lye_concentration_pct", "sap_value", "water_g"}

// lye refuses a call for soap that asks for lye or water, before all other checks.
func lye(formula string, in Inputs) *Fault {
	if formula != "soap.split" && formula != "soap.colourant" {
		return nil
	}
	for _, one := range in {
		if slices.Contains(lyeFields, strings.ToLower(one.Name)) {
			return fault("not_computed_here", one.Name, "This tool does not work out lye or water. Use your own verified recipe and give only its total oils and its total batter mass.")
		}
	}
	return nil
}

func soaps() map[string]formula {
	size := func(name, plain string, high float64) field { return num(name, plain, "cm", 0, high).over().or(nil) }
	return map[string]formula{
		"soap.split": {[]field{one("shape", "mould shape", "box", "cylinder", "volume").or("box"), size("length_cm", "inside length", 300), size("width_cm", "inside width", 300),
			size("diameter_cm", "inside diameter", 100), size("height_cm", "fill height", 100), num("volume_ml", "volume of one cavity", "ml", 0, 1000000).over().or(nil),
			count("cavities", "number of cavities", 1, 1000).or(1.0), num("density_g_per_ml", "density of the batter", "g/ml", .7, 1.3).most(.98, 1.08).or(1.02),
			num("spare_pct", "batter left in jugs", "%", 0, 25).most(0, 5).or(3.0), num("recipe_oils_g", "oils of the recipe", "g", 0, 1000000).over(),
			num("recipe_total_g", "whole batter of the recipe", "g", 0, 1000000).over(), byName("shares", "share", "%", 0, 100)}, soapSplit},
		"soap.colourant": {[]field{one("kind", "kind of colourant", "mica", "oxide", "ultramarine", "titanium_white", "clay", "plant_powder"),
			num("part_oils_g", "oils in the part", "g", 0, 1000000), one("basis", "basis of the rate", "g_per_kg_oils", "tsp_per_500g_oils").or("g_per_kg_oils"),
			num("rate", "usage rate", "", 0, 100).or(nil), num("density_g_per_ml", "loose density of the powder", "g/ml", .05, 5).or(nil), num("tsp_ml", "size of the teaspoon", "ml", 4, 6.5).or(5.0),
			num("max_g_per_kg_oils", "highest rate permitted", "g/kg oils", 0, 200).over().or(nil), one("disperse", "liquid the powder is stirred into", "oil", "water", "none").or("oil"),
			num("disperse_ratio", "volumes of liquid to one of powder", "", .5, 20).most(1, 5).or(3.0), num("white_base_g_per_kg", "titanium white", "g/kg oils", 0, 15).most(0, 8).or(0.0)}, soapColourant},
		"soap.swirl": {[]field{byName("parts_g", "batter", "g", 0, 1000000), lines("neighbours", "list of neighbours", word("a", "first colour"), word("b", "second colour")).none(),
			num("swirl_pct", "part lost into neighbours", "%", 0, 100).most(5, 40).or(15.0)}, soapSwirl},
	}
}

// Oils as a share of the batter within which a recipe is a usual one.
const leastOils, mostOils = .55, .85

func soapSplit(c *call) *Fault {
	need := map[string][]string{"box": {"length_cm", "width_cm", "height_cm"}, "cylinder": {"diameter_cm", "height_cm"}, "volume": {"volume_ml"}}[c.text("shape")]
	plain := map[string]string{"length_cm": "inside length", "width_cm": "inside width", "height_cm": "fill height", "diameter_cm": "inside diameter", "volume_ml": "volume of one cavity"}
	for _, name := range need {
		if !c.has(name) {
			return fault("missing", name, "Please give the %s.", plain[name])
		}
	}
	oils, total := c.num("recipe_oils_g"), c.num("recipe_total_g")
	if oils >= total {
		return fault("contradiction", "recipe_total_g", "The whole batter must weigh more than its oils.")
	}
	if part := oils / total; part < leastOils-fit || part > mostOils+fit {
		c.warn("check_recipe")
	}
	shares := c.amounts("shares")
	sum := 0.0
	for _, v := range shares.of {
		sum += v
	}
	if math.Abs(sum-100) > .01+fit {
		return fault("shares_not_100", "shares", "The shares add up to %s %%, not 100 %%.", sum)
	}
	volume := c.num("volume_ml")
	switch c.text("shape") {
	case "box":
		volume = c.num("length_cm") * c.num("width_cm") * c.num("height_cm")
	case "cylinder":
		volume = math.Pi * c.num("diameter_cm") * c.num("diameter_cm") * c.num("height_cm") / 4
	}
	volume *= c.num("cavities")
	batter := volume * c.num("density_g_per_ml") * (1 + c.num("spare_pct")/100)
	part := batter * oils / total
	whole := upInt(batter)
	c.say("volume %s ml × %s with %s%% more = %s g batter, up to %s g; oils %s of it = %s g; recipe scale %s", volume, c.num("density_g_per_ml"), c.num("spare_pct"), batter, whole, oils/total, part, batter/total)
	split, oily, wholeOils := map[string]float64{}, map[string]float64{}, map[string]float64{}
	var rounding []float64
	for _, name := range shares.names {
		split[name], oily[name] = batter*shares.of[name]/sum, part*shares.of[name]/sum
		wholeOils[name] = near(oily[name], 1)
		rounding = append(rounding, whole*shares.of[name]/sum)
	}
	wholes := map[string]float64{}
	for i, v := range largestRemainder(rounding, whole) {
		wholes[shares.names[i]] = v
		c.say("%s: %s g batter, as %s g; oils in it %s g", shares.names[i], split[shares.names[i]], v, oily[shares.names[i]])
	}
	c.exact("volume_ml", volume)
	c.exact("batter_g", batter)
	c.exact("oils_g", part)
	c.exact("recipe_scale", batter/total)
	c.exact("batter_by_colour_g", split)
	c.exact("oils_by_colour_g", oily)
	c.round("batter_g", whole)
	c.round("batter_by_colour_g", wholes)
	c.round("oils_by_colour_g", wholeOils)
	return nil
}

// Rates in g per kg of oils and loose densities in g/ml, by kind of colourant.
var soapKinds = map[string][2]float64{"mica": {6, .5}, "oxide": {3, .8}, "ultramarine": {4, .7}, "titanium_white": {4, .8}, "clay": {15, .6}, "plant_powder": {8, .45}}

// oilDensity is that of the oil that powder is stirred into, in g/ml.
const oilDensity = .92

func soapColourant(c *call) *Fault {
	kind := soapKinds[c.text("kind")]
	rate, density := kind[0], kind[1]
	if c.has("density_g_per_ml") {
		density = c.num("density_g_per_ml")
	}
	spoons := c.text("basis") == "tsp_per_500g_oils"
	if spoons && !c.has("rate") {
		return fault("missing", "rate", "Please give the usage rate.")
	}
	if c.has("rate") {
		rate = c.num("rate")
	}
	if spoons {
		rate = rate * c.num("tsp_ml") * density / .5
	}
	oils, white := c.num("part_oils_g"), c.num("white_base_g_per_kg")
	limit := math.Inf(1)
	if c.has("max_g_per_kg_oils") {
		limit = c.num("max_g_per_kg_oils")
		all := rate
		if c.text("kind") == "titanium_white" {
			all += white
		}
		if all > limit+fit {
			return fault("over_limit", "rate", "%s g per kg of oils is above the highest permitted rate %s.", all, limit)
		}
	} else if rate > 0 {
		c.warn("limit_unknown")
	}
	grams := rate * oils / 1000
	ml := grams / density
	spoon := ml / c.num("tsp_ml")
	carrier := ml * c.num("disperse_ratio")
	heavy := carrier * oilDensity
	switch c.text("disperse") {
	case "water":
		heavy = carrier
	case "none":
		carrier, heavy = 0, 0
	}
	titanium := white * oils / 1000
	whole := near(grams, .1)
	if most := limit * oils / 1000; whole > most+fit {
		whole = downInt(grams/.1) * .1
	}
	c.exact("rate_g_per_kg", rate)
	c.exact("colourant_g", grams)
	c.exact("colourant_ml", ml)
	c.exact("colourant_tsp", spoon)
	c.exact("carrier_ml", carrier)
	c.exact("carrier_g", heavy)
	c.exact("titanium_g", titanium)
	c.round("colourant_g", whole)
	c.round("colourant_tsp", near(spoon, .125))
	c.round("carrier_g", near(heavy, 1))
	c.round("titanium_g", near(titanium, .1))
	c.say("rate %s g/kg × %s g oils / 1000 = %s g; volume %s ml = %s tsp", rate, oils, grams, ml, spoon)
	if carrier > 0 {
		c.say("stirred into %s ml = %s g of %s, taken out of the recipe’s own", carrier, heavy, c.text("disperse"))
	}
	if titanium > 0 {
		c.say("titanium white %s g", titanium)
	}
	return nil
}

func soapSwirl(c *call) *Fault {
	parts := c.amounts("parts_g")
	total := 0.0
	for _, v := range parts.of {
		total += v
	}
	type pair struct{ a, b string }
	var pairs []pair
	for i, n := range c.lines("neighbours") {
		for _, side := range []string{"a", "b"} {
			if _, there := parts.of[n.text(side)]; !there {
				return fault("unknown_choice", fmt.Sprintf("neighbours[%d].%s", i, side), "%s is not one of: %s.", n.text(side), strings.Join(parts.names, ", "))
			}
		}
		p := pair{min(n.text("a"), n.text("b")), max(n.text("a"), n.text("b"))}
		if p.a == p.b {
			return fault("contradiction", fmt.Sprintf("neighbours[%d].b", i), "%s cannot be its own neighbour.", p.a)
		}
		if parts.of[p.a] > 0 && parts.of[p.b] > 0 && !slices.Contains(pairs, p) {
			pairs = append(pairs, p)
		}
	}
	if total == 0 {
		return fault("empty", "parts_g", "The batter has nothing in it.")
	}
	swirl := c.num("swirl_pct") / 100
	neighbours := map[string]float64{}
	for _, p := range pairs {
		neighbours[p.a]++
		neighbours[p.b]++
	}
	pure, share, whole, mixed := map[string]float64{}, map[string]float64{}, map[string]float64{}, map[string]any{}
	for _, p := range pairs {
		a, b := parts.of[p.a]*swirl/neighbours[p.a], parts.of[p.b]*swirl/neighbours[p.b]
		first := 0.0
		if a+b > 0 {
			first = a / (a + b)
		}
		mixed[p.a+"|"+p.b] = map[string]float64{"mass_g": a + b, "share_first": first}
		c.say("%s and %s: %s + %s = %s g, share of %s %s", p.a, p.b, a, b, a+b, p.a, first)
	}
	for _, name := range parts.names {
		pure[name] = parts.of[name]
		if neighbours[name] > 0 {
			pure[name] *= 1 - swirl
		}
		share[name] = 100 * pure[name] / total
		whole[name] = near(share[name], 1)
		c.say("%s: stays pure %s g = %s%% of the bar", name, pure[name], share[name])
	}
	c.exact("pure_g", pure)
	c.exact("pure_share_pct", share)
	c.exact("mixed", mixed)
	c.round("pure_share_pct", whole)
	return nil
}
