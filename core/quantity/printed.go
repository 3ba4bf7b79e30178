package quantity

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
)

// PrintPartIn is a closed body that is printed.
type PrintPartIn struct {
	Volume            float64  `json:"volume_cm3" in:"volume of the mesh; over 0 to 1000000; unit cm³"`
	Area              float64  `json:"area_cm2" in:"surface of the mesh; over 0 to 10000000; unit cm²"`
	Wall              *float64 `json:"wall_mm" in:"wall thickness; 0 to 20; unit mm; usual .8 2.4; or 1.2"`
	InfillPct         *float64 `json:"infill_pct" in:"infill; 0 to 100; unit %; usual 5 40; or 15"`
	Support           float64  `json:"support_cm3" in:"volume of the supports; 0 to 1000000; unit cm³; or 0"`
	SupportDensityPct *float64 `json:"support_density_pct" in:"solid part of the supports; 0 to 100; unit %; usual 10 25; or 15"`
	Copies            *float64 `json:"copies" in:"number of copies; 0 to 10000; whole; or 1"`
	Material          string   `json:"material" in:"filament material; one PLA PETG ABS; or PLA"`
	Density           *float64 `json:"density_g_cm3" in:"density; .5 to 9; unit g/cm³"`
	Diameter          *float64 `json:"diameter_mm" in:"filament diameter; 1 to 4; unit mm; or 1.75"`
	WastePct          *float64 `json:"waste_pct" in:"allowance; 0 to 100; unit %; usual 2 15; or 5"`
}

// PrintPartOut is the filament of a body.
type PrintPartOut struct {
	Exact struct {
		Shell    float64 `json:"shell_cm3"`
		Part     float64 `json:"part_cm3"`
		Filament float64 `json:"filament_cm3"`
		Grams    float64 `json:"grams"`
		Metres   float64 `json:"metres"`
	} `json:"unrounded"`
	Rounded struct {
		Grams  float64 `json:"grams"`
		Metres float64 `json:"metres"`
	} `json:"rounded"`
	Notes
}

// filamentDensities are in g/cm³.
var filamentDensities = map[string]float64{"PLA": 1.24, "PETG": 1.27, "ABS": 1.04}

// densityOf is a filament's density in g/cm³: its own, or that of its material.
func densityOf(own *float64, material string) float64 {
	d := filamentDensities[material]
	use(&d, own)
	return d
}

// metresOf is a volume of filament in cm³ as a length in m.
func metresOf(volume, diameter float64) float64 {
	r := diameter / 20
	return volume / (math.Pi * r * r) / 100
}

// PrintPart works out the filament of walls and infill of a closed body.
func PrintPart(in PrintPartIn) (out PrintPartOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	volume, area := in.Volume, in.Area
	if ball := math.Cbrt(36*math.Pi) * math.Pow(volume, 2.0/3); area < ball*(1-1e-6) {
		return out, fault("contradiction", "area_cm2", "No closed body of %s cm³ has so small a surface. Check the units of the mesh.", volume)
	}
	wall := area * *in.Wall / 10
	if wall >= volume-fit {
		out.warn("solid_part")
	}
	density := densityOf(in.Density, in.Material)
	shell := math.Min(volume, wall)
	part := shell + (volume-shell)**in.InfillPct/100
	supports := in.Support * *in.SupportDensityPct / 100
	filament := (part + supports) * *in.Copies * (1 + *in.WastePct/100)
	grams, metres := filament*density, metresOf(filament, *in.Diameter)
	x := &out.Exact
	x.Shell, x.Part, x.Filament, x.Grams, x.Metres = shell, part, filament, grams, metres
	out.Rounded.Grams, out.Rounded.Metres = upInt(grams), up(metres, .1)
	out.say("shell = the lesser of %s and %s × %s = %s; part = %s + (%s − %s) × %s%% = %s cm³; supports %s; × %s with %s%% more = %s cm³",
		volume, area, *in.Wall/10, shell, shell, volume, shell, in.InfillPct, part, supports, in.Copies, in.WastePct, filament)
	out.say("× %s = %s g = %s m of %s mm filament", density, grams, metres, in.Diameter)
	return out, nil
}

