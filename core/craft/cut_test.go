package craft

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/piece"
)

// box is a piece of cloth that has to come out of what is bought, in cm.
type box struct {
	w, h float64
	turn bool
}

// fitsOn reports whether boxes can be cut of a cloth: first in rows, then with each box in the first
// corner where it is free, in many orders. It is another packer than the program's.
func fitsOn(r *rand.Rand, boxes []box, width, long float64) bool {
	order := slices.Clone(boxes)
	for try := range 3000 {
		switch try {
		case 0:
			slices.SortFunc(order, func(a, b box) int { return int(1e6 * (b.h - a.h)) })
		case 1:
			slices.SortFunc(order, func(a, b box) int { return int(1e6 * (b.w*b.h - a.w*a.h)) })
		case 2:
			slices.SortFunc(order, func(a, b box) int { return int(1e6 * (b.w - a.w)) })
		default: // nearly by height, by area or by width
			slices.SortFunc(order, func(a, b box) int {
				return int(1e6 * [3]float64{b.h - a.h, b.w*b.h - a.w*a.h, b.w - a.w}[try%3])
			})
			for range 1 + try%20 {
				i, j := r.IntN(len(order)), r.IntN(len(order))
				order[i], order[j] = order[j], order[i]
			}
		}
		upright := slices.Clone(order)
		for i, b := range upright {
			if b.turn && max(b.w, b.h) <= long+hair {
				upright[i] = box{min(b.w, b.h), max(b.w, b.h), false}
			}
		}
		for _, all := range [][]box{order, upright} {
			if inRows(all, width, long) || len(all) < 200 && inCorners(all, width, long) {
				return true
			}
		}
	}
	return false
}

const hair = 1e-6

func inRows(order []box, width, long float64) bool {
	type row struct{ y, h, x float64 }
	var rows []row
	foot := 0.0
	for _, b := range order {
		at := -1
		for i, r := range rows {
			if b.turn && b.w <= r.h+hair && b.h > r.h+hair {
				b.w, b.h = b.h, b.w
			}
			if b.h <= r.h+hair && r.x+b.w <= width+hair {
				at = i
				break
			}
		}
		if at < 0 {
			if b.turn && b.h <= width+hair && (b.w < b.h || b.w > width+hair) {
				b.w, b.h = max(b.w, b.h), min(b.w, b.h)
				if b.w > width+hair {
					b.w, b.h = b.h, b.w
				}
			}
			rows, at = append(rows, row{foot, b.h, 0}), len(rows)
			foot += b.h
		}
		rows[at].x += b.w
		if rows[at].x > width+hair || foot > long+hair {
			return false
		}
	}
	return true
}

func inCorners(order []box, width, long float64) bool {
	type laid struct{ x, y, w, h float64 }
	var all []laid
	xs, ys := []float64{0}, []float64{0}
	for _, b := range order {
		best, found := laid{y: math.Inf(1)}, false
		ways := []box{b}
		if b.turn {
			ways = append(ways, box{b.h, b.w, true})
		}
		for _, w := range ways {
			for _, y := range ys {
				for _, x := range xs {
					at := laid{x, y, w.w, w.h}
					if x+w.w > width+hair || y+w.h > long+hair || found && y+w.h >= best.y+best.h {
						continue
					}
					if !slices.ContainsFunc(all, func(o laid) bool {
						return at.x < o.x+o.w-hair && o.x < at.x+at.w-hair && at.y < o.y+o.h-hair && o.y < at.y+at.h-hair
					}) {
						best, found = at, true
					}
				}
			}
		}
		if !found {
			return false
		}
		all, xs, ys = append(all, best), append(xs, best.x+best.w), append(ys, best.y+best.h)
	}
	return true
}

// bought is a need in cm as a shop cuts it.
func bought(n piece.Need) float64 { return math.Ceil(n.Amount/n.Step-1e-9) * n.Step * 100 }

