package piece

import "math"

// Cells are a piece made of equal cells, in rows from the top: stitches, or the
// crossings of threads. Part holds the part of each cell, −1 where there is
// nothing. Wide and High are the size of one cell in mm. Up tells of each crossing
// whether the warp is on top; only woven cells have it.
type Cells struct {
	Grain        Grain
	Across, Down int
	Wide, High   float64
	Part         []int16
	Up           []bool
}

// Grain is what a cell is.
type Grain int

// The grains: a flat place, a stitch, a crossing of threads.
const (
	Flat Grain = iota
	Knitted
	Woven
)

// MostCells bounds a piece made of cells.
const MostCells = 4_000_000

// OfCells is a piece of so many cells with its parts, all of the first.
func OfCells(grain Grain, across, down int, wide, high float64, parts []Part) Piece {
	return Piece{Width: float64(across) * wide, Height: float64(down) * high, Parts: parts, Stitch: At(wide, high),
		Cells: &Cells{Grain: grain, Across: across, Down: down, Wide: wide, High: high, Part: make([]int16, across*down)}}
}

// Empty takes every cell from its part.
func (c *Cells) Empty() {
	for i := range c.Part {
		c.Part[i] = -1
	}
}

// areas is the area of each part in mm².
func (c *Cells) areas(parts int) []float64 {
	counts := make([]int, parts)
	for _, p := range c.Part {
		if p >= 0 {
			counts[p]++
		}
	}
	areas := make([]float64, parts)
	for i, n := range counts {
		areas[i] = float64(n) * c.Wide * c.High
	}
	return areas
}

// borders counts the edges of cells along which parts touch, and those that touch nothing, exactly.
func (c *Cells) borders(parts int) (between [][]float64, outside []float64) {
	// What lies outside counts as one part more.
	n := parts + 1
	upright, level := make([]int, n*n), make([]int, n*n)
	part := func(x, y int) int {
		if x < 0 || y < 0 || x >= c.Across || y >= c.Down || c.Part[y*c.Across+x] < 0 {
			return parts
		}
		return int(c.Part[y*c.Across+x])
	}
	for y := -1; y < c.Down; y++ {
		for x := -1; x < c.Across; x++ {
			at := part(x, y)
			upright[at*n+part(x+1, y)]++
			level[at*n+part(x, y+1)]++
		}
	}
	between, outside = make([][]float64, parts), make([]float64, parts)
	length := func(i, j int) float64 {
		return float64(upright[i*n+j]+upright[j*n+i])*c.High + float64(level[i*n+j]+level[j*n+i])*c.Wide
	}
	for i := range between {
		between[i], outside[i] = make([]float64, parts), length(i, parts)
		for j := range between[i] {
			if i != j {
				between[i][j] = length(i, j)
			}
		}
	}
	return between, outside
}

// Window is a part of the cells: from a column and row up to others.
func (c *Cells) Window(x0, y0, x1, y1 int) *Cells {
	out := *c
	out.Across, out.Down, out.Part, out.Up = x1-x0, y1-y0, nil, nil
	for y := y0; y < y1; y++ {
		out.Part = append(out.Part, c.Part[y*c.Across+x0:y*c.Across+x1]...)
		if c.Up != nil {
			out.Up = append(out.Up, c.Up[y*c.Across+x0:y*c.Across+x1]...)
		}
	}
	return &out
}

// filled is the window of the cells that just holds all that have a part.
func (c *Cells) filled() *Cells {
	x0, y0, x1, y1 := c.Across, c.Down, 0, 0
	for i, p := range c.Part {
		if x, y := i%c.Across, i/c.Across; p >= 0 {
			x0, y0, x1, y1 = min(x0, x), min(y0, y), max(x1, x+1), max(y1, y+1)
		}
	}
	if x1 == 0 {
		return c
	}
	return c.Window(x0, y0, x1, y1)
}

// Beside lays what is filled of flat cells beside one another on one ground, gap
// empty cells apart.
func Beside(all []*Cells, gap int) *Cells {
	out := *all[0]
	out.Across, out.Down = -gap, 0
	cut := make([]*Cells, len(all))
	for i, c := range all {
		cut[i] = c.filled()
		out.Across, out.Down = out.Across+gap+cut[i].Across, max(out.Down, cut[i].Down)
	}
	out.Part = make([]int16, out.Across*out.Down)
	out.Empty()
	x := 0
	for _, c := range cut {
		for y := range c.Down {
			copy(out.Part[(out.Down-c.Down+y)*out.Across+x:], c.Part[y*c.Across:(y+1)*c.Across])
		}
		x += c.Across + gap
	}
	return &out
}

// At is the part at a place of the piece in mm, −1 for none.
func (c *Cells) At(x, y float64) int {
	i, j := int(math.Floor(x/c.Wide)), int(math.Floor(y/c.High))
	if i < 0 || j < 0 || i >= c.Across || j >= c.Down {
		return -1
	}
	return int(c.Part[j*c.Across+i])
}

// labels samples the cells at the centres of a grid of square cells.
func (c *Cells) labels(w, h int, cell float64) []int16 {
	grid := make([]int16, w*h)
	for y := range h {
		for x := range w {
			grid[y*w+x] = int16(c.At((float64(x)+0.5)*cell, (float64(y)+0.5)*cell))
		}
	}
	return grid
}

// SmallWindow is what a small picture shows of a piece made of cells: two views of a
// solid, the head of a long cloth, else all.
func (p Piece) SmallWindow() *Cells {
	const tallest = 1.4 // times as high as wide
	c := p.Cells
	switch {
	case p.Shown != nil:
		return p.Shown
	case p.Height > tallest*p.Width:
		return c.Window(0, 0, c.Across, max(1, int(tallest*p.Width/c.High)))
	}
	return c
}
