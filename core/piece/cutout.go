package piece

import "math"

// Cutout is a shape as it is cut or counted: its outline, the area of it in mm² without
// its holes, and whether it has any.
type Cutout struct {
	Region
	Area  float64
	Holed bool
}

// Cutouts are the shapes that a piece is made up of. Slices of one shape are put together
// again; a part worked in cells is one square of its area.
func (p Piece) Cutouts() []Cutout {
	var out []Cutout
	if p.Cells != nil {
		for part, a := range p.Areas() {
			if side := math.Sqrt(a); side > 0 {
				out = append(out, Cutout{Region{part, []Point{{0, 0}, {side, 0}, {side, side}, {0, side}}}, a, true})
			}
		}
		return out
	}
	if !p.Sliced {
		for _, r := range p.Regions {
			out = append(out, Cutout{r, r.Area(), false})
		}
		return out
	}
	for part, contours := range p.Contours() {
		first := len(out)
		var holes []Region
		for _, c := range contours {
			if r := (Region{part, c}); r.clockwise() {
				out = append(out, Cutout{r, r.Area(), false})
			} else {
				holes = append(holes, r)
			}
		}
		for _, h := range holes {
			best := -1
			for i := first; i < len(out); i++ {
				if out[i].around(h) && (best < 0 || out[i].Region.Area() < out[best].Region.Area()) {
					best = i
				}
			}
			if best >= 0 {
				out[best].Area, out[best].Holed = out[best].Area-h.Area(), true
			}
		}
	}
	return out
}

// Wholes are the shapes of a piece as they are cut of cloth: what runs under others is cut whole, and
// what is wholly covered is not cut. Where outlines are not known they are the Cutouts.
func (p Piece) Wholes() []Cutout {
	if p.Laid == nil {
		return p.Cutouts()
	}
	each := make([]Outline, len(p.Laid))
	for i, o := range p.Laid {
		each[i] = Outline{i, o.Corners}
	}
	seen := make([]float64, len(each))
	for _, r := range Overlay(each) {
		seen[r.Part] += r.Area()
	}
	var out []Cutout
	for i, o := range p.Laid {
		if r := (Region{o.Part, o.Corners}); seen[i] > leastSeen {
			out = append(out, Cutout{r, r.Area(), false})
		}
	}
	return out
}

// leastSeen is the area in mm² of an outline that is seen; less is the rounding of sums.
const leastSeen = 1e-3

// clockwise reports which way round an outline runs, seen with y downward.
func (r Region) clockwise() bool {
	twice := 0.0
	for i, p := range r.Outline {
		q := r.Outline[(i+1)%len(r.Outline)]
		twice += p.X*q.Y - q.X*p.Y
	}
	return twice > 0
}

// around reports whether the box of an outline holds that of another.
func (r Region) around(o Region) bool {
	a, b := r.ends(), o.ends()
	return a[0] <= b[0] && a[1] <= b[1] && a[2] >= b[2] && a[3] >= b[3]
}

// ends are the left, top, right and foot of an outline.
func (r Region) ends() [4]float64 {
	e := [4]float64{math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)}
	for _, p := range r.Outline {
		e[0], e[2], e[1], e[3] = math.Min(e[0], p.X), math.Max(e[2], p.X), math.Min(e[1], p.Y), math.Max(e[3], p.Y)
	}
	return e
}

// Boxed is the size of a region's upright box.
func (r Region) Boxed() (w, h float64) {
	e := r.ends()
	return e[2] - e[0], e[3] - e[1]
}

// Round is the length of a region's outline.
func (r Region) Round() float64 {
	sum := 0.0
	for i, p := range r.Outline {
		q := r.Outline[(i+1)%len(r.Outline)]
		sum += math.Hypot(q.X-p.X, q.Y-p.Y)
	}
	return sum
}
