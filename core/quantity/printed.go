package quantity

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

func prints() map[string]formula {
	material := one("material", "filament material", "PLA", "PETG", "ABS").or("PLA")
	density := num("density_g_cm3", "density", "g/cm³", .5, 9).or(nil)
	diameter := num("diameter_mm", "filament diameter", "mm", 1, 4).or(1.75)
	waste := num("waste_pct", "allowance", "%", 0, 100).most(2, 15).or(5.0)
	return map[string]formula{
		"print.part": {[]field{num("volume_cm3", "volume of the mesh", "cm³", 0, 1000000).over(), num("area_cm2", "surface of the mesh", "cm²", 0, 10000000).over(),
			num("wall_mm", "wall thickness", "mm", 0, 20).most(.8, 2.4).or(1.2), num("infill_pct", "infill", "%", 0, 100).most(5, 40).or(15.0),
			num("support_cm3", "volume of the supports", "cm³", 0, 1000000).or(0.0), num("support_density_pct", "solid part of the supports", "%", 0, 100).most(10, 25).or(15.0),
			count("copies", "number of copies", 0, 10000).or(1.0), material, density, diameter, waste}, printPart},
		"print.multicolour": {[]field{byName("part_g", "filament", "g", 0, 1000000), lines("layers", "list of layers", count("count", "number of layers", 0, 1000000), wordList("colours", "colours of a layer")),
			num("purge_mm3", "filament flushed at a change", "mm³", 0, 5000).most(80, 700).or(200.0), func() field { f := byName("pair_factor", "factor", "", 0, 10).or(nil); f.empty = true; return f }(),
			num("into_infill_pct", "part of the flush put to use", "%", 0, 100).or(0.0), material, density, diameter, waste}, printColours},
		"print.spool": {[]field{num("need_g", "filament needed", "g", 0, 1000000), num("gross_g", "weight of the spool", "g", 0, 20000).or(0.0), num("empty_g", "weight of the empty spool", "g", 0, 2000).most(100, 350).or(nil),
			num("reserve_g", "end that cannot be fed", "g", 0, 200).most(3, 30).or(10.0), num("spool_net_g", "filament on a new spool", "g", 10, 20000).or(1000.0)}, printSpool},
	}
}

// filamentDensities are in g/cm³.
var filamentDensities = map[string]float64{"PLA": 1.24, "PETG": 1.27, "ABS": 1.04}

func (c *call) density() float64 {
	if c.has("density_g_cm3") {
		return c.num("density_g_cm3")
	}
	return filamentDensities[c.text("material")]
}

// metresOf is a volume of filament in cm³ as a length in m.
func (c *call) metresOf(volume float64) float64 {
	r := c.num("diameter_mm") / 20
	return volume / (math.Pi * r * r) / 100
}

func printPart(c *call) *Fault {
	volume, area := c.num("volume_cm3"), c.num("area_cm2")
	if ball := math.Cbrt(36*math.Pi) * math.Pow(volume, 2.0/3); area < ball*(1-1e-6) {
		return fault("contradiction", "area_cm2", "No closed body of %s cm³ has so small a surface. Check the units of the mesh.", volume)
	}
	wall := area * c.num("wall_mm") / 10
	if wall >= volume-fit {
		c.warn("solid_part")
	}
	shell := math.Min(volume, wall)
	part := shell + (volume-shell)*c.num("infill_pct")/100
	supports := c.num("support_cm3") * c.num("support_density_pct") / 100
	filament := (part + supports) * c.num("copies") * (1 + c.num("waste_pct")/100)
	grams, metres := filament*c.density(), c.metresOf(filament)
	c.exact("shell_cm3", shell)
	c.exact("part_cm3", part)
	c.exact("filament_cm3", filament)
	c.exact("grams", grams)
	c.exact("metres", metres)
	c.round("grams", upInt(grams))
	c.round("metres", up(metres, .1))
	c.say("shell = the lesser of %s and %s × %s = %s; part = %s + (%s − %s) × %s%% = %s cm³; supports %s; × %s with %s%% more = %s cm³", volume, area, c.num("wall_mm")/10, shell, shell, volume, shell, c.num("infill_pct"), part, supports, c.num("copies"), c.num("waste_pct"), filament)
	c.say("× %s = %s g = %s m of %s mm filament", c.density(), grams, metres, c.num("diameter_mm"))
	return nil
}

