package piece

import (
	"fmt"
	"math"
)

// liesGrid is the number of cells along the longest side of the grid by which it is
// told where parts lie.
const liesGrid = 128

// most is the share of a side over which a part must reach to go all across it.
const most = 0.7

// Lies says in words where each part lies on the piece: "upper left", "across the foot",
// "all over". A part that is too small to be found says nothing.
func (p Piece) Lies() []string {
	grid, w, h := p.Grid(liesGrid)
	type reach struct{ n, left, right, top, bottom, x, y int }
	of := make([]reach, len(p.Parts))
	for i, part := range grid {
		if part < 0 {
			continue
		}
		r, x, y := &of[part], i%w, i/w
		if r.n == 0 {
			r.left, r.right, r.top, r.bottom = x, x, y, y
		}
		r.n++
		r.x, r.y = r.x+x, r.y+y
		r.left, r.right, r.top, r.bottom = min(r.left, x), max(r.right, x), min(r.top, y), max(r.bottom, y)
	}
	third := func(sum, n, side int) int { return min(2, int(3*(float64(sum)/float64(n)+0.5)/float64(side))) }
	out := make([]string, len(of))
	for i, r := range of {
		if r.n == 0 {
			continue
		}
		across, down := third(r.x, r.n, w), third(r.y, r.n, h)
		wide, high := float64(r.right-r.left+1) >= most*float64(w), float64(r.bottom-r.top+1) >= most*float64(h)
		switch {
		case wide && high:
			out[i] = "all over"
		case wide:
			out[i] = [3]string{"across the top", "across the middle", "across the foot"}[down]
		case high:
			out[i] = [3]string{"down the left", "down the middle", "down the right"}[across]
		default:
			out[i] = [3][3]string{{"upper left", "top", "upper right"}, {"left", "middle", "right"},
				{"lower left", "foot", "lower right"}}[down][across]
		}
	}
	return out
}

// SizeWords is a piece's size in words: centimetres, or millimetres for small ones.
func SizeWords(p Piece) string {
	if p.Box[0] > 0 {
		return "from all round"
	}
	if math.Max(p.Width, p.Height) < 400 {
		return fmt.Sprintf("%.0f × %.0f mm", p.Width, p.Height)
	}
	return fmt.Sprintf("%.0f × %.0f cm", p.Width/10, p.Height/10)
}
