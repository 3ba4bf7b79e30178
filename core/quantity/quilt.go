package quantity

import (
	"cmp"
	"math"
	"slices"
	"strconv"
)

// Sizes of quilting, in inches and in centimetres.
type quiltUnit struct {
	seam, step, wof, fatWide, fatHigh, strip, mitre, allowance, overhang, backing, thin float64
}

var quiltUnits = map[string]quiltUnit{
	"in": {.25, .125, 42, 21, 18, 2.5, 4, 10, 4, .5, .5},
	"cm": {.75, .1, 106, 53, 50, 6.5, 10, 25, 10, 1.25, 1.25},
}

// quiltShapes are the shapes that are cut.
var quiltShapes = []string{"square", "rectangle", "hst", "hst8", "qst", "goose", "sky", "goose_flip", "sky_flip", "setting_side", "setting_corner"}

// shapeNames are what quilters call them.
var shapeNames = map[string]string{"square": "squares", "rectangle": "rectangles", "hst": "half-square triangles", "hst8": "half-square triangles, eight at a time",
	"qst": "quarter-square triangles", "goose": "flying geese", "sky": "sky triangles", "goose_flip": "flying geese, flipped", "sky_flip": "sky squares, flipped",
	"setting_side": "side setting triangles", "setting_corner": "corner setting triangles"}

func quiltShape(count field) []field {
	return []field{
		one("shape", "shape", quiltShapes...),
		num("finished_w", "finished width", "", 0, 200).over().by(),
		num("finished_h", "finished height", "", 0, 200).over().by().or(nil),
		count,
	}
}

func quilts() map[string]formula {
	unit := one("unit", "unit", "in", "cm").or("in")
	seam := num("seam", "seam allowance", "", 0, 1).over().by().most(.2, .4).or(nil)
	wof := num("wof", "usable width of the fabric", "", 4, 130).by().most(38, 110).or(nil)
	waste := func(def, low, high float64) field {
		return num("waste_pct", "allowance added to the length", "%", 0, 100).most(low, high).or(def)
	}
	directional := yes("directional", "right way up of the print", false)
	pieces := lines("lines", "list of pieces", quiltShape(count("count", "number of finished units", 0, 100000))...)
	wide := func(name, plain string) field { return num(name, plain, "", 0, 300).over().by() }
	repeat := func(name, plain string) field { return num(name, plain, "", 0, 60).by().or(0.0) }
	return map[string]formula{
		"quilt.cut": {append(append([]field{unit}, quiltShape(count("count", "number of finished units", 0, 100000).or(1.0))...), seam), quiltCut},
		"quilt.strips": {[]field{unit, seam, wof, waste(10, 5, 20), directional,
			num("directional_pct", "extra allowance when directional", "%", 0, 50).most(10, 25).or(10.0),
			repeat("repeat_len", "print repeat along the length"), repeat("repeat_width", "print repeat across the width"), pieces}, quiltStrips},
		"quilt.fat_quarter": {[]field{unit, seam, num("fq_w", "usable width of a fat quarter", "", 4, 30).by().most(20, 22).or(nil),
			num("fq_h", "usable height of a fat quarter", "", 4, 30).by().most(17, 20).or(nil), one("method", "method", "grid", "shelf").or("grid"),
			directional, num("spare_pct", "spare cut pieces", "%", 0, 50).or(0.0), pieces}, quiltFatQuarter},
		"quilt.border": {[]field{unit, seam, wof, wide("centre_w", "finished width of what the border goes round"), wide("centre_h", "finished height of what the border goes round"),
			num("border", "finished border width", "", 0, 40).by(), one("style", "corner style", "butted", "mitred", "corner_squares").or("butted"),
			one("cut", "cut", "crosswise", "lengthwise").or("crosswise"), one("join", "join", "straight", "diagonal").or("straight"),
			num("mitre_extra", "extra length of a mitred strip", "", 0, 20).by().or(nil), waste(5, 0, 15)}, quiltBorder},
		"quilt.binding": {[]field{unit, seam, wof, wide("quilt_w", "finished quilt width"), wide("quilt_h", "finished quilt height"),
			num("strip", "cut width of the binding strip", "", .5, 6).by().most(2, 3).or(nil), num("allowance", "extra length for corners and the join", "", 0, 60).by().most(8, 20).or(nil),
			num("along", "length of the sides it binds, where not all round", "", 0, 1200).over().by().or(nil), one("join", "join", "diagonal", "straight").or("diagonal"), waste(5, 0, 15)}, quiltBinding},
		"quilt.backing": {[]field{unit, wide("quilt_w", "quilt width"), wide("quilt_h", "quilt height"), num("overhang", "extra on every side", "", 0, 12).by().most(2, 6).or(nil),
			num("backing_seam", "seam allowance of the panel join", "", 0, 2).by().or(nil), wof, directional, repeat("repeat_len", "print repeat"), waste(0, 0, 10)}, quiltBacking},
		"quilt.gradient": {[]field{unit, seam, wof, wide("quilt_w", "finished length of every rung"), wide("quilt_h", "finished size across all rungs"),
			count("rungs", "number of rungs", 1, 200), one("mode", "mode", "equal", "arithmetic", "geometric").or("equal"),
			num("first_w", "width of the first rung", "", 0, 100).over().by().or(nil), num("last_w", "width of the last rung", "", 0, 100).over().by().or(nil),
			count("repeats", "number of repeats", 1, 50).or(1.0), wordList("colours", "colours of the rungs").or(nil), waste(10, 5, 20)}, quiltGradient},
	}
}

