package quantity

import "math"

func weaving() map[string]formula {
	shrink := func(name, plain string, def, high float64, low, most float64) field {
		return num(name, plain, "%", 0, high).most(low, most).or(def)
	}
	grist, pack := num("grist_m_per_kg", "yarn length per mass", "m/kg", 20, 200000).most(200, 60000), num("package_g", "mass of one skein", "g", 0, 10000).over()
	waste := num("waste_pct", "allowance", "%", 0, 50).most(0, 10).or(5.0)
	hem := num("hem_cm", "hem allowance", "cm", 0, 50).or(0.0)
	items := count("items", "number of items", 1, 200).or(1.0)
	long := num("finished_length_cm", "finished length", "cm", 0, 5000).over()
	return map[string]formula{
		"weave.sett": {[]field{num("wpi", "wraps per inch", "", 1, 200).most(4, 80), count("ends_in_repeat", "ends in one repeat", 2, 64).or(2.0),
			count("intersections", "intersections", 1, 64).or(2.0), num("density_pct", "density", "%", 30, 300).most(75, 130).or(100.0)}, weaveSett},
		"weave.warp": {[]field{num("finished_width_cm", "finished width", "cm", 0, 500).over(), long, items, num("sett_epc", "ends per cm", "", .2, 80).most(1, 40),
			shrink("draw_in_pct", "draw-in", 8, 30, 3, 15), shrink("width_shrink_pct", "shrinkage of the width", 5, 30, 0, 20),
			shrink("take_up_pct", "warp take-up", 8, 30, 4, 15), shrink("length_shrink_pct", "shrinkage of the length", 5, 30, 0, 20),
			one("loss_model", "loss model", "add", "multiply").or("add"), hem, num("fringe_cm", "fringe", "cm", 0, 100).or(0.0),
			num("loom_waste_cm", "loom waste", "cm", 0, 300).most(40, 100).or(70.0), num("sampling_cm", "warp for sampling", "cm", 0, 500).or(20.0),
			count("threading_repeat", "threading repeat", 1, 2000).or(1.0), count("extra_ends", "extra ends", 0, 200).or(0.0),
			lines("stripe_order", "order of the stripes", word("colour", "colour"), count("ends", "number of ends", 0, 10000)),
			one("stripe_fit", "fit of the stripes", "cut", "whole").or("cut"), num("reed_width_cm", "weaving width of the loom", "cm", 0, 500).over(), waste, grist, pack}, weaveWarp},
		"weave.weft": {[]field{long, items, hem, shrink("length_shrink_pct", "shrinkage of the length", 5, 30, 0, 20), num("ppc", "picks per cm", "", .2, 80).most(1, 40),
			one("ppc_basis", "place where picks were counted", "loom", "finished").or("loom"), num("reed_used_cm", "width of the warp in the reed", "cm", 0, 500).over(),
			shrink("weft_take_up_pct", "weft take-up", 5, 40, 0, 15), lines("weft_order", "order of the picks", word("colour", "colour"), count("picks", "number of picks", 0, 100000)),
			num("tail_cm", "tail", "cm", 0, 50).or(5.0), waste, grist, pack}, weaveWeft},
		"weave.face_share": {[]field{count("over", "picks passed over", 1, 32), count("under", "picks passed under", 1, 32), num("sett_epc", "ends per cm", "", .2, 80),
			num("ppc", "picks per cm", "", .2, 80), num("warp_wpi", "wraps per inch of the warp yarn", "", 1, 200), num("weft_wpi", "wraps per inch of the weft yarn", "", 1, 200)}, weaveFace},
	}
}

// weaveSett is a starting value of the sett, from wraps and the weave's repeat.
func weaveSett(c *call) *Fault {
	r, i := c.num("ends_in_repeat"), c.num("intersections")
	if i > r {
		return fault("contradiction", "intersections", "A weave cannot change face more often than it has ends.")
	}
	epi := c.num("wpi") * r / (r + i) * c.num("density_pct") / 100
	c.exact("epi", epi)
	c.exact("epc", epi/centimetres)
	c.round("epi", near(epi, 1))
	c.round("epc", near(epi/centimetres, .5))
	c.say("%s × %s / (%s + %s) × %s%% = %s ends per inch, %s per cm", c.num("wpi"), r, r, i, c.num("density_pct"), epi, epi/centimetres)
	return nil
}

// threads are the blocks of an order.
func threads(all []values, of string) (out []thread, sum float64) {
	for _, v := range all {
		out = append(out, thread{v.text("colour"), v.num(of)})
		sum += v.num(of)
	}
	return out, sum
}

