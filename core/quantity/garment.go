package quantity

import (
	"fmt"
	"math"
)

func garments() map[string]formula {
	width, selvedge := num("fabric_width_cm", "full width of the fabric", "cm", 20, 400).most(90, 160), num("selvedge_cm", "selvedge", "cm", 0, 10).or(1.5)
	nap, napPct := yes("nap", "nap", false), num("nap_pct", "extra for nap", "%", 0, 50).most(10, 25).or(15.0)
	shrink := num("shrink_pct", "shrinkage", "%", 0, 30).most(0, 10).or(5.0)
	sold := one("sold_in", "purchase step", "m", "yd").or("m")
	return map[string]formula{
		"garment.area": {[]field{lines("parts", "list of pattern parts", word("name", "name of the part"), num("area_cm2", "area", "cm²", 0, 100000).over(),
			num("length_cm", "length along the grain", "cm", 0, 1000).over(), num("width_cm", "width across the grain", "cm", 0, 400).over(), count("count", "number of parts", 0, 1000).or(1.0)),
			width, selvedge, num("efficiency_pct", "part of the cloth that becomes pattern parts", "%", 30, 100).most(65, 90).or(75.0), nap, napPct,
			num("repeat_cm", "pattern repeat", "cm", 0, 200).or(0.0), count("match_pieces", "number of parts that must match", 0, 100).or(0.0), shrink, sold}, garmentArea},
		"garment.table": {[]field{lines("table", "table of the envelope", num("width_cm", "fabric width", "cm", 20, 400), byName("lengths_m", "length", "m", 0, 50).over()),
			word("size", "size"), width, nap, yes("table_has_nap", "nap of the table", false), napPct, shrink, sold}, garmentTable},
		"garment.bias": {[]field{num("length_cm", "length of binding", "cm", 0, 100000), num("strip_cm", "cut width of the strip", "cm", 1, 30).most(2.5, 6).or(4.0),
			num("waste_pct", "joins and trimming", "%", 0, 50).most(5, 20).or(10.0), width, selvedge, sold}, garmentBias},
		"garment.thread": {[]field{lines("seams", "list of seams", num("length_m", "seam length", "m", 0, 10000),
			one("stitch", "stitch", "lockstitch", "zigzag", "chainstitch", "overlock3", "overlock4", "coverstitch"), count("rows", "rows of stitching", 1, 20).or(1.0)),
			num("waste_pct", "tails, bobbins, test rows", "%", 0, 100).most(10, 25).or(15.0), num("reel_m", "thread on one reel", "m", 1, 20000).or(100.0)}, garmentThread},
	}
}

// Lengths that cloth is sold by, in cm.
const (
	tenth  = 10.0  // of a metre
	eighth = 11.43 // of a yard
)

// buyGarment notes a length in cm as it is bought.
func (c *call) buyGarment(length float64) {
	buy, unit := upInt(length/tenth)*.1, "m"
	if c.text("sold_in") == "yd" {
		buy, unit = upInt(length/eighth)*.125, "yd"
	}
	c.round("buy", buy)
	c.round("buy_unit", unit)
	c.sold("%s %s", buy, unit)
}

// shrunk notes the length to buy of a length before it is washed.
func (c *call) shrunk(length float64) {
	buy := length / (1 - c.num("shrink_pct")/100)
	c.exact("length_cm", length)
	c.exact("length_to_buy_cm", buy)
	c.say("/ (1 − %s/100) = %s cm", c.num("shrink_pct"), buy)
	c.buyGarment(buy)
}

// usableWidth is the width between the selvedges.
func (c *call) usableWidth() (float64, *Fault) {
	u := c.num("fabric_width_cm") - 2*c.num("selvedge_cm")
	if u <= fit {
		return 0, fault("contradiction", "selvedge_cm", "The selvedges are as wide as the cloth.")
	}
	return u, nil
}

func garmentArea(c *call) *Fault {
	u, bad := c.usableWidth()
	if bad != nil {
		return bad
	}
	area, longest := 0.0, 0.0
	for i, p := range c.lines("parts") {
		if p.num("area_cm2") > p.num("length_cm")*p.num("width_cm")+fit {
			return fault("contradiction", fmt.Sprintf("parts[%d].area_cm2", i), "%s: the area is larger than length × width.", p.text("name"))
		}
		if p.num("count") == 0 {
			continue
		}
		if p.num("width_cm") > u+fit {
			return fault("does_not_fit", fmt.Sprintf("parts[%d].width_cm", i), "%s is %s cm across and the cloth has %s cm; it cannot be turned because of the grain.", p.text("name"), p.num("width_cm"), u)
		}
		area += p.num("area_cm2") * p.num("count")
		longest = math.Max(longest, p.num("length_cm"))
	}
	length := area / (u * c.num("efficiency_pct") / 100)
	c.say("area %s cm²; usable width %s cm; %s / (%s × %s%%) = %s cm", area, u, area, u, c.num("efficiency_pct"), length)
	if c.yes("nap") {
		length *= 1 + c.num("nap_pct")/100
		c.say("nap, %s%% more = %s cm", c.num("nap_pct"), length)
	}
	if length < longest-fit {
		length = longest
		c.warn("longest_part_rules")
		c.say("the longest part needs %s cm", longest)
	}
	if area > 0 && c.num("match_pieces")*c.num("repeat_cm") > 0 {
		length += c.num("match_pieces") * c.num("repeat_cm")
		c.say("matching %s × %s more = %s cm", c.num("match_pieces"), c.num("repeat_cm"), length)
	}
	c.exact("area_cm2", area)
	c.shrunk(length)
	return nil
}