// PrintColoursIn is a print whose layers change colour.
type PrintColoursIn struct {
	PartG         Amounts      `json:"part_g" in:"filament; 0 to 1000000; unit g"`
	Layers        []PrintLayer `json:"layers" in:"list of layers"`
	PurgeMM3      *float64     `json:"purge_mm3" in:"filament flushed at a change; 0 to 5000; unit mm³; usual 80 700; or 200"`
	PairFactor    Amounts      `json:"pair_factor" in:"factor; 0 to 10; none"`
	IntoInfillPct float64      `json:"into_infill_pct" in:"part of the flush put to use; 0 to 100; unit %; or 0"`
	Material      string       `json:"material" in:"filament material; one PLA PETG ABS; or PLA"`
	Density       *float64     `json:"density_g_cm3" in:"density; .5 to 9; unit g/cm³"`
	Diameter      *float64     `json:"diameter_mm" in:"filament diameter; 1 to 4; unit mm; or 1.75"`
	WastePct      *float64     `json:"waste_pct" in:"allowance; 0 to 100; unit %; usual 2 15; or 5"`
}

// PrintLayer is so many layers of the same colours.
type PrintLayer struct {
	Count   float64  `json:"count" in:"number of layers; 0 to 1000000; whole"`
	Colours []string `json:"colours" in:"colours of a layer"`
}

// PrintColoursOut is what is flushed at changes, and the filament of each colour with it.
type PrintColoursOut struct {
	Exact struct {
		Flush  ByColour `json:"flush_g"`
		Total  ByColour `json:"total_g"`
		Metres ByColour `json:"metres"`
	} `json:"unrounded"`
	Rounded struct {
		Changes float64  `json:"changes"`
		Total   ByColour `json:"total_g"`
	} `json:"rounded"`
	Notes
}

// loading is a printer as it changes from colour to colour.
type loading struct {
	loaded  string
	changes float64
	weight  ByColour // flushes into each colour, weighted by the factor of the pair
	factors Amounts
}

// change loads a colour.
func (l *loading) change(to string) {
	if l.loaded != "" && l.loaded != to {
		by := 1.0
		if f, there := l.factors.of(l.loaded + ">" + to); there {
			by = f
		}
		l.changes++
		l.weight[to] += by
	}
	l.loaded = to
}

// layer prints a layer, from the colour that is loaded on where the layer has it.
func (l *loading) layer(colours []string) {
	order := slices.Clone(colours)
	if at := slices.Index(order, l.loaded); at > 0 {
		order = append([]string{l.loaded}, slices.Delete(order, at, at+1)...)
	}
	for _, name := range order {
		l.change(name)
	}
}

// layers prints so many layers of the same colours. Their order depends on what is loaded: they are
// walked one by one until they repeat, and then so is all between.
func (l *loading) layers(colours []string, left int) {
	seen := map[string]int{}
	var turns []loading
	for left > 0 {
		if at, again := seen[l.loaded]; again && l.loaded != "" {
			period := len(turns) - at
			rounds := left / period
			was := turns[at]
			l.changes += float64(rounds) * (l.changes - was.changes)
			for name, w := range l.weight {
				l.weight[name] += float64(rounds) * (w - was.weight[name])
			}
			left -= rounds * period
			clear(seen)
			if left == 0 {
				break
			}
		}
		if l.loaded != "" {
			seen[l.loaded] = len(turns)
		}
		turns = append(turns, loading{loaded: l.loaded, changes: l.changes, weight: maps.Clone(l.weight)})
		l.layer(colours)
		left--
	}
}

