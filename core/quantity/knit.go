package quantity

import (
	"fmt"
	"math"
	"unicode/utf8"
)

// KnitAreaIn is what is knitted, by area, and the maker's own swatch.
type KnitAreaIn struct {
	Parts    []KnitPart `json:"parts" in:"list of parts"`
	SwatchW  float64    `json:"swatch_w_cm" in:"swatch width; over 0 to 200; unit cm"`
	SwatchH  float64    `json:"swatch_h_cm" in:"swatch height; over 0 to 200; unit cm"`
	SwatchG  float64    `json:"swatch_g" in:"mass of the swatch; over 0 to 2000; unit g"`
	MPer100g float64    `json:"m_per_100g" in:"yarn length per 100 g; 5 to 3000; unit m; usual 40 900"`
	SkeinG   float64    `json:"skein_g" in:"mass of one skein; over 0 to 2000; unit g"`
	WastePct *float64   `json:"waste_pct" in:"allowance; 0 to 100; unit %; usual 5 15; or 10"`
}

// KnitPart is a part whose sides run straight from one width to the other.
type KnitPart struct {
	Width  float64  `json:"width_cm" in:"width at one end; over 0 to 1000; unit cm"`
	Width2 *float64 `json:"width2_cm" in:"width at the other end; 0 to 1000; unit cm"`
	Length float64  `json:"length_cm" in:"length; over 0 to 2000; unit cm"`
	Count  *float64 `json:"count" in:"number of parts; 0 to 1000; whole; or 1"`
}

// KnitAreaOut is the yarn of what is knitted.
type KnitAreaOut struct {
	Exact struct {
		Area   float64 `json:"area_cm2"`
		Grams  float64 `json:"grams"`
		Metres float64 `json:"metres"`
	} `json:"unrounded"`
	Rounded struct {
		Grams  float64 `json:"grams"`
		Metres float64 `json:"metres"`
		Skeins float64 `json:"skeins"`
	} `json:"rounded"`
	Notes
}

// Swatches that are too small or too light to tell much.
const (
	smallSwatch = 100.0 // cm²
	lightSwatch = 2.0   // g
)

func (n *Notes) lightSwatch(grams float64) {
	if grams < lightSwatch {
		n.warn("light_swatch")
	}
}

// KnitArea works yarn out by area: as much of it as the swatch has.
func KnitArea(in KnitAreaIn) (out KnitAreaOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	area := 0.0
	for _, p := range in.Parts {
		other := p.Width
		if p.Width2 != nil {
			other = *p.Width2
		}
		area += *p.Count * p.Length * (p.Width + other) / 2
	}
	swatch := in.SwatchW * in.SwatchH
	if swatch < smallSwatch-fit {
		out.warn("small_swatch")
	}
	out.lightSwatch(in.SwatchG)
	grams := area * in.SwatchG / swatch * (1 + *in.WastePct/100)
	metres := grams * in.MPer100g / 100
	skeins := upInt(grams / in.SkeinG)
	out.Exact.Area, out.Exact.Grams, out.Exact.Metres = area, grams, metres
	out.Rounded.Grams, out.Rounded.Metres, out.Rounded.Skeins = upInt(grams), upInt(metres), skeins
	out.say("area %s cm²; swatch %s g / %s cm² = %s g/cm²", area, in.SwatchG, swatch, in.SwatchG/swatch)
	out.say("with %s%% more %s g = %s m", in.WastePct, grams, metres)
	out.sold("%s of %s g", many(skeins, "skein"), in.SkeinG)
	return out, nil
}

// KnitStripesIn is stripes in order, and the maker's own swatch.
type KnitStripesIn struct {
	Stripes        []Stripe `json:"stripes" in:"list of stripes"`
	SwatchStitches float64  `json:"swatch_stitches" in:"stitches in each swatch row; 1 to 1000; whole"`
	SwatchRows     float64  `json:"swatch_rows" in:"rows in the swatch; 1 to 1000; whole"`
	SwatchG        float64  `json:"swatch_g" in:"mass of the swatch; over 0 to 2000; unit g"`
	MPer100g       float64  `json:"m_per_100g" in:"yarn length per 100 g; 5 to 3000; unit m; usual 40 900"`
	Tail           *float64 `json:"tail_cm" in:"tail; 0 to 100; unit cm; usual 10 25; or 15"`
	Ends           string   `json:"ends" in:"ends; one cut carried; or cut"`
	SkeinG         float64  `json:"skein_g" in:"mass of one skein; over 0 to 2000; unit g"`
	WastePct       *float64 `json:"waste_pct" in:"allowance; 0 to 100; unit %; usual 5 15; or 10"`
}