func garmentTable(c *call) *Fault {
	var row *values
	for _, r := range c.lines("table") {
		if w := r.num("width_cm"); w <= c.num("fabric_width_cm")+fit && (row == nil || w > row.num("width_cm")) {
			row = &r
		}
	}
	if row == nil {
		return fault("does_not_fit", "fabric_width_cm", "The pattern gives no length for cloth as narrow as %s cm.", c.num("fabric_width_cm"))
	}
	metres, there := row.amounts("lengths_m").of[c.text("size")]
	if !there {
		return fault("unknown_choice", "size", "%s is not one of the sizes in the row for %s cm.", c.text("size"), row.num("width_cm"))
	}
	length := 100 * metres
	c.say("row %s cm, size %s: %s cm", row.num("width_cm"), c.text("size"), length)
	if c.yes("nap") && !c.yes("table_has_nap") {
		length *= 1 + c.num("nap_pct")/100
		c.say("nap, %s%% more = %s cm", c.num("nap_pct"), length)
	}
	if row.num("width_cm") < c.num("fabric_width_cm")-fit {
		c.warn("narrower_row_used")
	}
	c.round("row_width_cm", row.num("width_cm"))
	c.shrunk(length)
	return nil
}

// mostSquares bounds the squares that bias binding is cut from.
const mostSquares = 10000

func garmentBias(c *call) *Fault {
	u, bad := c.usableWidth()
	if bad != nil {
		return bad
	}
	strip := c.num("strip_cm")
	area := c.num("length_cm") * strip * (1 + c.num("waste_pct")/100)
	c.exact("area_cm2", area)
	if area == 0 {
		c.exact("side_cm", 0.0)
		for _, name := range []string{"squares", "square_cm", "length_cm"} {
			c.round(name, 0.0)
		}
		c.buyGarment(0)
		return nil
	}
	narrow := func() *Fault {
		return fault("does_not_fit", "fabric_width_cm", "The cloth is too narrow for a square with strips of %s cm.", strip)
	}
	squares := 1.0
	for up(math.Sqrt(area/squares), 1) > u+fit {
		if squares++; squares > mostSquares {
			return narrow()
		}
	}
	exact := math.Sqrt(area / squares)
	side := math.Max(up(exact, 1), up(strip*math.Sqrt2, 1))
	if side > u+fit {
		return narrow()
	}
	across := downInt(u / side)
	length := upInt(squares/across) * side
	c.exact("side_cm", exact)
	c.round("squares", squares)
	c.round("square_cm", side)
	c.round("length_cm", length)
	c.say("area %s × %s with %s%% more = %s cm²; %s of side %s, cut %s cm; %s across: %s cm", c.num("length_cm"), strip, c.num("waste_pct"), area, many(squares, "square"), exact, side, across, length)
	c.buyGarment(length)
	return nil
}

// threadRatios are metres of all threads together to a metre of seam.
var threadRatios = map[string]float64{"lockstitch": 2.5, "zigzag": 7, "chainstitch": 5.5, "overlock3": 14, "overlock4": 18, "coverstitch": 18}

func garmentThread(c *call) *Fault {
	sum := 0.0
	for _, s := range c.lines("seams") {
		ratio := threadRatios[s.text("stitch")]
		m := s.num("length_m") * s.num("rows") * ratio
		sum += m
		c.say("%s m × %s × %s (%s) = %s m", s.num("length_m"), s.num("rows"), ratio, s.text("stitch"), m)
	}
	with := sum * (1 + c.num("waste_pct")/100)
	reels := upInt(with / c.num("reel_m"))
	c.exact("thread_m", sum)
	c.exact("thread_with_waste_m", with)
	c.round("thread_m", upInt(with))
	c.round("reels", reels)
	c.say("%s with %s%% more = %s m", sum, c.num("waste_pct"), with)
	c.sold("%s of %s m", many(reels, "reel"), c.num("reel_m"))
	return nil
}
