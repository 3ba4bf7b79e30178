package yarn

import (
	"fmt"
	"math"

	"lampfern/core/piece"
	"lampfern/core/weave"
)

var rowsPattern = piece.Pattern{Key: "rows", Name: "Row stripes",
	Words: "stripes of whole rows, worked across the piece, repeated",
	Settings: []piece.Setting{piece.Whole("colours", "stripes in a repeat", 1, 10, 5), piece.Whole("repeats", "repeats", 1, 20, 4),
		piece.Whole("rows", "rows in a stripe", 1, 40, 6),
		piece.Choice("order", "stripes", "all alike", "wide and narrow in turn", "narrowing by a row"),
		piece.Whole("stitches", "stitches across", 10, 400, 110), piece.MM("stitch", "stitch width", 1, 12, 4.5),
		piece.MM("row", "row height", 1, 12, 3.2)},
	Input: func() piece.Input { return &Rows{} }, Make: piece.MakeWith(rows), Resize: piece.ResizeWith(restripe)}

// RowOrder is the order of stripes that the settings of row stripes make, one
// repeat of it.
func RowOrder(v piece.Values) []weave.Stripe {
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
func rows(v piece.Values, in *Rows) (piece.Piece, error) {
	order := RowOrder(v)
	name := func(yarn int) string { return fmt.Sprintf("stripe %d", yarn+1) }
	if in.Rows != nil {
		order = in.Rows
		name = func(yarn int) string { return "yarn " + weave.Letter(yarn) }
	}
	all, used := 0.0, [weave.MostYarns]bool{}
	for _, s := range order {
		all += float64(s.Threads)
		used[s.Yarn] = true
	}
	if high := all * v["repeats"] * v["row"]; high > longestRows {
		return piece.Piece{}, fmt.Errorf("these stripes make %.3g m, and a piece is at most %g m: choose fewer rows or repeats", high/1000,
			longestRows/1000.0)
	}
	p := piece.Piece{Width: v["stitches"] * v["stitch"], Stitch: piece.At(v["stitch"], v["row"])}
	var of [weave.MostYarns]int
	for y, on := range used {
		if on {
			of[y] = len(p.Parts)
			p.Parts = append(p.Parts, piece.Named(stripeKey(y), name(y)))
		}
	}
	for range int(v["repeats"]) {
		for _, s := range order {
			high := float64(s.Threads) * v["row"]
			p.Rect(of[s.Yarn], 0, p.Height, p.Width, high)
			p.Height += high
		}
	}
	return p, nil
}