// Stripe is rows of one colour.
type Stripe struct {
	Colour   string  `json:"colour" in:"colour"`
	Rows     float64 `json:"rows" in:"number of rows; 0 to 10000; whole"`
	Stitches float64 `json:"stitches" in:"stitches in each row; over 0 to 5000"`
}

// KnitStripesOut is the yarn of each colour of stripes.
type KnitStripesOut struct {
	Exact struct {
		Grams  ByColour `json:"grams"`
		Metres ByColour `json:"metres"`
	} `json:"unrounded"`
	Rounded struct {
		Stitches ByColour `json:"stitches"`
		Grams    ByColour `json:"grams"`
		Skeins   ByColour `json:"skeins"`
	} `json:"rounded"`
	Notes
}

// KnitStripes works yarn out by the stitches of stripes and the tails of each run.
func KnitStripes(in KnitStripesIn) (out KnitStripesOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	per := in.SwatchG / (in.SwatchStitches * in.SwatchRows)
	tails := 2 * *in.Tail / 100 / (in.MPer100g / 100)
	out.lightSwatch(in.SwatchG)
	stitches, runs := newNamed(), ByColour{}
	last := ""
	for _, s := range in.Stripes {
		stitches.add(s.Colour, s.Rows*s.Stitches)
		if s.Rows == 0 {
			continue
		}
		if s.Colour != last && !(in.Ends == "carried" && runs[s.Colour] > 0) {
			runs[s.Colour]++
		}
		last = s.Colour
	}
	out.say("one stitch = %s g / (%s × %s) = %s g; two tails = %s g", in.SwatchG, in.SwatchStitches, in.SwatchRows, per, tails)
	x, r := &out.Exact, &out.Rounded
	x.Grams, x.Metres, r.Stitches, r.Grams, r.Skeins = ByColour{}, ByColour{}, stitches.of, ByColour{}, ByColour{}
	for _, name := range stitches.names {
		grams := (stitches.of[name]*per + runs[name]*tails) * (1 + *in.WastePct/100)
		x.Grams[name], x.Metres[name] = grams, grams*in.MPer100g/100
		r.Grams[name], r.Skeins[name] = upInt(grams), upInt(grams/in.SkeinG)
		out.sayOf(name, "(%s stitches × %s + %s × %s) with %s%% more = %s g", stitches.of[name], per, runs[name], tails, in.WastePct, grams)
		out.sold("%s: %s", name, many(r.Skeins[name], "skein"))
	}
	return out, nil
}

// KnitStrandedIn is a chart, one letter per stitch, and the maker's own swatch.
type KnitStrandedIn struct {
	Chart          []string `json:"chart" in:"rows of the chart"`
	RepeatsW       *float64 `json:"repeats_w" in:"repeats across; 1 to 5000; whole; or 1"`
	RepeatsH       *float64 `json:"repeats_h" in:"repeats up; 1 to 5000; whole; or 1"`
	Method         string   `json:"method" in:"method; one float_length percent stranded_swatch; or float_length"`
	Gauge          float64  `json:"gauge_st_10cm" in:"stitches in 10 cm; 2 to 120; usual 8 50"`
	FloatSlackPct  *float64 `json:"float_slack_pct" in:"slack in a float; 0 to 50; unit %; usual 5 20; or 10"`
	FloatPct       *float64 `json:"float_pct" in:"float allowance; 0 to 100; unit %; usual 10 30; or 20"`
	MaxFloat       *float64 `json:"max_float_st" in:"longest float; 1 to 50; whole; or 5"`
	SwatchStitches float64  `json:"swatch_stitches" in:"stitches in each swatch row; 1 to 1000; whole"`
	SwatchRows     float64  `json:"swatch_rows" in:"rows in the swatch; 1 to 1000; whole"`
	SwatchG        float64  `json:"swatch_g" in:"mass of the swatch; over 0 to 2000; unit g"`
	MPer100g       float64  `json:"m_per_100g" in:"yarn length per 100 g; 5 to 3000; unit m; usual 40 900"`
	SkeinG         float64  `json:"skein_g" in:"mass of one skein; over 0 to 2000; unit g"`
	WastePct       *float64 `json:"waste_pct" in:"allowance; 0 to 100; unit %; usual 5 15; or 10"`

	Names map[rune]string `json:"-"` // what letters of the chart are called; a letter by itself else
}

