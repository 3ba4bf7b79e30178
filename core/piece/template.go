package piece

import (
	"fmt"
	"math"
)

// Setting is one number a template can be built with.
type Setting struct {
	Key, Name, Unit   string
	Min, Max, Default float64
	Whole             bool // only whole numbers
}

// Template builds a piece from settings.
type Template struct {
	Key, Name, Words string
	Settings         []Setting
	build            func(v map[string]float64) Piece
}

// Templates lists the pieces that can be built, in the order they are offered.
func Templates() []Template {
	return []Template{
		{"curtain", "Triangle curtain", "two pieced blocks in turn, with sashing between: a peak with a spark in it, and an hourglass",
			[]Setting{
				{"columns", "blocks across", "", 2, 12, 7, true},
				{"rows", "blocks down", "", 2, 12, 5, true},
				{"block", "block", "mm", 40, 600, 200, false},
				{"sash", "sashing", "mm", 2, 60, 12, false},
			}, curtain},
		{"strips", "Strip gradient", "upright strips side by side within a binding, for a run from dark to light",
			[]Setting{
				{"strips", "strips", "", 3, 12, 5, true},
				{"width", "strip width", "mm", 10, 400, 120, false},
				{"length", "strip length", "mm", 50, 2500, 420, false},
				{"binding", "binding", "mm", 2, 60, 10, false},
			}, strips},
	}
}

// Build makes the piece of a template. Settings left out take their defaults;
// one out of range, or an unknown template, is an error in plain words.
func Build(template string, settings map[string]float64) (Piece, error) {
	for _, t := range Templates() {
		if t.Key != template {
			continue
		}
		v := map[string]float64{}
		for _, s := range t.Settings {
			x, given := settings[s.Key]
			if !given {
				x = s.Default
			}
			if !(x >= s.Min && x <= s.Max) || s.Whole && x != math.Trunc(x) {
				kind := "a number"
				if s.Whole {
					kind = "a whole number"
				}
				return Piece{}, fmt.Errorf("%s: choose %s from %g to %g, not %g", s.Name, kind, s.Min, s.Max, x)
			}
			v[s.Key] = x
		}
		p := t.build(v)
		p.Template, p.Name = t.Key, t.Name
		return p, nil
	}
	return Piece{}, fmt.Errorf("there is no piece called %q", template)
}

func rect(part int, x, y, w, h float64) Region {
	return Region{part, []Point{{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}}}
}

// curtain alternates two square blocks. The peak block: a triangle as wide as
// the block and nine tenths as high, a smaller one of 48 % standing in its
// foot, ground behind. The hourglass block: left and right quarters in their
// own part, top and bottom quarters in ground.
func curtain(v map[string]float64) Piece {
	const ground, peak, hourglass, spark, sashing = 0, 1, 2, 3, 4
	const peakHigh, sparkSize = 0.9, 0.48
	cols, rows, b, s := int(v["columns"]), int(v["rows"]), v["block"], v["sash"]
	p := Piece{
		Width:  float64(cols)*b + float64(cols+1)*s,
		Height: float64(rows)*b + float64(rows+1)*s,
		Parts: []Part{{"ground", "ground"}, {"peak", "peaks"}, {"hourglass", "hourglasses"},
			{"spark", "sparks"}, {"sashing", "sashing"}},
	}
	for r := range rows {
		p.Regions = append(p.Regions, rect(sashing, 0, float64(r)*(b+s), p.Width, s))
		y := float64(r)*(b+s) + s
		for c := range cols {
			x := float64(c)*(b+s) + s
			p.Regions = append(p.Regions, rect(sashing, x-s, y, s, b))
			at := func(u, w float64) Point { return Point{x + u*b, y + w*b} }
			add := func(part int, outline ...Point) { p.Regions = append(p.Regions, Region{part, outline}) }
			if (r+c)%2 == 0 {
				top, tip, half := 1-peakHigh, 1-peakHigh*sparkSize, sparkSize/2
				add(ground, at(0, 0), at(1, 0), at(1, 1), at(.5, top), at(0, 1))
				add(peak, at(0, 1), at(.5, top), at(1, 1), at(.5+half, 1), at(.5, tip), at(.5-half, 1))
				add(spark, at(.5-half, 1), at(.5, tip), at(.5+half, 1))
			} else {
				add(ground, at(0, 0), at(1, 0), at(.5, .5))
				add(ground, at(0, 1), at(1, 1), at(.5, .5))
				add(hourglass, at(0, 0), at(.5, .5), at(0, 1))
				add(hourglass, at(1, 0), at(.5, .5), at(1, 1))
			}
		}
		p.Regions = append(p.Regions, rect(sashing, p.Width-s, y, s, b))
	}
	p.Regions = append(p.Regions, rect(sashing, 0, p.Height-s, p.Width, s))
	return p
}

func strips(v map[string]float64) Piece {
	n, w, l, b := int(v["strips"]), v["width"], v["length"], v["binding"]
	p := Piece{Width: float64(n)*w + 2*b, Height: l + 2*b}
	for i := range n {
		p.Parts = append(p.Parts, Part{fmt.Sprintf("strip%d", i+1), fmt.Sprintf("strip %d", i+1)})
		p.Regions = append(p.Regions, rect(i, b+float64(i)*w, b, w, l))
	}
	p.Parts = append(p.Parts, Part{"binding", "binding"})
	p.Regions = append(p.Regions,
		rect(n, 0, 0, p.Width, b), rect(n, 0, p.Height-b, p.Width, b),
		rect(n, 0, b, b, l), rect(n, p.Width-b, b, b, l))
	return p
}
