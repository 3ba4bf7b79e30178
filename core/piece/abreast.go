package piece

import (
	"fmt"
	"math"
)

// AbreastKey is the pattern of pieces laid out abreast.
const AbreastKey = "abreast"

// Abreast lays pieces out beside one another at one scale, to be looked at as one: each of its parts
// is a part, named after its piece. keys tell the pieces apart, names call them. Its regions are
// outlines in which holes run the other way, so that they can be drawn; areas are to be asked of the
// pieces themselves. Of a piece made of cells the small window is shown, as squares.
func Abreast(all []Piece, keys []int, names []string) Piece {
	const gapShare, wideFor = 0.06, 1.5 // of the longest side; the width for the height
	out := Piece{Pattern: AbreastKey, Name: "All pieces"}
	longest, area, widest := 0.0, 0.0, 0.0
	for i := range all {
		all[i] = seen(all[i])
		w, h := all[i].Width, all[i].Height
		longest, area, widest = math.Max(longest, math.Max(w, h)), area+w*h, math.Max(widest, w)
	}
	gap := gapShare * longest
	room := math.Max(widest, math.Sqrt(wideFor*area*1.4))
	x, y := 0.0, 0.0
	for i := 0; i < len(all); {
		// A row of what fits, its pieces on one foot.
		to, wide, high := i, 0.0, 0.0
		for ; to < len(all) && (to == i || wide+gap+all[to].Width <= room); to++ {
			if to > i {
				wide += gap
			}
			wide, high = wide+all[to].Width, math.Max(high, all[to].Height)
		}
		x = 0
		for k := i; k < to; k++ {
			out.put(all[k], keys[k], names[k], x, y+high-all[k].Height)
			x += all[k].Width + gap
		}
		out.Width, out.Height = math.Max(out.Width, wide), y+high
		y += high + gap
		i = to
	}
	return out
}

// put adds a piece at a place.
func (p *Piece) put(o Piece, key int, name string, x, y float64) {
	first := len(p.Parts)
	for _, part := range o.Parts {
		p.Parts = append(p.Parts, Part{fmt.Sprintf("%d.%s", key, part.Key), part.Name + " of the " + name})
	}
	for part, outlines := range o.Contours() {
		for _, outline := range outlines {
			moved := make([]Point, len(outline))
			for i, q := range outline {
				moved[i] = Point{q.X + x, q.Y + y}
			}
			p.Regions = append(p.Regions, Region{first + part, moved})
		}
	}
	for _, l := range o.Lines {
		moved := Line{Dashed: l.Dashed}
		for _, q := range l.Through {
			moved.Through = append(moved.Through, Point{q.X + x, q.Y + y})
		}
		p.Lines = append(p.Lines, moved)
	}
	for _, f := range o.Fades {
		p.Fades = append(p.Fades, Fading{f.From + first, f.To + first, f.Top + y, f.Middle + y, f.Foot + y})
	}
}

// seen is a piece as it is drawn by outlines: cells as squares, those in a row and of one part joined.
func seen(p Piece) Piece {
	if p.Cells == nil {
		return p
	}
	const most = 60_000 // cells that are shown
	c := p.SmallWindow()
	if step := int(math.Ceil(math.Sqrt(float64(c.Across*c.Down) / most))); step > 1 {
		c = c.Window(0, 0, c.Across/step, c.Down/step)
	}
	p.Width, p.Height, p.Cells, p.Shown, p.Box = float64(c.Across)*c.Wide, float64(c.Down)*c.High, nil, nil, [3]float64{}
	type run struct{ from, to, part int }
	open, going := map[run]int{}, map[run]int{}
	p.Regions, p.Sliced = nil, false
	for y := range c.Down {
		clear(going)
		row := c.Part[y*c.Across : (y+1)*c.Across]
		for from := 0; from < len(row); {
			to := from + 1
			for to < len(row) && row[to] == row[from] {
				to++
			}
			if row[from] >= 0 {
				r := run{from, to, int(row[from])}
				foot := float64(y+1) * c.High
				at, known := open[r]
				if known {
					p.Regions[at].Outline[2].Y, p.Regions[at].Outline[3].Y = foot, foot
				} else {
					at = len(p.Regions)
					left, right, top := float64(from)*c.Wide, float64(to)*c.Wide, float64(y)*c.High
					p.Regions = append(p.Regions, Region{r.part, []Point{{left, top}, {right, top}, {right, foot}, {left, foot}}})
				}
				going[r] = at
			}
			from = to
		}
		open, going = going, open
	}
	return p
}
