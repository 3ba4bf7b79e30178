// Package piece holds what is to be made as flat regions with exact areas and
// borders: polygons in millimetres grouped into parts that each take one
// colour, and what a pattern, its settings and its input are.
//
// Which colour a part takes, and what the colours then do, belongs to balance.
package piece

import "math"

// Point is a place on the piece in millimetres, x to the right, y down.
type Point struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
}

// Part is a set of regions that takes one colour.
type Part struct {
	Key  string `json:"key"`  // stable within a pattern
	Name string `json:"name"` // as the maker reads it
}

// Region is one polygon of a part. The outline is closed, may be concave and
// must not cross itself; regions of a piece do not overlap.
type Region struct {
	Part    int // index into Piece.Parts
	Outline []Point
}

// Piece is a flat thing to be made. Sizes are in millimetres.
type Piece struct {
	Pattern       string // the key of the pattern it was built from
	Name          string
	Width, Height float64
	Parts         []Part
	Regions       []Region
	Sliced        bool       // regions are slices of outlines laid over one another
	Laid          []Outline  // these outlines whole, where they are known
	Unders        []Under    // photos whose light and shade show through
	Cells         *Cells     // in place of regions, when the piece is made of cells
	Shown         *Cells     // what a small or printed picture shows of a solid: two views of it, large
	Box           [3]float64 // size of a solid in mm; zero for a flat piece
	Stitch        Point      // the size of a stitch or crossing in mm; zero where there is none
	Fades         []Fading   // parts that pass evenly into others
	Lines         []Line     // of how it is made, drawn lightly over the colours
}

// Line is a seam, a line of quilting, the joint of two planks or the like.
type Line struct {
	Through []Point
	Dashed  bool // it is sewn
}

// Seams are lines round each region, or round the outlines that were laid where they are known.
func (p Piece) Seams() (out []Line) {
	round := func(corners []Point) {
		if len(corners) > 0 {
			out = append(out, Line{Through: append(append([]Point{}, corners...), corners[0])})
		}
	}
	if p.Sliced {
		for _, o := range p.Laid {
			round(o.Corners)
		}
		return out
	}
	for _, r := range p.Regions {
		round(r.Outline)
	}
	return out
}

// Area is the polygon's area in mm² (shoelace formula).
func (r Region) Area() float64 {
	twice := 0.0
	for i, p := range r.Outline {
		q := r.Outline[(i+1)%len(r.Outline)]
		twice += p.X*q.Y - q.X*p.Y
	}
	return math.Abs(twice) / 2
}

// Areas is the area of each part in mm².
func (p Piece) Areas() []float64 {
	if p.Cells != nil {
		return p.Cells.areas(len(p.Parts))
	}
	areas := make([]float64, len(p.Parts))
	for _, r := range p.Regions {
		areas[r.Part] += r.Area()
	}
	return areas
}

// Area is the area of all parts in mm².
func (p Piece) Area() float64 {
	sum := 0.0
	for _, a := range p.Areas() {
		sum += a
	}
	return sum
}

// Shares is each part's area as a share of the area of all parts, 0 to 1; a
// piece that does not fill its rectangle has its shares of what is there.
func (p Piece) Shares() []float64 {
	shares, all := p.Areas(), p.Area()
	for i := range shares {
		if all > 0 { // a drawing that is only begun has none
			shares[i] /= all
		}
	}
	return shares
}

// gridLongest is the number of cells along the longest side of the label grid.
const gridLongest = 512

