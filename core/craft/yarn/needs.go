package yarn

import (
	"fmt"
	"math"

	"lampfern/core/piece"
	"lampfern/core/quantity"
)

// asks are what the maker's washed swatch tells, and how ends are dealt with.
var asks = []piece.Setting{
	piece.Whole("sw_st", "stitches across your swatch", 1, 1000, 30),
	piece.Whole("sw_rows", "rows in your swatch", 1, 1000, 40),
	{Key: "sw_g", Name: "weight of your swatch, washed", Unit: "g", Min: 0.1, Max: 2000, Default: 6},
	{Key: "sw_w", Name: "its width, once measured", Unit: "cm", Min: 0, Max: 200, Default: 0},
	{Key: "sw_h", Name: "its height, once measured", Unit: "cm", Min: 0, Max: 200, Default: 0},
	{Key: "metres", Name: "metres in 100 g of the yarn", Min: 5, Max: 3000, Default: 220},
	{Key: "skein", Name: "one skein, where the shelf does not say", Unit: "g", Min: 1, Max: 2000, Default: 50},
	piece.Choice("ends", "ends", "cut at every stripe", "carried up the side"),
	{Key: "tail", Name: "one woven-in tail", Unit: "cm", Min: 0, Max: 100, Default: 15},
	{Key: "waste", Name: "to spare", Unit: "%", Min: 0, Max: 100, Default: 10},
}

// needs are the yarn of each card by the maker's own swatch.
func needs(m piece.Making) []piece.Need {
	out := make([]piece.Need, len(m.Cards))
	for i := range out {
		out[i] = piece.Need{Card: i, Kind: "yarn"}
	}
	swatch := func() quantity.Inputs {
		return piece.Given("swatch_stitches", m.Asked["sw_st"], "swatch_rows", m.Asked["sw_rows"], "swatch_g", m.Asked["sw_g"],
			"m_per_100g", m.Asked["metres"], "skein_g", m.Asked["skein"], "waste_pct", m.Asked["waste"])
	}
	name := func(key string) string {
		if at := m.CardOf(key); at >= 0 {
			return m.Cards[at].Name
		}
		return "no card"
	}
	share := func(n piece.Need, grams any) {
		by, _ := grams.(map[string]float64)
		for i := range out {
			out[i].Working, out[i].Warnings, out[i].Problem = piece.About(n.Working, m.Cards[i].Name), n.Warnings, n.Problem
			out[i].Amount = by[m.Cards[i].Name] * float64(m.Times)
		}
	}
	var n piece.Need
	switch in := m.Input.(type) {
	case *Rows:
		order := in.Rows
		if order == nil {
			order = RowOrder(m.Values)
		}
		var stripes []any
		for range int(m.Values["repeats"]) {
			for _, s := range order {
				stripes = append(stripes, piece.Given("colour", name(stripeKey(s.Yarn)), "rows", s.Threads, "stitches", m.Values["stitches"]))
			}
		}
		ends := []string{"cut", "carried"}[int(m.Asked["ends"])]
		res, _ := n.Work("knit.stripes", append(piece.Given("stripes", stripes, "tail_cm", m.Asked["tail"], "ends", ends), swatch()...))
		share(n, res.Unrounded["grams"])
	case *Stranded:
		// Parts that take one card are one yarn: the chart is worked with a letter a card.
		chart := make([]any, len(in.Stitches()))
		letters := map[rune]string{}
		for y, row := range in.Stitches() {
			line := ""
			for _, r := range row {
				at := m.CardOf(piece.YarnKey(int(r - 'A')))
				letter := '-'
				if at >= 0 {
					letter = rune('A' + at)
					letters[letter] = m.Cards[at].Name
				}
				line += string(letter)
			}
			chart[y] = line
		}
		res, _ := n.Work("knit.stranded", append(piece.Given("chart", chart, "repeats_w", m.Values["across"], "repeats_h", m.Values["up"],
			"gauge_st_10cm", math.Max(2, math.Min(120, 100/m.Values["stitch"]))), swatch()...))
		by := map[string]float64{}
		if grams, is := res.Unrounded["grams"].(map[string]float64); is {
			for letter, g := range grams {
				by[letters[[]rune(letter)[0]]] = g
			}
		}
		for i, line := range n.Working {
			for letter, full := range letters {
				if len(line) > 1 && rune(line[0]) == letter && line[1] == ':' {
					n.Working[i] = full + line[1:]
				}
			}
		}
		share(n, by)
	default: // by what each covers: as much of it as the swatch
		wide, high := m.Asked["sw_st"]*usualStitch/10, m.Asked["sw_rows"]*usualRow/10
		if w, h := m.Asked["sw_w"], m.Asked["sw_h"]; w > 0 && h > 0 {
			wide, high = w, h
		}
		for i, area := range m.AreasOf() {
			side := math.Sqrt(area) / 10
			if side == 0 {
				continue
			}
			one := &out[i]
			res, ok := one.Work("knit.area", piece.Given("parts", []any{piece.Given("width_cm", side, "length_cm", side, "count", m.Times)}, "swatch_w_cm", wide, "swatch_h_cm", high,
				"swatch_g", m.Asked["sw_g"], "m_per_100g", m.Asked["metres"], "skein_g", m.Asked["skein"], "waste_pct", m.Asked["waste"]))
			if ok {
				one.Amount = res.Unrounded["grams"].(float64)
			}
		}
	}
	for i := range out {
		out[i].Allow(m.Asked["waste"])
	}
	return out
}

// drawn is how far a gauge may lie from the drawn one before it is said: two stitches in a
// hundred.
const drawn = 0.02

// fit is the size of a stitch by the maker's measured swatch.
func fit(m piece.Making) *piece.Fit {
	w, h := m.Asked["sw_w"], m.Asked["sw_h"]
	stitch, row := m.Values["stitch"], m.Values["row"]
	if w == 0 || h == 0 || stitch == 0 || row == 0 {
		return nil
	}
	wide, high := math.Round(1000*w/m.Asked["sw_st"])/100, math.Round(1000*h/m.Asked["sw_rows"])/100
	if math.Abs(wide/stitch-1) <= drawn && math.Abs(high/row-1) <= drawn || wide < 1 || wide > 12 || high < 1 || high > 12 {
		return nil
	}
	by := func(got, was float64, more, less string) string {
		if share := math.Round(100 * (got/was - 1)); share >= 0 {
			return fmt.Sprintf("%.0f%% %s", share, more)
		} else {
			return fmt.Sprintf("%.0f%% %s", -share, less)
		}
	}
	return &piece.Fit{About: "Your gauge", Label: "Draw the piece by your swatch", Settings: piece.Values{"stitch": wide, "row": high},
		Words: fmt.Sprintf(" is %.3g stitches and %.3g rows in 10 cm; the piece is drawn with %.3g and %.3g. With as many stitches and rows it comes out %s and %s.",
			100/wide, 100/high, 100/stitch, 100/row, by(wide, stitch, "wider", "narrower"), by(high, row, "longer", "shorter"))}
}
