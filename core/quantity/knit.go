package quantity

import (
	"fmt"
	"math"
	"unicode/utf8"
)

func knitting() map[string]formula {
	swatch := num("swatch_g", "mass of the swatch", "g", 0, 2000).over()
	metres := num("m_per_100g", "yarn length per 100 g", "m", 5, 3000).most(40, 900)
	skein := num("skein_g", "mass of one skein", "g", 0, 2000).over()
	waste := num("waste_pct", "allowance", "%", 0, 100).most(5, 15).or(10.0)
	stitches, rows := count("swatch_stitches", "stitches in each swatch row", 1, 1000), count("swatch_rows", "rows in the swatch", 1, 1000)
	return map[string]formula{
		"knit.area": {[]field{lines("parts", "list of parts", num("width_cm", "width at one end", "cm", 0, 1000).over(), num("width2_cm", "width at the other end", "cm", 0, 1000).or(nil),
			num("length_cm", "length", "cm", 0, 2000).over(), count("count", "number of parts", 0, 1000).or(1.0)),
			num("swatch_w_cm", "swatch width", "cm", 0, 200).over(), num("swatch_h_cm", "swatch height", "cm", 0, 200).over(), swatch, metres, skein, waste}, knitArea},
		"knit.stripes": {[]field{lines("stripes", "list of stripes", word("colour", "colour"), count("rows", "number of rows", 0, 10000), num("stitches", "stitches in each row", "", 0, 5000).over()),
			stitches, rows, swatch, metres, num("tail_cm", "tail", "cm", 0, 100).most(10, 25).or(15.0), one("ends", "ends", "cut", "carried").or("cut"), skein, waste}, knitStripes},
		"knit.stranded": {[]field{wordList("chart", "rows of the chart"), count("repeats_w", "repeats across", 1, 5000).or(1.0), count("repeats_h", "repeats up", 1, 5000).or(1.0),
			one("method", "method", "float_length", "percent", "stranded_swatch").or("float_length"), num("gauge_st_10cm", "stitches in 10 cm", "", 2, 120).most(8, 50),
			num("float_slack_pct", "slack in a float", "%", 0, 50).most(5, 20).or(10.0), num("float_pct", "float allowance", "%", 0, 100).most(10, 30).or(20.0),
			count("max_float_st", "longest float", 1, 50).or(5.0), stitches, rows, swatch, metres, skein, waste}, knitStranded},
	}
}

// Swatches that are too small or too light to tell much.
const (
	smallSwatch = 100.0 // cm²
	lightSwatch = 2.0   // g
)

func (c *call) lightSwatch() {
	if c.num("swatch_g") < lightSwatch {
		c.warn("light_swatch")
	}
}

func knitArea(c *call) *Fault {
	area := 0.0
	for _, p := range c.lines("parts") {
		other := p.num("width_cm")
		if p.has("width2_cm") {
			other = p.num("width2_cm")
		}
		area += p.num("count") * p.num("length_cm") * (p.num("width_cm") + other) / 2
	}
	swatch := c.num("swatch_w_cm") * c.num("swatch_h_cm")
	if swatch < smallSwatch-fit {
		c.warn("small_swatch")
	}
	c.lightSwatch()
	grams := area * c.num("swatch_g") / swatch * (1 + c.num("waste_pct")/100)
	metres := grams * c.num("m_per_100g") / 100
	skeins := upInt(grams / c.num("skein_g"))
	c.exact("area_cm2", area)
	c.exact("grams", grams)
	c.exact("metres", metres)
	c.round("grams", upInt(grams))
	c.round("metres", upInt(metres))
	c.round("skeins", skeins)
	c.say("area %s cm²; swatch %s g / %s cm² = %s g/cm²", area, c.num("swatch_g"), swatch, c.num("swatch_g")/swatch)
	c.say("with %s%% more %s g = %s m", c.num("waste_pct"), grams, metres)
	c.sold("%s of %s g", many(skeins, "skein"), c.num("skein_g"))
	return nil
}