// Borders is the length in millimetres along which parts touch, a symmetric matrix with an
// empty diagonal, and of each part the length that touches nothing. The piece is rasterised to a grid of labels,
// longest side 512, and neighbouring cells of different parts are counted in the four
// directions of Crofton's formula: (π/8)·cell·(across + down + (both slants)/√2), good to
// about 5 %. Of a piece made of cells the edges of the cells themselves are counted.
func (p Piece) Borders() (between [][]float64, outside []float64) {
	if p.Cells != nil {
		return p.Cells.borders(len(p.Parts))
	}
	grid, w, h := p.Grid(gridLongest)
	cell := math.Max(p.Width, p.Height) / gridLongest
	between, outside = make([][]float64, len(p.Parts)), make([]float64, len(p.Parts))
	for i := range between {
		between[i] = make([]float64, len(p.Parts))
	}
	label := func(x, y int) int16 {
		if x < 0 || y < 0 || x >= w || y >= h {
			return -1
		}
		return grid[y*w+x]
	}
	straight, slant := math.Pi/8*cell, math.Pi/8*cell/math.Sqrt2
	for y := -1; y < h; y++ {
		for x := -1; x <= w; x++ {
			at := label(x, y)
			for i, other := range [...]int16{label(x+1, y), label(x, y+1), label(x+1, y+1), label(x-1, y+1)} {
				length := straight
				if i > 1 {
					length = slant
				}
				switch {
				case at == other:
				case at < 0:
					outside[other] += length
				case other < 0:
					outside[at] += length
				default:
					between[at][other] += length
					between[other][at] += length
				}
			}
		}
	}
	return between, outside
}

// Grid is the piece as w × h square cells in rows from the top, longest of them
// along the longer side: the part each cell's centre lies in, −1 for none.
func (p Piece) Grid(longest int) (labels []int16, w, h int) {
	cell := math.Max(p.Width, p.Height) / float64(longest)
	w, h = int(math.Ceil(p.Width/cell-1e-9)), int(math.Ceil(p.Height/cell-1e-9))
	if p.Cells != nil {
		return p.Cells.labels(w, h, cell), w, h
	}
	return p.labels(w, h, cell), w, h
}

// labels fills a grid with the part each cell's centre lies in, −1 for none.
func (p Piece) labels(w, h int, cell float64) []int16 {
	grid := make([]int16, w*h)
	for i := range grid {
		grid[i] = -1
	}
	var cuts []float64
	for _, r := range p.Regions {
		top, bottom := math.Inf(1), math.Inf(-1)
		for _, q := range r.Outline {
			top, bottom = math.Min(top, q.Y), math.Max(bottom, q.Y)
		}
		for y := max(0, int(top/cell-0.5)); y < h && (float64(y)+0.5)*cell < bottom; y++ {
			cuts = crossings(cuts[:0], r.Outline, (float64(y)+0.5)*cell)
			for i := 0; i+1 < len(cuts); i += 2 {
				from := max(0, int(math.Ceil(cuts[i]/cell-0.5)))
				for x := from; x < w && (float64(x)+0.5)*cell < cuts[i+1]; x++ {
					grid[y*w+x] = int16(r.Part)
				}
			}
		}
	}
	return grid
}

// crossings appends, in rising order, the x at which the outline crosses the
// horizontal line at y.
func crossings(cuts []float64, outline []Point, y float64) []float64 {
	for i, a := range outline {
		b := outline[(i+1)%len(outline)]
		if (a.Y <= y) == (b.Y <= y) {
			continue
		}
		x := a.X + (y-a.Y)/(b.Y-a.Y)*(b.X-a.X)
		at := len(cuts)
		for at > 0 && cuts[at-1] > x {
			at--
		}
		cuts = append(cuts, 0)
		copy(cuts[at+1:], cuts[at:])
		cuts[at] = x
	}
	return cuts
}

// Widths is the mean width in millimetres of each part: twice its area over
// the length of its edges; nil for outside leaves out the edges that touch nothing. Parts of no
// edge measure 0.
func (p Piece) Widths(between [][]float64, outside []float64) []float64 {
	widths := p.Areas()
	for i := range widths {
		length := 0.0
		if outside != nil {
			length = outside[i]
		}
		for _, b := range between[i] {
			length += b
		}
		if length == 0 {
			widths[i] = 0
			continue
		}
		widths[i] *= 2 / length
	}
	return widths
}
