package yarn

import (
	"fmt"
	"math"

	"lampfern/core/piece"
	"lampfern/core/quantity"
)

// asks are what the maker's washed swatch tells, and how ends are dealt with.
var asks = []piece.Setting{
	piece.Whole("sw_st", "swatch stitches", 1, 1000, 30),
	piece.Whole("sw_rows", "swatch rows", 1, 1000, 40),
	{Key: "sw_g", Name: "swatch weight, washed", Unit: "g", Min: 0.1, Max: 2000, Default: 6},
	{Key: "sw_w", Name: "swatch width after blocking", Unit: "cm", Min: 0, Max: 200, Default: 0},
	{Key: "sw_h", Name: "swatch height after blocking", Unit: "cm", Min: 0, Max: 200, Default: 0},
	{Key: "metres", Name: "metres per 100 g", Min: 5, Max: 3000, Default: 220},
	{Key: "skein", Name: "usual ball weight", Unit: "g", Min: 1, Max: 2000, Default: 50},
	piece.Choice("ends", "yarn at colour change", "cut", "carried"),
	{Key: "tail", Name: "tail to weave in", Unit: "cm", Min: 0, Max: 100, Default: 15},
	{Key: "waste", Name: "extra", Unit: "%", Min: 0, Max: 100, Default: 10},
}

// needs are the yarn of each card by the maker's own swatch.
func needs(m piece.Making) []piece.Need {
	out := make([]piece.Need, len(m.Cards))
	for i := range out {
		out[i] = piece.Need{Card: i, Kind: "yarn"}
	}
	name := func(key string) string {
		if at := m.CardOf(key); at >= 0 {
			return m.Cards[at].Name
		}
		return "no card"
	}
	share := func(notes quantity.Notes, grams quantity.ByColour, err error) {
		for i := range out {
			if err != nil {
				out[i].Fail(err)
				continue
			}
			out[i].Share(notes, m.Cards[i].Name)
			out[i].Amount = grams[m.Cards[i].Name] * float64(m.Times)
		}
	}
	waste := m.Asked["waste"]
	switch in := m.Input.(type) {
	case *Rows:
		order := in.Rows
		if order == nil {
			order = RowOrder(m.Values)
		}
		var stripes []quantity.Stripe
		for range int(m.Values["repeats"]) {
			for _, s := range order {
				stripes = append(stripes, quantity.Stripe{Colour: name(stripeKey(s.Yarn)), Rows: float64(s.Threads), Stitches: m.Values["stitches"]})
			}
		}
		got, err := quantity.KnitStripes(quantity.KnitStripesIn{Stripes: stripes, Tail: new(m.Asked["tail"]),
			Ends:           []string{"cut", "carried"}[int(m.Asked["ends"])],
			SwatchStitches: m.Asked["sw_st"], SwatchRows: m.Asked["sw_rows"], SwatchG: m.Asked["sw_g"], MPer100g: m.Asked["metres"],
			SkeinG: m.Asked["skein"], WastePct: &waste})
		share(got.Notes, got.Exact.Grams, err)
	case *Stranded:
		// Parts that take one card are one yarn: the chart is worked with a letter a card.
		chart := make([]string, len(in.Stitches()))
		letters := map[rune]string{}
		for y, row := range in.Stitches() {
			for _, r := range row {
				letter := '-'
				if at := m.CardOf(piece.YarnKey(int(r - 'A'))); at >= 0 {
					letter = rune('A' + at)
					letters[letter] = m.Cards[at].Name
				}
				chart[y] += string(letter)
			}
		}
		got, err := quantity.KnitStranded(quantity.KnitStrandedIn{Chart: chart, Names: letters, RepeatsW: new(m.Values["across"]),
			RepeatsH: new(m.Values["up"]),
			Gauge:    math.Max(2, math.Min(120, 100/m.Values["stitch"])), SwatchStitches: m.Asked["sw_st"], SwatchRows: m.Asked["sw_rows"],
			SwatchG:  m.Asked["sw_g"],
			MPer100g: m.Asked["metres"], SkeinG: m.Asked["skein"], WastePct: &waste})
		share(got.Notes, got.Exact.Grams, err)
	default: // by what each covers: as much of it as the swatch
		wide, high := m.Asked["sw_st"]*usualStitch/10, m.Asked["sw_rows"]*usualRow/10
		if w, h := m.Asked["sw_w"], m.Asked["sw_h"]; w > 0 && h > 0 {
			wide, high = w, h
		}
		sides := 1.0
		if m.Piece.Pattern == jumperPattern.Key {
			sides = jumperSides
		}
		for i, area := range m.AreasOf() {
			side := math.Sqrt(area) / 10
			if side == 0 {
				continue
			}
			got, ok := piece.Work(&out[i], quantity.KnitArea, quantity.KnitAreaIn{Parts: []quantity.KnitPart{{Width: side, Length: side,
				Count: new(sides * float64(m.Times))}},
				SwatchW: wide, SwatchH: high, SwatchG: m.Asked["sw_g"], MPer100g: m.Asked["metres"], SkeinG: m.Asked["skein"], WastePct: &waste})
			if ok {
				if sides > 1 {
					out[i].Working = append([]string{"front and back are the same and sleeves are double, so the drawing counts twice"}, out[i].Working...)
				}
				out[i].Amount = got.Exact.Grams
			}
		}
	}
	for i := range out {
		out[i].Allow(waste)
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
		Words: fmt.Sprintf(" is %.3g stitches and %.3g rows in 10 cm; the piece is drawn with %.3g and %.3g. With the same stitches and rows it would be %s and %s.",
			100/wide, 100/high, 100/stitch, 100/row, by(wide, stitch, "wider", "narrower"), by(high, row, "longer", "shorter"))}
}
