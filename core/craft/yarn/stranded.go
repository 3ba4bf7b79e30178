package yarn

import (
	"fmt"
	"slices"
	"strings"

	"lampfern/core/piece"
	"lampfern/core/weave"
)

// Chart is a stranded pattern: rows of stitches from the top, each stitch the
// letter of its yarn from A.
type Chart []string

// MostStitches bounds a chart in each direction.
const MostStitches = 400

// UsualChart is the pattern of a stranded piece that has none of its own: a
// row of leaves between two fine bands.
func UsualChart() Chart {
	return Chart{
		"AAAAAAAAAAAA",
		"CACACACACACA",
		"AAAAAAAAAAAA",
		"AAAAABAAAAAA",
		"AAAABBBAAAAA",
		"AABABBBABAAA",
		"ABBBABABBBAA",
		"ABBBABABBBAA",
		"AABABBBABAAA",
		"AAAAABAAAAAA",
		"AAAAABAAAAAA",
		"AAAAAAAAAAAA",
		"ACACACACACAC",
		"AAAAAAAAAAAA",
	}
}

// Check says in one sentence what keeps the chart from being worked.
func (c Chart) Check() error {
	if len(c) == 0 || len(c) > MostStitches || len(c[0]) == 0 || len(c[0]) > MostStitches {
		across := 0
		if len(c) > 0 {
			across = len(c[0])
		}
		return fmt.Errorf("a chart has 1 to %d stitches each way: this one has %d × %d", MostStitches, across, len(c))
	}
	for i, row := range c {
		if len(row) != len(c[0]) {
			return fmt.Errorf("row %d of the chart has %d stitches and the first has %d: make all rows the same length", i+1, len(row), len(c[0]))
		}
		for _, r := range row {
			if r < 'A' || r >= 'A'+weave.MostYarns {
				return fmt.Errorf("row %d of the chart holds %q: name the yarn of each stitch by a letter from A to %s", i+1, r,
					weave.Letter(weave.MostYarns-1))
			}
		}
	}
	return nil
}

// Resized is the chart cut, or filled up with yarn A at its right and foot.
func (c Chart) Resized(across, down int) (Chart, error) {
	if across < 1 || down < 1 || across > MostStitches || down > MostStitches {
		return nil, fmt.Errorf("a chart has 1 to %d stitches each way, not %d × %d", MostStitches, across, down)
	}
	out := make(Chart, down)
	for y := range out {
		row := ""
		if y < len(c) {
			row = c[y][:min(across, len(c[y]))]
		}
		out[y] = row + strings.Repeat("A", across-len(row))
	}
	return out, nil
}

// Painted is the chart with some stitches, counted from 0, given a yarn.
// Stitches outside it are left out.
func (c Chart) Painted(cells [][2]int, yarn int) Chart {
	rows := make([][]byte, len(c))
	for i, r := range c {
		rows[i] = []byte(r)
	}
	for _, at := range cells {
		if at[1] >= 0 && at[1] < len(rows) && at[0] >= 0 && at[0] < len(rows[at[1]]) {
			rows[at[1]][at[0]] = byte('A' + yarn)
		}
	}
	out := make(Chart, len(c))
	for i, r := range rows {
		out[i] = string(r)
	}
	return out
}

// Mirrored is the chart turned left to right, or top to foot.
func (c Chart) Mirrored(upright bool) Chart {
	out := slices.Clone(c)
	if upright {
		slices.Reverse(out)
		return out
	}
	for i, row := range out {
		b := []byte(row)
		slices.Reverse(b)
		out[i] = string(b)
	}
	return out
}

// LongestFloat is the longest stretch of other yarns behind which one used in
// the row is carried, rows read round, and the row it lies in, counted from 1.
func (c Chart) LongestFloat() (stitches, row int) {
	for y, r := range c {
		n := len(r)
		for _, yarn := range []byte(weave.Letters()) {
			if strings.IndexByte(r, yarn) < 0 {
				continue
			}
			run := 0
			for i := range 2 * n {
				if r[i%n] == yarn {
					run = 0
					continue
				}
				if run++; run > stitches && run < n {
					stitches, row = run, y+1
				}
			}
		}
	}
	return stitches, row
}

var strandedPattern = piece.Pattern{Key: "stranded", Name: "Stranded chart",
	Words: "a pattern of stitches in several yarns, charted stitch by stitch and repeated",
	Settings: []piece.Setting{piece.Whole("across", "repeats across", 1, 60, 8), piece.Whole("up", "repeats up", 1, 60, 5),
		piece.MM("stitch", "stitch width", 1, 12, 4.5), piece.MM("row", "row height", 1, 12, 3.8)},
	Input: func() piece.Input { return &Stranded{} }, Make: piece.MakeWith(stranded), Cautions: piece.CautionsWith(carried)}

// stranded is a part a yarn, with the area of its stitches.
func stranded(v piece.Values, in *Stranded) (piece.Piece, error) {
	c := in.Stitches()
	wide, high := len(c[0])*int(v["across"]), len(c)*int(v["up"])
	if wide*high > piece.MostCells {
		return piece.Piece{}, fmt.Errorf("this chart repeated makes %d × %d stitches, too many to draw: choose fewer repeats", wide, high)
	}
	var used [weave.MostYarns]bool
	for _, row := range c {
		for _, r := range []byte(row) {
			used[r-'A'] = true
		}
	}
	parts, of := piece.YarnParts(used)
	p := piece.OfCells(piece.Knitted, wide, high, v["stitch"], v["row"], parts)
	for y := range high {
		row := c[y%len(c)]
		for x := range wide {
			p.Cells.Part[y*wide+x] = of[row[x%len(row)]-'A']
		}
	}
	return p, nil
}
