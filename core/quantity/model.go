package quantity

func models() map[string]formula {
	drop := num("drop_ml", "size of a drop", "ml", .01, .2)
	return map[string]formula{
		"model.paint": {[]field{num("area_cm2", "surface", "cm²", 0, 1000000), count("count", "number of models", 0, 100000).or(1.0), num("detail", "factor for relief", "", 1, 3).most(1, 1.6).or(1.2),
			num("dft_um", "dry film of a coat", "µm", 1, 200).most(8, 40).or(15.0), num("solids", "solids of the paint", "", .02, 1).most(.2, .6).or(.35), count("coats", "number of coats", 0, 20).or(2.0),
			one("method", "method", "brush", "airbrush", "aerosol"), num("transfer", "part of the paint that ends up on the model", "", .05, 1).or(nil),
			num("min_ml", "least useful quantity", "ml", 0, 100).or(nil), num("thinner_ratio", "thinner to one ml of paint", "ml", 0, 5).or(nil),
			num("waste_pct", "cleaning loss and touch-ups", "%", 0, 100).most(5, 25).or(10.0), drop.most(.03, .06).or(.05), num("pot_ml", "paint in one pot", "ml", 0, 5000).over(),
			num("usable_pct", "part of a pot that can be got out", "%", 10, 100).most(75, 95).or(90.0)}, modelPaint},
		"model.mix_drops": {[]field{byName("parts", "parts", "", 0, 1000).counted(), num("need_ml", "mixed paint needed", "ml", 0, 5000),
			num("extra_pct", "extra", "%", 0, 100).most(10, 30).or(20.0), drop.or(.05)}, modelDrops},
	}
}

// paintWays are transfer, least useful ml and thinner by way of painting.
var paintWays = map[string][3]float64{"brush": {.8, .1, .25}, "airbrush": {.5, .5, 1}, "aerosol": {.35, 0, 0}}

func modelPaint(c *call) *Fault {
	way := paintWays[c.text("method")]
	for i, name := range []string{"transfer", "min_ml", "thinner_ratio"} {
		if c.has(name) {
			way[i] = c.num(name)
		}
	}
	area := c.num("area_cm2") * c.num("count") * c.num("detail")
	wet := c.num("dft_um") / c.num("solids")
	paint := area * wet * .0001 * c.num("coats") / way[0] * (1 + c.num("waste_pct")/100)
	use := paint
	if paint > 0 && paint < way[1]-fit {
		use = way[1]
		c.warn("minimum_mix")
	}
	thinner := use * way[2]
	drops, pots := upInt(use/c.num("drop_ml")), upInt(use/(c.num("pot_ml")*c.num("usable_pct")/100))
	c.exact("area_cm2", area)
	c.exact("wet_um", wet)
	c.exact("paint_ml", paint)
	c.exact("use_ml", use)
	c.exact("thinner_ml", thinner)
	c.round("drops", drops)
	c.round("use_ml", up(use, .1))
	c.round("thinner_ml", up(thinner, .1))
	c.round("pots", pots)
	c.say("area %s cm²; wet film %s µm; %s × %s × 0.0001 × %s / %s with %s%% more = %s ml; use %s ml = %s drops; thinner %s ml", area, wet, area, wet, c.num("coats"), way[0], c.num("waste_pct"), paint, use, drops, thinner)
	c.sold("%s", many(pots, "pot"))
	return nil
}

func modelDrops(c *call) *Fault {
	parts := c.amounts("parts")
	sum := 0.0
	for _, n := range parts.of {
		sum += n
	}
	if sum == 0 {
		return fault("empty", "parts", "The parts have nothing in them.")
	}
	raw := c.num("need_ml") * (1 + c.num("extra_pct")/100) / c.num("drop_ml")
	rounds := upInt(upInt(raw) / sum)
	drops := map[string]float64{}
	for _, name := range parts.names {
		drops[name] = parts.of[name] * rounds
		c.say("%s: %s × %s = %s drops", name, parts.of[name], rounds, drops[name])
	}
	c.exact("drops_raw", raw)
	c.round("rounds", rounds)
	c.round("drops", drops)
	c.round("total_ml", sum*rounds*c.num("drop_ml"))
	c.say("%s ml with %s%% more / %s = %s drops; one round is %s drops, so %s rounds", c.num("need_ml"), c.num("extra_pct"), c.num("drop_ml"), raw, sum, rounds)
	return nil
}