// quilt are the sizes of a call, those given in place of the usual ones.
func (c *call) quilt() quiltUnit {
	u := quiltUnits[c.text("unit")]
	for name, to := range map[string]*float64{"seam": &u.seam, "wof": &u.wof, "fq_w": &u.fatWide, "fq_h": &u.fatHigh, "strip": &u.strip,
		"mitre_extra": &u.mitre, "allowance": &u.allowance, "overhang": &u.overhang, "backing_seam": &u.backing} {
		if c.has(name) {
			*to = c.num(name)
		}
	}
	return u
}

// cloth is a length of fabric as it is bought, and its unit.
func (c *call) cloth(length float64) (buy float64, unit string) {
	if c.text("unit") == "cm" {
		return upInt(length/10) * .1, "m"
	}
	return upInt(length/4.5) * .125, "yd"
}

// buyCloth notes a length with its allowance as it is bought.
func (c *call) buyCloth(length, with float64) {
	buy, unit := c.cloth(with)
	c.exact("length_with_waste", with)
	c.round("buy", buy)
	c.round("buy_unit", unit)
	c.say("%s %s; with the allowance %s", length, c.text("unit"), with)
	c.sold("%s %s", buy, unit)
}

// cutPiece is how one shape is cut.
type cutPiece struct {
	exactW, exactH float64
	w, h           float64 // on the ruler
	pieces         float64
	offRuler       bool
}