// PrintColours counts the changes of colour of a print, and what is flushed at them.
func PrintColours(in PrintColoursIn) (out PrintColoursOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	for i, l := range in.Layers {
		for j, name := range l.Colours {
			at := fmt.Sprintf("layers[%d].colours[%d]", i, j)
			if _, there := in.PartG.of(name); !there {
				return out, fault("unknown_choice", at, "%s is not one of: %s.", name, strings.Join(in.PartG.names(), ", "))
			}
			if slices.Contains(l.Colours[:j], name) {
				return out, fault("contradiction", at, "%s is listed twice in one layer.", name)
			}
		}
	}
	on := loading{weight: ByColour{}, factors: in.PairFactor}
	for _, l := range in.Layers {
		on.layers(l.Colours, int(l.Count))
	}
	density := densityOf(in.Density, in.Material)
	one := *in.PurgeMM3 / 1000 * density * (1 - in.IntoInfillPct/100)
	out.say("%s changes; one flush = %s g", on.changes, one)
	x := &out.Exact
	x.Flush, x.Total, x.Metres, out.Rounded.Total = ByColour{}, ByColour{}, ByColour{}, ByColour{}
	flushed := 0.0
	for _, p := range in.PartG {
		flush := on.weight[p.Name] * one
		total := p.N*(1+*in.WastePct/100) + flush
		x.Flush[p.Name], x.Total[p.Name], x.Metres[p.Name], out.Rounded.Total[p.Name] = flush, total, metresOf(total/density, *in.Diameter),
			upInt(total)
		flushed += flush
		out.sayOf(p.Name, "%s with %s%% more + flush %s = %s g", p.N, in.WastePct, flush, total)
	}
	if flushed > in.PartG.sum()+fit {
		out.warn("flush_exceeds_part")
	}
	out.Rounded.Changes = on.changes
	return out, nil
}

// SpoolIn is a spool on the scales, in g.
type SpoolIn struct {
	Need    float64  `json:"need_g" in:"filament needed; 0 to 1000000; unit g"`
	Gross   float64  `json:"gross_g" in:"weight of the spool; 0 to 20000; unit g; or 0"`
	Empty   *float64 `json:"empty_g" in:"weight of the empty spool; 0 to 2000; unit g; usual 100 350"`
	Reserve *float64 `json:"reserve_g" in:"end that cannot be fed; 0 to 200; unit g; usual 3 30; or 10"`
	Net     *float64 `json:"spool_net_g" in:"filament on a new spool; 10 to 20000; unit g; or 1000"`
}

// SpoolOut is what is left on a spool, and the new spools to add.
type SpoolOut struct {
	Exact struct {
		Left   float64 `json:"left_g"`
		Usable float64 `json:"usable_g"`
		Short  float64 `json:"short_g"`
	} `json:"unrounded"`
	Rounded struct {
		Spools float64 `json:"spools"`
		Enough bool    `json:"enough"`
	} `json:"rounded"`
	Notes
}

// Spool works out what is left on a spool.
func Spool(in SpoolIn) (out SpoolOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	left := 0.0
	if in.Gross > 0 {
		if in.Empty == nil {
			return out, fault("missing", "empty_g", "Please give the weight of the empty spool.")
		}
		if left = in.Gross - *in.Empty; left < -fit {
			return out, fault("contradiction", "gross_g", "The spool weighs less than when empty.")
		}
	}
	if *in.Net <= *in.Reserve+fit {
		return out, fault("contradiction", "reserve_g", "The reserve is as large as a whole new spool.")
	}
	usable := math.Max(0, left-*in.Reserve)
	short := math.Max(0, in.Need-usable)
	spools := upInt(short / (*in.Net - *in.Reserve))
	if short > fit && usable > 0 {
		out.warn("runs_out")
	}
	out.Exact.Left, out.Exact.Usable, out.Exact.Short = left, usable, short
	out.Rounded.Spools, out.Rounded.Enough = spools, short <= fit
	out.say("left %s g, usable %s g, short %s g: %s new spools", left, usable, short, spools)
	return out, nil
}
