package quantity

import (
	"cmp"
	"fmt"
	"math"
	"slices"
)

func stocks() map[string]formula {
	much := func(name, plain string) field { return num(name, plain, "", 0, 1e9) }
	var all []string
	for _, g := range unitGroups {
		for _, u := range g {
			all = append(all, u.name)
		}
	}
	return map[string]formula{
		"stock.to_buy": {[]field{much("need", "amount needed"), lines("on_hand", "list of lots", word("lot", "lot"), much("amount", "amount")).none(), word("shop_lot", "lot of the shop").or(nil),
			much("pack", "amount in one purchase unit").over().or(1.0), much("price", "price").or(0.0), yes("allow_mixed", "mixing of lots", false), yes("discontinued", "end of the line", false),
			count("available_packs", "number that can still be had", 0, 1000000).or(nil)}, stockToBuy},
		"stock.lots": {[]field{lines("regions", "list of regions", word("name", "region"), much("need", "amount needed")), lines("lots", "list of lots", word("lot", "lot"), much("amount", "amount"))}, stockLots},
		"stock.cost": {[]field{lines("lines", "list of purchases", word("name", "name"), count("packs", "number of purchase units", 0, 1000000), much("price", "price")),
			num("tax_pct", "tax", "%", 0, 100).or(0.0)}, stockCost},
		"stock.convert": {[]field{num("value", "value", "", 0, 1e12), one("from", "unit given", all...), one("to", "unit wanted", all...)}, stockConvert},
	}
}

func stockToBuy(c *call) *Fault {
	need := c.num("need")
	lots := newNamed()
	for _, l := range c.lines("on_hand") {
		lots.add(l.text("lot"), l.num("amount"))
	}
	total := 0.0
	for _, v := range lots.of {
		total += v
	}
	best := ""
	for _, name := range lots.names {
		if v := lots.of[name]; v >= need-fit && (best == "" || v < lots.of[best]-fit) {
			best = name
		}
	}
	usable, buy := 0.0, 0.0
	used := []string{}
	shop := c.text("shop_lot")
	switch {
	case need == 0:
	case best != "":
		usable, used = need, []string{best}
		c.say("lot %s is enough: %s of %s", best, need, lots.of[best])
	case c.yes("allow_mixed"):
		usable, buy = math.Min(need, total), math.Max(0, need-total)
		together := map[string]bool{}
		for _, name := range lots.names {
			if lots.of[name] > 0 {
				used = append(used, name)
				together[name] = true
			}
		}
		if buy > 0 {
			together[shop] = true
		}
		if len(together) > 1 {
			c.warn("mixed_lots")
		}
		c.say("mixed lots accepted: %s on hand, %s still needed", total, buy)
	case shop != "" && lots.of[shop] > 0:
		usable, used = lots.of[shop], []string{shop}
		buy = need - usable
		if total > usable+fit {
			c.warn("stock_not_used")
		}
		c.say("lot %s: %s on hand, %s still needed in the same lot", shop, usable, buy)
	default:
		buy = need
		if total > 0 {
			c.warn("stock_not_used")
		}
		c.say("no lot on hand is enough: all %s in one new lot", need)
	}
	if buy > 0 && usable > 0 && !c.has("shop_lot") {
		c.warn("lot_unknown")
	}
	packs := upInt(buy / c.num("pack"))
	available := math.Inf(1)
	if c.yes("discontinued") {
		c.warn("discontinued")
		available = 0
	}
	if c.has("available_packs") {
		available = c.num("available_packs")
	}
	short := math.Max(0, packs-available)
	if short > 0 {
		c.warn("not_enough_available")
	}
	cost := near(packs*c.num("price"), .01)
	c.exact("usable", usable)
	c.exact("to_buy", buy)
	c.round("packs", packs)
	c.round("bought", packs*c.num("pack"))
	c.round("left_over", packs*c.num("pack")-buy)
	c.round("cost", cost)
	c.round("short_packs", short)
	c.round("lots_used", used)
	c.say("%s / %s, up to %s; left over %s", buy, c.num("pack"), packs, packs*c.num("pack")-buy)
	return nil
}