// cutOf is how a shape of a finished size is cut (the sizes follow from a seam at the
// sides of the triangles; two, four or eight are sewn at a time).
func cutOf(v values, at string, u quiltUnit) (cutPiece, *Fault) {
	shape, w, n, a := v.text("shape"), v.num("finished_w"), v.num("count"), u.seam
	h, given := v.num("finished_h"), v.has("finished_h")
	switch shape {
	case "rectangle":
		if !given {
			return cutPiece{}, fault("missing", at+"finished_h", "Please give the finished height.")
		}
	case "goose", "sky", "goose_flip", "sky_flip":
		if given && math.Abs(h-w/2) > 1e-6 {
			return cutPiece{}, fault("contradiction", at+"finished_h", "A flying goose is twice as wide as high: leave the height empty or give %s.", w/2)
		}
		h = w / 2
	default:
		if given && math.Abs(h-w) > 1e-6 {
			return cutPiece{}, fault("contradiction", at+"finished_h", "This shape is square: leave the height empty.")
		}
		h = w
	}
	half, quarter := up(a*(2+math.Sqrt2), u.step), up(a*(2+2*math.Sqrt2), u.step)
	var p cutPiece
	square := func(side, pieces float64) { p.exactW, p.exactH, p.pieces = side, side, pieces }
	switch shape {
	case "square":
		square(w+2*a, n)
	case "rectangle", "goose_flip":
		p.exactW, p.exactH, p.pieces = w+2*a, h+2*a, n
	case "hst":
		square(w+half, upInt(n/2))
	case "hst8":
		square(2*(w+half), upInt(n/8))
	case "qst", "goose":
		square(w+quarter, upInt(n/4))
	case "sky":
		square(h+half, 4*upInt(n/4))
	case "sky_flip":
		square(h+2*a, 2*n)
	case "setting_side":
		square(w*math.Sqrt2+quarter, upInt(n/4))
	case "setting_corner":
		square(w/math.Sqrt2+half, upInt(n/2))
	}
	p.w, p.h = up(p.exactW, u.step), up(p.exactH, u.step)
	p.offRuler = shape != "setting_side" && shape != "setting_corner" && (p.w-p.exactW > 1e-6 || p.h-p.exactH > 1e-6)
	return p, nil
}

func quiltCut(c *call) *Fault {
	p, bad := cutOf(c.values, "", c.quilt())
	if bad != nil {
		return bad
	}
	c.exact("cut_w", p.exactW)
	c.exact("cut_h", p.exactH)
	c.round("cut_w", p.w)
	c.round("cut_h", p.h)
	c.round("cut_pieces", p.pieces)
	if p.offRuler {
		c.warn("not_on_ruler")
	}
	c.say("%s of finished %s: cut %s × %s %s, %s cut pieces", shapeNames[c.text("shape")], c.num("finished_w"), p.w, p.h, c.text("unit"), p.pieces)
	return nil
}

// stripLine is how the strips of one line of pieces lie.
type stripLine struct{ pieces, perStrip, strips, high, length float64 }

func quiltStrips(c *call) *Fault {
	u := c.quilt()
	repeat, across := c.num("repeat_len"), c.num("repeat_width")
	total, strips := 0.0, 0.0
	var rounded []map[string]any
	for i, v := range c.lines("lines") {
		at := "lines[" + strconv.Itoa(i) + "]."
		p, bad := cutOf(v, at, u)
		if bad != nil {
			return bad
		}
		if p.offRuler {
			c.warn("not_on_ruler")
		}
		var best *stripLine
		ways := [][2]float64{{p.w, p.h}}
		if !c.yes("directional") && repeat == 0 && across == 0 && p.w != p.h {
			ways = append(ways, [2]float64{p.h, p.w})
		}
		along := 0.0
		for _, way := range ways {
			x, y := way[0], way[1]
			if x > u.wof+fit {
				continue
			}
			px, py := x, y
			if repeat > 0 {
				py = up(y, repeat)
			}
			if across > 0 {
				px = up(x, across)
			}
			l := stripLine{pieces: p.pieces, perStrip: downInt((u.wof-x)/px) + 1, high: py}
			l.strips = upInt(p.pieces / l.perStrip)
			l.length = l.strips * py
			if best == nil || l.length < best.length-fit || math.Abs(l.length-best.length) <= fit && l.high < best.high-fit {
				best, along = &l, x
			}
		}
		if best == nil {
			return fault("does_not_fit", at+"finished_w", "A piece cut %s × %s is wider than the cloth (%s). Join it from two or use wider cloth.", p.w, p.h, u.wof)
		}
		total, strips = total+best.length, strips+best.strips
		rounded = append(rounded, map[string]any{"cut_pieces": best.pieces, "per_strip": best.perStrip, "strips": best.strips, "strip_height": best.high, "along": along})
		c.say("%s %s: cut %s × %s %s, %s; %s per strip (%s along the strip in %s); %s of %s = %s",
			v.num("count"), shapeNames[v.text("shape")], p.w, p.h, c.text("unit"), many(best.pieces, "cut piece"), best.perStrip, along, u.wof, many(best.strips, "strip"), best.high, best.length)
	}
	if total > 0 && repeat > 0 {
		total += repeat
		c.say("and one repeat of %s, for the cut never starts at the right place of the print", repeat)
	}
	much := c.num("waste_pct")
	if c.yes("directional") {
		much += c.num("directional_pct")
	}
	c.exact("length", total)
	c.round("lines", rounded)
	c.round("strips", strips)
	c.buyCloth(total, total*(1+much/100))
	return nil
}

