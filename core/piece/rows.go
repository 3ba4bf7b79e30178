package piece

import (
	"fmt"
	"math"
)

var rowsTemplate = Template{"rows", "Row stripes", Yarn, "stripes of whole rows, worked across the piece, repeated",
	[]Setting{whole("colours", "stripes in a repeat", 1, 10, 5), whole("repeats", "repeats", 1, 20, 4), whole("rows", "rows in a stripe", 1, 40, 6),
		choice("order", "stripes", "all alike", "wide and narrow in turn", "narrowing by a row"),
		whole("stitches", "stitches across", 10, 400, 110), mm("stitch", "stitch width", 1, 12, 4.5), mm("row", "row height", 1, 12, 3.2)}, plain(yarnRows)}

func yarnRows(v map[string]float64) Piece {
	colours := int(v["colours"])
	p := Piece{Width: v["stitches"] * v["stitch"]}
	for i := range colours {
		p.Parts = append(p.Parts, Part{fmt.Sprintf("stripe%d", i+1), fmt.Sprintf("stripe %d", i+1)})
	}
	for range int(v["repeats"]) {
		for i := range colours {
			rows := v["rows"]
			switch {
			case v["order"] == 1 && i%2 == 1:
				rows = math.Max(1, math.Round(rows/3))
			case v["order"] == 2:
				rows = math.Max(1, rows-float64(i))
			}
			p.rect(i, 0, p.Height, p.Width, rows*v["row"])
			p.Height += rows * v["row"]
		}
	}
	return p
}
