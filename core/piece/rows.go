package piece

import (
	"fmt"
	"math"

	"lampfern/core/weave"
)

var rowsTemplate = Template{"rows", "Row stripes", Yarn, "stripes of whole rows, worked across the piece, repeated",
	[]Setting{whole("colours", "stripes in a repeat", 1, 10, 5), whole("repeats", "repeats", 1, 20, 4), whole("rows", "rows in a stripe", 1, 40, 6),
		choice("order", "stripes", "all alike", "wide and narrow in turn", "narrowing by a row"),
		whole("stitches", "stitches across", 10, 400, 110), mm("stitch", "stitch width", 1, 12, 4.5), mm("row", "row height", 1, 12, 3.2)}, yarnRows}

// RowOrder is the order of stripes that the settings of row stripes make, one
// repeat of it.
func RowOrder(v map[string]float64) []weave.Stripe {
	var out []weave.Stripe
	for i := range int(v["colours"]) {
		rows := v["rows"]
		switch {
		case v["order"] == 1 && i%2 == 1:
			rows = math.Max(1, math.Round(rows/3))
		case v["order"] == 2:
			rows = math.Max(1, rows-float64(i))
		}
		out = append(out, weave.Stripe{Yarn: i, Threads: int(rows)})
	}
	return out
}

// longestRows is how high row stripes may become, in mm.
const longestRows = 100_000

func stripeKey(yarn int) string { return fmt.Sprintf("stripe%d", yarn+1) }

// yarnRows is a part a yarn, by the maker's own order of stripes or that of the
// settings.
func yarnRows(v map[string]float64, own Own) (Piece, error) {
	order := RowOrder(v)
	name := func(yarn int) string { return fmt.Sprintf("stripe %d", yarn+1) }
	if own.Rows != nil {
		order = own.Rows
		name = func(yarn int) string { return "yarn " + weave.Letter(yarn) }
	}
	if err := weave.CheckOrder(order); err != nil {
		return Piece{}, err
	}
	rows, used := 0.0, [weave.MostYarns]bool{}
	for _, s := range order {
		rows += float64(s.Threads)
		used[s.Yarn] = true
	}
	if high := rows * v["repeats"] * v["row"]; high > longestRows {
		return Piece{}, fmt.Errorf("these stripes make %.3g m, and a piece is at most %g m high: choose fewer rows or repeats", high/1000, longestRows/1000.0)
	}
	p := Piece{Width: v["stitches"] * v["stitch"]}
	var of [weave.MostYarns]int
	for y, on := range used {
		if on {
			of[y] = len(p.Parts)
			p.Parts = append(p.Parts, Part{stripeKey(y), name(y)})
		}
	}
	for range int(v["repeats"]) {
		for _, s := range order {
			high := float64(s.Threads) * v["row"]
			p.rect(of[s.Yarn], 0, p.Height, p.Width, high)
			p.Height += high
		}
	}
	return p, nil
}