func quiltFatQuarter(c *call) *Fault {
	u := c.quilt()
	turned := !c.yes("directional")
	var rounded []map[string]any
	var rows []float64
	grid := 0.0
	for i, v := range c.lines("lines") {
		at := "lines[" + strconv.Itoa(i) + "]."
		p, bad := cutOf(v, at, u)
		if bad != nil {
			return bad
		}
		if p.offRuler {
			c.warn("not_on_ruler")
		}
		n := upInt(p.pieces * (1 + c.num("spare_pct")/100))
		per := downInt(u.fatWide/p.w) * downInt(u.fatHigh/p.h)
		if turned {
			per = math.Max(per, downInt(u.fatWide/p.h)*downInt(u.fatHigh/p.w))
		}
		if per == 0 {
			return fault("does_not_fit", at+"finished_w", "A piece cut %s × %s is larger than a fat quarter (%s × %s). Buy it by length instead.", p.w, p.h, u.fatWide, u.fatHigh)
		}
		alone := upInt(n / per)
		grid += alone
		rounded = append(rounded, map[string]any{"cut_pieces": n, "per_fq": per, "fqs_alone": alone})
		c.say("%s %s: cut %s × %s %s, %s cut pieces; at best %s per fat quarter; %s alone", v.num("count"), shapeNames[v.text("shape")], p.w, p.h, c.text("unit"), n, per, many(alone, "fat quarter"))
		// Rows of the shelf: the way that takes the least height.
		ways := [][2]float64{{p.w, p.h}}
		if turned && p.w != p.h {
			ways = append(ways, [2]float64{p.h, p.w})
		}
		least, high, many := math.Inf(1), 0.0, 0.0
		for _, way := range ways {
			if x, y := way[0], way[1]; x <= u.fatWide+fit && y <= u.fatHigh+fit {
				r := upInt(n / downInt(u.fatWide/x))
				if r*y < least-fit || math.Abs(r*y-least) <= fit && y < high-fit {
					least, high, many = r*y, y, r
				}
			}
		}
		for range int(many) {
			rows = append(rows, high)
		}
	}
	total := grid
	if c.text("method") == "shelf" {
		slices.SortStableFunc(rows, func(a, b float64) int { return cmp.Compare(b, a) })
		var filled []float64
		for _, high := range rows {
			at := slices.IndexFunc(filled, func(f float64) bool { return f+high <= u.fatHigh+fit })
			if at < 0 {
				filled, at = append(filled, 0), len(filled)
			}
			filled[at] += high
		}
		total = math.Min(grid, float64(len(filled)))
		c.say("rows share fat quarters: %s opened; alone they would take %s", float64(len(filled)), grid)
	}
	c.round("lines", rounded)
	c.round("fat_quarters", total)
	c.say("%s in all", many(total, "fat quarter"))
	return nil
}