// Of 200 lists of pattern parts none is bought too short to be cut.
func TestEveryListOfPartsCanBeCut(t *testing.T) {
	r := rand.New(rand.NewPCG(31, 1))
	of, m := making(t, "garment", "waistcoat", nil, "fabric")
	for k := range 200 {
		width := []float64{110, 140, 150}[k%3]
		m.Asked["width"], m.Asked["shrink"], m.Asked["used"] = width, float64(r.IntN(8)), 65+float64(r.IntN(30))
		text, boxes := "", []box(nil)
		for i := range 1 + r.IntN(12) {
			w, h, n := math.Round(5+(width-8-5)*r.Float64()), math.Round(8+110*r.Float64()), 1+r.IntN(4)
			text += fmt.Sprintf("part %d, shell, %g, %g, %d, %.0f\n", i+1, h, w, n, (0.5+.5*r.Float64())*w*h)
			for range n {
				boxes = append(boxes, box{w: w, h: h})
			}
		}
		m.Lists = rowsOf(t, of, "parts", text)
		n := needOf(t, of.Needs(m), m, "Shell")
		require.Empty(t, n.Problem, text)
		long := bought(n) * (1 - m.Asked["shrink"]/100) // once washed
		assert.True(t, fitsOn(r, boxes, width-3, long), "%.0f cm of %g:\n%s", long, width, text)
		assert.Len(t, n.Cuts, len(boxes), "the layout is shown whole")
	}
	// Four parts of 100 × 80 on cloth of 140: one beside the other there is no room for two.
	m.Asked = piece.Usual(of.Asks, nil)
	m.Lists = rowsOf(t, of, "parts", "front,shell,100,80,4")
	n := needOf(t, of.Needs(m), m, "Shell")
	assert.InDelta(t, 4.0/.95, n.Amount, 1e-9)
	assert.Contains(t, n.Working[len(n.Working)-2], "400 cm / (1 − 5/100) = 421.1 cm")
}

// Of 200 quilts none is bought too short to be cut.
func TestEveryQuiltCanBeCut(t *testing.T) {
	r := rand.New(rand.NewPCG(31, 2))
	of, _ := Named("quilt")
	for k := range 200 {
		p := of.Patterns[r.IntN(len(of.Patterns))]
		set := piece.Values{}
		for _, s := range p.Settings {
			switch {
			case s.Choices != nil:
				set[s.Key] = float64(r.IntN(len(s.Choices)))
			default:
				v := s.Default * (.4 + 1.2*r.Float64())
				if s.Whole {
					v = math.Round(v)
				}
				set[s.Key] = min(s.Max, max(s.Min, v))
			}
		}
		if _, err := p.Build(set, nil); err != nil {
			continue
		}
		_, m := making(t, "quilt", p.Key, set, "fabric")
		m.Asked["wof"] = []float64{110, 140, 150}[k%3]
		a := m.Asked["seam"]
		boxes, triangles := make([][]box, len(m.Cards)), make([]map[[2]float64]int, len(m.Cards))
		for i := range triangles {
			triangles[i] = map[[2]float64]int{}
		}
		add := func(card int, w, h float64) { // joined where it is longer than the cloth is wide
			n := max(1, math.Ceil((max(w, h)-1e-6)/(m.Asked["wof"]-2*a)))
			for range int(n) {
				boxes[card] = append(boxes[card], box{max(w, h)/n + 2*a, min(w, h) + 2*a, true})
			}
		}
		for _, c := range m.Piece.Cutouts() {
			card := m.Of[c.Part]
			w, h := c.Boxed()
			o := c.Outline
			switch {
			case m.Piece.Parts[c.Part].Key == "binding":
			case len(o) == 3 && math.Abs(w-h) < .1: // two of a square, with legs along the grain
				triangles[card][[2]float64{math.Round(w) / 10, a * (2 + math.Sqrt2)}]++
			case len(o) == 3 && math.Abs(max(w, h)-2*min(w, h)) < .1: // four of one
				triangles[card][[2]float64{math.Round(max(w, h)) / 10, a * (2 + 2*math.Sqrt2)}]++
			default:
				add(card, w/10, h/10)
			}
		}
		for card, all := range triangles {
			for s, n := range all {
				of := 2
				if s[1] > a*4 {
					of = 4
				}
				for range (n + of - 1) / of {
					boxes[card] = append(boxes[card], box{s[0] + s[1], s[0] + s[1], true})
				}
			}
		}
		for card, n := range of.Needs(m)[:len(m.Cards)] {
			require.Empty(t, n.Problem)
			if m.Cards[card].Name == "binding" {
				long := (m.Piece.Width+m.Piece.Height)/5 + 25
				for range int(math.Ceil((long - 6.5) / (m.Asked["wof"] - 6.5))) {
					boxes[card] = append(boxes[card], box{m.Asked["wof"], 6.5, false})
				}
			}
			if len(boxes[card]) > 0 {
				assert.True(t, fitsOn(r, boxes[card], m.Asked["wof"], bought(n)), "%s %v: %s, %d boxes of %.1f on %g × %.1f cm", p.Key, set,
					m.Cards[card].Name, len(boxes[card]), boxes[card][0], m.Asked["wof"], bought(n))
			}
		}
	}
}