func weaveWarp(c *call) *Fault {
	order, sum := threads(c.lines("stripe_order"), "ends")
	if sum == 0 {
		return fault("empty", "stripe_order", "The order of the stripes has nothing in it.")
	}
	loss := func(x, p, q float64) float64 {
		if c.text("loss_model") == "multiply" {
			return x / ((1 - p/100) * (1 - q/100))
		}
		return x / (1 - (p+q)/100)
	}
	sett := c.num("sett_epc")
	reed := loss(c.num("finished_width_cm"), c.num("draw_in_pct"), c.num("width_shrink_pct"))
	raw := reed * sett
	multiple := c.num("threading_repeat")
	if c.text("stripe_fit") == "whole" {
		multiple = multiple * sum / common(multiple, sum)
	}
	base := upInt(upInt(raw)/multiple) * multiple
	ends := base + c.num("extra_ends")
	used := ends / sett
	c.say("width in the reed = %s cm; ends = %s × %s = %s, in whole repeats %s + %s = %s; reed used %s cm", reed, reed, sett, raw, base, c.num("extra_ends"), ends, used)
	if loom := c.num("reed_width_cm"); used > loom+fit {
		return fault("does_not_fit", "reed_width_cm", "The warp needs %s cm in the reed and the loom has %s. The widest cloth that fits is about %s cm; or weave two panels.",
			near(used, .01), loom, near(loom*(1-(c.num("draw_in_pct")+c.num("width_shrink_pct"))/100), .1))
	}
	items := c.num("items")
	long := loss((c.num("finished_length_cm")+2*c.num("hem_cm"))*items, c.num("take_up_pct"), c.num("length_shrink_pct")) +
		2*c.num("fringe_cm")*items + c.num("loom_waste_cm") + c.num("sampling_cm")
	wound := up(long, 10)
	c.say("warp length = %s cm, wound as %s cm", long, wound)
	colours, by, _ := expand(order, base)
	by[order[0].colour] += c.num("extra_ends")
	metres := map[string]float64{}
	for _, name := range colours {
		metres[name] = by[name] * wound / 100 * (1 + c.num("waste_pct")/100)
	}
	c.exact("reed_raw_cm", reed)
	c.exact("ends_raw", raw)
	c.exact("warp_length_cm", long)
	c.round("ends", ends)
	c.round("reed_used_cm", near(used, .01))
	c.round("warp_length_cm", wound)
	c.round("ends_by_colour", by)
	c.yarn(colours, metres, func(name string) string {
		return name + ": " + figure(by[name]) + " ends × " + figure(wound/100) + " m"
	})
	return nil
}

// yarn notes metres of yarn as grams and packages.
func (c *call) yarn(colours []string, metres map[string]float64, how func(name string) string) {
	grams, packs := map[string]float64{}, map[string]float64{}
	for _, name := range colours {
		grams[name] = metres[name] / c.num("grist_m_per_kg") * 1000
		packs[name] = upInt(grams[name] / c.num("package_g"))
		c.say("%s, with %s%% more %s m = %s g", how(name), c.num("waste_pct"), metres[name], grams[name])
		c.sold("%s: %s × %s g", name, packs[name], c.num("package_g"))
	}
	c.exact("metres", metres)
	c.exact("grams", grams)
	c.round("packages", packs)
}

// common is the greatest common factor of two whole numbers.
func common(a, b float64) float64 {
	for b != 0 {
		a, b = b, math.Mod(a, b)
	}
	return a
}

func weaveWeft(c *call) *Fault {
	order, sum := threads(c.lines("weft_order"), "picks")
	if sum == 0 {
		return fault("empty", "weft_order", "The order of the picks has nothing in it.")
	}
	woven := (c.num("finished_length_cm") + 2*c.num("hem_cm")) * c.num("items")
	if c.text("ppc_basis") == "loom" {
		woven /= 1 - c.num("length_shrink_pct")/100
	}
	raw := c.num("ppc") * woven
	picks := upInt(raw)
	colours, by, runs := expand(order, picks)
	pick := c.num("reed_used_cm") / 100 * (1 + c.num("weft_take_up_pct")/100)
	c.say("woven length %s cm × %s = %s, up to %s picks; one pick %s m", woven, c.num("ppc"), raw, picks, pick)
	metres := map[string]float64{}
	tails := 2 * c.num("tail_cm") / 100
	for _, name := range colours {
		metres[name] = (by[name]*pick + runs[name]*tails) * (1 + c.num("waste_pct")/100)
	}
	c.exact("woven_length_cm", woven)
	c.exact("picks_raw", raw)
	c.round("picks", picks)
	c.round("picks_by_colour", by)
	c.round("runs_by_colour", runs)
	c.yarn(colours, metres, func(name string) string {
		return name + ": " + figure(by[name]) + " picks × " + figure(pick) + " m + " + figure(runs[name]) + " runs × " + figure(tails) + " m of tails"
	})
	return nil
}

// openGap is the share of background from which a cloth is open.
const openGap = .25

// weaveFace is what the eye blends of warp and weft.
func weaveFace(c *call) *Fault {
	over, under := c.num("over"), c.num("under")
	p := over / (over + under)
	rawW, rawF := c.num("sett_epc")*centimetres/c.num("warp_wpi"), c.num("ppc")*centimetres/c.num("weft_wpi")
	w, f := math.Min(1, rawW), math.Min(1, rawF)
	clamp := func(v float64) float64 { return math.Max(0, math.Min(1, v)) }
	crowd := clamp(rawW-1) - clamp(rawF-1)
	q := p + p*crowd
	if crowd >= 0 {
		q = p + (1-p)*crowd
	}
	warp, weft, gap := w*(1-f)+q*w*f, f*(1-w)+(1-q)*w*f, (1-w)*(1-f)
	share := warp / (warp + weft)
	c.exact("p", p)
	c.exact("warp_cover_raw", rawW)
	c.exact("weft_cover_raw", rawF)
	c.exact("p_eff", q)
	c.exact("warp_area", warp)
	c.exact("weft_area", weft)
	c.exact("gap", gap)
	c.exact("warp_share", share)
	c.exact("weft_share", 1-share)
	c.round("warp_share_pct", near(100*share, 1))
	c.round("weft_share_pct", 100-near(100*share, 1))
	if rawW > 1+fit && rawF > 1+fit {
		c.warn("very_dense")
	}
	if gap > openGap {
		c.warn("open_cloth")
	}
	c.say("the warp is on top at %s of the crossings; it covers %s, the weft %s; crowding %s, so %s", p, rawW, rawF, crowd, q)
	c.say("warp %s, weft %s, gap %s: the warp shows %s, the weft %s", warp, weft, gap, share, 1-share)
	return nil
}