func quiltBorder(c *call) *Fault {
	u := c.quilt()
	w, h, border := c.num("centre_w"), c.num("centre_h"), c.num("border")
	c.round("outer_w", w+2*border)
	c.round("outer_h", h+2*border)
	if border == 0 {
		c.exact("length", 0.0)
		c.round("strips", 0.0)
		c.buyCloth(0, 0)
		return nil
	}
	a := u.seam
	cut := border + 2*a
	side, top := h+2*a, w+2*border+2*a
	switch c.text("style") {
	case "mitred":
		side, top = h+2*border+u.mitre, w+2*border+u.mitre
	case "corner_squares":
		side, top = h+2*a, w+2*a
		c.round("corner_cut", cut)
	}
	var length, strips float64
	if c.text("cut") == "lengthwise" {
		per := downInt(u.wof / cut)
		if per == 0 {
			return fault("does_not_fit", "border", "A border strip %s wide is wider than the cloth.", cut)
		}
		length, strips = upInt(4/per)*math.Max(side, top), 4
		c.say("4 strips of %s lengthwise, %s beside one another: %s long", cut, per, length)
	} else {
		join := 2 * a
		if c.text("join") == "diagonal" {
			join = cut
		}
		if u.wof <= join+fit {
			return fault("does_not_fit", "wof", "The cloth is so narrow that joins would use all of it.")
		}
		chain := 2*side + 2*top
		strips = math.Max(1, upInt((chain-join)/(u.wof-join)))
		length = strips * cut
		c.say("sides %s, top and foot %s: %s in one chain; %s strips of %s = %s", side, top, chain, strips, cut, length)
	}
	c.exact("length", length)
	c.round("strips", strips)
	c.round("strip_cut", cut)
	c.buyCloth(length, length*(1+c.num("waste_pct")/100))
	return nil
}

func quiltBinding(c *call) *Fault {
	u := c.quilt()
	long, round := 2*(c.num("quilt_w")+c.num("quilt_h"))+u.allowance, true
	if along := c.num("along"); along > 0 {
		long, round = along+u.allowance, false
	}
	join := u.strip
	if c.text("join") == "straight" {
		join = 2 * u.seam
	}
	if u.wof <= join+fit {
		return fault("does_not_fit", "wof", "The cloth is so narrow that joins would use all of it.")
	}
	strips := math.Max(1, upInt((long-join)/(u.wof-join)))
	length := strips * u.strip
	if round {
		c.say("length = 2 × (%s + %s) + %s = %s %s", c.num("quilt_w"), c.num("quilt_h"), u.allowance, long, c.text("unit"))
	} else {
		c.say("length = %s along the sides it binds + %s = %s %s", c.num("along"), u.allowance, long, c.text("unit"))
	}
	c.say("strips = (%s − %s) / (%s − %s), up to %s; %s × %s = %s", long, join, u.wof, join, strips, strips, u.strip, length)
	c.exact("binding_length", long)
	c.exact("length", length)
	c.round("strips", strips)
	c.buyCloth(length, length*(1+c.num("waste_pct")/100))
	return nil
}

// usualPanels is how many panels a backing has before wide cloth may be cheaper.
const usualPanels = 3

func quiltBacking(c *call) *Fault {
	u := c.quilt()
	w, h, seams := c.num("quilt_w")+2*u.overhang, c.num("quilt_h")+2*u.overhang, 2*u.backing
	if u.wof <= seams+fit {
		return fault("does_not_fit", "wof", "The cloth is so narrow that joins would use all of it.")
	}
	run := func(across, along float64) (panels, length float64) {
		panels = math.Max(1, upInt((across-seams)/(u.wof-seams)))
		if repeat := c.num("repeat_len"); repeat > 0 && panels > 1 {
			along = up(along, repeat)
		}
		return panels, panels * along
	}
	panels, length := run(w, h)
	way := "up"
	if !c.yes("directional") {
		if k, l := run(h, w); l < length-fit {
			panels, length, way = k, l, "across"
		}
	}
	if panels > usualPanels {
		c.warn("many_panels")
	}
	c.say("%s × %s with the overhang; %s running %s", w, h, many(panels, "panel"), way)
	c.exact("length", length)
	c.round("panels", panels)
	c.round("panels_run", way)
	c.buyCloth(length, length*(1+c.num("waste_pct")/100))
	return nil
}