func printColours(c *call) *Fault {
	parts, factors := c.amounts("part_g"), c.amounts("pair_factor")
	loaded, changes := "", 0.0
	weight := map[string]float64{}
	change := func(to string, times float64) {
		if loaded != "" && loaded != to {
			by := 1.0
			if f, there := factors.of[loaded+">"+to]; there {
				by = f
			}
			changes += times
			weight[to] += by * times
		}
		loaded = to
	}
	for i, l := range c.lines("layers") {
		colours := l.texts("colours")
		for j, name := range colours {
			at := fmt.Sprintf("layers[%d].colours[%d]", i, j)
			if _, there := parts.of[name]; !there {
				return fault("unknown_choice", at, "%s is not one of: %s.", name, strings.Join(parts.names, ", "))
			}
			if slices.Contains(colours[:j], name) {
				return fault("contradiction", at, "%s is listed twice in one layer.", name)
			}
		}
	}
	for _, l := range c.lines("layers") {
		colours := l.texts("colours")
		walk := func(times float64) {
			order := slices.Clone(colours)
			if at := slices.Index(order, loaded); at > 0 {
				order = append([]string{loaded}, slices.Delete(order, at, at+1)...)
			}
			for _, name := range order {
				change(name, times)
			}
		}
		// The order of a layer depends on what is loaded: layers are walked one by one until
		// they repeat. Two ago is the same again, and then so is all between.
		left := int(l.num("count"))
		type turn struct {
			loaded  string
			changes float64
			weight  map[string]float64
		}
		seen := map[string]int{}
		var turns []turn
		for left > 0 {
			if at, again := seen[loaded]; again && loaded != "" {
				period := len(turns) - at
				rounds := left / period
				was := turns[at]
				per := changes - was.changes
				changes += float64(rounds) * per
				for name, w := range weight {
					weight[name] += float64(rounds) * (w - was.weight[name])
				}
				left -= rounds * period
				clear(seen)
				if left == 0 {
					break
				}
			}
			kept := map[string]float64{}
			for name, w := range weight {
				kept[name] = w
			}
			if loaded != "" {
				seen[loaded] = len(turns)
			}
			turns = append(turns, turn{loaded, changes, kept})
			walk(1)
			left--
		}
	}
	one := c.num("purge_mm3") / 1000 * c.density() * (1 - c.num("into_infill_pct")/100)
	flush, total, metres, whole := map[string]float64{}, map[string]float64{}, map[string]float64{}, map[string]float64{}
	flushed, made := 0.0, 0.0
	c.say("%s changes; one flush = %s g", changes, one)
	for _, name := range parts.names {
		flush[name] = weight[name] * one
		total[name] = parts.of[name]*(1+c.num("waste_pct")/100) + flush[name]
		metres[name] = c.metresOf(total[name] / c.density())
		whole[name] = upInt(total[name])
		flushed, made = flushed+flush[name], made+parts.of[name]
		c.say("%s: %s with %s%% more + flush %s = %s g", name, parts.of[name], c.num("waste_pct"), flush[name], total[name])
	}
	if flushed > made+fit {
		c.warn("flush_exceeds_part")
	}
	c.exact("flush_g", flush)
	c.exact("total_g", total)
	c.exact("metres", metres)
	c.round("changes", changes)
	c.round("total_g", whole)
	return nil
}

func printSpool(c *call) *Fault {
	gross, reserve, net := c.num("gross_g"), c.num("reserve_g"), c.num("spool_net_g")
	left := 0.0
	if gross > 0 {
		if !c.has("empty_g") {
			return fault("missing", "empty_g", "Please give the weight of the empty spool.")
		}
		if left = gross - c.num("empty_g"); left < -fit {
			return fault("contradiction", "gross_g", "The spool weighs less than when empty.")
		}
	}
	if net <= reserve+fit {
		return fault("contradiction", "reserve_g", "The reserve is as large as a whole new spool.")
	}
	usable := math.Max(0, left-reserve)
	short := math.Max(0, c.num("need_g")-usable)
	spools := upInt(short / (net - reserve))
	if short > fit && usable > 0 {
		c.warn("runs_out")
	}
	c.exact("left_g", left)
	c.exact("usable_g", usable)
	c.exact("short_g", short)
	c.round("spools", spools)
	c.round("enough", short <= fit)
	c.say("left %s g, usable %s g, short %s g: %s new spools", left, usable, short, spools)
	return nil
}