func stockLots(c *call) *Fault {
	var lots []string
	left := map[string]float64{}
	for i, l := range c.lines("lots") {
		name := l.text("lot")
		if _, twice := left[name]; twice {
			return fault("contradiction", fmt.Sprintf("lots[%d].lot", i), "%s is listed twice.", name)
		}
		lots, left[name] = append(lots, name), l.num("amount")
	}
	regions := c.lines("regions")
	names := map[string]bool{}
	for i, r := range regions {
		if names[r.text("name")] {
			return fault("contradiction", fmt.Sprintf("regions[%d].name", i), "%s is listed twice.", r.text("name"))
		}
		names[r.text("name")] = true
	}
	order := slices.Clone(regions)
	slices.SortStableFunc(order, func(a, b values) int { return cmp.Compare(b.num("need"), a.num("need")) })
	assign, buy := map[string]string{}, 0.0
	for _, r := range order {
		name, need := r.text("name"), r.num("need")
		if need == 0 {
			assign[name] = "none"
			continue
		}
		best := ""
		rest := 0.0
		for _, l := range lots {
			rest += left[l]
			if left[l] >= need-fit && (best == "" || left[l] < left[best]-fit) {
				best = l
			}
		}
		if best != "" {
			assign[name] = best
			left[best] -= need
			c.say("%s: %s from lot %s, %s left", name, need, best, left[best])
			continue
		}
		assign[name] = "buy"
		buy += need
		if rest >= need-fit {
			c.warn("would_mix_lots:" + name)
		}
		c.say("%s: %s, which no lot holds: buy", name, need)
	}
	c.exact("to_buy", buy)
	c.exact("left", left)
	c.round("assign", assign)
	return nil
}

func stockCost(c *call) *Fault {
	sum := 0.0
	var lines []float64
	for _, l := range c.lines("lines") {
		cost := near(l.num("packs")*l.num("price"), .01)
		sum += cost
		lines = append(lines, cost)
		c.say("%s: %s × %s = %s", l.text("name"), l.num("packs"), l.num("price"), cost)
	}
	tax := sum * c.num("tax_pct") / 100
	c.exact("sum", sum)
	c.exact("tax", tax)
	c.round("line_cost", lines)
	c.round("tax", near(tax, .01))
	c.round("total", sum+near(tax, .01))
	c.say("sum %s; tax %s; total %s", sum, near(tax, .01), sum+near(tax, .01))
	return nil
}

type unitFactor struct {
	name string
	by   float64
}

// unitGroups are units that measure the same thing, each with its size. tex is upside
// down.
var unitGroups = [][]unitFactor{
	{{"mm", .001}, {"cm", .01}, {"m", 1}, {"in", .0254}, {"ft", .3048}, {"yd", .9144}},
	{{"g", 1}, {"kg", 1000}, {"oz", 28.349523125}, {"lb", 453.59237}},
	{{"ml", 1}, {"cm3", 1}, {"l", 1000}, {"tsp", 5}, {"tbsp", 15}, {"tsp_us", 4.92892159375}, {"tbsp_us", 14.78676478125}, {"fl_oz_us", 29.5735295625}, {"fl_oz_uk", 28.4130625}, {"in3", 16.387064}},
	{{"cm2", .0001}, {"m2", 1}, {"in2", .00064516}, {"yd2", .83612736}},
	{{"m_per_kg", 1}, {"m_per_100g", 10}, {"m_per_g", 1000}, {"m_per_50g", 20}, {"yd_per_lb", 2.0159069254185207}, {"ne_cotton", 1693.3618173515572}, {"ne_linen", 604.7720776255561}, {"nw_worsted", 1128.9078782343713}, {"tex", 1e6}},
	{{"per_cm", 1}, {"per_in", .39370078740157477}, {"per_10cm", .1}},
	{{"g_per_m2", 1}, {"oz_per_yd2", 33.9057474748823}},
}

func stockConvert(c *call) *Fault {
	from, to, v := c.text("from"), c.text("to"), c.num("value")
	for _, g := range unitGroups {
		at := slices.IndexFunc(g, func(u unitFactor) bool { return u.name == from })
		if at < 0 {
			continue
		}
		other := slices.IndexFunc(g, func(u unitFactor) bool { return u.name == to })
		if other < 0 {
			return fault("unit_mismatch", "to", "%s and %s do not measure the same thing.", from, to)
		}
		if v == 0 && from != to && (from == "tex" || to == "tex") {
			return fault("not_positive", "value", "The value must be more than zero.")
		}
		base := v * g[at].by
		if from == "tex" && v != 0 {
			base = g[at].by / v
		}
		out := base / g[other].by
		if to == "tex" && base != 0 {
			out = g[other].by / base
		}
		c.exact("value", out)
		c.round("value", near(out, .001))
		c.say("%s %s = %s %s", v, from, out, to)
	}
	return nil
}