func quiltGradient(c *call) *Fault {
	u := c.quilt()
	n := int(c.num("rungs"))
	mode := c.text("mode")
	if mode != "equal" {
		for _, f := range []struct{ name, plain string }{{"first_w", "width of the first rung"}, {"last_w", "width of the last rung"}} {
			if !c.has(f.name) {
				return fault("missing", f.name, "Please give the %s.", f.plain)
			}
		}
	}
	colours := c.texts("colours")
	if colours == nil {
		for i := range n {
			colours = append(colours, strconv.Itoa(i+1))
		}
	}
	if len(colours) != n {
		return fault("contradiction", "colours", "There are %s rungs but %s colours.", float64(n), float64(len(colours)))
	}
	weights, sum := make([]float64, n), 0.0
	for i := range weights {
		weights[i] = 1
		if at := float64(i) / math.Max(1, float64(n-1)); n > 1 && mode != "equal" {
			first, last := c.num("first_w"), c.num("last_w")
			weights[i] = first + (last-first)*at
			if mode == "geometric" {
				weights[i] = first * math.Pow(last/first, at)
			}
		}
		sum += weights[i]
	}
	repeats := c.num("repeats")
	ladder := c.num("quilt_h") / repeats
	steps := ladder / u.step
	if math.Abs(steps-math.Round(steps)) > 1e-6 {
		return fault("contradiction", "quilt_h", "%s / %s is not a multiple of %s: choose a height that can be cut with a ruler.", c.num("quilt_h"), repeats, u.step)
	}
	exact, onRuler := make([]float64, n), make([]float64, n)
	for i := range exact {
		exact[i] = weights[i] * ladder / sum
		onRuler[i] = exact[i] / u.step
	}
	onRuler = largestRemainder(onRuler, math.Round(steps))
	cut := make([]float64, n)
	for i := range onRuler {
		onRuler[i] *= u.step
		if onRuler[i] < fit {
			return fault("does_not_fit", "rungs", "With %s rungs at least one would be thinner than %s.", float64(n), u.step)
		}
		if onRuler[i] < u.thin-fit {
			c.warn("thin_rung")
		}
		cut[i] = onRuler[i] + 2*u.seam
	}
	if u.wof <= 2*u.seam+fit {
		return fault("does_not_fit", "wof", "The cloth is so narrow that joins would use all of it.")
	}
	per := math.Max(1, upInt(c.num("quilt_w")/(u.wof-2*u.seam)))
	lengths := newNamed()
	for i, name := range colours {
		lengths.add(name, per*repeats*cut[i])
	}
	buys, unit := map[string]float64{}, ""
	with := map[string]float64{}
	c.say("each rung is %s %s long: %s strips of fabric a rung, %s times", c.num("quilt_w")+2*u.seam, c.text("unit"), per, repeats)
	for _, name := range lengths.names {
		with[name] = lengths.of[name] * (1 + c.num("waste_pct")/100)
		buys[name], unit = c.cloth(with[name])
		c.say("%s: %s, with the allowance %s %s", name, lengths.of[name], with[name], c.text("unit"))
		c.sold("%s: %s %s", name, buys[name], unit)
	}
	c.exact("finished_widths", exact)
	c.exact("length_with_waste", with)
	c.round("finished_widths", onRuler)
	c.round("cut_widths", cut)
	c.round("strips_per_rung", per*repeats)
	c.round("buy", buys)
	c.round("buy_unit", unit)
	return nil
}