func knitStripes(c *call) *Fault {
	per := c.num("swatch_g") / (c.num("swatch_stitches") * c.num("swatch_rows"))
	tails := 2 * c.num("tail_cm") / 100 / (c.num("m_per_100g") / 100)
	c.lightSwatch()
	stitches, runs := newNamed(), map[string]float64{}
	last := ""
	for _, s := range c.lines("stripes") {
		name := s.text("colour")
		stitches.add(name, s.num("rows")*s.num("stitches"))
		if s.num("rows") == 0 {
			continue
		}
		if name != last && !(c.text("ends") == "carried" && runs[name] > 0) {
			runs[name]++
		}
		last = name
	}
	c.say("one stitch = %s g / (%s × %s) = %s g; two tails = %s g", c.num("swatch_g"), c.num("swatch_stitches"), c.num("swatch_rows"), per, tails)
	grams, metres, whole, skeins := map[string]float64{}, map[string]float64{}, map[string]float64{}, map[string]float64{}
	for _, name := range stitches.names {
		grams[name] = (stitches.of[name]*per + runs[name]*tails) * (1 + c.num("waste_pct")/100)
		metres[name] = grams[name] * c.num("m_per_100g") / 100
		whole[name], skeins[name] = upInt(grams[name]), upInt(grams[name]/c.num("skein_g"))
		c.say("%s: (%s stitches × %s + %s × %s) with %s%% more = %s g", name, stitches.of[name], per, runs[name], tails, c.num("waste_pct"), grams[name])
		c.sold("%s: %s", name, many(skeins[name], "skein"))
	}
	c.exact("grams", grams)
	c.exact("metres", metres)
	c.round("stitches", stitches.of)
	c.round("grams", whole)
	c.round("skeins", skeins)
	return nil
}

func knitStranded(c *call) *Fault {
	chart := c.texts("chart")
	wide := utf8.RuneCountInString(chart[0])
	stitches, floats := newNamed(), map[string]float64{}
	longest := 0
	times := c.num("repeats_w") * c.num("repeats_h")
	for i, row := range chart {
		runes := []rune(row)
		if len(runes) != wide {
			return fault("contradiction", fmt.Sprintf("chart[%d]", i), "Row %s has %s stitches; the first row has %s.", float64(i+1), float64(len(runes)), float64(wide))
		}
		in := newNamed()
		for _, r := range runes {
			in.add(string(r), 1)
		}
		for _, name := range in.names {
			stitches.add(name, in.of[name]*times)
			floats[name] += (float64(wide) - in.of[name]) * times
			// Read round: the row stands twice.
			run := 0
			for k := range 2 * wide {
				if string(runes[k%wide]) == name {
					run = 0
					continue
				}
				if run++; run <= wide {
					longest = max(longest, run)
				}
			}
		}
	}
	c.lightSwatch()
	one := c.num("swatch_g") / (c.num("swatch_stitches") * c.num("swatch_rows")) * c.num("m_per_100g") / 100
	across := 10 / c.num("gauge_st_10cm") * (1 + c.num("float_slack_pct")/100) / 100
	c.say("one stitch %s m; one stitch of float %s m", one, across)
	all := 0.0
	for _, n := range stitches.of {
		all += n
	}
	share, metres, grams, whole, skeins := map[string]float64{}, map[string]float64{}, map[string]float64{}, map[string]float64{}, map[string]float64{}
	for _, name := range stitches.names {
		n := stitches.of[name]
		m := n * one
		switch c.text("method") {
		case "float_length":
			m += floats[name] * across
		case "percent":
			m *= 1 + c.num("float_pct")/100
		}
		share[name] = n / math.Max(1, all)
		metres[name] = m * (1 + c.num("waste_pct")/100)
		grams[name] = metres[name] / c.num("m_per_100g") * 100
		whole[name], skeins[name] = upInt(grams[name]), upInt(grams[name]/c.num("skein_g"))
		c.say("%s: %s stitches (share %s), %s float stitches; with %s%% more %s m = %s g", name, n, share[name], floats[name], c.num("waste_pct"), metres[name], grams[name])
		c.sold("%s: %s", name, many(skeins[name], "skein"))
	}
	if float64(longest) > c.num("max_float_st") {
		c.warn("long_float")
	}
	c.exact("share", share)
	c.exact("metres", metres)
	c.exact("grams", grams)
	c.round("stitches", stitches.of)
	c.round("float_stitches", floats)
	c.round("longest_float", float64(longest))
	c.round("grams", whole)
	c.round("skeins", skeins)
	return nil
}