// KnitStrandedOut is the yarn of each colour of a chart, floats and all.
type KnitStrandedOut struct {
	Exact struct {
		Share  ByColour `json:"share"`
		Metres ByColour `json:"metres"`
		Grams  ByColour `json:"grams"`
	} `json:"unrounded"`
	Rounded struct {
		Stitches      ByColour `json:"stitches"`
		FloatStitches ByColour `json:"float_stitches"`
		LongestFloat  float64  `json:"longest_float"`
		Grams         ByColour `json:"grams"`
		Skeins        ByColour `json:"skeins"`
	} `json:"rounded"`
	Notes
}

// KnitStranded works yarn out by the stitches of a chart and the floats behind them, knitted round.
func KnitStranded(in KnitStrandedIn) (out KnitStrandedOut, err error) {
	if err = ready(&in, &out.Notes); err != nil {
		return out, err
	}
	called := func(r rune) string {
		if name := in.Names[r]; name != "" {
			return name
		}
		return string(r)
	}
	wide := utf8.RuneCountInString(in.Chart[0])
	stitches, floats := newNamed(), ByColour{}
	longest := 0
	times := *in.RepeatsW * *in.RepeatsH
	for i, row := range in.Chart {
		var runes []string
		for _, r := range row {
			runes = append(runes, called(r))
		}
		if len(runes) != wide {
			return out, fault("contradiction", fmt.Sprintf("chart[%d]", i), "Row %s has %s stitches; the first row has %s.",
				float64(i+1), float64(len(runes)), float64(wide))
		}
		count := newNamed()
		for _, r := range runes {
			count.add(r, 1)
		}
		for _, name := range count.names {
			stitches.add(name, count.of[name]*times)
			floats[name] += (float64(wide) - count.of[name]) * times
			// Read round: the row stands twice.
			run := 0
			for k := range 2 * wide {
				if runes[k%wide] == name {
					run = 0
					continue
				}
				if run++; run <= wide {
					longest = max(longest, run)
				}
			}
		}
	}
	out.lightSwatch(in.SwatchG)
	one := in.SwatchG / (in.SwatchStitches * in.SwatchRows) * in.MPer100g / 100
	across := 10 / in.Gauge * (1 + *in.FloatSlackPct/100) / 100
	out.say("one stitch %s m; one stitch of float %s m", one, across)
	all := 0.0
	for _, n := range stitches.of {
		all += n
	}
	x, r := &out.Exact, &out.Rounded
	x.Share, x.Metres, x.Grams, r.Grams, r.Skeins = ByColour{}, ByColour{}, ByColour{}, ByColour{}, ByColour{}
	r.Stitches, r.FloatStitches, r.LongestFloat = stitches.of, floats, float64(longest)
	for _, name := range stitches.names {
		n := stitches.of[name]
		m := n * one
		switch in.Method {
		case "float_length":
			m += floats[name] * across
		case "percent":
			m *= 1 + *in.FloatPct/100
		}
		metres := m * (1 + *in.WastePct/100)
		grams := metres / in.MPer100g * 100
		x.Share[name], x.Metres[name], x.Grams[name] = n/math.Max(1, all), metres, grams
		r.Grams[name], r.Skeins[name] = upInt(grams), upInt(grams/in.SkeinG)
		out.sayOf(name, "%s stitches (share %s), %s float stitches; with %s%% more %s m = %s g", n, x.Share[name], floats[name], in.WastePct,
			metres, grams)
		out.sold("%s: %s", name, many(r.Skeins[name], "skein"))
	}
	if float64(longest) > *in.MaxFloat {
		out.warn("long_float")
	}
	return out, nil
}
